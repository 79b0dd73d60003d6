"""What was worked out of the very same documents a moment ago. Documents never change, so it is
what would be worked out again: while one word is turned, all the rest is."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

V = TypeVar("V")


class Lately(Generic[V]):
    """The last values, at most so many, by the documents that they were made of: by which objects
    these are, since to compare what they say takes longer than most work."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: dict[Hashable, tuple[tuple[object, ...], V]] = {}

    def of(self, *documents: object, also: Hashable = None, make: Callable[[], V]) -> V:
        """The value that `make` makes of these documents, and of what else is told by its value."""
        key = (also, *map(id, documents))
        known = self._kept.get(key)
        if known is None:
            if len(self._kept) >= self._most:
                self._kept.clear()
            # The documents are kept too, so that nothing else gets their identity.
            known = self._kept[key] = (documents, make())
        return known[1]
