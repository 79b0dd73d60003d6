"""Lanes that are written as texts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.edits.base import Edit, who
from lattice.recipe import Recipe, with_lane
from lattice.texts.patterns import read_lane
from lattice.texts.tokens import LONGEST_TEXT


class WriteLane(Edit):
    """Let a lane say what a text says, in place of all that it said."""

    do: Literal["write"]
    lane: str
    text: Annotated[str, Field(max_length=LONGEST_TEXT)]

    def apply(self, recipe: Recipe) -> Recipe:
        return with_lane(recipe, read_lane(self.text, recipe.lane(self.lane), recipe))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}written"
