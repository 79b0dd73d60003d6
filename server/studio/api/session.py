"""Accounts: sign up, sign in, sign out; the demo account only where the start offers it."""

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.forms import UserCreationForm
from django.http import HttpRequest
from lattice.percussion import PERCUSSION
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.throttling import AnonRateThrottle

from studio.api.signed_in import recently_signed_in
from studio.demo import DEMO_USER, demo_user

router = Router(tags=["session"])


class Credentials(Schema):
    """A user name and a password."""

    username: str
    password: str


class SessionOut(Schema):
    """Who is signed in, if anybody, and whether the demo can be opened."""

    username: str | None
    demo: bool
    drums: dict[int, str]


def session_of(request: HttpRequest) -> SessionOut:
    """The session as the page needs it."""
    user = request.user
    return SessionOut(username=user.get_username() or None if user.is_authenticated else None,
                      demo=settings.DEMO, drums=PERCUSSION)


@router.get("/session", response=SessionOut, auth=None)
def read_session(request: HttpRequest) -> SessionOut:
    """Who is signed in."""
    return session_of(request)


@router.post("/session", response=SessionOut, auth=None, throttle=[AnonRateThrottle("20/m")])
def sign_in(request: HttpRequest, data: Credentials) -> SessionOut:
    """Sign in with a user name and a password."""
    user = authenticate(request, username=data.username[:150], password=data.password[:1000])
    if user is None or (user.get_username() == DEMO_USER and not settings.DEMO):
        raise HttpError(422, "That name and password do not go together.")
    login(request, user)
    return session_of(request)


@router.post("/session/demo", response=SessionOut, auth=None)
def open_demo(request: HttpRequest) -> SessionOut:
    """Open the demo account, where the application was started for it."""
    if not settings.DEMO:
        raise HttpError(404, "There is no demo here.")
    login(request, demo_user(), backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)


@router.delete("/session", response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    """Sign out."""
    recently_signed_in.forget(request.session.session_key)
    logout(request)
    return session_of(request)


@router.post("/accounts", response=SessionOut, auth=None, throttle=[AnonRateThrottle("20/m")])
def sign_up(request: HttpRequest, data: Credentials) -> SessionOut:
    """Make an account and sign in with it."""
    form = UserCreationForm({"username": data.username, "password1": data.password[:1000],
                             "password2": data.password[:1000]})
    if not form.is_valid():
        raise HttpError(422, next(iter(form.errors.values()))[0])
    login(request, form.save(), backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)
