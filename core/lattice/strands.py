"""Strands: rows of values, each with its own length, that a lane draws on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any, Literal, Self

from pydantic import BeforeValidator, Field, model_validator

from lattice.time import ordered
from lattice.values import Document, StepNumber

if TYPE_CHECKING:
    from lattice.draws import Draws
    from lattice.hits import Hit
    from lattice.recipe import Lane

StrandDirection = Literal["forward", "backward", "bounce", "random"]
By = Literal["step", "cell", "hit"]

BOUNDS: dict[str, tuple[float, float]] = {
    "velocity": (1, 127), "probability": (0, 100), "gate": (1, 800), "roll": (1, 16),
    "nudge": (-50, 50), "octave": (-4, 4), "tie": (0, 1),
}
"""Lowest and highest value of each kind: velocity, percent, percent of the cell, strokes, percent
of the cell, octaves, off and on."""

WHOLE = {"velocity", "roll", "octave", "tie"}
NEUTRAL = {"roll": 1.0, "nudge": 0.0, "octave": 0.0, "tie": 0.0}
"""What holds without a strand, for the kinds that have no single value in the lane."""


class Strand(Document):
    """Values read by step, by cell, or by hit; a pair [low, high] is a range, drawn per cell."""

    values: Annotated[tuple[float | tuple[float, float], ...], Field(min_length=1, max_length=256)]
    by: By = "step"
    direction: StrandDirection = "forward"
    window: tuple[StepNumber, StepNumber] | None = None

    @model_validator(mode="after")
    def _window_fits(self) -> Self:
        if self.window and not self.window[0] <= self.window[1] < len(self.values):
            raise ValueError(f"A strand's window goes from 0 up to {len(self.values) - 1}.")
        return self

    @property
    def read(self) -> tuple[int, int]:
        """The first and last value that are read."""
        return self.window or (0, len(self.values) - 1)

    @property
    def period(self) -> int:
        """After how many steps, cells or hits the values come round again."""
        return len(ordered(*self.read, self.direction) or (0,)) if self.direction != "random" else 1


def _within(kind: str) -> Callable[[Strand], Strand]:
    low, high = BOUNDS[kind]

    def check(strand: Strand) -> Strand:
        for value in strand.values:
            pair = value if isinstance(value, tuple) else (value, value)
            if not low <= pair[0] <= pair[1] <= high:
                raise ValueError(f"{kind.capitalize()} values go from {low:g} to {high:g}, "
                                 "a range from its lower to its higher end.")
            if kind in WHOLE and any(end != int(end) for end in pair):
                raise ValueError(f"{kind.capitalize()} values are whole numbers.")
        return strand

    return check


def _of(kind: str) -> Any:
    def parse(value: Any) -> Strand | None:
        return None if value is None else _within(kind)(Strand.model_validate(value))

    return BeforeValidator(parse)


class Strands(Document):
    """The strands of a lane, one of each kind at most."""

    velocity: Annotated[Strand | None, _of("velocity")] = None
    probability: Annotated[Strand | None, _of("probability")] = None
    gate: Annotated[Strand | None, _of("gate")] = None
    roll: Annotated[Strand | None, _of("roll")] = None
    nudge: Annotated[Strand | None, _of("nudge")] = None
    octave: Annotated[Strand | None, _of("octave")] = None
    tie: Annotated[Strand | None, _of("tie")] = None

    def used(self) -> dict[str, Strand]:
        """The strands that are there, by kind."""
        return {kind: strand for kind in BOUNDS if (strand := getattr(self, kind)) is not None}


@dataclass(frozen=True, slots=True)
class ShownStrand:
    """A strand as it is shown; `used` is false for one that only repeats the lane's single value.

    low, high: the bounds of its kind; whole: whether its values are whole numbers; period: after
    how many steps, cells or hits they come round.
    """

    kind: str
    used: bool
    values: tuple[float | tuple[float, float], ...]
    by: By
    direction: StrandDirection
    window: tuple[int, int] | None
    low: float
    high: float
    whole: bool
    period: int


def shown_strands(lane: Lane) -> list[ShownStrand]:
    """One strand of each kind, whether the lane has it or not."""
    shown = []
    for kind, (low, high) in BOUNDS.items():
        strand: Strand | None = getattr(lane.strands, kind)
        drawn = strand or Strand(values=(single(kind, lane),) * lane.steps)
        shown.append(ShownStrand(kind, strand is not None, drawn.values, drawn.by, drawn.direction,
                                 drawn.window, low, high, kind in WHOLE, drawn.period))
    return shown


Read = Callable[["Hit"], float]
"""What a strand (or the lane's single value) says for a hit."""


def single(kind: str, lane: Lane) -> float:
    """What holds for a lane without a strand of this kind."""
    return float(NEUTRAL[kind] if kind in NEUTRAL else getattr(lane, kind))


def placer(kind: str, strand: Strand, draws: Draws) -> Callable[[Hit], int]:
    """Which of a strand's values a hit reads, as its place in `values`."""
    by, (first, last) = strand.by, strand.read
    order = None if strand.direction == "random" else ordered(first, last, strand.direction)

    def place(hit: Hit) -> int:
        if order is None:
            index = (hit.step,) if by == "step" else (hit.run.number, hit.cell)
            return first + int(draws(f"{kind} order", *index) * (last - first + 1))
        counted = hit.step if by == "step" else hit.cell if by == "cell" else hit.ordinal
        return order[counted % len(order)]

    return place


def reader(kind: str, lane: Lane, draws: Draws) -> Read:
    """How the values of this kind are read for a hit of the lane."""
    strand: Strand | None = getattr(lane.strands, kind)
    if strand is None:
        alone = single(kind, lane)
        return lambda hit: alone
    values, whole = strand.values, kind in WHOLE
    place_of = placer(kind, strand, draws)

    def read(hit: Hit) -> float:
        value = values[place_of(hit)]
        if not isinstance(value, tuple):
            return value
        low, high = value
        drawn = draws(f"{kind} range", hit.run.number, hit.cell)
        return low + int(drawn * (high - low + 1)) if whole else low + drawn * (high - low)

    return read
