"""Other values for words: what has to follow from it in the lane follows."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from lattice.base.clauses import ClauseSource, Fields
from lattice.base.values import to_json
from lattice.recipe import Lane, Recipe, changed, edited, refusing, set_path, with_lane

Said = TypeVar("Said", Lane, Recipe)


def with_word(recipe: Recipe, lane: Lane | None, source: ClauseSource[Any], slot: str,
              value: Any) -> Recipe:
    """The recipe with another value for a word of a lane's sentence, or of the pattern's; `source`
    is the kind of clause that the word stands in, and the value as the document has it.
    RecipeError if it does not fit."""
    if lane is None:
        return pattern_with(recipe, source, {slot: value})
    return with_lane(recipe, lane_with(lane, source, {slot: value}))


def pattern_with(recipe: Recipe, source: ClauseSource[Recipe], values: Fields) -> Recipe:
    """The recipe with other values for words of one clause of the pattern's sentence, by their
    slots; the values as the document has them."""
    return _written(recipe, source, values, changed)


def lane_with(lane: Lane, source: ClauseSource[Lane], values: Fields) -> Lane:
    """The same of a lane's sentence. The number of steps comes first, since it bounds what the rule
    says."""
    left = dict(values)
    if "steps" in left:
        lane = lane.resized(left.pop("steps"))
    if rule := {slot: left.pop(slot) for slot in values if slot.startswith("rule.")}:
        lane = _rule_changed(lane, rule)
    return _written(lane, source, left, edited)


def _written(document: Said, source: ClauseSource[Said], values: Fields,
             edit: Callable[[Said, Fields], Said]) -> Said:
    """The document with words written by their kind of clause: those that are fields at once."""
    plain: dict[str, Any] = {}
    for slot, value in values.items():
        fields = source.written(document, slot, value)
        if fields == {slot: value}:
            plain[slot] = value
            continue
        if plain:
            document, plain = edit(document, plain), {}
            fields = source.written(document, slot, value)
        document = edit(document, fields)
    return edit(document, plain) if plain else document


def _rule_changed(lane: Lane, values: Fields) -> Lane:
    """The lane with parameters of its rule changed. What else the rule says may have to follow, as
    a pattern's number its count of hits."""
    document = to_json(lane.rule)
    for slot, value in values.items():
        set_path(document, slot.removeprefix("rule."), value)
    with refusing():
        rule = type(lane.rule).model_validate(document)
    return edited(lane, {"rule": to_json(rule.resized(lane.steps))})
