"""Changes to the words of a sentence: set one, add a clause, take one away."""

from __future__ import annotations

import re
from contextlib import suppress
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.edits.base import Edit, and_more, changed, edited, who, with_lane
from lattice.errors import RecipeError
from lattice.play import Performance
from lattice.recipe import Lane, Recipe
from lattice.rules import RULES, FollowingRule
from lattice.sentence import CLAUSES, PATTERN_FIELDS, word
from lattice.slots import ClauseKind, Slot
from lattice.values import tidy


class SetSlot(Edit):
    """Change one word of a lane's sentence, or of the pattern's where `lane` is null; and the same
    word of the lanes in `also`, where they have it and it can be so."""

    do: Literal["set"]
    lane: str | None
    slot: str
    value: Any
    also: Annotated[list[str], Field(max_length=64)] = []

    def _slot(self, recipe: Recipe) -> Slot:
        lane = recipe.lane(self.lane) if self.lane is not None else None
        slot = word(lane, recipe, self.slot)
        if slot is None:
            raise RecipeError("That word is no longer in the sentence.")
        return slot

    def apply(self, recipe: Recipe) -> Recipe:
        value = self._slot(recipe).accept(self.value)
        if self.lane is None:
            return changed(recipe, {self.slot: value})
        return _in_all(self, with_lane(recipe, self._changed(recipe, value)))

    def _changed(self, recipe: Recipe, value: Any) -> Lane:
        lane = recipe.lane(self.lane or "")
        if self.slot == "rule.kind":
            return lane if value == lane.rule.kind else _with_rule(lane, recipe, value)
        if self.slot == "steps":
            return _resized(lane, value)
        if self.slot == "rule.pulses":  # the pattern number must stay within its count
            rule = lane.rule.model_copy(update={"pulses": value}).resized(lane.steps)
            return lane.model_copy(update={"rule": rule})
        return edited(lane, _stored(lane, self.slot, value))

    def describe(self, recipe: Recipe) -> str:
        slot = self._slot(recipe)
        who = f"{recipe.lane(self.lane).name}: " if self.lane else ""
        return f"{who}{slot.label} {slot.text} → {self.value}{and_more(self.also)}"


class TurnSlot(Edit):
    """Turn one word of a lane's sentence `by` so many of its steps from where it stands, as far as
    its bounds: a change that several hands or fast keys can send without knowing of each other."""

    do: Literal["turn"]
    lane: str
    slot: str
    by: Annotated[float, Field(ge=-1000, le=1000)]

    def _set(self, recipe: Recipe) -> SetSlot:
        slot = word(recipe.lane(self.lane), recipe, self.slot)
        if slot is None or slot.kind != "number":
            raise RecipeError("That word is no longer in the sentence.")
        turned = slot.value + self.by * slot.step
        value = min(float(slot.high or 0), max(float(slot.low or 0), turned))
        return SetSlot(do="set", lane=self.lane, slot=self.slot, value=tidy(value))

    def apply(self, recipe: Recipe) -> Recipe:
        return self._set(recipe).apply(recipe)

    def describe(self, recipe: Recipe) -> str:
        return self._set(recipe).describe(recipe)


class AddClause(Edit):
    """Put a clause into use, with its starting values; in the lanes of `also` where it can be."""

    do: Literal["add"]
    lane: str | None
    clause: str
    also: Annotated[list[str], Field(max_length=64)] = []

    def apply(self, recipe: Recipe) -> Recipe:
        if self.lane is None:
            field, value = _pattern_field(self.clause)
            return changed(recipe, {field: value})
        lane = recipe.lane(self.lane)
        kind = _clause(self.clause)
        if (kind.present(lane) and not kind.items) or not kind.possible(lane):
            raise RecipeError(f"{lane.name} cannot have another “{kind.label}” clause.")
        fields = kind.added(lane) if callable(kind.added) else kind.added
        return _in_all(self, with_lane(recipe, edited(lane, fields)))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}+ {self.clause.replace('-', ' ')}"


