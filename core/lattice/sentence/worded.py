"""Another value for one word: what has to follow from it in the lane follows."""

from __future__ import annotations

from typing import Any

from lattice.base.clauses import ClauseSource
from lattice.base.values import to_json
from lattice.recipe import Lane, Recipe, changed, edited, refusing, set_path, with_lane


def with_word(recipe: Recipe, lane: Lane | None, source: ClauseSource[Any], slot: str,
              value: Any) -> Recipe:
    """The recipe with another value for a word of a lane's sentence, or of the pattern's; `source`
    is the kind of clause that the word stands in, and the value as the document has it.
    RecipeError if it does not fit."""
    if lane is None:
        return changed(recipe, source.written(recipe, slot, value))
    return with_lane(recipe, lane_with(lane, source, slot, value))


def lane_with(lane: Lane, source: ClauseSource[Lane], slot: str, value: Any) -> Lane:
    """The lane with another value for a word of its sentence; the value as the document has it."""
    if slot == "steps":
        return lane.resized(value)
    if slot.startswith("rule."):
        return _rule_changed(lane, slot.removeprefix("rule."), value)
    return edited(lane, source.written(lane, slot, value))


def _rule_changed(lane: Lane, path: str, value: Any) -> Lane:
    """The lane with a parameter of its rule changed. What else the rule says may have to follow, as
    a pattern's number its count of hits."""
    document = to_json(lane.rule)
    set_path(document, path, value)
    with refusing():
        rule = type(lane.rule).model_validate(document)
    return edited(lane, {"rule": to_json(rule.resized(lane.steps))})

