"""Orders that chance decides."""

from __future__ import annotations

from lattice.arpeggio.orders.base import DrawnWalk, WalkOrder


class AtRandom(DrawnWalk):
    """Any note on each hit."""

    def step(self, m: int, draw: float) -> int:
        return int(draw * m)


class Shuffled(DrawnWalk):
    """Each once before any twice; another pool begins a new round."""

    def __init__(self) -> None:
        self._left: list[int] = []

    def begin(self) -> None:
        self._left = []

    def changed(self) -> None:
        self._left = []

    def step(self, m: int, draw: float) -> int:
        self._left = self._left or list(range(m))
        return self._left.pop(int(draw * len(self._left)))


class Wandering(DrawnWalk):
    """From the lowest note one down, the same, or one up; in another pool as near as it can."""

    def __init__(self) -> None:
        self._at = 0

    def begin(self) -> None:
        self._at = -1

    def step(self, m: int, draw: float) -> int:
        if self._at < 0:
            self._at = 0
        else:
            at = min(self._at, m - 1) + int(draw * 3) - 1
            at = 1 if at < 0 else m - 2 if at >= m else at
            self._at = min(max(at, 0), m - 1)
        return self._at


RANDOM = WalkOrder(90, "random", "at random", "any note on each hit", drawn=AtRandom)
SHUFFLE = WalkOrder(100, "shuffle", "shuffled", "each once before any twice", drawn=Shuffled)
WANDER = WalkOrder(110, "wander", "wandering", "one down, the same, or one up", drawn=Wandering)
