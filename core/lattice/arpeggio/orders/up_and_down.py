"""Up and down."""

from __future__ import annotations

from lattice.arpeggio.orders.base import WalkOrder


def up(m: int) -> tuple[int, ...]:
    """From the lowest note to the highest."""
    return tuple(range(m))


def down(m: int) -> tuple[int, ...]:
    """From the highest note to the lowest."""
    return up(m)[::-1]


UP = WalkOrder(10, "up", "up", period=up)
DOWN = WalkOrder(20, "down", "down", period=down)
UP_DOWN = WalkOrder(30, "up-down", "up and down", "the ends once",
                    period=lambda m: up(m) + down(m)[1:-1])
DOWN_UP = WalkOrder(40, "down-up", "down and up", "the ends once",
                    period=lambda m: down(m) + up(m)[1:-1])
TWICE = WalkOrder(50, "up-down-twice", "up and down, ends twice", "the ends twice in a row",
                  period=lambda m: up(m) + down(m))
AS_PLAYED = WalkOrder(80, "as-played", "as played", "in the order of the keys", period=up,
                      listed=True)
