"""What is done to the chosen notes of a clip: each tool a small document, whose words make its
sentence, and whose code gives other notes for them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar

from pydantic import Field

from lattice.base.draws import Draws
from lattice.base.values import half_up
from lattice.clip.changed import parted
from lattice.clip.document import Clip, ClipNote
from lattice.play.events import TICK, folded
from lattice.sentence import Said

Throw = Annotated[int, Field(gt=-(2**53), lt=2**53)]
"""The number of a throw: the next one is another throw, the one below is the one before."""


@dataclass(frozen=True, slots=True)
class Chosen:
    """The notes that a tool works on, in the order of time, out of a clip.

    start, end: in beats, the stretch that they lie in: the whole clip where all notes are chosen,
    else from the first beginning to the last end, as far as the clip goes.
    """

    clip: Clip
    notes: tuple[ClipNote, ...]
    start: float
    end: float
    whole: bool

    @staticmethod
    def of(clip: Clip, numbers: Sequence[int] | None) -> Chosen:
        """Notes by their places in the clip, or all of them; RecipeError for a place that there is
        not."""
        if numbers is None or len(set(numbers)) == len(clip.notes):
            return Chosen(clip, clip.notes, 0.0, float(clip.beats), True)
        notes = tuple(parted(clip, numbers)[1])
        if not notes:
            return Chosen(clip, (), 0.0, 0.0, False)
        end = min(max(note.end for note in notes), float(clip.beats))
        return Chosen(clip, notes, notes[0].start, end, False)

    @property
    def others(self) -> list[ClipNote]:
        """The notes of the clip that are not chosen."""
        own = set(map(id, self.notes))
        return [note for note in self.clip.notes if id(note) not in own]


@dataclass(frozen=True, slots=True)
class Made:
    """What a tool makes: the notes in place of the chosen ones; where the tool works on the clip
    as a whole, the clip that they are all notes of then."""

    notes: Sequence[ClipNote]
    clip: Clip | None = None


class Tool(Said):
    """A tool; `tool` names it."""

    tool: str
    place: ClassVar[int]
    """Where it comes among the others that are offered."""
    about: ClassVar[str]

    @property
    def effort(self) -> float:
        """How much work a note is, in the unit of lattice.results.work."""
        return 1.5

    def begins(self, chosen: Chosen) -> float:
        """Where what it does to notes begins, in beats."""
        return chosen.start

    def laid(self, chosen: Chosen) -> Made:
        """What it makes of notes; RecipeError where it cannot be done."""
        raise NotImplementedError


class ChanceTool(Tool):
    """A tool with chance in it; another throw gives other draws. A note's draws depend on nothing
    but the throw, its lane, place and pitch."""

    throw: Throw = 0

    def draw(self, note: ClipNote, purpose: str, number: int = 0) -> float:
        """A draw in [0, 1) of a note."""
        return Draws(self.throw, 0, note.lane)(f"{self.tool} {purpose}", *note.address, number)


def each(chosen: Chosen, change: Callable[[ClipNote], dict[str, Any]]) -> Made:
    """Every chosen note changed by itself, and kept within the clip: beginning in it, and with a
    velocity of 1 to 127."""
    last = float(chosen.clip.beats) - TICK
    return Made([changed(note, last, **change(note)) for note in chosen.notes])


def changed(note: ClipNote, last: float, *, start: float | None = None,
            length: float | None = None, velocity: float | None = None,
            pitch: int | None = None) -> ClipNote:
    """A note with other values: no sooner than 0 and no later than `last`, at least 1/960 of a
    beat long, with a velocity of 1 to 127, its pitch brought into 0 to 127 by octaves."""
    fields: dict[str, Any] = {}
    if start is not None:
        fields["start"] = min(max(start, 0.0), last)
    if length is not None:
        fields["length"] = max(length, TICK)
    if velocity is not None:
        fields["velocity"] = min(127, max(1, half_up(velocity)))
    if pitch is not None:
        fields["pitch"] = folded(pitch)
    return note.model_copy(update=fields)
