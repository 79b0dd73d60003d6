"""Stir."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import Percent, StepLength, half_up, limits
from lattice.base.words import choice, fraction, number, percent
from lattice.clip.document import ClipNote, address
from lattice.tools.base import ChanceTool, Chosen, Made, changed

Steps = Annotated[int, Field(ge=0, le=64)]
Degrees = Annotated[int, Field(ge=0, le=14)]
WITHIN = {"chosen": "inside what is chosen", "clip": "anywhere in the clip"}


class Stir(ChanceTool):
    """Move a share of the notes at random: by 1 to so many steps either way, never out of the
    stretch, where there is room for them; and those of pitched lanes by 1 to so many degrees."""

    tool: Literal["stir"] = "stir"
    place = 30
    label = "stir"
    about = "move a share of them at random"
    share: Percent = 50
    steps: Steps = 2
    step: StepLength = Fraction(1, 16)
    within: Literal["chosen", "clip"] = "chosen"
    degrees: Degrees = 0

    @property
    def effort(self) -> float:
        return super().effort + self.steps / 6  # each place that it may go to is looked at

    def parts(self) -> Sequence[Part]:
        return ["Stir ", percent("share", "share", self.share, *limits(Percent)),
                " of them by up to ", number("steps", "steps", self.steps, *limits(Steps)),
                " steps of ", fraction("step", "step", self.step, *limits(StepLength)), ", ",
                choice("within", "where to", self.within, WITHIN), ". Their pitches move by up to ",
                number("degrees", "degrees", self.degrees, *limits(Degrees)), " degrees."]

    def laid(self, chosen: Chosen) -> Made:
        return Made(stirred(self, chosen, chosen.notes))


def stirred(stir: Stir, chosen: Chosen, notes: Sequence[ClipNote]) -> list[ClipNote]:
    """These of the chosen notes, a share of them moved."""
    clip, last = chosen.clip, float(chosen.clip.beats)
    order = sorted(range(len(notes)), key=lambda i: stir.draw(notes[i], "moves"))
    moved = set(order[:half_up(len(notes) * stir.share / 100)])
    pitched = clip.pitched
    low, high = (chosen.start, chosen.end) if stir.within == "chosen" else (0.0, last)
    taken = {_place(note) for i, note in enumerate(notes) if i not in moved}
    taken |= set(map(_place, chosen.others))
    found = []
    for i, note in enumerate(notes):
        if i in moved:
            if stir.degrees and note.lane in pitched:
                by = 1 + int(stir.draw(note, "degrees") * stir.degrees)
                way = 1 if stir.draw(note, "up") < 0.5 else -1
                note = changed(note, last, pitch=clip.key.from_note(note.pitch, way * by))
            note = _moved(note, stir, low, high, taken)
            taken.add(_place(note))
        found.append(note)
    return found


def _place(note: ClipNote) -> tuple[str, int, int]:
    return note.lane, *note.address


def _moved(note: ClipNote, stir: Stir, low: float, high: float,
           taken: set[tuple[str, int, int]]) -> ClipNote:
    """The note at one of the places that it may go to; where it is, if there is none."""
    step = float(stir.step * 4)
    places = [note.start + by * step for by in range(-stir.steps, stir.steps + 1) if by]
    free = [start for start in places if low - 1e-9 <= start < high - 1e-9
            if (note.lane, *address(max(start, 0.0), note.pitch)) not in taken]
    if not free:
        return note
    start = free[int(stir.draw(note, "place") * len(free))]
    return note.model_copy(update={"start": max(start, 0.0)})
