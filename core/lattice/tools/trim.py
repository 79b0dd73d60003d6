"""Trim the clip."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Literal

from lattice.base.clauses import Part
from lattice.base.errors import RecipeError
from lattice.base.values import Rational
from lattice.base.words import fraction
from lattice.clip.document import MOST_BEATS
from lattice.tools.base import Chosen, Made, Tool


class TrimNotes(Tool):
    """Keep a stretch of the clip, from one beat to another, counted from 0; the clip is as long as
    that then, and longer than before where the stretch ends after it. Notes that begin before the
    stretch go, those that hang over its end are cut; controllers begin as they stood. Works on
    the whole clip, whatever is chosen."""

    tool: Literal["trim"] = "trim"
    place = 160
    label = "trim"
    about = "keep a stretch, or make the clip longer"
    start: Rational = Fraction(0)
    end: Rational = Fraction(4)

    def parts(self) -> Sequence[Part]:
        most = Fraction(MOST_BEATS)
        return ["Keep from beat ", fraction("start", "first beat", self.start, Fraction(0), most,
                                            ["0", "4", "8", "16"]),
                " to beat ", fraction("end", "beat at its end", self.end, Fraction(1, 16), most,
                                      ["4", "8", "16", "32"]), ", counted from 0."]

    def laid(self, chosen: Chosen) -> Made:
        if not 0 <= self.start < self.end <= MOST_BEATS:
            raise RecipeError("A stretch ends after it begins, within 0 to "
                              f"{MOST_BEATS:,} beats.")
        part = chosen.clip.stretch(self.start, self.end)
        last = float(part.beats)
        return Made([note.model_copy(update={"length": min(note.length, last - note.start)})
                     for note in part.notes], part)
