"""The kinds of strands: one definition each. Everything else about a kind is derived from it."""

from __future__ import annotations

from dataclasses import dataclass

from lattice.base.errors import RecipeError
from lattice.base.values import Gate, Percent, Velocity, half_up, limits


@dataclass(frozen=True, slots=True)
class StrandKind:
    """What the values of a strand may be.

    word: how it is called. low, high: bounds; top: where its axis ends, if not at `high`. whole:
    whether values are whole numbers. neutral: what holds without a strand; None for the kinds that
    have a single value in the lane, a field of the same name. raised: how much one raise is.
    """

    name: str
    low: float
    high: float
    word: str = ""
    whole: bool = False
    neutral: float | None = None
    raised: float = 1
    top: float | None = None

    def moved(self, value: float | tuple[float, float], by: float) -> float | tuple[float, float]:
        """A value raised by so much, a range with both its ends; it stops at its bounds."""
        if isinstance(value, tuple):
            return self._bounded(value[0] + by), self._bounded(value[1] + by)
        return self._bounded(value + by)

    def _bounded(self, value: float) -> float:
        rounded = half_up(value) if self.whole else round(value, 2)
        return min(self.high, max(self.low, rounded))


VELOCITY = StrandKind("velocity", *limits(Velocity), whole=True, raised=8)
PROBABILITY = StrandKind("probability", *limits(Percent), word="chance", raised=10)
GATE = StrandKind("gate", *limits(Gate), raised=10, top=200)
ROLL = StrandKind("roll", 1, 16, whole=True, neutral=1)
NUDGE = StrandKind("nudge", -50, 50, neutral=0, raised=5)
"""Percent of the cell."""
OCTAVE = StrandKind("octave", -4, 4, whole=True, neutral=0)
TIE = StrandKind("tie", 0, 1, whole=True, neutral=0)

KINDS = {each.name: each for each in tuple(vars().values()) if isinstance(each, StrandKind)}
"""All kinds by their names."""


def kind_named(name: str) -> StrandKind:
    """The kind with this name; RecipeError if there is none."""
    if name not in KINDS:
        raise RecipeError(f"A strand is one of {', '.join(KINDS)}.")
    return KINDS[name]
