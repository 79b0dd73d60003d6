"""What every change to a recipe offers, and the helpers that several of them use."""

from __future__ import annotations

import re
from typing import Any

from pydantic import BaseModel, ConfigDict

from lattice.base.clauses import NEUTRAL, Fields
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.recipe import MAX_LANES, Lane, Recipe, read, refusing


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


def who(lane_id: str | None, recipe: Recipe) -> str:
    """A lane's name, to begin a description with; nothing for the pattern."""
    return f"{recipe.lane(lane_id).name}: " if lane_id else ""


def and_more(also: list[str]) -> str:
    """How many other lanes are changed too, for the end of a description."""
    return f" (and {len(also)} more)" if also else ""


def set_path(document: Any, path: str, value: Any) -> None:
    """Set a.b.0-style paths in a document; a neutral value takes the field out."""
    *parents, last = path.split(".")
    for name in parents:
        document = document[int(name)] if isinstance(document, list) else \
            document.setdefault(name, {})
    if isinstance(document, list):
        document[int(last)] = value
    elif value is NEUTRAL:
        document.pop(last, None)
    else:
        document[last] = value


def edited(lane: Lane, fields: Fields) -> Lane:
    """The lane with documents of fields changed, by their paths."""
    document = lane.model_dump(mode="json", by_alias=True)
    for path, value in fields.items():
        set_path(document, path, value)
    with refusing():
        return Lane.model_validate(document)


def changed(recipe: Recipe, fields: Fields) -> Recipe:
    """The recipe with fields of its own changed; its lanes stay the very same objects."""
    document = to_json(recipe.model_copy(update={"lanes": ()}))
    for path, value in fields.items():
        set_path(document, path, value)
    return read(document).model_copy(update={"lanes": recipe.lanes})


def with_lane(recipe: Recipe, lane: Lane) -> Recipe:
    """The recipe with a lane in place of the one that has its id."""
    changed = recipe.model_copy(update={
        "lanes": tuple(lane if each.id == lane.id else each for each in recipe.lanes)})
    if lane.follows != recipe.lane(lane.id).follows:
        changed.playing_order()
    return changed


def with_new_lane(recipe: Recipe, lanes: list[Lane], new: Lane, after: str | None) -> Recipe:
    """The recipe with a lane put after another, or at the end; RecipeError if it has too many."""
    if len(lanes) >= MAX_LANES:
        raise RecipeError(f"A pattern has up to {MAX_LANES} lanes.")
    place = lanes.index(recipe.lane(after)) + 1 if after else len(lanes)
    lanes.insert(place, new)
    return recipe.model_copy(update={"lanes": tuple(lanes)})


def new_id(name: str, recipe: Recipe) -> str:
    """An id that no lane has, made from the name."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:30] or "lane"
    taken = {lane.id for lane in recipe.lanes}
    return next(each for each in (stem, *(f"{stem}-{i}" for i in range(2, MAX_LANES + 2)))
                if each not in taken)
