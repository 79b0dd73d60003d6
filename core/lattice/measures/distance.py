"""How far apart rhythms on the same number of steps are, many from one at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lattice.measures.base import Along
from lattice.measures.rhythms import Hits

Whole = NDArray[np.int64]
FAR = 2**40
"""More than any two rhythms are apart."""


@dataclass(frozen=True, slots=True)
class Distance:
    """A distance from what plays now.

    counted: what it counts, in the plural. along: how a strip is laid out by it. of: from one
    rhythm to each of many.
    """

    counted: str
    about: str
    along: Along
    of: Callable[[Hits, NDArray[np.bool_]], Whole]


def steps_apart(rhythms: Hits, one: NDArray[np.bool_]) -> Whole:
    """On how many steps each rhythm differs from one (Hamming: Error detecting and error
    correcting codes, 1950)."""
    count: Whole = (rhythms != one).sum(axis=1, dtype=np.int64)
    return count


def swaps_apart(rhythms: Hits, one: NDArray[np.bool_]) -> Whole:
    """How many times a hit has to change places with the rest beside it until one rhythm is the
    other; not round the circle. With unlike numbers of hits, each hit of the richer one moves to
    some hit of the poorer one, and each of these is reached (the directed swap distance of
    Diaz-Banez et al.: El compas flamenco, a phylogenetic analysis, Bridges 2004). To or from no
    hits at all: one for each hit."""
    own = np.flatnonzero(one)
    counts = rhythms.sum(axis=1, dtype=np.int64)
    found = np.where(len(own) == 0, counts, len(own))
    fewer, richer = (counts < len(own)) & (counts > 0), (counts >= len(own)) & (len(own) > 0)
    found[fewer] = _led(rhythms[fewer], own, each_hit_takes_one=False)
    found[richer] = _led(rhythms[richer], own, each_hit_takes_one=True)
    return found


def _led(rhythms: Hits, own: NDArray[np.intp], *, each_hit_takes_one: bool) -> Whole:
    """The least sum of ways when hits and own hits are led to one another in their order: each hit
    to one own hit, or else each own hit to one hit; `best` is by how many own hits are reached."""
    best = np.full((len(rhythms), len(own) + 1), FAR)
    best[:, 0] = 0
    for step in range(rhythms.shape[1]):
        rows = np.flatnonzero(rhythms[:, step])
        last = best[rows]
        now = np.full_like(last, FAR)
        for place, target in enumerate(own, 1):
            # The own hit before: reached by the hit before, or by this one, which takes several.
            beside = last[:, place] if each_hit_takes_one else now[:, place - 1]
            now[:, place] = np.minimum(last[:, place - 1], beside) + abs(step - int(target))
        best[rows] = now
    reached: Whole = best[:, -1]
    return reached


def edits_apart(rhythms: Hits, one: NDArray[np.bool_]) -> Whole:
    """The fewest steps to change, put in or leave out until one rhythm, written as hits and rests,
    is the other (Levenshtein: Binary codes capable of correcting deletions, insertions, and
    reversals, 1966)."""
    steps = len(one)
    last = np.repeat(np.arange(steps + 1, dtype=np.int16)[:, None], len(rhythms), axis=1)
    for row in range(steps):
        now = np.empty_like(last)
        now[0] = row + 1
        for column in range(steps):
            now[column + 1] = np.minimum(
                last[column] + (rhythms[:, row] != one[column]),
                np.minimum(last[column + 1], now[column]) + 1)
        last = now
    least: Whole = last[-1].astype(np.int64)
    return least


DISTANCES = {
    "apart": Distance("steps", "hits where now are rests, or rests where now are hits",
                      Along("from near to far", "by how many steps differ from what plays now"),
                      steps_apart),
    "swaps": Distance("moves", "each moves a hit by a step",
                      Along("from near to far by moves", "by how often a hit has to move by a "
                            "step until it is what plays now"), swaps_apart),
    "edits": Distance("edits", "each puts a step in, leaves one out or changes it",
                      Along("from near to far by edits", "by how many steps are put in, left out "
                            "or changed until it is what plays now"), edits_apart)}
"""Distances from what plays now, by their names, in the order that they are offered in."""
