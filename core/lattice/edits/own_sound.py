"""Hearing a drum lane by a recording of the musician's own."""

from __future__ import annotations

from typing import Literal

from lattice.base.errors import RecipeError
from lattice.edits.base import Edit, who
from lattice.recipe import Recipe, edited, with_lane


class HearAs(Edit):
    """Give a drum lane a recording, named by the SHA-256 of its file, to be heard by whole."""

    do: Literal["own_sound"]
    lane: str
    file: str
    name: str

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        if lane.kind != "drum":
            raise RecipeError(f"{lane.name} is no drum lane; drop the sound on a drum lane, or "
                              "make it one first.")
        return with_lane(recipe, edited(lane, {
            "own_sound": {"file": self.file, "name": self.name}}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}heard as {self.name}"
