"""Changes to the words of a sentence: set one, add a clause, take one away."""

from __future__ import annotations

import re
from collections.abc import Sequence
from contextlib import suppress
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field

from lattice.base.clauses import ClauseSource, Fields
from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES
from lattice.base.values import Document, tidy
from lattice.base.words import Clause, Slot
from lattice.edits.base import Edit, and_more, in_all, who
from lattice.edits.movement import with_path, without_lost_paths
from lattice.features.movement import path_of
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, changed, edited, refusing, with_lane
from lattice.rules import RULES, FollowingRule
from lattice.sentence import (
    CLAUSES,
    PATTERN_CLAUSES,
    lane_sentence,
    pattern_sentence,
    with_word,
    word,
)


class SetSlot(Edit):
    """Change one word of a lane's sentence, or of the pattern's where `lane` is null; and the same
    word of the lanes in `also`, where they have it and it can be so."""

    do: Literal["set"]
    lane: str | None
    slot: str
    value: Any
    also: Annotated[list[str], Field(max_length=MAX_LANES)] = []

    def _word(self, recipe: Recipe) -> tuple[Slot, ClauseSource[Any]]:
        return word(recipe.lane(self.lane) if self.lane is not None else None, recipe, self.slot)

    def apply(self, recipe: Recipe) -> Recipe:
        slot, source = self._word(recipe)
        value = slot.accept(self.value)
        lane = recipe.lane(self.lane) if self.lane is not None else None
        turned = recipe
        path = path_of((lane or recipe).paths, self.slot)
        if path and slot.path and slot.path.clause:  # it is turned together with its path
            by = float(self.value) - float(slot.value)
            turned = with_path(recipe, self.lane, self.slot, path.shifted(by, slot))
        elif lane is not None and self.slot == "rule.kind":
            if value != lane.rule.kind:
                turned = with_lane(recipe, _with_rule(lane, recipe, value))
        else:
            turned = with_word(recipe, lane, source, self.slot, value)
        if lane is not None and self.slot in ("rule.kind", "rule.of"):
            turned = _on_channel_of_leader(turned, lane.id)
        return in_all(self, without_lost_paths(turned, recipe, self.lane))

    def describe(self, recipe: Recipe) -> str:
        slot, _ = self._word(recipe)
        turned = self.apply(recipe)
        try:
            told = word(turned.lane(self.lane) if self.lane else None, turned, self.slot)[0].text
        except RecipeError:  # the sentence says it in other words now
            told = next((option.label for option in slot.options if option.value == self.value),
                        str(self.value))
        label = f"{who(self.lane, recipe)}{slot.label}" if self.lane else f"{slot.label}:"
        return f"{label} {slot.text} to {told}{and_more(self.also)}"


class TurnSlot(Edit):
    """Turn one word of a lane's sentence `by` so many of its steps from where it stands, as far as
    its bounds: a change that several hands or fast keys can send without knowing of each other."""

    do: Literal["turn"]
    lane: str
    slot: str
    by: Annotated[float, Field(ge=-1000, le=1000)]

    def _set(self, recipe: Recipe) -> SetSlot:
        slot, _ = word(recipe.lane(self.lane), recipe, self.slot)
        if slot.kind != "number":
            raise RecipeError("That word is no longer in the sentence.")
        turned = slot.value + self.by * slot.step
        value = min(float(slot.high or 0), max(float(slot.low or 0), turned))
        return SetSlot(do="set", lane=self.lane, slot=self.slot, value=tidy(value))

    def apply(self, recipe: Recipe) -> Recipe:
        return self._set(recipe).apply(recipe)

    def describe(self, recipe: Recipe) -> str:
        return self._set(recipe).describe(recipe)


class AddClause(Edit):
    """Put a clause into use, with its starting values; in the lanes of `also` where it can be.
    `values` are words as they stood in such a clause before, wherever that was: those that its
    words can be, they are; places among steps are left as they begin."""

    do: Literal["add"]
    lane: str | None
    clause: str
    also: Annotated[list[str], Field(max_length=MAX_LANES)] = []
    values: Annotated[dict[str, Any], Field(max_length=24)] = {}

    def apply(self, recipe: Recipe) -> Recipe:
        if self.lane is None:
            kind = _kind(self.clause, PATTERN_CLAUSES)
            return self._as_before(changed(recipe, _added(kind, recipe, "A pattern")), recipe)
        lane = recipe.lane(self.lane)
        fields = _added(_kind(self.clause, CLAUSES[lane.kind]), lane, lane.name)
        return in_all(self, self._as_before(with_lane(recipe, edited(lane, fields)), recipe))

    def _as_before(self, recipe: Recipe, without: Recipe) -> Recipe:
        """The recipe with the values in the clause that was added."""
        if not self.values:
            return recipe
        known = {clause.id for clause in _clauses(without, self.lane)}
        for name, value in self.values.items():
            # A word that was set may have brought others.
            made = [part for clause in _clauses(recipe, self.lane) if clause.id not in known
                    for part in clause.parts if isinstance(part, Slot)]
            for slot in (slot.slot for slot in made if _stands_as(name, slot)):
                with suppress(RecipeError):
                    recipe = SetSlot(do="set", lane=self.lane, slot=slot, value=value).apply(recipe)
        return recipe

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}+ {self.clause.replace('-', ' ')}"


