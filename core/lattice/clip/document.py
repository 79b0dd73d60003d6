"""A clip as a document: fixed notes and changes of controllers, with a length in beats."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import chain
from typing import Annotated, Any

from pydantic import Field, model_validator

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
    them. Notes and changes come in the order of time."""

    name: str
    tempo: Tempo
    meter: tuple[int, int]
    key: Key = Key()
    beats: Rational
    lanes: tuple[ClipLane, ...]
    notes: tuple[ClipNote, ...]
    changes: tuple[ClipChange, ...] = ()

    @property
    def bar_beats(self) -> float:
        """The length of a bar, in beats."""
        return self.meter[0] * 4 / self.meter[1]

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
        return self.model_copy(update={"notes": tuple(sorted(notes, key=_order))})

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
