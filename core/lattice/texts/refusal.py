"""What cannot be read of a text, and where."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Self

from lattice.base.errors import RecipeError


class TextError(RecipeError):
    """What cannot be read: one sentence; `start` and `end`, the place in the text that it speaks
    of; `offers`, what may stand there instead."""

    def __init__(self, sentence: str, start: int, end: int, offers: Sequence[str] = ()) -> None:
        super().__init__(sentence)
        self.start, self.end, self.offers = start, end, offers

    def later(self, by: int) -> Self:
        """The same, of a text in which this one begins so many letters later."""
        return type(self)(str(self), self.start + by, self.end + by, self.offers)
