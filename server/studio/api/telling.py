"""Notes told as recipes: MIDI files that come in, clips as lanes, and shorter sentences."""

from dataclasses import dataclass
from typing import Any, Literal
from uuid import UUID

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from lattice import (
    MOST_MIDI_BYTES,
    MOST_PASSES,
    AddFill,
    Lane,
    LaneKind,
    Name,
    RecipeError,
    Song,
    clip_fill,
    clip_lanes,
    clip_part,
    proposals,
    read,
    read_midi,
    related,
    song_clip,
    song_lanes,
    to_json,
    work,
)
from ninja import Query, Router, Schema
from pydantic import Field

from studio.api.answers import json_of
from studio.api.clips import ClipOut, clip_out, core_clip
from studio.api.listed import Numbers, listed
from studio.api.owned import clips_of, pieces_of
from studio.api.pieces import KeyIn, PatternOut, pattern_out
from studio.api.signed_in import FromOwner
from studio.limits import MOST_WORK
from studio.stored import clips, patterns, trail
from studio.worked_out.clip_look import ClipView, look_at_clip
from studio.worked_out.recipes import belongs, recipe_of

router = Router(tags=["telling"])
RAW = {"requestBody": {"required": True, "content": {
    "audio/midi": {"schema": {"type": "string", "format": "binary"}}}}}
MOST_PROOF = 4 * MOST_WORK


@dataclass
class PartOut:
    """A part of a file: what one track plays on one channel; how many notes, and changes of
    controllers, it has."""

    name: str
    track: int
    channel: int
    kind: LaneKind
    notes: int
    controllers: int


class SongOut(Schema):
    """What is in a MIDI file: its parts, and all of it to look at and to hear; remarks: what was
    read otherwise than it stands; carries: whether a recipe travels in it."""

    tempo: float
    meter: tuple[int, int]
    bars: int
    parts: list[PartOut]
    remarks: list[str]
    carries: bool
    view: ClipView


class TakeMidiIn(Schema):
    """What a file becomes, under a name: a clip, lanes, or the recipe that travels in it. parts:
    their places with commas between, all where none is named; bars: from and to, counted from 0,
    all where there is none."""

    name: Name
    become: Literal["clip", "lanes", "recipe"]
    parts: Numbers = ""
    first: int | None = Field(default=None, ge=0, le=20_000)
    last: int | None = Field(default=None, ge=1, le=20_000)
    key: UUID | None = None


class Told(Schema):
    """What has become of notes: a clip, or a pattern; and what was recognised in them."""

    clip: ClipOut | None = None
    pattern: PatternOut | None = None
    remarks: list[str]


class FillWithIn(Schema):
    """A pattern as it stands at a revision."""

    pattern: int
    revision: int


class SayIn(Schema):
    """A lane of a pattern as it stands at a revision."""

    revision: int
    lane: str


class SaidOut(Schema):
    """A lane in other words: the document of it, its sentence in full, and how many words that
    is; plain: whether it is the lane as it stands."""

    words: int
    sentence: str
    lane: Lane
    plain: bool


def _song(request: FromOwner) -> Song:
    """The file that is the body of a request."""
    return read_midi(request.read(MOST_MIDI_BYTES + 1))


@router.post("/midi/look", response=SongOut, openapi_extra=RAW)
def look_at_midi(request: FromOwner) -> HttpResponse:
    """What is in a MIDI file (the body); nothing is stored."""
    song = _song(request)
    whole = song_clip(song, "file")
    return json_of({
        "tempo": song.tempo, "meter": song.meter,
        "bars": whole.bars,
        "parts": [PartOut(part.name, part.track, part.channel, part.kind, len(part.notes),
                          len(part.changes)) for part in song.parts],
        "remarks": song.remarks, "carries": song.recipe is not None,
        "view": look_at_clip(whole)})


@router.post("/pieces/{piece_id}/midi", response=Told, openapi_extra=RAW)
def take_midi(request: FromOwner, piece_id: int, wanted: Query[TakeMidiIn]) -> HttpResponse:
    """Take a MIDI file (the body) into a piece."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    song = _song(request)
    if wanted.become == "recipe":
        if song.recipe is None:
            raise RecipeError("No recipe travels in this file; take it as lanes.")
        pattern = patterns.begin(piece, wanted.name, read(song.recipe), wanted.key, "came in")
        return json_of({"pattern": pattern_out(pattern), "remarks": []})
    found = song_clip(song, wanted.name, listed(wanted.parts) or None)
    if wanted.first is not None and wanted.last is not None:
        found = clip_part(found, wanted.first, wanted.last)
    if wanted.become == "clip":
        clip = clips.shelve(piece, found, wanted.key)
        return json_of({"clip": clip_out(clip), "remarks": song.remarks})
    told = song_lanes(song, found, plainly=True)
    pattern = patterns.begin(piece, wanted.name, told.recipe, wanted.key, "came in")
    return json_of({"pattern": pattern_out(pattern), "remarks": told.remarks})


@router.post("/clips/{clip_id}/lanes", response=Told)
def make_lanes(request: FromOwner, clip_id: int, data: KeyIn) -> HttpResponse:
    """Make lanes of a clip, as a new pattern."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    told = clip_lanes(core_clip(clip), plainly=True)
    pattern = patterns.begin(clip.piece, clip.name, told.recipe, data.key,
                            f"lanes of {clip.name}"[:200])
    return json_of({"pattern": pattern_out(pattern), "remarks": told.remarks})


@router.post("/clips/{clip_id}/fill", response=AddFill)
def fill_with(request: FromOwner, clip_id: int, data: FillWithIn) -> HttpResponse:
    """The change that lets a clip play as a fill of a pattern; nothing is stored."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    if not belongs(data.revision, data.pattern, request.auth):
        raise Http404
    return json_of(clip_fill(core_clip(clip), recipe_of(data.revision)).model_dump(mode="json"))


@router.post("/clips/{clip_id}/recipe", response=PatternOut)
def open_recipe(request: FromOwner, clip_id: int, data: KeyIn) -> dict[str, Any]:
    """Bring back the lanes that a clip was taken from, as they were then, as a new pattern."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    recipe = trail.made_by(clip)
    if recipe is None:
        raise RecipeError("This clip came in as notes; make lanes of it instead.")
    return pattern_out(patterns.begin(clip.piece, clip.name, recipe, data.key,
                              f"the recipe of {clip.name}"[:200]))


@router.post("/patterns/{pattern_id}/say", response=list[SaidOut])
def say_shorter(request: FromOwner, pattern_id: int, data: SayIn) -> HttpResponse:
    """Ways to say a lane that play exactly the same notes, the shortest first."""
    if not belongs(data.revision, pattern_id, request.auth):
        raise Http404
    recipe = recipe_of(data.revision)
    own = recipe.lane(data.lane)
    if work(related(recipe, own.id), 0, float(MOST_PASSES * recipe.frame_beats)) > MOST_PROOF:
        raise RecipeError(f"{own.name} plays too much in {MOST_PASSES} passes to be held against "
                          "another way to say it; take longer steps or a shorter frame.")
    return json_of([{"words": said.words, "sentence": said.sentence, "lane": to_json(said.lane),
                     "plain": said.lane == own} for said in proposals(recipe, own.id)])
