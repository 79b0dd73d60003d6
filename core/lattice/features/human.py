"""Playing as hands do, over the stretches of a rate path: a little earlier or later, louder or
softer, by chance."""

from __future__ import annotations

from collections.abc import Callable

from lattice.base.draws import Draws
from lattice.base.frame import Frame
from lattice.base.group import Reach
from lattice.hits.found import Hit
from lattice.time.fields import TimeFields
from lattice.time.path import PathCells

MOST_TIME = 12.0
"""Percent of the cell that a hit is moved by at most, either way, in a stretch that is 100 %
human."""
MOST_LOUDNESS = 0.4
"""The share of its velocity by which it is louder or softer at most."""


class HumanFields(TimeFields):
    """The stretches of a rate path that are played as hands do."""

    @property
    def most_human(self) -> float:
        """How human the most human stretch is, 0 to 1."""
        return max((stretch.human for stretch in self.rate_path), default=0) / 100

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        super().add_reach(reach, frame, cell)
        reach.either_way(cell * self.most_human * MOST_TIME / 100)


class Human:
    """What hands do to the hits of a lane, addressed by their cells."""

    def __init__(self, cells: PathCells, draws: Draws) -> None:
        self.shares = [stretch.human / 100 if stretch else 0.0 for stretch in cells.stretches]
        self.draws = draws

    def louder(self, hit: Hit) -> float:
        """What a hit's velocity is multiplied by."""
        return 1 + MOST_LOUDNESS * self._strays("human velocity", hit)

    def late(self, nudge: Callable[[Hit], float]) -> Callable[[Hit], float]:
        """How much later a hit is, in percent of its cell, besides its nudge."""
        return lambda hit: nudge(hit) + MOST_TIME * self._strays("human time", hit)

    def _strays(self, purpose: str, hit: Hit) -> float:
        """Evenly between the share of the hit's stretch, either way."""
        share = self.shares[hit.cell]
        return share * (2 * self.draws(purpose, hit.run.number, hit.cell) - 1) if share else 0.0
