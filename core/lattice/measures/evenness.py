"""How evenly hits are spread over the circle."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lattice.measures.base import Along, Measure, PerPair
from lattice.measures.rhythms import Rhythms


def chords(steps: int) -> NDArray[np.float64]:
    """The straight distance between any two of so many steps on a circle of radius 1:
    2 sin(pi d / steps)."""
    apart = np.arange(steps)[:, None] - np.arange(steps)[None, :]
    return 2 * np.abs(np.sin(np.pi * apart / steps))


def most_even(counts: NDArray[np.int64]) -> NDArray[np.float64]:
    """The sum of the distances between all pairs of k points spread exactly evenly:
    k cot(pi / 2k). 0 for fewer than two."""
    some = np.maximum(counts, 2)
    return np.where(counts > 1, some / np.tan(np.pi / (2 * some)), 0.0)


def evenness(rhythms: Rhythms) -> NDArray[np.float64]:
    """The sum of the straight distances between all pairs of hits on the circle, divided by that
    of as many spread exactly evenly, on steps or not: 0 to 1; 1 for fewer than two. (Block and
    Douthett: Vector products and intervallic weighting, Journal of Music Theory 38, 1994; for
    rhythms Toussaint: The Geometry of Musical Rhythm, 2013.)"""
    marks = rhythms.hits.astype(np.float64)
    sums = np.einsum("ij,ij->i", marks @ chords(rhythms.ground.steps), marks) / 2
    best = most_even(rhythms.counts)
    return np.where(best > 0, sums / np.where(best > 0, best, 1.0), 1.0)


EVENNESS = Measure(
    50, "evenness", "evenness", evenness, lambda value: f"{round(100 * value)} % even",
    Along("from bunched to even", "by how evenly hits are spread"), compared=True,
    sums=PerPair(chords, most_even))
