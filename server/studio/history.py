"""Revisions: storing edits, undo and redo."""

from collections.abc import Sequence
from typing import Any

from django.db import transaction
from lattice.edits import Edit
from lattice.recipe import Recipe, to_json

from studio.models import Pattern, Piece, Revision
from studio.recipes import recipe_of, remember

SHARED = ("tempo", "meter", "key")
"""What belongs to the piece, and so is the same in all its patterns."""


class StaleEdit(Exception):
    """The edit was made on a revision that is no longer the pattern's newest."""

    def __init__(self, pattern: Pattern, tried: str) -> None:
        super().__init__(tried)
        self.pattern, self.tried = pattern, tried


def begin(piece: Piece, name: str, recipe: Recipe) -> Pattern:
    """A new pattern with its first revision."""
    with transaction.atomic():
        pattern = Pattern.objects.create(piece=piece, name=name)
        _append(pattern, recipe, "made")
    return pattern


def store(pattern: Pattern, revision: int, edits: Sequence[Edit]) -> Pattern:
    """Append one revision with the edits made; StaleEdit if `revision` is not the newest."""
    with transaction.atomic():
        pattern = _locked(pattern, revision, edits)
        before = recipe_of(revision)
        recipe, labels = before, []
        for edit in edits:
            labels.append(edit.describe(recipe))
            recipe = edit.apply(recipe)
        if recipe != before:
            _append(pattern, recipe, "; ".join(labels)[:200])
            _share(pattern, recipe)
    return pattern


def move(pattern: Pattern, revision: int, back: bool) -> Pattern:
    """Undo (`back`) or redo one revision; nothing happens at either end."""
    with transaction.atomic():
        pattern = _locked(pattern, revision, ())
        target = pattern.head.parent if back else newest_child(pattern.head)
        if target is not None:
            pattern.head = target
            pattern.save(update_fields=["head"])
            _share(pattern, recipe_of(target.id))
    return pattern


def newest_child(revision: Revision) -> Revision | None:
    """The revision that redo leads to."""
    return revision.children.order_by("-id").first()


def history_of(pattern: Pattern) -> dict[str, Any]:
    """Whether there is something to undo and to redo, and what it was."""
    head = pattern.head
    following = newest_child(head)
    return {"undo": head.label if head.parent_id else None,
            "redo": following.label if following else None}


def _locked(pattern: Pattern, revision: int, edits: Sequence[Edit]) -> Pattern:
    locked = Pattern.objects.select_for_update(of=("self",)).select_related("head").get(
        pk=pattern.pk)
    if locked.head_id != revision:
        try:
            tried = "; ".join(edit.describe(recipe_of(locked.head_id)) for edit in edits)
        except ValueError:
            tried = "your change"
        raise StaleEdit(locked, tried or "undo")
    return locked


def _append(pattern: Pattern, recipe: Recipe, label: str) -> None:
    pattern.head = Revision.objects.create(pattern=pattern, parent=pattern.head,
                                           recipe=to_json(recipe), label=label)
    pattern.save(update_fields=["head"])
    remember(pattern.head.id, recipe)


def _share(pattern: Pattern, recipe: Recipe) -> None:
    """Bring the piece's other patterns to the same tempo, metre and key."""
    shared = {name: getattr(recipe, name) for name in SHARED}
    others = Pattern.objects.select_for_update(of=("self",)).filter(
        piece_id=pattern.piece_id, deleted=None).exclude(pk=pattern.pk).select_related("head")
    for other in others:
        theirs = recipe_of(other.head_id)
        if any(getattr(theirs, name) != value for name, value in shared.items()):
            _append(other, theirs.model_copy(update=shared), "tempo, metre and key of the piece")
