"""How far apart two rhythms on the same number of steps are."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from lattice.measures.rhythms import Hits


def steps_apart(rhythms: Hits, other: Sequence[bool]) -> NDArray[np.int64]:
    """On how many steps each rhythm differs from another (Hamming: Error detecting and error
    correcting codes, 1950)."""
    count: NDArray[np.int64] = (rhythms != np.asarray(other, dtype=np.bool_)).sum(
        axis=1, dtype=np.int64)
    return count


def swap_distance(one: Sequence[int], other: Sequence[int]) -> int:
    """How many times a hit has to change places with the rest beside it until one rhythm is the
    other, given as steps in rising order; not round the circle. With unlike numbers of hits, each
    hit of the richer one moves to some hit of the poorer one, and each of these is reached (the
    directed swap distance of Diaz-Banez et al.: El compas flamenco, a phylogenetic analysis,
    Bridges 2004). To or from no hits at all: one for each hit."""
    many, few = (one, other) if len(one) >= len(other) else (other, one)
    if not few:
        return len(many)
    unreached = sum(many) + sum(few) + len(many) * max(*many, *few, 1) + 1
    best = [0] + [unreached] * len(few)
    for step in many:
        last, best = best, [unreached] * (len(few) + 1)
        for place, target in enumerate(few, 1):
            best[place] = min(last[place - 1], last[place]) + abs(step - target)
    return best[len(few)]


def edit_distance(one: Sequence[int], other: Sequence[int], steps: int) -> int:
    """The fewest steps to change, put in or leave out until one rhythm, written as hits and rests,
    is the other (Levenshtein: Binary codes capable of correcting deletions, insertions, and
    reversals, 1966)."""
    first, second = ([step in hits for step in range(steps)] for hits in (set(one), set(other)))
    last = list(range(steps + 1))
    for row, hit in enumerate(first, 1):
        now = [row]
        for column, wanted in enumerate(second, 1):
            now.append(min(last[column - 1] + (hit != wanted), last[column] + 1, now[-1] + 1))
        last = now
    return last[steps]
