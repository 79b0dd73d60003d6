"""The orders in which a pool is walked. Each says, for a pool of m notes, the places of one period
of the walk; places count over the notes sorted by pitch (for `as-played` as they are listed)."""

from __future__ import annotations

from collections.abc import Callable

Walked = tuple[int, ...]


def _up(m: int) -> Walked:
    return tuple(range(m))


def _down(m: int) -> Walked:
    return tuple(range(m))[::-1]


def _up_down(m: int) -> Walked:
    return _up(m) + _down(m)[1:-1]


def _down_up(m: int) -> Walked:
    return _down(m) + _up(m)[1:-1]


def _up_down_twice(m: int) -> Walked:
    return _up(m) + _down(m)


def _outside_in(m: int) -> Walked:
    return tuple(i // 2 if i % 2 == 0 else m - 1 - i // 2 for i in range(m))


def _inside_out(m: int) -> Walked:
    return _outside_in(m)[::-1]


ORDERS: dict[str, Callable[[int], Walked]] = {
    "up": _up, "down": _down, "up-down": _up_down, "down-up": _down_up,
    "up-down-twice": _up_down_twice, "outside-in": _outside_in, "inside-out": _inside_out,
    "as-played": _up,
}
"""Those whose walk is known from the size of the pool."""
ORDER_WORDS = {
    "up": ("up", ""), "down": ("down", ""),
    "up-down": ("up and down", "the ends once"),
    "down-up": ("down and up", "the ends once"),
    "up-down-twice": ("up and down, ends twice", "the ends twice in a row"),
    "outside-in": ("outside in", "lowest, highest, second lowest …"),
    "inside-out": ("inside out", "from the middle to the ends"),
    "as-played": ("as played", "in the order of the keys"),
    "random": ("at random", "any note on each hit"),
    "shuffle": ("shuffled", "each once before any twice"),
    "wander": ("wandering", "one down, the same, or one up"),
    "all": ("all at once", "the whole pool on every hit"),
}


def places(order: str | Walked, m: int) -> Walked:
    """One period of a walk over m notes; a list of places is taken modulo m."""
    return ORDERS[order](m) if isinstance(order, str) else tuple(place % m for place in order)


class DrawnWalk:
    """The walk of an order that chance decides: told hit by hit in how large a pool it stands, and
    what was drawn."""

    def __init__(self, order: str) -> None:
        self.order = order
        self.at = 0
        self._left: list[int] = []

    def begin(self) -> None:
        """Begin anew: a wander from the lowest note, a shuffle with a new round."""
        self.at = -1
        self._left = []

    def changed(self) -> None:
        """Another pool: a shuffle begins a new round, a wander stays as near as it can."""
        self._left = []

    def step(self, m: int, draw: float) -> int:
        """The place of the next note, of m."""
        if self.order == "random":
            return int(draw * m)
        if self.order == "shuffle":
            self._left = self._left or list(range(m))
            return self._left.pop(int(draw * len(self._left)))
        if self.at < 0:
            self.at = 0
        else:
            at = min(self.at, m - 1) + int(draw * 3) - 1
            at = 1 if at < 0 else m - 2 if at >= m else at
            self.at = min(max(at, 0), m - 1)
        return self.at
