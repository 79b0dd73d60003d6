"""Changes to slow movement: let a word follow a path, draw it, and let the word stand still."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import documents
from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES
from lattice.base.words import Shape
from lattice.edits.base import Edit, and_more, in_all, who
from lattice.features.movement import SHAPES, WordPath, path_of
from lattice.recipe import Recipe, changed, edited, with_lane
from lattice.sentence import moving_in, path_for, reshaped, words_that_move


def with_path(recipe: Recipe, lane_id: str | None, word: str, path: WordPath | None) -> Recipe:
    """The recipe with a path for a word, in place of the one that it follows; None: with none."""
    paths = list(moving_in(recipe, lane_id).paths)
    place = next((i for i, each in enumerate(paths) if each.word == word), len(paths))
    paths[place : place + 1] = [path] if path else []
    fields = {"paths": documents(paths)}
    if lane_id is None:
        return changed(recipe, fields)
    return with_lane(recipe, edited(recipe.lane(lane_id), fields))


def without_lost_paths(recipe: Recipe, before: Recipe, lane_id: str | None) -> Recipe:
    """The recipe without paths of words that a lane (or the pattern) said before, and does not say
    any more."""
    moving = moving_in(recipe, lane_id)
    if moving.paths:
        lost = words_that_move(before, lane_id).keys() - words_that_move(recipe, lane_id).keys()
        for path in moving.paths:
            if path.word in lost:
                recipe = with_path(recipe, lane_id, path.word, None)
    return recipe


class FollowPath(Edit):
    """Let a word of a lane's sentence, or of the pattern's where `lane` is null, follow a path in
    this shape, and in the lanes of `also` too; with `points` as they are drawn, one a bar; without
    a shape it stands still again."""

    do: Literal["path"]
    lane: str | None
    word: str
    shape: Shape | None
    points: Annotated[list[float] | None, Field(min_length=1)] = None
    also: Annotated[list[str], Field(max_length=MAX_LANES)] = []

    def apply(self, recipe: Recipe) -> Recipe:
        slot = words_that_move(recipe, self.lane).get(self.word)
        if slot is None:
            raise RecipeError("That word cannot follow a path, or is no longer in the sentence.")
        path = None
        if self.shape is not None:
            known = path_of(moving_in(recipe, self.lane).paths, self.word)
            path = reshaped(known, self.shape, slot) if known else path_for(slot, self.shape)
            if self.points is not None:
                for point in self.points:
                    slot.accept(point)
                path = path.model_copy(update={"points": tuple(self.points)})
        return in_all(self, with_path(recipe, self.lane, self.word, path))

    def describe(self, recipe: Recipe) -> str:
        slot = words_that_move(recipe, self.lane).get(self.word)
        label = slot.label if slot else self.word
        words = f"let the {label} {SHAPES[self.shape][0]}" if self.shape else f"{label} kept still"
        return f"{who(self.lane, recipe)}{words}{and_more(self.also)}"
