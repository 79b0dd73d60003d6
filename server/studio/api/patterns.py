"""One pattern: look at it, edit it, undo and redo, ask why."""

import time
from collections.abc import Callable
from typing import Any
from uuid import UUID

from django.http import HttpResponse
from lattice import (
    LaneId,
    Performance,
    Period,
    Recipe,
    RecipeError,
    lane_rhythm,
    measure_words,
    period,
    to_json,
    why,
    work,
)
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import HistoryOut, changed, json_of
from studio.api.asked import Trying, Wanted, tried
from studio.api.owned import pattern_of
from studio.api.signed_in import FromOwner, owner_lately
from studio.limits import MOST_WORK, TOO_DENSE
from studio.models import Pattern
from studio.stored import patterns
from studio.stored.revisions import history_of
from studio.worked_out.in_parts import InParts
from studio.worked_out.look import View
from studio.worked_out.recipes import recipe_of

router = Router(tags=["patterns"])
GIVEN_UP = 499
"""What nginx writes of a client that has gone; nobody is there to read it."""


class StateOut(Schema):
    """A pattern as it stands: its newest revision, its past, and a view of it."""

    id: int
    name: str
    revision: int
    history: HistoryOut
    view: View | InParts


class StaleOut(Schema):
    """The pattern was changed elsewhere: what was tried, and the newer state."""

    detail: str
    tried: str
    state: StateOut


class LookIn(Trying, Wanted):
    """What it looks like."""


class EditIn(LookIn):
    """Edits to store on a revision; `key` makes sending them twice harmless."""

    key: UUID | None = None


class FillIn(Wanted):
    """The pattern of the same piece to take lanes and frame from."""

    revision: int
    source: int
    key: UUID | None = None


class WhyIn(Trying):
    """A place in a lane."""

    lane: str
    at: float = Field(ge=0, lt=2**31)


class WhyOut(Schema):
    """Why a cell plays or rests, and its lane's measures."""

    words: str
    measures: str


class ChancesOut(Schema):
    """Seeds of earlier chances, of the pattern and of a lane, the newest first."""

    pattern: list[int]
    lane: list[int]


def _state(pattern: Pattern, wanted: Wanted) -> dict[str, Any]:
    recipe = recipe_of(pattern.state)
    return {"id": pattern.id, "name": pattern.name, "revision": pattern.state,
            "history": history_of(pattern),
            "view": wanted.view(recipe)}


@router.post("/patterns/{pattern_id}/state", response=StateOut)
def read_state(request: FromOwner, pattern_id: int, data: Wanted) -> HttpResponse:
    """A pattern as it stands."""
    return json_of(_state(pattern_of(request, pattern_id), data))


@router.post("/patterns/{pattern_id}/look", response=View | InParts, auth=owner_lately)
def look_at(request: FromOwner, pattern_id: int, data: LookIn) -> HttpResponse:
    """A view of a revision, with edits tried out; nothing is stored. What its page has given up on
    meanwhile, since the word has moved on, is not worked out."""
    gone = request.META.get("waitress.client_disconnected")
    if gone is not None and gone():
        return HttpResponse(status=GIVEN_UP)
    began = time.perf_counter()
    answer = json_of(data.view(tried(request.auth, pattern_id, data)))
    answer["Server-Timing"] = f"look;dur={1000 * (time.perf_counter() - began):.1f}"
    return answer


@router.post("/patterns/{pattern_id}/edits", response={200: StateOut, 409: StaleOut})
def edit(request: FromOwner, pattern_id: int, data: EditIn) -> HttpResponse:
    """Store edits as one revision; 409 with the newer state if the pattern has moved on."""
    return _changed(data, patterns.store, request.auth, pattern_id, data.revision, data.edits,
                    data.key)


@router.post("/patterns/{pattern_id}/undo", response={200: StateOut, 409: StaleOut})
def undo(request: FromOwner, pattern_id: int, data: EditIn) -> HttpResponse:
    """Go back one revision."""
    return _changed(data, patterns.move, request.auth, pattern_id, data.revision, True, data.key)


@router.post("/patterns/{pattern_id}/redo", response={200: StateOut, 409: StaleOut})
def redo(request: FromOwner, pattern_id: int, data: EditIn) -> HttpResponse:
    """Go forward one revision."""
    return _changed(data, patterns.move, request.auth, pattern_id, data.revision, False, data.key)


@router.post("/patterns/{pattern_id}/fill", response={200: StateOut, 409: StaleOut})
def fill(request: FromOwner, pattern_id: int, data: FillIn) -> HttpResponse:
    """Begin a pattern with what another of its piece has."""
    return _changed(data, patterns.fill, request.auth, pattern_id, data.source, data.revision,
                    data.key)


def _changed(wanted: Wanted, change: Callable[..., Pattern], *arguments: Any) -> HttpResponse:
    return changed("This pattern", lambda: change(*arguments),
                   lambda pattern: _state(pattern, wanted))


@router.post("/patterns/{pattern_id}/why", response=WhyOut, auth=owner_lately)
def tell_why(request: FromOwner, pattern_id: int, data: WhyIn) -> dict[str, str]:
    """Why a cell plays or rests."""
    return why_told(tried(request.auth, pattern_id, data), data.lane, data.at)


def why_told(recipe: Recipe, lane: str, at: float) -> dict[str, str]:
    """Why a lane plays or rests at a beat, and its measures; RecipeError where that is too much."""
    recipe.lane(lane)
    if work(recipe, at, at + 1, [lane]) > MOST_WORK:
        raise RecipeError(TOO_DENSE)
    measures = lane_rhythm(Performance(recipe), lane).measures
    return {"words": why(recipe, lane, at), "measures": measure_words(measures)}


@router.get("/patterns/{pattern_id}/period", response=Period, auth=owner_lately)
def tell_period(request: FromOwner, pattern_id: int) -> Period:
    """Why all lanes are back at their first step together when they are, and what could be left out
    of it."""
    return period(recipe_of(pattern_of(request, pattern_id).state))


@router.get("/patterns/{pattern_id}/lanes", response=list[dict[str, Any]])
def copy_lanes(request: FromOwner, pattern_id: int, lanes: str = "") -> list[dict[str, Any]]:
    """Lanes of a pattern as it stands, by their ids with commas between, as documents to be pasted
    elsewhere."""
    recipe = recipe_of(pattern_of(request, pattern_id).state)
    return [to_json(recipe.lane(lane)) for lane in lanes.split(",") if lane]


@router.get("/patterns/{pattern_id}/chances", response=ChancesOut)
def earlier_chances(request: FromOwner, pattern_id: int,
                    lane: LaneId | None = None) -> dict[str, list[int]]:
    """The chances that can be gone back to."""
    found = patterns.earlier_chances(pattern_of(request, pattern_id), lane)
    return {"pattern": found[0], "lane": found[1]}
