"""Recipes as texts: told, read, and what may come next while one is being written."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from lattice import (
    Coming,
    Lane,
    Recipe,
    RecipeError,
    Segment,
    TextError,
    lane_text,
    many,
    pattern_text,
    read_text,
    take_clip,
    to_json,
    what_comes,
    work,
    wrong_with,
)
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import json_of
from studio.api.asked import Trying, tried
from studio.api.owned import pattern_of, pieces_of
from studio.api.pieces import PatternOut, pattern_out
from studio.api.signed_in import FromOwner, owner_lately
from studio.limits import MOST_WORK
from studio.stored import patterns
from studio.worked_out.clip_look import ClipView, look_at_clip
from studio.worked_out.recipes import recipe_of

router = Router(tags=["texts"])
LONGEST_SENT = 2**20
"""Letters of a text that is looked at; the core says how many it reads."""


class TextOut(Schema):
    """A recipe as text."""

    text: str


class WritingIn(Trying):
    """A text that is being written for a lane, and where in it."""

    lane: str
    text: str = Field(max_length=LONGEST_SENT)
    caret: int = Field(ge=0, le=LONGEST_SENT)


class WrongOut(Schema):
    """What cannot be read of a text: one sentence, the place [start, end), and what may stand there
    instead."""

    words: str
    start: int
    end: int
    offers: list[str]


class WritingOut(Schema):
    """What cannot be read of a text, if there is something, and what may come at the caret."""

    wrong: WrongOut | None
    coming: list[Coming]


class WrittenIn(Schema):
    """A text that was pasted."""

    text: str = Field(max_length=LONGEST_SENT)


class ReadOut(Schema):
    """A pattern that was read of a text, or lanes by themselves, which are documents: how it sounds
    and looks over its frame; None where that is too much."""

    name: str
    lanes: list[dict[str, Any]]
    view: ClipView | None


class WrittenOut(Schema):
    """What a text holds: lanes by themselves first, then patterns; or what is wrong with it."""

    wrong: WrongOut | None
    lanes: ReadOut | None
    patterns: list[ReadOut]


class TakeTextIn(WrittenIn):
    """The patterns of a text that a piece takes; `keys` make sending them twice harmless, one for
    each."""

    keys: list[UUID] = Field(max_length=32)


def _wrong(problem: TextError) -> WrongOut:
    return WrongOut(words=str(problem), start=problem.start, end=problem.end,
                    offers=list(problem.offers))


@router.get("/patterns/{pattern_id}/text", response=TextOut)
def tell_text(request: FromOwner, pattern_id: int, lanes: str = "",
              headed: bool = True) -> dict[str, str]:
    """A pattern as it stands as a text; or lanes of it, by their ids with commas between, what they
    say alone where they are not headed."""
    pattern = pattern_of(request, pattern_id)
    recipe = recipe_of(pattern.state)
    told = [lane_text(recipe.lane(lane), recipe, headed=headed)
            for lane in lanes.split(",") if lane]
    return {"text": "\n".join(told) if told else pattern_text(recipe, pattern.name)}


@router.post("/patterns/{pattern_id}/writing", response=WritingOut, auth=owner_lately)
def help_writing(request: FromOwner, pattern_id: int, data: WritingIn) -> HttpResponse:
    """What may come next in a text for a lane, and what of it cannot be read; nothing is
    stored."""
    recipe = tried(request.auth, pattern_id, data)
    lane = recipe.lane(data.lane)
    wrong = wrong_with(data.text, lane, recipe)
    return json_of({"wrong": wrong and _wrong(wrong),
                    "coming": what_comes(data.text, data.caret, lane, recipe)})


@router.post("/patterns/{pattern_id}/written", response=WrittenOut)
def look_at_text(request: FromOwner, pattern_id: int, data: WrittenIn) -> HttpResponse:
    """What a text holds that was pasted into a pattern; nothing is stored."""
    around = recipe_of(pattern_of(request, pattern_id).state)
    try:
        found = read_text(data.text, around)
    except TextError as problem:
        return json_of({"wrong": _wrong(problem), "lanes": None, "patterns": []})
    frame = around.model_copy(update={"lanes": tuple(found.lanes), "paths": (), "gusts": (),
                                      "fills": ()})
    return json_of({
        "wrong": None,
        "lanes": _read("", found.lanes, frame) if found.lanes else None,
        "patterns": [_read(each.name, each.recipe.lanes, each.recipe)
                     for each in found.patterns]})


def _read(name: str, lanes: Sequence[Lane], recipe: Recipe) -> dict[str, Any]:
    beats, leaders = recipe.frame_beats, {None, *(lane.id for lane in lanes)}
    view = None
    if all(lane.follows in leaders for lane in lanes) and \
            work(recipe, 0, float(beats)) <= MOST_WORK:
        view = look_at_clip(take_clip(name or "text", [Segment(recipe, 0, 0, float(beats))], 0,
                                      beats))
    return {"name": name, "lanes": [to_json(lane) for lane in lanes], "view": view}


@router.post("/pieces/{piece_id}/texts", response=list[PatternOut])
def take_text(request: FromOwner, piece_id: int, data: TakeTextIn) -> list[dict[str, Any]]:
    """Take the patterns of a text into a piece."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    found = read_text(data.text).patterns
    if len(found) != len(data.keys):
        raise RecipeError(f"The text was taken for {many(len(data.keys), 'patterns')} and holds "
                          f"{len(found)}; look at it once more.")
    return [pattern_out(patterns.begin(piece, each.name or "written", each.recipe, key, "written"))
            for each, key in zip(found, data.keys, strict=True)]
