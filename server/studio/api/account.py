"""One's own account: the password, where one is signed in, what one keeps, all of it as a file, and
its end."""

from datetime import datetime
from typing import Any
from uuid import UUID

from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from lattice import RecipeError, safe_name
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field
from ua_parser import parse

from studio.api.answers import content_disposition
from studio.api.signed_in import FromOwner
from studio.api.tries import a_minute, tries_for
from studio.demo import DEMO_USER
from studio.models import Departure, SignIn
from studio.stored import accounts, sounds
from studio.stored.everything import everything_of

router = Router(tags=["account"])
Password = Field(max_length=1000)


class SignInOut(Schema):
    """Somewhere one is signed in: in what browser, since when, when that was used last, and whether
    it is here."""

    name: UUID
    browser: str
    begun: datetime
    seen: datetime
    here: bool


class RecordingOut(Schema):
    """A recording of one's own: its size in bytes, what plays it now, and what did so in a past
    that can be brought back."""

    file: str
    name: str
    size: int
    created: datetime
    now: list[str]
    past: list[str]


class AccountOut(Schema):
    """An account; `leaves` is when it is to be deleted, if it is, and `room` the bytes that
    recordings may take."""

    leaves: datetime | None
    sign_ins: list[SignInOut]
    sounds: list[RecordingOut]
    room: int


class LeavesOut(Schema):
    """When an account is to be deleted, if it is."""

    leaves: datetime | None


class PasswordsIn(Schema):
    """The password as it is, and the one to come."""

    now: str = Password
    new: str = Password


class PasswordIn(Schema):
    """The password, to show that it is the owner who asks."""

    password: str = Password


@router.get("/account", response=AccountOut)
def read_account(request: FromOwner) -> dict[str, Any]:
    """One's account."""
    sign_ins = SignIn.objects.filter(owner=request.auth, expire_date__gt=timezone.now())
    departure = Departure.objects.filter(owner=request.auth).first()
    return {"leaves": departure and departure.at,
            "sign_ins": [_sign_in(request, each) for each in sign_ins.order_by("-seen")],
            "sounds": [{"file": each.digest, "name": each.name, "size": each.size,
                        "created": each.created, "now": sorted(each.now),
                        "past": sorted(each.past)} for each in sounds.all_of(request.auth)],
            "room": sounds.MOST_OF_ONE}


def _owner(request: FromOwner) -> User:
    return User.objects.get(pk=request.auth)


def _sign_in(request: HttpRequest, sign_in: SignIn) -> dict[str, Any]:
    return {"name": sign_in.name, "browser": _browser(sign_in.agent), "begun": sign_in.begun,
            "seen": sign_in.seen, "here": sign_in.pk == request.session.session_key}


def _browser(agent: str) -> str:
    """A browser in words."""
    found = parse(agent)
    parts = [part.family for part in (found.user_agent, found.os) if part]
    return " on ".join(parts) or "an unknown browser"


def _proven(request: FromOwner, password: str) -> User:
    """The owner, who has shown the password; refused for the demo, which is everybody's."""
    user = _owner(request)
    if user.get_username() == DEMO_USER:
        raise RecipeError("The demo is open to everybody; make an account of your own for that.")
    with tries_for(f"owner {user.pk}", request):
        if not user.check_password(password):
            raise HttpError(422, "That is not your password.")
    return user


@router.post("/account/password", response={204: None}, throttle=a_minute(20))
def change_password(request: FromOwner, data: PasswordsIn) -> tuple[int, None]:
    """Take another password; every other session ends."""
    user = _proven(request, data.now)
    try:
        validate_password(data.new, user)
    except ValidationError as problem:
        raise RecipeError(problem.messages[0]) from None
    accounts.set_password(user, data.new, request.session.session_key)
    update_session_auth_hash(request, user)
    return 204, None


@router.delete("/account/sign-ins", response={204: None})
def end_other_sign_ins(request: FromOwner) -> tuple[int, None]:
    """End every session but this one."""
    _own_sign_ins(request).delete()
    return 204, None


@router.delete("/account/sign-ins/{sign_in}", response={204: None})
def end_sign_in(request: FromOwner, sign_in: UUID) -> tuple[int, None]:
    """End another session."""
    get_object_or_404(_own_sign_ins(request), name=sign_in).delete()
    return 204, None


def _own_sign_ins(request: FromOwner) -> Any:
    if request.user.get_username() == DEMO_USER:
        raise RecipeError("The demo is open to everybody; others play it now.")
    return SignIn.objects.filter(owner=request.auth).exclude(pk=request.session.session_key)


@router.get("/account/everything.zip")
def take_everything(request: FromOwner) -> StreamingHttpResponse:
    """All that is in the account as one archive, written while it is sent."""
    user = _owner(request)
    answer = StreamingHttpResponse(iter(everything_of(user)), content_type="application/zip")
    answer["Cache-Control"] = "no-store"
    name = f"{safe_name(user.get_username())}, Jolly Lattice {timezone.now():%Y-%m-%d}.zip"
    answer["Content-Disposition"] = content_disposition(name)
    return answer


@router.post("/account/departure", response=LeavesOut, throttle=a_minute(20))
def leave(request: FromOwner, data: PasswordIn) -> LeavesOut:
    """Have the account deleted in a day, with all that is in it."""
    return LeavesOut(leaves=accounts.depart(_proven(request, data.password).pk).at)


@router.delete("/account/departure", response=LeavesOut)
def stay(request: FromOwner) -> LeavesOut:
    """Keep the account after all."""
    accounts.stay(request.auth)
    return LeavesOut(leaves=None)
