"""Between the ends and the middle."""

from __future__ import annotations

from lattice.arpeggio.orders.base import Period, WalkOrder


def outside_in(m: int) -> Period:
    """Lowest, highest, second lowest, second highest …"""
    return tuple(i // 2 if i % 2 == 0 else m - 1 - i // 2 for i in range(m))


OUTSIDE_IN = WalkOrder(60, "outside-in", "outside in", "lowest, highest, second lowest …",
                       period=outside_in)
INSIDE_OUT = WalkOrder(70, "inside-out", "inside out", "from the middle to the ends",
                       period=lambda m: outside_in(m)[::-1])
