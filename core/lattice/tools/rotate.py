"""Rotate."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import StepLength, limits
from lattice.base.words import fraction, number
from lattice.tools.base import Chosen, Made, Tool

Steps = Annotated[int, Field(ge=-256, le=256)]
HAIR = 1e-9


class Rotate(Tool):
    """Move notes later by so many steps; what goes over the end comes in again at the start, of
    the clip where all is chosen, else of what is chosen."""

    tool: Literal["rotate"] = "rotate"
    place = 110
    label = "rotate"
    about = "later, and round again"
    by: Steps = 1
    step: StepLength = Fraction(1, 16)

    def parts(self) -> Sequence[Part]:
        return ["Rotate by ", number("by", "steps", self.by, *limits(Steps), text=f"{self.by:+d}"),
                " steps of ", fraction("step", "step", self.step, *limits(StepLength)), "."]

    def laid(self, chosen: Chosen) -> Made:
        step, last = float(self.step * 4), float(chosen.clip.beats)
        width = chosen.end - chosen.start
        if not chosen.whole and width:
            # Whole steps, so that what lies on a grid comes in again on it; within the clip.
            width = min(max(step, -((-width + HAIR) // step) * step), last - chosen.start)
        notes = [note.model_copy(update={"start": chosen.start + _round_again(
            note.start - chosen.start + self.by * step, width)}) for note in chosen.notes]
        return Made([note for note in notes if note.start < last])


def _round_again(place: float, width: float) -> float:
    if not width:
        return place
    within = place % width
    return 0.0 if width - within < HAIR else within
