"""How a hit reads its strands."""

from __future__ import annotations

from collections.abc import Callable

from lattice.base.draws import Draws
from lattice.hits.found import Hit
from lattice.strands.fields import Strand, StrandFields
from lattice.strands.kinds import StrandKind
from lattice.time.directions import ordered

Read = Callable[[Hit], float]
"""What a strand (or the lane's single value) says for a hit."""


def placer(kind: StrandKind, strand: Strand, draws: Draws) -> Callable[[Hit], int]:
    """Which of a strand's values a hit reads, as its place in `values`."""
    by, (first, last) = strand.by, strand.read
    order = None if strand.direction == "random" else ordered(first, last, strand.direction)
    purpose = f"{kind.name} order"

    def place(hit: Hit) -> int:
        if order is None:
            index = (hit.step,) if by == "step" else (hit.run.number, hit.cell)
            return first + int(draws(purpose, *index) * (last - first + 1))
        counted = hit.step if by == "step" else hit.cell if by == "cell" else hit.ordinal
        return order[counted % len(order)]

    return place


def reader(kind: StrandKind, lane: StrandFields, draws: Draws) -> Read:
    """How the values of this kind are read for a hit of the lane."""
    strand = lane.strands.of(kind)
    if strand is None:
        alone = lane.single(kind)
        return lambda hit: alone
    values, whole, purpose = strand.values, kind.whole, f"{kind.name} range"
    place_of = placer(kind, strand, draws)

    def read(hit: Hit) -> float:
        value = values[place_of(hit)]
        if not isinstance(value, tuple):
            return value
        low, high = value
        drawn = draws(purpose, hit.run.number, hit.cell)
        return low + int(drawn * (high - low + 1)) if whole else low + drawn * (high - low)

    return read
