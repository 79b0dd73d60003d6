"""Who is signed in: Django's session, asked for in one short query, or not each time at all."""

import time
from dataclasses import dataclass, replace
from typing import Any

from django.contrib.auth import get_user_model
from django.db import connection
from django.http import HttpRequest
from django.utils import timezone
from ninja.security import SessionAuth

from studio.models import SignIn
from studio.worked_out.memory import Memory

SECONDS = 2.0
"""After a sign-out or a new password elsewhere, a look is still answered for so long at most."""
SEEN_SECONDS = 300.0
"""So long at most is not written down that somebody is still there."""


class FromOwner(HttpRequest):
    """What somebody who is signed in asks; `auth` is their id."""

    auth: int


@dataclass(frozen=True, slots=True)
class _Known:
    """A session that was found good: when, when that was written down last, whose it is, and the
    password that it belongs to."""

    seen: float
    noted: float
    owner: int
    password: str


_known: Memory[str, _Known] = Memory(2048)


class SignedIn(SessionAuth):
    """Lets in who is signed in; `request.auth` is the user's id. A session that Django has found
    good here before is good as long as it, its user and the password are there unchanged. With
    `lately`, for calls that change nothing but come many a second, that is asked once in a while
    only."""

    def __init__(self, *, lately: bool = False) -> None:
        super().__init__()
        self._lately = lately

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """The user's id, or None."""
        if not key:
            return None
        now = time.monotonic()
        known = _known.get(key)
        if known is not None:
            if self._lately and now - known.seen < SECONDS:
                return known.owner
            if _still(key, known):
                if now - known.noted > SEEN_SECONDS:
                    SignIn.objects.filter(pk=key).update(seen=timezone.now())
                    known = replace(known, noted=now)
                _known.put(key, replace(known, seen=now))
                return known.owner
            _known.forget(key)
        user = super().authenticate(request, key)
        if user is None:
            return None
        _known.put(key, _Known(now, now, user.pk, user.password))
        return user.pk


def _still(key: str, known: _Known) -> bool:
    sessions, users = SignIn._meta.db_table, get_user_model()._meta.db_table
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT 1 FROM {sessions} s, {users} u WHERE s.session_key = %s "  # noqa: S608
            "AND s.expire_date > now() AND u.id = %s AND u.is_active AND u.password = %s",
            (key, known.owner, known.password))
        return cursor.fetchone() is not None


def forget(key: str | None) -> None:
    """Somebody has just signed out here."""
    _known.forget(key or "")


owner_now = SignedIn()
owner_lately = SignedIn(lately=True)
