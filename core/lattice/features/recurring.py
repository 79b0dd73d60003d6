"""What comes in one of so many passes: gusts and fills."""

from __future__ import annotations

from typing import Annotated, ClassVar, Self

from pydantic import Field, model_validator

from lattice.base.clauses import Part
from lattice.base.values import Document, limits
from lattice.base.words import nth, number, ordinal
from lattice.features.chance import MOST_PASSES

Passes = Annotated[int, Field(ge=1, le=MOST_PASSES)]
Turn = Annotated[Passes, Field(alias="from")]


class Recurring(Document):
    """Something that comes in the `turn`-th (from 1) of every `every` passes."""

    called: ClassVar[str]
    every: Passes
    turn: Turn

    @model_validator(mode="after")
    def _is_one_of_them(self) -> Self:
        if self.turn > self.every:
            raise ValueError(f"A {self.called} comes in one of {self.every} passes; there is no "
                             f"{ordinal(self.turn)} of them.")
        return self

    def when(self, at: str) -> list[Part]:
        """The words for the passes that it comes in; it stands at a path of the document."""
        what, least, most = self.called, *limits(Passes)
        return ["In the ", nth(f"{at}.from", f"pass of the {what}", self.turn, least, self.every),
                " of every ", number(f"{at}.every", f"passes from {what} to {what}", self.every,
                                     self.turn, most), " passes "]
