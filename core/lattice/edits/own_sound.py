"""Hearing a drum lane by a recording of the musician's own, or by a part of it."""

from __future__ import annotations

from typing import Literal

from lattice.base.errors import RecipeError
from lattice.base.values import Percent
from lattice.base.words import written
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


class Trim(Edit):
    """Where a lane's recording begins and ends, in percent of its length."""

    do: Literal["trim"]
    lane: str
    start: Percent
    end: Percent

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        if lane.recording is None:
            raise RecipeError(f"{lane.name} has no sound of its own to trim; drop one on it first.")
        return with_lane(recipe, edited(lane, {"own_sound.start": self.start,
                                               "own_sound.end": self.end}))

    def describe(self, recipe: Recipe) -> str:
        return (f"{who(self.lane, recipe)}heard from {written(self.start)} % to "
                f"{written(self.end)} %")
