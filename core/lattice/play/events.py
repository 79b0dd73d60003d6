"""What a pattern sounds as: notes and changes of controllers, and what caused them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from heapq import merge
from operator import attrgetter

from lattice.arpeggio.walk import AnchorFate
from lattice.base.controllers import Number
from lattice.base.values import half_up
from lattice.features.chance import Fate
from lattice.hits.found import Hit

TICK = 1 / 960
"""Nothing is shorter than this, in beats."""
TOGETHER = 1e-9
"""Notes no further apart than this, in beats, begin together: floating point set them apart."""


@dataclass(slots=True)
class Cause:
    """What made a note: its hit and the hit's fate, or a stretch rolled, and which stroke."""

    hit: Hit | None
    fate: Fate | None
    roll: int | None = None
    """The number of the roll in the lane's list; -1 for the roll strand."""
    stroke: int = 0
    strokes: int = 1
    anchor: AnchorFate | None = None
    """The anchor's fate where it is the anchor that sounds."""


@dataclass(slots=True)
class Note:
    """A note of so many beats, at `start` (beats, after swing, nudge and give or take).

    place: its exact place on the grid before those, as (ticks, ticks in a beat).
    """

    start: float
    channel: int
    lane: str
    cell: int
    place: tuple[int, int]
    causes: tuple[Cause, ...]
    length: float
    pitch: int
    velocity: int
    tune: float = 0
    """The semitones by which a drum is tuned."""
    sound: dict[str, float] | None = None
    """Where the controls of its sound stand, in percent, if they are drawn for each hit."""

    @property
    def time(self) -> float:
        """When it begins, as a change has it."""
        return self.start

    @property
    def grid(self) -> Fraction:
        """The exact place in beats."""
        return Fraction(*self.place)


@dataclass(slots=True)
class Change:
    """A controller (its number, pitch bend or channel pressure) set to a value, at `time` beats."""

    time: float
    number: Number
    value: int
    channel: int
    lane: str
    tuning: bool = False
    """Whether it is how the tuning of a drum leaves: what is heard here is tuned by its notes."""


@dataclass(slots=True)
class Sounding:
    """A hit (or a stretch that rolls: neither hit nor fate), its fate, and the notes that it has or
    would have had. main: the one that stands where the hit does; the others are further strokes
    and further pitches."""

    hit: Hit | None
    fate: Fate | None
    main: Note
    notes: list[Note]

    @property
    def sounds(self) -> bool:
        """Whether the notes are heard."""
        return self.fate is None or self.fate.sounds


def in_order(notes: Iterable[Note], changes: Iterable[Change]) -> list[Note | Change]:
    """Notes and changes in the order of time, each of them sorted already; of those that are due
    together the changes come first, whatever floating point makes of their times."""
    found: list[Note | Change] = []
    together: list[Note | Change] = []
    events: Iterator[Note | Change] = merge(changes, notes, key=attrgetter("time"))
    for event in events:
        if together and event.time - together[-1].time >= TOGETHER:
            found += sorted(together, key=lambda each: isinstance(each, Note))
            together = []
        together.append(event)
    return found + sorted(together, key=lambda each: isinstance(each, Note))


def folded(pitch: float) -> int:
    """A pitch brought into 0..127 by octaves."""
    note = half_up(pitch)
    while note < 0:
        note += 12
    while note > 127:
        note -= 12
    return note


def one_at_a_time(notes: Iterable[Note]) -> list[Note]:
    """On each channel and pitch, cut a note where the next begins; two that begin together become
    one, with the higher velocity, the greater length and both reasons. Notes come in order."""
    sounding: dict[tuple[int, int], Note] = {}
    result: list[Note] = []
    for note in notes:
        key = (note.channel, note.pitch)
        before = sounding.get(key)
        if before is not None and note.start - before.start < TOGETHER:
            before.velocity = max(before.velocity, note.velocity)
            before.length = max(before.length, note.length)
            before.causes += note.causes
            continue
        if before is not None and before.start + before.length > note.start:
            before.length = max(note.start - before.start, TICK)
        sounding[key] = note
        result.append(note)
    return result
