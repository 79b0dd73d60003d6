"""Django's sessions in a table that says whose each is, so that musicians see where they are signed
in; the settings name this module as their engine."""

from typing import Any
from uuid import uuid4

from django.contrib.auth import SESSION_KEY, login
from django.contrib.auth.base_user import AbstractBaseUser
from django.contrib.sessions.backends.db import SessionStore as Database
from django.http import HttpRequest
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from studio.models import SignIn

BACKEND = "django.contrib.auth.backends.ModelBackend"
_SAID = "sign_in"


class SessionStore(Database):
    """Keeps what is said of a sign-in beside the session too, where it can be asked for."""

    @classmethod
    def get_model_class(cls) -> type[SignIn]:
        """What it is kept as."""
        return SignIn

    def create_model_instance(self, data: Any) -> SignIn:
        """The row of a session with this data."""
        made: SignIn = super().create_model_instance(data)  # type: ignore[assignment]
        made.owner_id = data.get(SESSION_KEY)
        for name, value in data.get(_SAID, {}).items():
            setattr(made, name, parse_datetime(value) if name == "begun" else value)
        return made


def enter(request: HttpRequest, user: AbstractBaseUser) -> None:
    """Sign somebody in, and note where."""
    login(request, user, backend=BACKEND)  # type: ignore[arg-type]
    request.session[_SAID] = {"name": str(uuid4()), "begun": timezone.now().isoformat(),
                              "agent": request.headers.get("User-Agent", "")[:300]}
