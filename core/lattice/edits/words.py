"""Changes to the words of a sentence: set one, add a clause, take one away."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field

from lattice.base.clauses import ClauseSource, Fields
from lattice.base.errors import RecipeError
from lattice.base.values import Document, tidy, to_json
from lattice.base.words import Slot
from lattice.edits.base import Edit, and_more, changed, edited, set_path, who, with_lane
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, refusing
from lattice.rules import RULES, FollowingRule
from lattice.sentence import CLAUSES, PATTERN_CLAUSES, word


class SetSlot(Edit):
    """Change one word of a lane's sentence, or of the pattern's where `lane` is null; and the same
    word of the lanes in `also`, where they have it and it can be so."""

    do: Literal["set"]
    lane: str | None
    slot: str
    value: Any
    also: Annotated[list[str], Field(max_length=64)] = []

    def _word(self, recipe: Recipe) -> tuple[Slot, ClauseSource[Any]]:
        return word(recipe.lane(self.lane) if self.lane is not None else None, recipe, self.slot)

    def apply(self, recipe: Recipe) -> Recipe:
        slot, source = self._word(recipe)
        value = slot.accept(self.value)
        if self.lane is None:
            return changed(recipe, source.written(recipe, self.slot, value))
        return _in_all(self, with_lane(recipe, self._changed(recipe, source, value)))

    def _changed(self, recipe: Recipe, source: ClauseSource[Lane], value: Any) -> Lane:
        lane = recipe.lane(self.lane or "")
        if self.slot == "rule.kind":
            return lane if value == lane.rule.kind else _with_rule(lane, recipe, value)
        if self.slot == "steps":
            return _resized(lane, value)
        if self.slot.startswith("rule."):
            return _rule_changed(lane, self.slot.removeprefix("rule."), value)
        return edited(lane, source.written(lane, self.slot, value))

    def describe(self, recipe: Recipe) -> str:
        slot, _ = self._word(recipe)
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
    """Put a clause into use, with its starting values; in the lanes of `also` where it can be."""

    do: Literal["add"]
    lane: str | None
    clause: str
    also: Annotated[list[str], Field(max_length=64)] = []

    def apply(self, recipe: Recipe) -> Recipe:
        if self.lane is None:
            return changed(recipe, _added(_kind(self.clause, PATTERN_CLAUSES), recipe, "A pattern"))
        lane = recipe.lane(self.lane)
        fields = _added(_kind(self.clause, CLAUSES[lane.kind]), lane, lane.name)
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
        name, _, number = self.clause.partition(".")
        i = int(number) if number.isascii() and number.isdigit() and len(number) < 5 else -1
        if self.lane is None:
            return changed(recipe, _removed(_kind(name, PATTERN_CLAUSES), recipe, i))
        lane = recipe.lane(self.lane)
        fields = _removed(_kind(name, CLAUSES[lane.kind]), lane, i)
        return _in_all(self, with_lane(recipe, edited(lane, fields)))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}without {self.clause.partition('.')[0].replace('-', ' ')}"


def _in_all(edit: SetSlot | AddClause | RemoveClause, recipe: Recipe) -> Recipe:
    """The same change in the other chosen lanes; those that cannot take it stay as they are."""
    for lane in edit.also:
        with suppress(RecipeError):
            recipe = edit.model_copy(update={"lane": lane, "also": []}).apply(recipe)
    return recipe


D = TypeVar("D", bound=Document)


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


def _rule_changed(lane: Lane, path: str, value: Any) -> Lane:
    """The lane with a parameter of its rule changed. What else the rule says may have to follow, as
    a pattern's number its count of hits."""
    document = to_json(lane.rule)
    set_path(document, path, value)
    with refusing():
        rule = type(lane.rule).model_validate(document)
    return edited(lane, {"rule": to_json(rule.resized(lane.steps))})


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
