"""Thin out."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lattice.base.clauses import Part
from lattice.base.values import Percent, half_up, limits
from lattice.base.words import choice, percent
from lattice.clip.document import ClipNote
from lattice.tools.base import ChanceTool, Chosen, Made

HOW = {"random": ("at random", "another throw takes others"),
       "softest": ("the softest", "the softest first"),
       "shortest": ("the shortest", "the shortest first")}


class Thin(ChanceTool):
    """Take away a share of the notes; of the chosen ones so many go, rounded."""

    tool: Literal["thin"] = "thin"
    place = 130
    label = "thin out"
    about = "take a share of the notes away"
    share: Percent = 25
    how: Literal["random", "softest", "shortest"] = "random"

    def parts(self) -> Sequence[Part]:
        return ["Take away ", percent("share", "share", self.share, *limits(Percent)),
                " of them, ", choice("how", "which", self.how, HOW), "."]

    def laid(self, chosen: Chosen) -> Made:
        order = sorted(range(len(chosen.notes)), key=lambda i: self._rank(chosen.notes[i]))
        gone = set(order[:half_up(len(order) * self.share / 100)])
        return Made([note for i, note in enumerate(chosen.notes) if i not in gone])

    def _rank(self, note: ClipNote) -> float:
        """Notes go in the order of this."""
        if self.how == "random":
            return self.draw(note, "goes")
        return note.velocity if self.how == "softest" else note.length
