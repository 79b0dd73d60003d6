"""What every change to a recipe offers, and the helpers that several of them use."""

from __future__ import annotations

import re
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from lattice.errors import RecipeError
from lattice.recipe import MAX_LANES, Lane, Recipe, first_sentence, read, to_json


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
    return f"{recipe.lane(lane_id).name}: " if lane_id else ""


def and_more(also: list[str]) -> str:
    return f" (and {len(also)} more)" if also else ""


def _set_path(document: Any, path: str, value: Any, drop: bool) -> None:
    """Set a.b.0-style paths in a document; with `drop`, take the field out instead."""
    *parents, last = path.split(".")
    for name in parents:
        document = document[int(name)] if isinstance(document, list) else \
            document.setdefault(name, {})
    if isinstance(document, list):
        document[int(last)] = value
    elif drop:
        document.pop(last, None)
    else:
        document[last] = value


def edited(lane: Lane, fields: Any, drop: bool = False) -> Lane:
    document = lane.model_dump(mode="json", by_alias=True)
    for path, value in fields.items():
        _set_path(document, path, value, drop)
    try:
        return Lane.model_validate(document)
    except ValidationError as problem:
        raise RecipeError(first_sentence(problem)) from None


def changed(recipe: Recipe, fields: dict[str, Any], drop: bool = False) -> Recipe:
    """The recipe with fields of its own changed; its lanes stay the very same objects."""
    document = to_json(recipe.model_copy(update={"lanes": ()}))
    for path, value in fields.items():
        _set_path(document, path, value, drop)
    return read(document).model_copy(update={"lanes": recipe.lanes})


def with_lane(recipe: Recipe, lane: Lane) -> Recipe:
    changed = recipe.model_copy(update={
        "lanes": tuple(lane if each.id == lane.id else each for each in recipe.lanes)})
    if lane.follows != recipe.lane(lane.id).follows:
        changed.playing_order()
    return changed


def with_new_lane(recipe: Recipe, lanes: list[Lane], new: Lane, after: str | None) -> Recipe:
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