class RemoveClause(Edit):
    """Take a clause out of use; one of several is named with its number, as in "rolls.0"."""

    do: Literal["remove"]
    lane: str | None
    clause: str
    also: Annotated[list[str], Field(max_length=MAX_LANES)] = []

    def apply(self, recipe: Recipe) -> Recipe:
        name, _, number = self.clause.partition(".")
        i = int(number) if number.isascii() and number.isdigit() and len(number) < 5 else -1
        if self.lane is None:
            without = changed(recipe, _removed(_kind(name, PATTERN_CLAUSES), recipe, i))
            return without_lost_paths(without, recipe, None)
        lane = recipe.lane(self.lane)
        fields = _removed(_kind(name, CLAUSES[lane.kind]), lane, i)
        without = with_lane(recipe, edited(lane, fields))
        return in_all(self, without_lost_paths(without, recipe, self.lane))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}without {self.clause.partition('.')[0].replace('-', ' ')}"


D = TypeVar("D", bound=Document)
NUMBERED = re.compile(r"\.\d+(?=\.|$)")
"""Which of several clauses a word stands in."""


def _stands_as(name: str, slot: Slot) -> bool:
    """Whether a word is one that was called by this name in a clause of its kind; one that counts
    steps is none, for it says where the clause holds."""
    return slot.offset == 0 and NUMBERED.sub("", slot.slot) == NUMBERED.sub("", name)


def _clauses(recipe: Recipe, lane: str | None) -> list[Clause]:
    """The clauses of a lane, or of the pattern."""
    told = pattern_sentence(recipe) if lane is None else lane_sentence(recipe.lane(lane), recipe)
    return told.clauses


def _kind(clause_id: str, kinds: Sequence[ClauseSource[D]]) -> ClauseSource[D]:
    for kind in kinds:
        if kind.id == clause_id:
            return kind
    raise RecipeError(f'There is no clause "{clause_id}".')


def _added(kind: ClauseSource[D], document: D, name: str) -> Fields:
    if kind.offer(document) is None:
        raise RecipeError(f"{name} cannot have another “{kind.label}” clause.")
    with refusing():
        return kind.added(document)


def _removed(kind: ClauseSource[D], document: D, number: int) -> Fields:
    fields = kind.removed(document, number)
    if fields is None:
        raise RecipeError("That clause is no longer in the sentence.")
    return fields


def _with_rule(lane: Lane, recipe: Recipe, kind: str) -> Lane:
    """The lane with another rule, which begins with the hits that the lane has now."""
    rule = RULES[kind]
    others = [each.id for each in recipe.lanes if each.id != lane.id]
    hits = Performance(recipe).voice(lane.id).hits
    base = [False] * lane.steps if hits.followed else list(hits.base)
    starting = rule.starting(base, others)
    neutral: dict[str, Any] = {"reverse": False, "flip": False} if rule.copies else {}
    if isinstance(starting, FollowingRule) or lane.follows:
        neutral = {"reverse": False, "flip": False, "direction": "forward"}
    changed = lane.model_copy(update={**neutral, "rule": starting})
    if isinstance(starting, FollowingRule):
        return _first_without_circle(changed, recipe, others)
    return changed


def _on_channel_of_leader(recipe: Recipe, lane_id: str) -> Recipe:
    """The recipe with a controller that follows a lane moving what that lane plays on."""
    lane = recipe.lane(lane_id)
    if lane.kind != "control" or lane.follows is None:
        return recipe
    return with_lane(recipe, edited(lane, {"channel": recipe.lane(lane.follows).channel}))


def _first_without_circle(lane: Lane, recipe: Recipe, others: list[str]) -> Lane:
    problem = RecipeError("There is no other lane to follow.")
    for other in others:
        candidate = lane.model_copy(update={"rule": lane.rule.model_copy(update={"of": other})})
        try:
            with_lane(recipe, candidate)
            return candidate
        except RecipeError as refused:
            problem = refused
    raise problem
