"""Throw the scale."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.errors import RecipeError
from lattice.base.values import limits, to_json
from lattice.base.words import choice, number
from lattice.edits.throws.base import Between
from lattice.pitch.key import Key
from lattice.pitch.scales import SCALES
from lattice.recipe import Lane, Recipe, changed

Size = Annotated[int, Field(ge=5, le=12)]
ROOT = {"stays": ("stays", ""), "moves": ("moves too", "to any of the twelve")}


class ThrowScale(Between):
    """Another scale for the pattern, of so many notes; the root stays, or moves too. Lanes with
    keys of their own keep those."""

    do: Literal["throw_scale"] = "throw_scale"
    place = 50
    label = "scale"
    about = "the notes that all pitched lanes stand on"
    over = "pattern"
    low: Size = 5
    high: Size = 8
    root: Literal["stays", "moves"] = "stays"

    def parts(self) -> Sequence[Part]:
        low, high = limits(Size)
        return ["Another scale of ", number("low", "fewest notes", self.low, low, self.high),
                " to ", number("high", "most notes", self.high, self.low, high),
                " notes; its root ", choice("root", "the root", self.root, ROOT), "."]

    def fits(self, lane: Lane) -> bool:
        return True

    def apply(self, recipe: Recipe) -> Recipe:
        names = [name for name, notes in SCALES.items()
                 if self.low <= len(notes) <= self.high and notes != recipe.key.notes]
        if not names:
            raise RecipeError("No other scale has so many notes; set the two numbers further "
                              "apart.")
        draws = self.draws()
        root = recipe.key.root if self.root == "stays" else int(draws("root", 0) * 12)
        key = Key(root=root, scale=names[int(draws("scale", 0) * len(names))])
        return changed(recipe, {"key": to_json(key)})
