"""A lane as relatives are grown from it.

They grow from a weight for each step, the *anchor*: 1 for the hits that play now, or what a role
or family likes. A share of the steps is let loose: those have weights by chance in place of the
anchor's, a little heavier beside hits and where the lane's role likes to be. The k heaviest steps
are then a rhythm of k hits. Draws are addressed by the throw and the lane's id, so that the same
wish gives the same relatives, on every machine.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lattice.base.draws import Draws
from lattice.measures.rhythms import Ground
from lattice.recipe import Lane, edited
from lattice.relatives.roles import likes
from lattice.rules.hand import Hand

Floats = NDArray[np.floating[Any]]


@dataclass(frozen=True)
class Stock:
    """A lane, its ground, the first step that is played, the hits now, the steps that are hits or
    rests whatever happens, and its role."""

    lane: Lane
    ground: Ground
    first: int
    now: NDArray[np.bool_]
    on: NDArray[np.bool_]
    off: NDArray[np.bool_]
    role: str

    def steps(self, hits: NDArray[np.bool_]) -> list[int]:
        """The numbers of the steps of a rhythm, as the lane counts them from 0."""
        return [int(step) + self.first for step in np.flatnonzero(hits)]

    def loosened(self, anchor: Floats, draws: Draws, share: Floats) -> Floats:
        """A weight for each step, a row for each share of the steps that is let loose."""
        steps = self.ground.steps
        role = likes(self.role, self.ground)
        beside = np.roll(self.now, 1) | np.roll(self.now, -1)
        wild = 0.6 * draws.table("cutting", len(share), steps) + 0.25 * role + 0.15 * beside
        return self.held(np.where(self.loose(draws, share), wild, 0.9 * anchor + 0.1 * role))

    def loose(self, draws: Draws, share: Floats) -> NDArray[np.bool_]:
        """Which steps are let loose, a row for each share of them."""
        steps = self.ground.steps
        letting = np.floor(share * steps + 0.5)[:, None]
        loose: NDArray[np.bool_] = ranks(draws.table("loose", len(share), steps)) < letting
        return loose

    def held(self, weights: Floats) -> Floats:
        """Weights, with the steps that are hits whatever happens before all others, and those that
        are rests behind them."""
        return np.where(self.on, 2.0, np.where(self.off, -1.0, weights))


def ranks(weights: Floats) -> NDArray[np.intp]:
    """The place of each weight in its row, the heaviest first, the earlier among equals."""
    order = np.argsort(-weights, axis=1, kind="stable")
    places = np.empty_like(order)
    np.put_along_axis(places, order, np.arange(weights.shape[1])[None, :], axis=1)
    return places


AS_THEY_ARE = {"reverse": False, "flip": False, "keep": None}
"""The fields by which nothing is done to the hits of a rule."""


def planted(lane: Lane, steps: Sequence[int]) -> Lane:
    """The lane with these steps, set by hand, for its rule; its pins, strands and all else stay.
    What is done to the hits of a rule (reverse, flip, keep) goes, since they are as they shall
    be."""
    rule = Hand(kind="hand", hits=tuple(steps))
    return edited(lane, AS_THEY_ARE | {"rule": rule.model_dump(mode="json")})
