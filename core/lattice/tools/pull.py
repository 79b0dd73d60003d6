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
RUNS = {"stay": ("left alone", "three and more, equally far apart, and not as the grid is"),
        "pulled": ("pulled too", "as all others")}
ALIKE = 0.1
"""Distances within a run differ by such a share of the shorter at most."""
FINER = 0.8
"""Notes that are closer than so many steps are a roll."""
TRIPLETS = 4 / 3, 8 / 3
"""Distances of triplets on a grid of steps as long as they are or half as long, in steps."""
CLOSE = 0.05


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
    runs: Literal["stay", "pulled"] = "stay"

    def parts(self) -> Sequence[Part]:
        return ["Pull ", choice("what", "what is pulled", self.what, ENDS), " ",
                percent("share", "share of the way", self.share, *limits(Percent)),
                " of the way to the grid of ",
                fraction("step", "step of the grid", self.step, *limits(StepLength)),
                ", swung ", number("swing", "swing of the grid", self.swing, *limits(SwingPercent),
                                   step=0.1, text=f"{self.swing:g} %"),
                ", rolls and triplets ", choice("runs", "rolls and triplets", self.runs, RUNS), "."]

    def laid(self, chosen: Chosen) -> Made:
        grid = Grid.of(self.step, self.swing)
        staying = in_runs(chosen.notes, grid.step) if self.runs == "stay" else set()

        def pulled(place: float) -> float:
            return place + (grid.nearest(place) - place) * self.share / 100

        def change(note: ClipNote) -> dict[str, Any]:
            if id(note) in staying:
                return {}
            start = note.start if self.what == "ends" else pulled(note.start)
            if self.what == "beginnings":
                return {"start": start}
            end = pulled(note.end)
            return {"start": start, "length": end - start if end > start else note.length}

        return each(chosen, change)


def in_runs(notes: Sequence[ClipNote], step: float) -> set[int]:
    """Which notes (by their identity) belong to a roll or a triplet: three or more of one lane and
    pitch that follow each other equally far apart, closer than the grid, or as triplets do."""
    rows: dict[tuple[str, int], list[ClipNote]] = {}
    for note in notes:
        rows.setdefault((note.lane, note.pitch), []).append(note)
    found: set[int] = set()
    for row in rows.values():
        for a, b, c in zip(row, row[1:], row[2:], strict=False):
            first, second = b.start - a.start, c.start - b.start
            apart = (first + second) / 2 / step
            if abs(first - second) <= ALIKE * min(first, second) and apart > 0 and (
                    apart < FINER or any(abs(apart / each - 1) < CLOSE for each in TRIPLETS)):
                found |= {id(a), id(b), id(c)}
    return found
