"""Double, halve or stretch time."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import AfterValidator

from lattice.base.clauses import Part
from lattice.base.errors import RecipeError
from lattice.base.values import Rational, Within, limits
from lattice.base.words import fraction
from lattice.clip.document import MOST_BEATS
from lattice.play.events import TICK
from lattice.tools.base import Chosen, Made, Tool

Times = Annotated[Rational, AfterValidator(Within(
    Fraction(1, 16), Fraction(16), "Time is stretched by 1/16 to 16."))]


class Stretch(Tool):
    """Make everything so many times as long, from the beginning of what is chosen; of a whole
    clip its length too."""

    tool: Literal["stretch"] = "stretch"
    place = 120
    label = "stretch time"
    about = "double, halve, or any ratio"
    times: Times = Fraction(2)

    def parts(self) -> Sequence[Part]:
        return ["Stretch time to ",
                fraction("times", "times as long", self.times, *limits(Times),
                         ["1/4", "1/2", "2/3", "3/4", "4/3", "3/2", "2", "4"]),
                " of its length."]

    def laid(self, chosen: Chosen) -> Made:
        clip, times = chosen.clip, float(self.times)
        whole = clip.model_copy(update={"beats": clip.beats * self.times} | {
            name: tuple(each.model_copy(update={"time": each.time * times})
                        for each in getattr(clip, name))
            for name in ("changes", "marks")}) if chosen.whole else None
        if whole and whole.beats > MOST_BEATS:
            raise RecipeError(f"A clip lasts up to {MOST_BEATS:,} beats; stretch it less.")
        last = float((whole or clip).beats) - TICK
        notes = [note.model_copy(update={
            "start": chosen.start + (note.start - chosen.start) * times,
            "length": note.length * times}) for note in chosen.notes]
        return Made([note for note in notes if note.start <= last], whole)
