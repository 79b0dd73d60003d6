"""What measures are taken of: rhythms on the same steps, and where those lie in the bar."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.int64] | NDArray[np.float64]
Hits = NDArray[np.bool_]
BEAT = -2
"""The weight of a beat; what is heavier is a strong place too."""
FINEST = -5
"""The weight of what lies on no halving of the beat down to its quarter."""


@dataclass(frozen=True)
class Ground:
    """The steps that rhythms stand on, gone round in a circle.

    step: their length in beats (quarter notes), exact. meter: of the bars that the first of them
    begins. A ground of 16 steps of 1/4 beat in 4/4 is one bar of sixteenths.
    """

    steps: int
    step: Fraction
    meter: tuple[int, int]

    @property
    def beat(self) -> Fraction:
        """The length of the metre's beat in beats (quarter notes)."""
        return Fraction(4, self.meter[1])

    @cached_property
    def weights(self) -> tuple[int, ...]:
        """How heavy each step is: 0 at the start of the bar, -1 at the half of an even bar, -2 at
        a beat, -3 and -4 at each further halving, and FINEST at what lies on none of these.
        (Longuet-Higgins and Lee: The rhythmic interpretation of monophonic music, Music
        Perception 1, 1984, for bars that are halved and halved again.)"""
        return tuple(_weight(step * self.step % (self.meter[0] * self.beat), self.beat, self.meter)
                     for step in range(self.steps))

    @cached_property
    def places(self) -> tuple[Fraction, ...]:
        """Where each step lies, in the metre's beats, from the first of them; the end comes
        last."""
        return tuple(step * self.step / self.beat for step in range(self.steps + 1))

    def hits(self, rhythms: Iterable[Sequence[int]]) -> Hits:
        """Rhythms given as the numbers of their steps, counted from 0; one row each."""
        rows = list(rhythms)
        found = np.zeros((len(rows), self.steps), dtype=np.bool_)
        for row, steps in enumerate(rows):
            found[row, list(steps)] = True
        return found


def _weight(place: Fraction, beat: Fraction, meter: tuple[int, int]) -> int:
    if place == 0:
        return 0
    if meter[0] % 2 == 0 and place == beat * meter[0] / 2:
        return -1
    for weight, divisor in ((BEAT, 1), (-3, 2), (-4, 4)):
        if place % (beat / divisor) == 0:
            return weight
    return FINEST


@dataclass(frozen=True)
class Rhythms:
    """Rhythms on one ground: a row each, a column for each step, true where a hit begins."""

    ground: Ground
    hits: Hits

    @cached_property
    def counts(self) -> NDArray[np.int64]:
        """How many hits each has."""
        counts: NDArray[np.int64] = self.hits.sum(axis=1, dtype=np.int64)
        return counts

    def summed(self, pairs: NDArray[np.float64]) -> NDArray[np.float64]:
        """Of each rhythm the sum of pairs[a, b] over its hits a and the hits b that come next,
        round the circle; a hit that is alone is its own next."""
        hits = self.hits
        rows, steps = hits.shape
        total = np.zeros(rows)
        following = np.argmax(hits, axis=1)  # after the last hit comes the first
        for step in range(steps - 1, -1, -1):
            here = hits[:, step]
            total += np.where(here, pairs[step][following], 0.0)
            following = np.where(here, step, following)
        return total
