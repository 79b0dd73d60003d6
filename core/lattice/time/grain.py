"""Exact time: a pattern's measures in ticks.

All positions are whole numbers of *ticks*: the pattern's grain, a fraction of a beat so fine that
every grid position of the pattern is a whole number of them. So positions stay exact however far
a pattern runs.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction

from lattice.base.frame import Frame
from lattice.base.group import Grain, LaneGroup

HAIR = Fraction(1, 1_000_000)
"""So far, in beats, floating point may have moved a place off the grid."""


@dataclass(frozen=True, slots=True)
class Timeline:
    """The pattern's measures in ticks; `grain` is the number of ticks in a beat."""

    grain: int
    bar: int
    frame: int

    def ticks(self, beats: Fraction) -> int:
        """An exact position in ticks; the grain holds every position that a recipe names."""
        return beats.numerator * self.grain // beats.denominator

    def beats(self, ticks: int) -> Fraction:
        """A position of ticks in beats."""
        return Fraction(ticks, self.grain)

    def around(self, start: float, end: float) -> tuple[int, int]:
        """The ticks [begin, stop) that hold every grid position in [start, end) beats, and those
        a hair beside it, however fine the grain."""
        return (self.ticks(Fraction(start) - HAIR), self.ticks(Fraction(end) + HAIR) + 1)


def timeline(frame: Frame, lanes: Iterable[LaneGroup], more: Iterable[Fraction] = ()) -> Timeline:
    """The grain in which all grid positions of these lanes, and `more` lengths in beats, are whole;
    RecipeError where it would be finer than 1/2^512 of a beat."""
    grain = Grain()
    grain.holds(frame.bar_beats, *more)
    for lane in lanes:
        lane.add_grain(grain, frame)
    ticks = grain.ticks_per_beat()
    return Timeline(ticks, int(frame.bar_beats * ticks), int(frame.frame_beats * ticks))
