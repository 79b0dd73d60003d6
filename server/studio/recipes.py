"""Recipes and owners of revisions, kept at hand: a revision never changes."""

import time
from collections import OrderedDict
from threading import Lock

from lattice.recipe import Recipe, read

from studio.models import Revision

_MOST_KEPT = 512
_SECONDS = 2.0
"""So long a piece or pattern that was deleted elsewhere may still be looked at."""
_kept: OrderedDict[int, Recipe] = OrderedDict()
_owned: OrderedDict[tuple[int, int, int | None], float] = OrderedDict()
_lock = Lock()


def recipe_of(revision_id: int) -> Recipe:
    """The recipe of a revision; the caller has checked that it may be seen."""
    with _lock:
        if revision_id in _kept:
            _kept.move_to_end(revision_id)
            return _kept[revision_id]
    document = Revision.objects.values_list("recipe", flat=True).get(pk=revision_id)
    return remember(revision_id, read(document))


def belongs(revision_id: int, pattern_id: int, owner_id: int | None) -> bool:
    """Whether a revision is one of this pattern, and the pattern this owner's and not deleted."""
    place = (revision_id, pattern_id, owner_id)
    now = time.monotonic()
    with _lock:
        if now - _owned.get(place, -_SECONDS) < _SECONDS:
            return True
    if not Revision.objects.filter(pk=revision_id, pattern_id=pattern_id, pattern__deleted=None,
                                   pattern__piece__deleted=None,
                                   pattern__piece__owner_id=owner_id).exists():
        return False
    with _lock:
        _owned[place] = now
        _owned.move_to_end(place)
        while len(_owned) > _MOST_KEPT:
            _owned.popitem(last=False)
    return True


def remember(revision_id: int, recipe: Recipe) -> Recipe:
    """Keep a recipe that was just stored at hand; its unchanged lanes stay the same objects, so
    that what was worked out for them still serves."""
    with _lock:
        _kept[revision_id] = recipe
        while len(_kept) > _MOST_KEPT:
            _kept.popitem(last=False)
    return recipe