class RemoveClause(Edit):
    """Take a clause out of use; one of several is named with its number, as in "rolls.0"."""

    do: Literal["remove"]
    lane: str | None
    clause: str
    also: Annotated[list[str], Field(max_length=64)] = []

    def apply(self, recipe: Recipe) -> Recipe:
        if self.lane is None:
            return changed(recipe, {_pattern_field(self.clause)[0]: None}, drop=True)
        lane = recipe.lane(self.lane)
        name, _, number = self.clause.partition(".")
        kind = _clause(name)
        if kind.items is None or kind.without is None:
            without = edited(lane, dict.fromkeys(kind.cleared), drop=True)
        elif number.isdigit() and int(number[:4]) < kind.items(lane):
            without = edited(lane, kind.without(lane, int(number)))
        else:
            raise RecipeError("That clause is no longer in the sentence.")
        return _in_all(self, with_lane(recipe, without))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}without {self.clause.partition('.')[0].replace('-', ' ')}"


def _in_all(edit: SetSlot | AddClause | RemoveClause, recipe: Recipe) -> Recipe:
    """The same change in the other chosen lanes; those that cannot take it stay as they are."""
    for lane in edit.also:
        with suppress(RecipeError):
            recipe = edit.model_copy(update={"lane": lane, "also": []}).apply(recipe)
    return recipe


def _stored(lane: Lane, path: str, value: Any) -> dict[str, Any]:
    """The field and its value that a word stands for, where the word is not a field itself."""
    if path == "fit_bars" and value == 0:
        return {path: None}
    roll = re.fullmatch(r"rolls\.(\d+)\.(stroke_length|every)", path)
    if roll is None:
        return {path: value}
    number, field = int(roll[1]), roll[2]
    if field == "every":
        before = lane.rolls[number].turns or (1, 1)
        turns = [min(before[0], value), value] if value > 1 else None
        return {f"rolls.{number}.turns": turns}
    beats = lane.rolls[number].beats or Fraction(0)
    strokes = beats / (4 * Fraction(value))
    if strokes.denominator != 1 or not 1 <= strokes <= 256:
        raise RecipeError(f"Strokes of {value} do not fit into {beats} beats a whole number of "
                          "times, from 1 to 256.")
    return {f"rolls.{number}.strokes": int(strokes)}


def _clause(clause_id: str) -> ClauseKind:
    for kind in CLAUSES:
        if kind.id == clause_id:
            return kind
    raise RecipeError(f'There is no clause "{clause_id}".')


def _pattern_field(clause: str) -> tuple[str, Any]:
    if clause not in PATTERN_FIELDS:
        raise RecipeError(f'There is no clause "{clause}" for a pattern.')
    return PATTERN_FIELDS[clause]


def _with_rule(lane: Lane, recipe: Recipe, kind: str) -> Lane:
    """The lane with another rule, which begins with the hits that the lane has now."""
    rule = RULES[kind]
    others = [each.id for each in recipe.lanes if each.id != lane.id]
    hits = Performance(recipe).voice(lane.id).hits
    base = [False] * lane.steps if hits.followed else list(hits.base)
    neutral = {"reverse": False, "flip": False, "direction": "forward"}
    starting = rule.starting(base, others)
    if not issubclass(rule, FollowingRule) and not lane.follows:
        neutral.pop("direction")
        if kind != "hand":
            neutral = {}
    changed = lane.model_copy(update={**neutral, "rule": starting})
    if isinstance(starting, FollowingRule):
        return _first_without_circle(changed, recipe, others)
    return changed


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


def _resized(lane: Lane, steps: int) -> Lane:
    """Another number of steps: the rule and the window change only where they must."""
    window = lane.window
    if window is not None:
        window = (min(window[0], steps - 1), min(window[1], steps - 1))
    return lane.model_copy(update={"steps": steps, "rule": lane.rule.resized(steps),
                                   "window": window})
