"""All notes on every hit."""

from lattice.arpeggio.orders.base import WalkOrder

ALL = WalkOrder(120, "all", "all at once", "the whole pool on every hit")
