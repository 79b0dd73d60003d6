"""A document that is a sentence by itself: a tool, a wish."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, ClassVar, Self

from lattice.base.clauses import Part
from lattice.base.errors import RecipeError
from lattice.base.values import Document
from lattice.base.words import Clause, Slot
from lattice.recipe import refusing


class Said(Document):
    """A document by itself that says itself: each of its words is called by the field that it
    changes. `label` names it in messages."""

    label: ClassVar[str]

    @classmethod
    def as_it_stands(cls) -> Self:
        """The document before any of its words is changed."""
        return cls.model_validate({})

    def parts(self) -> Sequence[Part]:
        """Its sentence."""
        raise NotImplementedError

    @property
    def sentence(self) -> list[Clause]:
        """The words that it says and that can be changed."""
        return [Clause(self.label, self.parts(), self.label, False)]

    @property
    def in_words(self) -> str:
        """The sentence as plain text."""
        return "".join(part if isinstance(part, str) else part.text for part in self.parts())

    def worded(self, name: str, value: Any) -> Self:
        """The document with another value for one of its words; RecipeError if it does not fit."""
        word = next((part for part in self.parts()
                     if isinstance(part, Slot) and part.slot == name), None)
        if word is None:
            raise RecipeError(f"“{self.label}” has no word “{name[:40]}”.")
        with refusing():
            return type(self).model_validate(
                self.model_dump(mode="json") | {name: word.accept(value)})
