"""The orders in which a pool is walked.

A module in this package that holds a WalkOrder has made it one (`lattice.arpeggio.orders.base`);
nothing else needs to be told about it. In place of one stands a list of places of one's own.
"""

from functools import lru_cache
from typing import TYPE_CHECKING, Literal

from lattice.arpeggio.orders.base import Entry, Period, WalkOrder
from lattice.base.found import entries

ORDERS: dict[str, WalkOrder] = entries(__name__, __path__, WalkOrder)
"""All of them, in the order in which they are offered."""
if TYPE_CHECKING:
    OrderName = str
else:
    OrderName = Literal[tuple(ORDERS)]


@lru_cache(256)
def order_of(order: str | Period) -> WalkOrder:
    """An order by its name, or that of a list of entries, whose places are taken modulo the pool's
    size; of a chord equal ones once."""
    if isinstance(order, str):
        return ORDERS[order]
    return WalkOrder(0, "", "", period=lambda m: tuple(_within(entry, m) for entry in order),
                     holds="hold" in order)


def _within(entry: Entry, m: int) -> Entry:
    if isinstance(entry, str):
        return entry
    if isinstance(entry, int):
        return entry % m
    return tuple(dict.fromkeys(place % m for place in entry))
