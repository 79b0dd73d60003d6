"""The kinds of strands: one definition each. Everything else about a kind is derived from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, ConfigDict, Field

from lattice.base.controllers import (
    Number,
    controller_name,
    neutral_value,
    value_bounds,
)
from lattice.base.errors import RecipeError
from lattice.base.values import (
    LANE_KINDS,
    Gate,
    LaneKind,
    Percent,
    Velocity,
    half_up,
    limits,
)

Degree = Annotated[int, Field(ge=-64, le=64)]
"""A degree of a scale or a chord, counted from 0."""
Controlled = Annotated[int, Field(ge=-8192, le=8191)]
"""What a controller is set to; all but pitch bend go from 0 to 127."""
SOUNDING: tuple[LaneKind, ...] = ("drum", "pitched")


def _each_once(degrees: tuple[int, ...]) -> tuple[int, ...]:
    if len(set(degrees)) < len(degrees):
        raise ValueError("The degrees of a chord step are named once each.")
    return tuple(sorted(degrees))


@dataclass(frozen=True, slots=True)
class Together:
    """A chord step: several degrees at once, or every tone of the sounding chord."""

    __pydantic_config__ = ConfigDict(extra="forbid")

    all: Annotated[tuple[Degree, ...], Field(min_length=2, max_length=8),
                   AfterValidator(_each_once)] | Literal["chord"]

    @property
    def document(self) -> dict[str, Any]:
        """As it is written in a recipe."""
        return {"all": self.all if self.all == "chord" else list(self.all)}


Value = float | tuple[float, float] | Together
"""A number; a range [low, high] from which one is drawn per cell; or a chord step."""


def numbers(values: Sequence[Value]) -> list[float]:
    """Values that are all single numbers; TypeError where one is a range or a chord step."""
    found = [value for value in values if isinstance(value, float | int)]
    if len(found) < len(values):
        raise TypeError("There are ranges or chord steps among these values.")
    return found


@dataclass(frozen=True, slots=True)
class StrandKind:
    """What the values of a strand may be.

    word: how it is called. low, high: bounds; top: where its axis ends, if not at `high`. whole:
    whether values are whole numbers. neutral: what holds without a strand; None for the kinds that
    have a single value in the lane, a field of the same name. raised: how much one raise is.
    lanes: the kinds of lanes that read it. several: whether a step may have several at once.
    thrown: the bounds between which values are drawn at first, where they are thrown. sets: the
    controller that it sets before each hit.
    """

    name: str
    low: float
    high: float
    word: str = ""
    whole: bool = False
    neutral: float | None = None
    raised: float = 1
    top: float | None = None
    lanes: tuple[LaneKind, ...] = SOUNDING
    several: bool = False
    thrown: tuple[float, float] = (0, 1)
    sets: Number | None = None

    @property
    def path(self) -> str:
        """Where a lane's document has the strand."""
        return f"strands.{self.name}" if self.sets is None else f"controls.{self.sets}"

    @property
    def drawn_under(self) -> str:
        """The purpose of the draws from its ranges."""
        return f"{self.name} range" if self.sets is None else self.name

    def moved(self, value: Value, by: float) -> Value:
        """A value raised by so much, a range with both its ends and a chord step with all its
        degrees; it stops at its bounds."""
        if isinstance(value, Together):
            if value.all == "chord" or any(not self.low <= each + half_up(by) <= self.high
                                           for each in value.all):
                return value
            return Together(all=tuple(each + half_up(by) for each in value.all))
        if isinstance(value, tuple):
            return self._bounded(value[0] + by), self._bounded(value[1] + by)
        return self._bounded(value + by)

    def _bounded(self, value: float) -> float:
        rounded = half_up(value) if self.whole else round(value, 2)
        return min(self.high, max(self.low, rounded))


VELOCITY = StrandKind("velocity", *limits(Velocity), whole=True, raised=8, thrown=(60, 110))
PROBABILITY = StrandKind("probability", *limits(Percent), word="chance", raised=10,
                         lanes=LANE_KINDS, thrown=(40, 100))
DEGREE = StrandKind("degree", *limits(Degree), whole=True, lanes=("pitched",), several=True,
                    thrown=(0, 7))
GATE = StrandKind("gate", *limits(Gate), raised=10, top=200, thrown=(40, 130))
ROLL = StrandKind("roll", 1, 16, whole=True, neutral=1, thrown=(1, 3))
NUDGE = StrandKind("nudge", -50, 50, neutral=0, raised=5, lanes=LANE_KINDS, thrown=(-8, 12))
"""Percent of the cell."""
OCTAVE = StrandKind("octave", -4, 4, whole=True, neutral=0, thrown=(-1, 1))
TIE = StrandKind("tie", 0, 1, whole=True, neutral=0)
VALUE = StrandKind("value", *limits(Controlled), whole=True, raised=8, lanes=("control",),
                   thrown=(20, 110))

KINDS = {each.name: each for each in tuple(vars().values()) if isinstance(each, StrandKind)}
"""All kinds by their names."""


@cache
def value_of(number: Number) -> StrandKind:
    """The kind of what a controller is set to, within its bounds."""
    low, high = value_bounds(number)
    return replace(VALUE, low=low, high=high, thrown=thrown_at_first(number))


def thrown_at_first(number: Number) -> tuple[float, float]:
    """Between what values a controller is set at first, where they are thrown."""
    return (-2048, 2048) if number == "bend" else (20, 110)


HIGHEST_SET = 119
"""The highest controller that a lane of notes sets: those above it are messages of their own."""
SETTING = "control "


@cache
def setting(number: Number) -> StrandKind:
    """The kind of strand that sets a controller before each hit of a lane of notes."""
    low, high = value_bounds(number)
    return StrandKind(f"{SETTING}{number}", low, high, word=controller_name(number), whole=True,
                      neutral=neutral_value(number), raised=8, thrown=thrown_at_first(number),
                      sets=number)


def kind_named(name: str) -> StrandKind:
    """The kind with this name, or that sets the controller named in it ("control 74", "control
    bend"); RecipeError if there is none."""
    if name.startswith(SETTING):
        number = name.removeprefix(SETTING)
        if number in ("bend", "pressure"):
            return setting(number)
        if number.isdecimal() and str(int(number)) == number and int(number) <= HIGHEST_SET:
            return setting(int(number))
        raise RecipeError(f"A lane sets controllers from 0 to {HIGHEST_SET}, bend or pressure.")
    if name not in KINDS:
        raise RecipeError(f"A strand is one of {', '.join(KINDS)}, or “control” with a number.")
    return KINDS[name]
