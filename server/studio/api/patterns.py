"""One pattern: look at it, edit it, undo and redo, ask why, its Trail, and Keep."""

from collections.abc import Callable
from fractions import Fraction
from typing import Any, Literal
from uuid import UUID

import orjson
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from lattice.edits import AnyEdit, apply_all
from lattice.errors import RecipeError
from lattice.recipe import Recipe
from lattice.slots import Group
from lattice.why import why
from lattice.work import work
from ninja import Router, Schema
from pydantic import Field

from studio import history, trail
from studio.api.clips import ClipOut, clip_out
from studio.api.pieces import patterns_of
from studio.api.signed_in import owner_lately
from studio.limits import MOST_WORK, TOO_DENSE, check_edits
from studio.look import look
from studio.models import Pattern
from studio.recipes import belongs, recipe_of
from studio.thumbs import Thumb

router = Router(tags=["patterns"])


class OptionOut(Schema):
    """One entry of a pick list."""

    value: Any
    label: str
    about: str


class SlotOut(Schema):
    """One word that can be changed; see lattice.slots."""

    slot: str
    kind: Literal["number", "index", "choice", "fraction", "list"]
    label: str
    value: Any
    text: str
    low: float | str | None
    high: float | str | None
    step: float
    options: list[OptionOut]
    offset: int


class ClauseOut(Schema):
    """A stretch of a sentence."""

    id: str
    parts: list[str | SlotOut]
    label: str
    removable: bool


class OfferOut(Schema):
    """A clause that could be added."""

    id: str
    label: str
    about: str
    group: Group


class SentenceOut(Schema):
    """A recipe in words."""

    clauses: list[ClauseOut]
    offers: list[OfferOut]


class DrawnOut(Schema):
    """A lane as drawn and heard; see lattice.picture.pictures. One with the same `stamp` as another
    is the same in everything."""

    cells: list[float]
    steps: list[int]
    lengths: float | list[float]
    cycles: list[float]
    pins: list[int]
    hits: list[tuple[float, float, bool, list[tuple[float, float, int, int]]]]
    notes: list[tuple[float, float, int, int]]
    summary: str
    period: int
    stamp: str


class LaneOut(Schema):
    """A lane of the lattice."""

    id: str
    name: str
    note: int
    note_name: str
    channel: int
    mute: bool
    solo: bool
    audible: bool
    drawn: DrawnOut


class StrandOut(Schema):
    """A strand of the chosen lane, or, where it has none, the value that holds for all its steps;
    a value is a number or a range [low, high]."""

    kind: str
    used: bool
    values: list[float | tuple[float, float]]
    by: Literal["step", "cell", "hit"]
    direction: Literal["forward", "backward", "bounce", "random"]
    window: tuple[int, int] | None
    low: float
    high: float
    whole: bool
    period: int


class ChosenOut(Schema):
    """What is shown of the chosen lane only."""

    lane: str
    steps: int
    sentence: SentenceOut
    strands: list[StrandOut]
    pins: int


class MeetingOut(Schema):
    """The meeting point; bars is null beyond 9,999 frames."""

    words: str
    bars: int | None


class ViewOut(Schema):
    """A pattern over a range of beats."""

    tempo: float
    meter: tuple[int, int]
    bars: int
    seed: int
    bar_beats: float
    frame_beats: float
    sentence: SentenceOut
    start: float
    end: float
    shortened: bool
    meeting: MeetingOut
    lanes: list[LaneOut]
    chosen: ChosenOut | None


class HistoryOut(Schema):
    """What undo and redo would take back or bring back, in words."""

    undo: str | None
    redo: str | None


class StateOut(Schema):
    """A pattern as it stands: its newest revision, its past, and a view of it."""

    id: int
    name: str
    revision: int
    history: HistoryOut
    view: ViewOut


class StaleOut(Schema):
    """The pattern was changed elsewhere: what was tried, and the newer state."""

    detail: str
    tried: str
    state: StateOut


class Wanted(Schema):
    """The range of beats to see, and the lane whose sentence is wanted."""

    start: float = 0
    end: float
    chosen: str | None = None


class LookIn(Wanted):
    """A revision, with edits that are only tried out."""

    revision: int
    edits: list[AnyEdit] = Field(default=[], max_length=64)


class EditIn(LookIn):
    """Edits to store on a revision; `key` makes sending them twice harmless."""

    key: UUID | None = None


