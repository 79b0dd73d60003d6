"""How a hit reads its strands."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from operator import attrgetter
from typing import TypeVar

from lattice.base.draws import Draws
from lattice.hits.found import Hit
from lattice.strands.fields import By, Strand, StrandFields
from lattice.strands.kinds import StrandKind, Together
from lattice.time.directions import one_round

Read = Callable[[Hit], float]
"""What a strand (or the lane's single value) says for a hit."""
Several = TypeVar("Several")
ReadStep = Callable[[Hit], float | Together]
"""The same for a strand that may have several at once."""
COUNTED: dict[By, Callable[[Hit], int]] = {
    "step": attrgetter("step"), "cell": attrgetter("cell"), "hit": attrgetter("ordinal")}
"""What the values are counted by."""


def placer(kind: StrandKind, strand: Strand, draws: Draws) -> Callable[[Hit], int]:
    """Which of a strand's values a hit reads, as its place in `values`."""
    first, last = strand.read
    if strand.direction == "random":
        purpose, count = f"{kind.name} order", last - first + 1
        if strand.by == "step":
            return lambda hit: first + int(draws(purpose, hit.step) * count)
        return lambda hit: first + int(draws(purpose, hit.run.number, hit.cell) * count)
    order = one_round(first, last, strand.direction)
    assert order is not None
    counted, period = COUNTED[strand.by], len(order)
    return lambda hit: order[counted(hit) % period]


def per_cell(hit: Hit) -> tuple[int, int]:
    """The index of a hit's draws."""
    return hit.run.number, hit.cell


def reader(kind: StrandKind, lane: StrandFields, draws: Draws,
           lean: Callable[[float], float] | None = None,
           index: Callable[[Hit], tuple[int, int]] = per_cell) -> Read:
    """How the values of this kind are read for a hit of the lane, those without chord steps.

    lean: turns an even draw from a range into another; index: what addresses that draw.
    """
    strand = lane.own(kind)
    if strand is None:
        return _always(lane.single(kind))
    values = [value for value in strand.values if not isinstance(value, Together)]
    return _reading(kind, values, placer(kind, strand, draws), draws, lean, index)


def step_reader(kind: StrandKind, lane: StrandFields, draws: Draws) -> ReadStep:
    """The same for values that may be chord steps."""
    strand = lane.own(kind)
    if strand is None:
        return _always(lane.single(kind))
    return _reading(kind, strand.values, placer(kind, strand, draws), draws, None, per_cell)


def _always(value: float) -> Read:
    return lambda hit: value


def _reading(kind: StrandKind, values: Sequence[float | tuple[float, float] | Several],
             place: Callable[[Hit], int], draws: Draws, lean: Callable[[float], float] | None,
             index: Callable[[Hit], tuple[int, int]]) -> Callable[[Hit], float | Several]:
    whole, purpose = kind.whole, kind.drawn_under

    def read(hit: Hit) -> float | Several:
        value = values[place(hit)]
        if not isinstance(value, tuple):
            return value
        low, high = value
        drawn = draws(purpose, *index(hit))
        if lean is not None:
            drawn = lean(drawn)
        return min(high, low + int(drawn * (high - low + 1))) if whole else \
            low + drawn * (high - low)

    return read
