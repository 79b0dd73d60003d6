"""What every measure is: an entry, by which it is found, told, searched and laid out.

A measure takes `Rhythms` and gives one number for each of them. A module in this package that holds
a Measure has made it one; nothing else needs to be told about it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lattice.measures.rhythms import Ground, Numbers, Rhythms

Floats = NDArray[np.float64]
Weights = NDArray[np.float64] | NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class PerHit:
    """A sum over hits: weights[a] for a hit on step a."""

    weights: Callable[[Ground], Weights]


@dataclass(frozen=True, slots=True)
class PerInterval:
    """A sum of pairs[a, b] over hits a and the hits b that come next, round the circle; `mean`:
    divided by the number of hits."""

    pairs: Callable[[Ground], Floats]
    mean: bool = False


@dataclass(frozen=True, slots=True)
class PerPair:
    """A sum of pairs[a, b] over all pairs of hits, divided by the most that it can be with so many
    hits; 1 for fewer than two."""

    pairs: Callable[[int], Floats]
    most: Callable[[NDArray[np.int64]], Floats]


@dataclass(frozen=True, slots=True)
class Along:
    """How a strip is laid out by a measure: "from tame to wild", "by syncopation"; and how the
    value of a mark reads there, for so many steps, where that is not as elsewhere."""

    label: str
    about: str
    told: Callable[[float, int], str] | None = None


@dataclass(frozen=True, slots=True)
class Measure:
    """A measure.

    place: where it comes among the others, in words and menus. label: its name in words. of: the
    function. told: how a value reads. along: None where no strip is laid out by it. compared:
    whether a search may compare it with what plays now. sums: what it is a sum of, by which a
    search knows it of all rhythms at once; without, it is worked out for each that fits otherwise.
    """

    place: int
    name: str
    label: str
    of: Callable[[Rhythms], Numbers]
    told: Callable[[float], str]
    along: Along | None = None
    compared: bool = False
    sums: PerHit | PerInterval | PerPair | None = None

    def mark(self, value: float, steps: int) -> str:
        """How the value of a mark on a strip reads."""
        own = self.along and self.along.told
        return own(value, steps) if own else self.told(value)
