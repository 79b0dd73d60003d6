"""A grid over a clip: equal steps, each second one later where it swings."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction


@dataclass(frozen=True, slots=True)
class Grid:
    """Steps of so many beats from the clip's start on; of each pair the first gets `swing` percent
    of both: 50 is straight."""

    step: float
    swing: float = 50.0

    @staticmethod
    def of(step: Fraction, swing: float = 50.0) -> Grid:
        """A grid of fractions of a whole note."""
        return Grid(float(step * 4), swing)

    def place(self, number: int) -> float:
        """Where a step begins, in beats."""
        pair, second = divmod(number, 2)
        return 2 * self.step * (pair + second * self.swing / 100)

    def nearest(self, beats: float) -> float:
        """The grid's place that is nearest; of two, the earlier."""
        first = int(beats // self.step)
        return min((self.place(n) for n in range(max(0, first - 1), first + 3)),
                   key=lambda place: (abs(place - beats), place))