class FillIn(Wanted):
    """The pattern of the same piece to take lanes and frame from."""

    revision: int
    source: int
    key: UUID | None = None


class WhyIn(Schema):
    """A place in a lane."""

    revision: int
    edits: list[AnyEdit] = Field(default=[], max_length=64)
    lane: str
    at: float = Field(ge=0, lt=2**31)


class WhyOut(Schema):
    """Why a cell plays or rests."""

    words: str


class ChancesOut(Schema):
    """Seeds of earlier chances, of the pattern and of a lane, the newest first."""

    pattern: list[int]
    lane: list[int]


class TrailOut(Schema):
    """A pass on the Trail; `start` and `beats` place it on the time line it was played on."""

    id: int
    number: int
    beats: float
    thumb: Thumb
    kept: bool


class KeepIn(Schema):
    """What to keep: passes of the Trail, or so many `bars` of them from `first_bar` on; without
    passes, so many bars of a revision from beat `start` on. `key` makes keeping twice harmless."""

    passes: list[int] = Field(default=[], max_length=256)
    first_bar: int = Field(default=1, ge=1, le=4096)
    bars: int | None = Field(default=None, ge=1, le=64)
    revision: int | None = None
    start: float = Field(default=0, ge=0, lt=2**31)
    key: UUID | None = None


class HeardNote(Schema):
    """A note of a pass, in beats from its start."""

    start: float
    length: float
    pitch: int
    velocity: int
    channel: int
    lane: str


class HeardOut(Schema):
    """A pass of the Trail, to be heard again note for note."""

    beats: float
    tempo: float
    notes: list[HeardNote]


def _json(answer: dict[str, Any], status: int = 200) -> HttpResponse:
    return HttpResponse(orjson.dumps(answer), content_type="application/json", status=status)


def _pattern(request: HttpRequest, pattern_id: int) -> Pattern:
    return get_object_or_404(patterns_of(request), pk=pattern_id, deleted=None)


def _tried(owner: int, pattern_id: int, data: LookIn | WhyIn) -> Recipe:
    """The recipe of a revision that this owner may see, with the edits that are tried out."""
    if not belongs(data.revision, pattern_id, owner):
        raise Http404
    check_edits(data.edits)
    return apply_all(recipe_of(data.revision), data.edits)


def _state(pattern: Pattern, wanted: Wanted) -> dict[str, Any]:
    recipe = recipe_of(pattern.head_id)
    return {"id": pattern.id, "name": pattern.name, "revision": pattern.head_id,
            "history": history.history_of(pattern),
            "view": look(recipe, wanted.start, wanted.end, wanted.chosen)}


@router.post("/patterns/{pattern_id}/state", response=StateOut)
def read_state(request: HttpRequest, pattern_id: int, data: Wanted) -> HttpResponse:
    """A pattern as it stands."""
    return _json(_state(_pattern(request, pattern_id), data))


@router.post("/patterns/{pattern_id}/look", response=ViewOut, auth=owner_lately)
def look_at(request: HttpRequest, pattern_id: int, data: LookIn) -> HttpResponse:
    """A view of a revision, with edits tried out; nothing is stored."""
    recipe = _tried(request.auth, pattern_id, data)
    return _json(look(recipe, data.start, data.end, data.chosen))


@router.post("/patterns/{pattern_id}/edits", response={200: StateOut, 409: StaleOut})
def edit(request: HttpRequest, pattern_id: int, data: EditIn) -> HttpResponse:
    """Store edits as one revision; 409 with the newer state if the pattern has moved on."""
    return _changed(data, history.store, request.auth, pattern_id, data.revision, data.edits,
                    data.key)


@router.post("/patterns/{pattern_id}/undo", response={200: StateOut, 409: StaleOut})
def undo(request: HttpRequest, pattern_id: int, data: EditIn) -> HttpResponse:
    """Go back one revision."""
    return _changed(data, history.move, request.auth, pattern_id, data.revision, True, data.key)


@router.post("/patterns/{pattern_id}/redo", response={200: StateOut, 409: StaleOut})
def redo(request: HttpRequest, pattern_id: int, data: EditIn) -> HttpResponse:
    """Go forward one revision."""
    return _changed(data, history.move, request.auth, pattern_id, data.revision, False, data.key)


@router.post("/patterns/{pattern_id}/fill", response={200: StateOut, 409: StaleOut})
def fill(request: HttpRequest, pattern_id: int, data: FillIn) -> HttpResponse:
    """Begin a pattern with what another of its piece has."""
    return _changed(data, history.fill, request.auth, pattern_id, data.source, data.revision,
                    data.key)


