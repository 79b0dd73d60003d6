"""Accounts: sign up, sign in, sign out; the demo account only where the start offers it."""

from datetime import datetime

from django.conf import settings
from django.contrib.auth import authenticate, logout
from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.security import APIKeyCookie
from pydantic import Field

from studio.accounts import SignUp
from studio.api.offered import CHOICES, Choices
from studio.api.signed_in import forget
from studio.api.tries import a_minute, taken_was_tried, tries_for
from studio.demo import DEMO_USER, demo_user
from studio.models import Departure
from studio.sign_ins import enter

router = Router(tags=["session"])


class Anybody(APIKeyCookie):
    """Whoever comes, with the token of a page of ours: nobody can be signed in from elsewhere."""

    param_name = settings.SESSION_COOKIE_NAME

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        """Everybody is let in."""
        return True


anybody = Anybody()


class Credentials(Schema):
    """A user name and a password."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=1000)


class SessionOut(Schema):
    """Who is signed in, if anybody, whether that is the demo, when the account is to be deleted, if
    it is, whether the demo can be opened, and what there is to choose."""

    username: str | None
    everybodys: bool
    leaves: datetime | None
    demo: bool
    offered: Choices


def session_of(request: HttpRequest) -> SessionOut:
    """The session as the page needs it."""
    name = request.user.get_username() or None if request.user.is_authenticated else None
    departure = name and Departure.objects.filter(owner=request.user.pk).first()
    return SessionOut(username=name, everybodys=name == DEMO_USER,
                      leaves=departure.at if departure else None, demo=settings.DEMO,
                      offered=CHOICES)


@router.get("/session", response=SessionOut, auth=None)
def read_session(request: HttpRequest) -> SessionOut:
    """Who is signed in. The answer brings the token that whoever changes something shows."""
    get_token(request)
    return session_of(request)


@router.post("/session", response=SessionOut, auth=anybody, throttle=a_minute(20))
def sign_in(request: HttpRequest, data: Credentials) -> SessionOut:
    """Sign in with a user name and a password."""
    with tries_for(data.username, request):
        user = authenticate(request, username=data.username, password=data.password)
        if user is None or user.get_username() == DEMO_USER:
            raise HttpError(422, "That name and password do not go together.")
    enter(request, user)
    return session_of(request)


@router.post("/session/demo", response=SessionOut, auth=anybody, throttle=a_minute(30))
def open_demo(request: HttpRequest) -> SessionOut:
    """Open the demo account, where the application was started for it."""
    if not settings.DEMO:
        raise HttpError(404, "There is no demo here.")
    if request.user.get_username() != DEMO_USER:
        enter(request, demo_user())
    return session_of(request)


@router.delete("/session", response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    """Sign out."""
    forget(request.session.session_key)
    logout(request)
    return session_of(request)


@router.post("/accounts", response=SessionOut, auth=anybody, throttle=a_minute(20))
def sign_up(request: HttpRequest, data: Credentials) -> SessionOut:
    """Make an account and sign in with it."""
    form = SignUp({"username": data.username, "password1": data.password,
                   "password2": data.password})
    try:
        with transaction.atomic():
            user = form.save() if form.is_valid() else None
    except IntegrityError:  # the same name twice at once: now it is taken
        form, user = SignUp(form.data), None
    if user is None:
        if form.has_error("username", "unique"):
            taken_was_tried(request)
        raise HttpError(422, str(next(iter(form.errors.values()))[0]))
    enter(request, user)
    return session_of(request)
