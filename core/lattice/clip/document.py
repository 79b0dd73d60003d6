"""A clip as a document: fixed notes and changes of controllers, with a length in beats."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from itertools import chain
from math import lcm
from operator import attrgetter
from typing import Annotated, Any

from pydantic import FailFast, Field, model_validator

from lattice.base.controllers import Number
from lattice.base.errors import RecipeError
from lattice.base.values import (
    DRUM_CHANNEL,
    Channel,
    Document,
    LaneKind,
    NoteNumber,
    Percent,
    Rational,
    Velocity,
    half_up,
)
from lattice.clip.bars import Section, beginning, sections
from lattice.features.own_sound import OwnSound
from lattice.features.rolls import Bend
from lattice.features.sound import Sound
from lattice.features.tuning import Tuned
from lattice.pitch.key import Key
from lattice.recipe import Tempo
from lattice.strands.kinds import Controlled

FINEST_GRAIN = 10**9
MOST_BEATS = 16_384
"""A clip lasts so long at the most."""


MAY_CHANGE = "tempo", "meter", "key"
"""What a mark may make another from it on."""


class ClipNote(Document):
    """A note of a clip: start and length in beats from the clip's start; tune: the semitones by
    which a drum is tuned; sound: where the controls of its sound stand, in percent, if they stand
    elsewhere than its lane's."""

    start: Annotated[float, Field(ge=0)]
    length: Annotated[float, Field(gt=0)]
    pitch: NoteNumber
    velocity: Velocity
    channel: Channel
    lane: str
    tune: Bend = 0
    sound: dict[Annotated[str, Field(max_length=20)], Percent] | None = None

    @property
    def end(self) -> float:
        """Where it ends, in beats."""
        return self.start + self.length

    @property
    def address(self) -> tuple[int, int]:
        """What its draws are addressed by: the place in 1/960 of a beat, and the pitch."""
        return address(self.start, self.pitch)


def address(start: float, pitch: int) -> tuple[int, int]:
    """What a note's draws are addressed by, where it begins there."""
    return half_up(start * 960), pitch


class ClipChange(Document):
    """A controller set to a value, in beats from the clip's start."""

    time: Annotated[float, Field(ge=0)]
    number: Number
    value: Controlled
    channel: Channel
    lane: str


class ClipLane(Document):
    """A lane that plays in a clip, in the order of the pattern, what it is heard by, and how what
    tunes its drums leaves."""

    id: str
    name: str
    kind: LaneKind
    sound: Sound | None = None
    own_sound: OwnSound | None = None
    choked_by: str | None = None
    tuned: Tuned = "unsent"


class ClipMark(Document):
    """A place in a clip, in beats from its start: a marker, where it has a name; and from it on
    another tempo, metre or key, as far as one is named."""

    time: Annotated[float, Field(ge=0)]
    name: Annotated[str, Field(max_length=200)] = ""
    tempo: Tempo | None = None
    meter: tuple[int, int] | None = None
    key: Key | None = None


