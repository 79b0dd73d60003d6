"""What is counted: hits, their share of the steps, and those on off-beat steps."""

from __future__ import annotations

from math import gcd

import numpy as np
from numpy.typing import NDArray

from lattice.base.words import many
from lattice.measures.base import Along, Measure, PerHit
from lattice.measures.rhythms import Rhythms


def onsets(rhythms: Rhythms) -> NDArray[np.int64]:
    """The number of hits, 0 to the number of steps."""
    return rhythms.counts


def density(rhythms: Rhythms) -> NDArray[np.float64]:
    """Hits by steps, 0 to 1."""
    share: NDArray[np.float64] = rhythms.counts / rhythms.ground.steps
    return share


def offbeatness(rhythms: Rhythms) -> NDArray[np.int64]:
    """The hits on steps whose numbers, counted from 0, have no divisor in common with the number
    of steps: those that no even division of the circle from step 0 on reaches. (Toussaint: The
    Geometry of Musical Rhythm, 2013, on off-beatness; there with 16 steps 1, 3, 5 … 15.)"""
    counts: NDArray[np.int64] = rhythms.hits[:, off_beat(rhythms.ground.steps)].sum(
        axis=1, dtype=np.int64)
    return counts


def off_beat(steps: int) -> NDArray[np.bool_]:
    """Which of so many steps are counted by `offbeatness`."""
    return np.array([gcd(step, steps) == 1 for step in range(steps)])


def _hits(count: float) -> str:
    return many(round(count), "hits")


ONSETS = Measure(10, "onsets", "hits", onsets, _hits)
DENSITY = Measure(
    20, "density", "density", density, lambda value: f"{round(100 * value)} % dense",
    Along("from sparse to dense", "by the number of hits",
          lambda value, steps: _hits(value * steps)))
OFFBEATNESS = Measure(
    60, "offbeatness", "off-beatness", offbeatness, lambda value: f"{value:g} off-beat",
    compared=True, sums=PerHit(lambda ground: off_beat(ground.steps)))
