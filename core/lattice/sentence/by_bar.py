"""A recipe whose numbers follow paths, bar by bar: which recipe plays in each."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from math import lcm
from typing import Any

from lattice.base.clauses import ClauseSource, Names
from lattice.base.draws import Draws
from lattice.base.words import Slot
from lattice.features.movement import WordPath, in_steps, on_word
from lattice.recipe import Lane, Recipe
from lattice.sentence.kinds import CLAUSES, PATTERN_CLAUSES
from lattice.sentence.movement import Movement, Moving, draws_of, moving_in, numbers_in
from lattice.sentence.told import other_names
from lattice.sentence.worded import with_word

Values = tuple[float, ...]
"""What the words that move are in a bar, in the order of lanes and paths, the pattern's first."""


def _movement(moving: Moving) -> Movement:
    kinds = CLAUSES[moving.kind] if isinstance(moving, Lane) else PATTERN_CLAUSES
    return next(kind for kind in kinds if isinstance(kind, Movement))


def words_that_move(recipe: Recipe, lane_id: str | None) -> Mapping[str, Slot]:
    """The words of a lane (or of the pattern) that may follow a path, with their own values."""
    moving = moving_in(recipe, lane_id)
    return _movement(moving).words(moving, other_names(recipe, lane_id))


@dataclass(frozen=True, slots=True)
class _Followed:
    """A word on its path: where it stands, and what it would be by itself."""

    lane: str | None
    path: WordPath
    source: ClauseSource[Any]
    slot: Slot
    draws: Draws
    names: Names

    def set(self, recipe: Recipe, value: float) -> Recipe:
        """The recipe with this value for the word, as far as it goes there."""
        lane = recipe.lane(self.lane) if self.lane is not None else None
        slot = next((each for each in numbers_in(self.source, lane or recipe, self.names)
                     if each.slot == self.slot.slot), None)
        if slot is None:
            return recipe
        return with_word(recipe, lane, self.source, slot.slot, slot.accept(on_word(value, slot)))


class BarByBar:
    """What plays in each bar of a recipe: the recipe with each moving word at its value there, held
    within the bounds that the word has then. A path whose word is not said moves nothing."""

    def __init__(self, recipe: Recipe) -> None:
        self.recipe = recipe
        self._followed = [followed for lane_id in (None, *(lane.id for lane in recipe.lanes))
                          for followed in _followed(recipe, lane_id)]
        self.moved = self._reached()
        self._still = recipe.model_copy(update={"paths": (), "gusts": (), "lanes": tuple(
            lane.model_copy(update={"paths": (lane.value_path,) if lane.value_path else ()})
            if lane.paths else lane for lane in recipe.lanes)})

    def _reached(self) -> frozenset[str]:
        """The lanes that do not play alike in every bar: those with paths, and their followers."""
        own = {each.lane for each in self._followed}
        return self.recipe.and_followers(
            lane.id for lane in self.recipe.lanes if None in own or lane.id in own)

    def values(self, bar: int) -> Values:
        """What the paths of all words that move say in a bar, counted from 0; a word is held
        within the bounds that it has with the values before."""
        return tuple(in_steps(each.path.at(bar, each.draws), each.slot)
                     for each in self._followed)

    def recipe_with(self, values: Values) -> Recipe:
        """The recipe that plays where the words that move have these values; nothing moves in
        it, and lanes that have no path are the very same."""
        recipe = self._still
        for each, value in zip(self._followed, values, strict=True):
            recipe = each.set(recipe, value)
        return recipe

    def round(self, lane_ids: frozenset[str]) -> int | None:
        """After how many bars the paths of these lanes and of the pattern come round; None: one of
        them never does."""
        rounds = [each.path.round for each in self._followed
                  if each.lane is None or each.lane in lane_ids]
        return None if None in rounds else lcm(1, *(each for each in rounds if each))


def _followed(recipe: Recipe, lane_id: str | None) -> Iterator[_Followed]:
    moving = moving_in(recipe, lane_id)
    if not moving.paths:
        return
    lane = moving if isinstance(moving, Lane) else None
    names, draws = other_names(recipe, lane_id), draws_of(lane, recipe)
    words = {slot.slot: (source, slot) for source in _movement(moving).others if source.moves
             for slot in numbers_in(source, moving, names)}
    # The number of steps bounds what a rule can say of them.
    for path in sorted(moving.paths, key=lambda path: path.word != "steps"):
        # A controller that moves on reads its path at the time itself.
        if path.word in words and not (lane and path is lane.value_path):
            yield _Followed(lane_id, path, *words[path.word], draws, names)


def by_bar(recipe: Recipe) -> BarByBar | None:
    """The recipe bar by bar; None where no word moves."""
    if not recipe.paths and not any(lane.paths for lane in recipe.lanes):
        return None
    found = BarByBar(recipe)
    return found if found.moved else None