class Clip(Document):
    """Notes and changes of controllers with a length in beats, and what a file needs besides
    them. Notes, changes and marks come in the order of time; tempo, metre and key are those that
    it begins with. grain: into how many parts a beat is to be divided for every note's place on
    the grid; None where that is not known any more."""

    name: str
    tempo: Tempo
    meter: tuple[int, int]
    key: Key = Key()
    beats: Rational
    lanes: Annotated[tuple[ClipLane, ...], FailFast()]
    notes: Annotated[tuple[ClipNote, ...], FailFast()]
    changes: Annotated[tuple[ClipChange, ...], FailFast()] = ()
    marks: Annotated[tuple[ClipMark, ...], FailFast()] = ()
    grain: Annotated[int, Field(ge=1, le=FINEST_GRAIN)] | None = None

    @property
    def bar(self) -> Fraction:
        """The length of a bar of the metre that it begins with, in beats."""
        return Fraction(self.meter[0] * 4, self.meter[1])

    @property
    def sections(self) -> list[Section]:
        """Its stretches in one metre each."""
        return sections(self.beats, self.meter, (
            (mark.time, mark.meter) for mark in self.marks if mark.meter))

    @property
    def bars(self) -> int:
        """How many bars it has, whatever their metre, one that is begun counted as whole."""
        last = self.sections[-1]
        return last.bar - 1 + last.bars

    @property
    def bars_long(self) -> Fraction:
        """How many bars it lasts, of one that is begun the part that there is."""
        return sum(((each.end - each.start) / each.bar_beats for each in self.sections),
                   start=Fraction(0))

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
        if self.grain is not None:
            places = {note.start for note in self.notes}
            if not all(note.start in places for note in ordered):
                return self.model_copy(update={"notes": ordered, "grain": None})
        return self.model_copy(update={"notes": ordered})

    def gone_round(self, times: int) -> Clip:
        """The clip so many times, one after another."""
        beats = float(self.beats)
        first = (ClipMark(time=0, **self.changing),) if self.changing else ()
        again = self.model_copy(update={"marks": (*first, *self.marks)})
        rounds = [self, *(again.later(i * beats) for i in range(1, times))]
        return self.model_copy(update={"beats": self.beats * times} | {
            name: tuple(each for part in rounds for each in getattr(part, name))
            for name in ("notes", "changes", "marks")})

    def later(self, beats: float) -> Clip:
        """The same notes, changes and marks, so many beats later; it is as long as it was."""
        return self.model_copy(update={
            "notes": tuple(note.model_copy(update={"start": note.start + beats})
                           for note in self.notes),
            "changes": tuple(change.model_copy(update={"time": change.time + beats})
                             for change in self.changes),
            "marks": tuple(mark.model_copy(update={"time": mark.time + beats})
                           for mark in self.marks)})

    @property
    def changing(self) -> dict[str, Any]:
        """What it begins with of tempo, metre and key, as far as its marks change it."""
        return {name: getattr(self, name) for name in MAY_CHANGE
                if any(getattr(mark, name) is not None for mark in self.marks)}

    def stretch(self, start: Fraction, end: Fraction) -> Clip:
        """The beats [start, end) as a clip: the notes that begin in them, as long as they are, and
        controllers, tempo, metre and key from what is in force on."""
        first, last = float(start), float(end)
        stood: dict[tuple[Number, int], ClipChange] = {}
        inside: list[ClipChange] = []
        for change in self.changes:
            if change.time <= first:
                stood[change.number, change.channel] = change.model_copy(update={"time": 0.0})
            elif change.time < last:
                inside.append(change.model_copy(update={"time": change.time - first}))
        fields: dict[str, Any] = {}
        marks: list[ClipMark] = []
        for mark in self.marks:
            if mark.time <= first:
                fields |= {name: value for name in MAY_CHANGE
                           if (value := getattr(mark, name)) is not None}
            elif mark.time < last:
                marks.append(mark.model_copy(update={"time": mark.time - first}))
        notes = tuple(note.model_copy(update={"start": note.start - first}) for note in self.notes
                      if first <= note.start < last)
        return self.model_copy(update=fields | {
            "beats": end - start, "notes": notes, "marks": tuple(marks),
            "grain": self.grain and _up_to_finest(lcm(self.grain, start.denominator)),
            "changes": (*stood.values(), *inside)})

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


def _up_to_finest(grain: int) -> int | None:
    return grain if grain <= FINEST_GRAIN else None


_order = attrgetter("start", "pitch")


def clip_part(clip: Clip, first: int, last: int) -> Clip:
    """The bars [first, last) of a clip, counted from 0, as a clip. RecipeError where there are no
    such bars."""
    if not 0 <= first < last <= clip.bars:
        raise RecipeError(f"“{clip.name}” has {clip.bars} bars; choose among 0:{clip.bars}.")
    within = clip.sections
    return clip.stretch(beginning(within, first), beginning(within, last))
