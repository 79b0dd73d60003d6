"""The intervals between hits that follow each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lattice.measures.base import Measure
from lattice.measures.rhythms import Rhythms


def ioi_histogram(rhythms: Rhythms) -> NDArray[np.int64]:
    """Of each rhythm how often each interval from one hit to the next occurs, round the circle: a
    row each, a column for the interval of 0, 1, 2 … steps."""
    hits = rhythms.hits
    rows, steps = hits.shape
    found = np.zeros((rows, steps + 1), dtype=np.int64)
    each = np.arange(rows)
    following = np.argmax(hits, axis=1) + steps
    for step in range(steps - 1, -1, -1):
        here = hits[:, step]
        np.add.at(found, (each[here], following[here] - step), 1)
        following = np.where(here, step, following)
    return found


def ioi_entropy(rhythms: Rhythms) -> NDArray[np.float64]:
    """The entropy of that histogram in bits: -sum p log2 p over the shares p of the intervals
    (Shannon: A mathematical theory of communication, 1948). 0 where all are alike."""
    shares = ioi_histogram(rhythms) / np.maximum(rhythms.counts, 1)[:, None]
    entropy: NDArray[np.float64] = -np.sum(
        shares * np.log2(np.where(shares > 0, shares, 1.0)), axis=1)
    return np.abs(entropy)


IOI_ENTROPY = Measure(
    70, "ioi_entropy", "variety of intervals", ioi_entropy,
    lambda value: f"intervals {value:.3g} bits")
