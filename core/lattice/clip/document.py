"""A clip as a document: fixed notes and changes of controllers, with a length in beats."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from itertools import chain
from typing import Annotated, Any

from pydantic import Field, model_validator

from lattice.base.errors import RecipeError
from lattice.base.values import (
    DRUM_CHANNEL,
    Channel,
    Document,
    LaneKind,
    NoteNumber,
    Rational,
    Velocity,
    half_up,
)
from lattice.control.fields import Number
from lattice.features.own_sound import OwnSound
from lattice.features.sound import Sound
from lattice.pitch.key import Key
from lattice.recipe import Tempo
from lattice.strands.kinds import Controlled

FINEST_GRAIN = 10**9
MOST_BEATS = 16_384
"""A clip lasts so long at the most."""


class ClipNote(Document):
    """A note of a clip: start and length in beats from the clip's start."""

    start: Annotated[float, Field(ge=0)]
    length: Annotated[float, Field(gt=0)]
    pitch: NoteNumber
    velocity: Velocity
    channel: Channel
    lane: str

    @property
    def end(self) -> float:
        """Where it ends, in beats."""
        return self.start + self.length

    @property
    def address(self) -> tuple[int, int]:
        """What its draws are addressed by: the place in 1/960 of a beat, and the pitch."""
        return half_up(self.start * 960), self.pitch


class ClipChange(Document):
    """A controller set to a value, in beats from the clip's start."""

    time: Annotated[float, Field(ge=0)]
    number: Number
    value: Controlled
    channel: Channel
    lane: str


class ClipLane(Document):
    """A lane that plays in a clip, in the order of the pattern, and what it is heard by."""

    id: str
    name: str
    kind: LaneKind
    sound: Sound | None = None
    own_sound: OwnSound | None = None
    choked_by: str | None = None


class Clip(Document):
    """Notes and changes of controllers with a length in beats, and what a file needs besides
    them. Notes and changes come in the order of time. grain: into how many parts a beat is to be
    divided for every note's place on the grid; None where that is not known any more."""

    name: str
    tempo: Tempo
    meter: tuple[int, int]
    key: Key = Key()
    beats: Rational
    lanes: tuple[ClipLane, ...]
    notes: tuple[ClipNote, ...]
    changes: tuple[ClipChange, ...] = ()
    grain: Annotated[int, Field(ge=1, le=FINEST_GRAIN)] | None = None

    @property
    def bar(self) -> Fraction:
        """The length of a bar, in beats."""
        return Fraction(self.meter[0] * 4, self.meter[1])

    @property
    def bars(self) -> int:
        """How many bars it has, one that is begun counted as whole."""
        return int(-(-self.beats // self.bar))

    def lane(self, lane_id: str) -> ClipLane | None:
        """The lane with this id."""
        return next((lane for lane in self.lanes if lane.id == lane_id), None)

    @property
    def pitched(self) -> set[str]:
        """The ids of the lanes whose notes are notes of a key."""
        return {lane.id for lane in self.lanes if lane.kind == "pitched"}

    def channel_of(self, lane_id: str) -> int:
        """The channel of a lane: that of its first note or change, else that of drums for drums and
        the first for others."""
        sounding: Iterator[ClipNote | ClipChange] = chain(self.notes, self.changes)
        for each in sounding:
            if each.lane == lane_id:
                return each.channel
        lane = self.lane(lane_id)
        return DRUM_CHANNEL if lane and lane.kind == "drum" else 1

    def with_notes(self, notes: Iterable[ClipNote]) -> Clip:
        """The clip with other notes, in the order of time."""
        ordered = tuple(sorted(notes, key=_order))
        places = {note.start for note in self.notes}
        known = all(note.start in places for note in ordered)
        return self.model_copy(update={"notes": ordered, "grain": self.grain if known else None})

    def gone_round(self, times: int) -> Clip:
        """The clip so many times, one after another."""
        beats = float(self.beats)
        return self.model_copy(update={
            "beats": self.beats * times,
            "notes": tuple(note.model_copy(update={"start": note.start + i * beats})
                           for i in range(times) for note in self.notes),
            "changes": tuple(change.model_copy(update={"time": change.time + i * beats})
                             for i in range(times) for change in self.changes)})

    @model_validator(mode="before")
    @classmethod
    def _older_lanes_get_their_kind(cls, document: Any) -> Any:
        """Clips that were kept before lanes had kinds: what sounds on the drums' channel is a
        drum, what has no note a controller."""
        if not isinstance(document, dict) or not all(
                isinstance(each, dict) for name in ("lanes", "notes")
                for each in document.get(name, ())):
            return document
        lanes = document.get("lanes", ())
        if all("kind" in lane for lane in lanes) or not lanes:
            return document
        channels = {note.get("lane"): note.get("channel") for note in document.get("notes", ())}

        def kind(lane: dict[str, Any]) -> str:
            channel = channels.get(lane.get("id"))
            return "control" if channel is None else \
                "drum" if channel == DRUM_CHANNEL else "pitched"

        return document | {"lanes": [{"kind": kind(lane)} | lane for lane in lanes]}


def _order(note: ClipNote) -> tuple[float, int]:
    return note.start, note.pitch


def clip_part(clip: Clip, first: int, last: int) -> Clip:
    """The bars [first, last) of a clip, counted from 0, as a clip: the notes that begin in them,
    and controllers from the value in force on. RecipeError where there are no such bars."""
    if not 0 <= first < last <= clip.bars:
        raise RecipeError(f"“{clip.name}” has {clip.bars} bars; choose among 0:{clip.bars}.")
    start, end = float(first * clip.bar), float(last * clip.bar)
    changes: dict[tuple[Number, int], ClipChange] = {}
    inside: list[ClipChange] = []
    for change in clip.changes:
        if change.time <= start:
            changes[change.number, change.channel] = change.model_copy(update={"time": 0.0})
        elif change.time < end:
            inside.append(change.model_copy(update={"time": change.time - start}))
    notes = tuple(note.model_copy(update={"start": note.start - start}) for note in clip.notes
                  if start <= note.start < end)
    return clip.model_copy(update={"beats": (last - first) * clip.bar, "notes": notes,
                                   "changes": (*changes.values(), *inside)})
