"""Turn round in time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lattice.base.clauses import Part
from lattice.base.words import choice
from lattice.tools.base import Chosen, Made, Tool, each

BY = {"beginnings": ("beginnings", "so that what was on a grid stays on it"),
      "ends": ("ends", "each note ends where it began")}


class TurnRound(Tool):
    """The last note first: mirror notes in time, by their beginnings (about the middle between the
    first and the last) or by their ends (about the middle of the stretch)."""

    tool: Literal["turn_round"] = "turn_round"
    place = 100
    label = "turn round"
    about = "the last note first"
    by: Literal["beginnings", "ends"] = "beginnings"

    def parts(self) -> Sequence[Part]:
        return ["Turn round in time by their ", choice("by", "mirrored by", self.by, BY), "."]

    def laid(self, chosen: Chosen) -> Made:
        if not chosen.notes:
            return Made(())
        if self.by == "beginnings":
            both = chosen.notes[0].start + chosen.notes[-1].start
            return each(chosen, lambda note: {"start": both - note.start})
        return each(chosen, lambda note: {"start": chosen.start + chosen.end - note.end})
