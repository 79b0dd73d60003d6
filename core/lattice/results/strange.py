"""Passes by how strange they are: how far each is from what passes usually are."""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable, Sequence, Set

FEWEST = 3
"""Of fewer passes none is usual."""


def strangeness(passes: Sequence[Set[Hashable]]) -> list[float | None]:
    """How many notes each pass is from the usual one, told by which places it plays: the sum, over
    all places that any of them plays, of how far what it does there (1 or 0) is from the share of
    passes that play it. None where there are fewer than 3."""
    if len(passes) < FEWEST:
        return [None] * len(passes)
    counts = Counter(place for each in passes for place in each)
    shares = {place: count / len(passes) for place, count in counts.items()}
    all_of_them = sum(shares.values())
    return [all_of_them + sum(1 - 2 * shares[place] for place in each) for each in passes]
