"""Throws: one file for each thing that is made random within bounds.

A module in this package that defines a subclass of ThrowEdit with a `do` of its own has made a
throw; nothing else needs to be told about it.
"""

from typing import TYPE_CHECKING

from lattice.base.found import documents, one_of
from lattice.edits.throws.base import ThrowEdit

THROWS: tuple[type[ThrowEdit], ...] = tuple(sorted(
    documents(__name__, __path__, ThrowEdit, "do").values(), key=lambda throw: throw.place))
"""All of them, in the order in which they are offered."""
if TYPE_CHECKING:
    AnyThrow = ThrowEdit
else:
    AnyThrow = one_of(THROWS, "do")

__all__ = ["THROWS", "AnyThrow", "ThrowEdit"]
