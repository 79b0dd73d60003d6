"""Recipes and owners of revisions, kept at hand: a revision never changes.

Several processes serve, and each has a memory of its own: what it keeps is the same for all time,
or forgotten after a moment. A lane that was read before, in whichever revision, is the very same
object again, so that what was worked out for it still serves.
"""

import json
import time
from collections.abc import Sequence
from typing import Any

import orjson
from lattice import Edit, Lane, Recipe, apply_all, read, to_json

from studio.models import Revision
from studio.worked_out.memory import Memory

_SECONDS = 2.0
"""So long a piece or pattern that was deleted elsewhere may still be looked at."""
_recipes: Memory[int, Recipe] = Memory(16 * 2**20)
_lanes: Memory[bytes, Lane] = Memory(16 * 2**20)
_tried: Memory[tuple[int, str], Recipe] = Memory(1024)
"""By the number of lanes that are others than before."""
_places: Memory[int, int] = Memory(4096)
_owned: Memory[tuple[int, int, int | None], float] = Memory(2048)


def recipe_of(revision_id: int) -> Recipe:
    """The recipe of a revision; the caller has checked that it may be seen."""
    known = _recipes.get(revision_id)
    if known is not None:
        return known
    document = Revision.objects.values_list("recipe", flat=True).get(pk=revision_id)
    texts = [_text(lane) for lane in document.get("lanes", ())]
    lanes = tuple(_lanes.get(text) or _lanes.put(text, Lane.model_validate_json(text), len(text))
                  for text in texts)
    recipe = read(document | {"lanes": []}).model_copy(update={"lanes": lanes})
    return _recipes.put(revision_id, recipe, sum(map(len, texts)) + 1000)


def recipe_with(revision_id: int, edits: Sequence[Edit]) -> Recipe:
    """The recipe of a revision with edits made. What was just looked at is stored and heard next:
    the same edits give the very same lanes again."""
    if not edits:
        return recipe_of(revision_id)
    key = revision_id, json.dumps([to_json(each) for each in edits])
    known = _tried.get(key)
    if known is not None:
        return known
    before = recipe_of(revision_id)
    kept = set(map(id, before.lanes))
    recipe = apply_all(before, edits)
    return _tried.put(key, recipe, 1 + sum(id(lane) not in kept for lane in recipe.lanes))


def patterns_by_revision(revision_ids: set[int]) -> dict[int, int]:
    """The pattern of each of these revisions that there are."""
    found = {each: known for each in revision_ids if (known := _places.get(each)) is not None}
    if len(found) < len(revision_ids):
        wanted = Revision.objects.filter(pk__in=revision_ids - found.keys())
        for revision_id, pattern_id in wanted.values_list("pk", "pattern_id"):
            found[revision_id] = _places.put(revision_id, pattern_id)
    return found


def remember(revision_id: int, recipe: Recipe, document: dict[str, Any]) -> None:
    """Keep a recipe, and its document, that are just being stored."""
    texts = [_text(lane) for lane in document.get("lanes", ())]
    for text, lane in zip(texts, recipe.lanes, strict=True):
        _lanes.put(text, lane, len(text))
    _recipes.put(revision_id, recipe, sum(map(len, texts)) + 1000)


def _text(lane: dict[str, Any]) -> bytes:
    return orjson.dumps(lane, option=orjson.OPT_SORT_KEYS)


def belongs(revision_id: int, pattern_id: int, owner_id: int | None) -> bool:
    """Whether a revision is one of this pattern, and the pattern this owner's and not deleted."""
    place = (revision_id, pattern_id, owner_id)
    seen = _owned.get(place)
    if seen is not None and time.monotonic() - seen < _SECONDS:
        return True
    if not Revision.objects.filter(pk=revision_id, pattern_id=pattern_id, pattern__deleted=None,
                                   pattern__piece__deleted=None,
                                   pattern__piece__owner_id=owner_id).exists():
        return False
    _owned.put(place, time.monotonic())
    return True
