"""What every change to a recipe offers, and the helpers that several of them use."""

from __future__ import annotations

from contextlib import suppress
from typing import TypeVar

from pydantic import BaseModel, ConfigDict

from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES, free_id
from lattice.recipe import Lane, Recipe


class Edit(BaseModel):
    """A change; `do` names its kind."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    def apply(self, recipe: Recipe) -> Recipe:
        """The recipe with the change made; RecipeError if it cannot be."""
        raise NotImplementedError

    def describe(self, recipe: Recipe) -> str:
        """The change in a few words, seen from the recipe it is made on."""
        raise NotImplementedError

    @property
    def changes(self) -> int:
        """How many lanes it changes, the measure of its cost."""
        return 1 + len(getattr(self, "also", ()))


E = TypeVar("E", bound=Edit)


def in_all(edit: E, recipe: Recipe) -> Recipe:
    """The same change in the other chosen lanes, those of `also`; those that cannot take it stay as
    they are."""
    for lane in getattr(edit, "also", ()):
        with suppress(RecipeError):
            recipe = edit.model_copy(update={"lane": lane, "also": []}).apply(recipe)
    return recipe


def who(lane_id: str | None, recipe: Recipe) -> str:
    """A lane's name, to begin a description with; nothing for the pattern."""
    return f"{recipe.lane(lane_id).name}: " if lane_id else ""


def and_more(also: list[str]) -> str:
    """How many other lanes are changed too, for the end of a description."""
    return f" (and {len(also)} more)" if also else ""


def with_new_lane(recipe: Recipe, lanes: list[Lane], new: Lane, after: str | None) -> Recipe:
    """The recipe with a lane put after another, or at the end; RecipeError if it has too many."""
    if len(lanes) >= MAX_LANES:
        raise RecipeError(f"A pattern has up to {MAX_LANES} lanes.")
    place = lanes.index(recipe.lane(after)) + 1 if after else len(lanes)
    lanes.insert(place, new)
    return recipe.model_copy(update={"lanes": tuple(lanes)})


def new_id(name: str, recipe: Recipe) -> str:
    """An id that no lane has, made from the name."""
    return free_id(name, {lane.id for lane in recipe.lanes})
