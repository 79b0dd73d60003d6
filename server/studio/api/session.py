"""Accounts: sign up, sign in, sign out; the demo account only where the start offers it."""

from typing import Literal

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.db import IntegrityError, transaction
from django.http import HttpRequest
from lattice.base.percussion import ALSO_CALLED, PERCUSSION, USED_MOST
from lattice.edits.starts import STARTS
from lattice.features.instruments import VOICES
from lattice.library.beginnings import BEGINNINGS, BeginningName
from lattice.pitch.offered import PROGRESSIONS
from lattice.rules import FOLLOWING, STANDING, FollowingKind, StandingKind
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.security import APIKeyCookie
from pydantic import Field, create_model

from studio.accounts import SignUp
from studio.api.signed_in import forget
from studio.api.tries import a_minute, taken_was_tried, tries_for
from studio.demo import DEMO_USER, demo_user

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


class FollowingLane(Schema):
    """A lane that can be made to follow another one by a rule."""

    rule: FollowingKind
    title: str
    about: str


class DrumOut(Schema):
    """A drum that a new lane may be: its note, its name, and what else it is called."""

    note: int
    name: str
    also: str


class StandingRule(Schema):
    """A rule by which a new lane's hits may fall."""

    rule: StandingKind
    title: str
    about: str


class BeginningOut(Schema):
    """What a new lane may be besides a drum; `begin` names it."""

    begin: BeginningName
    title: str
    about: str
    group: Literal["drums", "pitches"]


Voices = create_model(
    "Voices", __base__=Schema, __doc__="Each built-in voice of pitched lanes, and where its "
    "controls stand at first, in percent.", **{
        name: (create_model(f"{name.title()}Controls", __base__=Schema, **dict.fromkeys(
            each.controls, (float, ...))), ...) for name, each in VOICES.items()})


class SessionOut(Schema):
    """Who is signed in, if anybody, and whether the demo can be opened; and what the page names but
    does not know by itself: drums by note, what an empty pattern can begin with, what a new lane
    can be, rules, lanes that follow others, progressions in common use, and voices."""

    username: str | None
    demo: bool
    drums: dict[int, str]
    drums_offered: list[DrumOut]
    starts: dict[str, str]
    beginnings: list[BeginningOut]
    standing: list[StandingRule]
    following: list[FollowingLane]
    progressions: dict[str, str]
    voices: Voices


STARTING = {name: title for name, (title, _) in STARTS.items()}
FOLLOWERS = [FollowingLane(rule=kind, title=rule.lane_title, about=rule.lane_about)
             for kind, rule in FOLLOWING.items()]
BEGUN = [BeginningOut(begin=name, title=each.title, about=each.about, group=each.group)
         for name, each in BEGINNINGS.items()]
DRUMS = [DrumOut(note=note, name=PERCUSSION[note], also=ALSO_CALLED.get(note, ""))
         for note in dict.fromkeys((*USED_MOST, *PERCUSSION))]
HEARD = Voices.model_validate({name: each.controls for name, each in VOICES.items()})
RULES_ALONE = [StandingRule(rule=kind, title=rule.lane_title, about=rule.about)
               for kind, rule in STANDING.items()]


def session_of(request: HttpRequest) -> SessionOut:
    """The session as the page needs it."""
    user = request.user
    return SessionOut(username=user.get_username() or None if user.is_authenticated else None,
                      demo=settings.DEMO, drums=PERCUSSION, drums_offered=DRUMS,
                      starts=STARTING, beginnings=BEGUN, standing=RULES_ALONE,
                      following=FOLLOWERS, progressions=PROGRESSIONS,
                      voices=HEARD)


@router.get("/session", response=SessionOut, auth=None)
def read_session(request: HttpRequest) -> SessionOut:
    """Who is signed in."""
    return session_of(request)


@router.post("/session", response=SessionOut, auth=anybody, throttle=a_minute(20))
def sign_in(request: HttpRequest, data: Credentials) -> SessionOut:
    """Sign in with a user name and a password."""
    with tries_for(data.username, request):
        user = authenticate(request, username=data.username, password=data.password)
        if user is None or user.get_username() == DEMO_USER:
            raise HttpError(422, "That name and password do not go together.")
    login(request, user)
    return session_of(request)


@router.post("/session/demo", response=SessionOut, auth=anybody, throttle=a_minute(30))
def open_demo(request: HttpRequest) -> SessionOut:
    """Open the demo account, where the application was started for it."""
    if not settings.DEMO:
        raise HttpError(404, "There is no demo here.")
    if request.user.get_username() != DEMO_USER:
        login(request, demo_user(), backend="django.contrib.auth.backends.ModelBackend")
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
        raise HttpError(422, next(iter(form.errors.values()))[0])
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)