def _changed(wanted: Wanted, change: Callable[..., Pattern], *arguments: Any) -> HttpResponse:
    """The state after a change; 409 with the newer state where the pattern has moved on."""
    try:
        return _json(_state(change(*arguments), wanted))
    except history.StaleEdit as stale:
        return _json({
            "detail": "This pattern was changed in another window; here is the newer state.",
            "tried": stale.tried, "state": _state(stale.pattern, wanted)}, status=409)


@router.post("/patterns/{pattern_id}/why", response=WhyOut, auth=owner_lately)
def tell_why(request: HttpRequest, pattern_id: int, data: WhyIn) -> dict[str, str]:
    """Why a cell plays or rests."""
    recipe = _tried(request.auth, pattern_id, data)
    recipe.lane(data.lane)
    if work(recipe, data.at, data.at + 1, [data.lane]) > MOST_WORK:
        raise RecipeError(TOO_DENSE)
    return {"words": why(recipe, data.lane, data.at)}


@router.get("/patterns/{pattern_id}/chances", response=ChancesOut)
def earlier_chances(request: HttpRequest, pattern_id: int,
                    lane: str | None = None) -> dict[str, list[int]]:
    """The chances that can be gone back to."""
    found = history.earlier_chances(_pattern(request, pattern_id), lane)
    return {"pattern": found[0], "lane": found[1]}


@router.get("/patterns/{pattern_id}/trail", response=list[TrailOut])
def read_trail(request: HttpRequest, pattern_id: int) -> list[dict[str, Any]]:
    """The last passes that were played, the newest last."""
    entries = _pattern(request, pattern_id).trail.defer("segments").order_by("-id")[:200]
    return [_trail_out(entry) for entry in reversed(entries)]


def _trail_out(entry: Any) -> dict[str, Any]:
    return {"id": entry.id, "number": entry.number, "beats": float(Fraction(entry.beats)),
            "thumb": entry.picture, "kept": entry.kept}


@router.post("/patterns/{pattern_id}/trail", response=TrailOut)
def add_to_trail(request: HttpRequest, pattern_id: int, data: trail.HeardPass) -> HttpResponse:
    """Put a pass that was played on the Trail."""
    known = {segment.revision for segment in data.segments}
    if not all(belongs(revision, pattern_id, request.auth) for revision in known):
        trail.check_revisions(_pattern(request, pattern_id), known)
    return _json(_trail_out(trail.remember(pattern_id, data)))


@router.get("/patterns/{pattern_id}/trail/{pass_id}", response=HeardOut)
def hear_again(request: HttpRequest, pattern_id: int, pass_id: int) -> dict[str, Any]:
    """The notes of a pass, as they were heard."""
    entry = get_object_or_404(_pattern(request, pattern_id).trail, pk=pass_id)
    segments, beats = trail.in_a_row([entry])
    taken = trail.take("", segments, 0, beats)
    return {"beats": float(beats), "tempo": taken.tempo, "notes": taken.notes}


@router.post("/patterns/{pattern_id}/keep", response=ClipOut)
def keep(request: HttpRequest, pattern_id: int, data: KeepIn) -> dict[str, Any]:
    """Make a clip of passes that were heard, or of bars still to come."""
    pattern = _pattern(request, pattern_id)
    kept = pattern.piece.clips.filter(key=data.key).first() if data.key else None
    if kept:
        return clip_out(kept)
    if data.passes:
        entries = list(pattern.trail.filter(pk__in=data.passes))
        if len(entries) != len(set(data.passes)):
            raise RecipeError("One of these passes is not on the Trail any more.")
        return clip_out(trail.keep(pattern, entries, data.first_bar, data.bars, data.key))
    bars = data.bars or 1
    revision = data.revision if data.revision is not None else pattern.head_id
    segment = {"revision": revision, "edits": [], "at": data.start, "start": data.start}
    trail.check_revisions(pattern, {revision})
    recipe = recipe_of(revision)
    beats = bars * recipe.bar_beats
    first = int(data.start / recipe.bar_beats) + 1
    span = f"bar {first}" if bars == 1 else f"bars {first}–{first + bars - 1}"
    segment["end"] = data.start + float(beats)
    return clip_out(trail.shelve(pattern, [segment], data.start, beats, f"{pattern.name}, {span}",
                                 data.key))
