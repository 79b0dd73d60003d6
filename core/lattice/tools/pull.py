"""Pull to the grid."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Any, Literal

from lattice.base.clauses import Part
from lattice.base.frame import SwingPercent
from lattice.base.values import Percent, StepLength, limits
from lattice.base.words import choice, fraction, number, percent
from lattice.clip.document import ClipNote
from lattice.clip.grid import Grid
from lattice.tools.base import Chosen, Made, Tool, each

ENDS = {"beginnings": "beginnings", "ends": "ends", "both": "beginnings and ends"}


class Pull(Tool):
    """Move notes a share of the way to the nearest place of a grid; each second step of the grid
    may swing."""

    tool: Literal["pull"] = "pull"
    place = 10
    label = "pull to the grid"
    about = "a share of the way, swing and triplets too"
    share: Percent = 100
    step: StepLength = Fraction(1, 16)
    swing: SwingPercent = 50
    what: Literal["beginnings", "ends", "both"] = "beginnings"

    def parts(self) -> Sequence[Part]:
        return ["Pull ", choice("what", "what is pulled", self.what, ENDS), " ",
                percent("share", "share of the way", self.share, *limits(Percent)),
                " of the way to the grid of ",
                fraction("step", "step of the grid", self.step, *limits(StepLength)),
                ", swung ", number("swing", "swing of the grid", self.swing, *limits(SwingPercent),
                                   step=0.1, text=f"{self.swing:g} %"), "."]

    def laid(self, chosen: Chosen) -> Made:
        grid = Grid.of(self.step, self.swing)

        def pulled(place: float) -> float:
            return place + (grid.nearest(place) - place) * self.share / 100

        def change(note: ClipNote) -> dict[str, Any]:
            start = note.start if self.what == "ends" else pulled(note.start)
            if self.what == "beginnings":
                return {"start": start}
            end = pulled(note.end)
            return {"start": start, "length": end - start if end > start else note.length}

        return each(chosen, change)
