"""Patterns: storing edits as revisions, undo and redo."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import Any
from uuid import UUID

from django.db import connection, transaction
from django.shortcuts import get_object_or_404
from lattice import MOST_PATTERNS, Edit, Recipe, RecipeError, describe_all, to_json

from studio.limits import check_edits, check_playable
from studio.models import Pattern, Piece, Revision
from studio.stored import revisions
from studio.worked_out.recipes import recipe_of, recipe_with, remember

SHARED = ("tempo", "meter", "key")
"""What patterns of a piece have in common, but for those that came with their own."""


def begin(piece: Piece, name: str, recipe: Recipe, key: UUID | None = None,
          label: str = "made") -> Pattern:
    """A new pattern with its first revision; the one that was made with this key, if there is.
    RecipeError if the piece has as many as it may, Http404 if it is deleted."""
    with locked(pk=piece.pk) as held:
        known = held.patterns.filter(key=key).first() if key else None
        if known:
            return known
        check_room(held)
        pattern = Pattern.objects.create(piece=held, name=name, key=key)
        _append(pattern, recipe, label)
    return pattern


def check_room(piece: Piece) -> None:
    """RecipeError if a piece, which is locked, has as many patterns as it may."""
    if piece.patterns.filter(deleted=None).count() >= MOST_PATTERNS:
        raise RecipeError(f"A piece has up to {MOST_PATTERNS} patterns; delete one first.")


def store(owner: int, pattern_id: int, revision: int, edits: Sequence[Edit],
          key: UUID | None = None) -> Pattern:
    """Append one revision with the edits made; StaleEdit if `revision` is not the newest, Http404
    if the pattern is not this owner's. Edits whose `key` was stored before are left as they are."""
    check_edits(edits)
    with _locked_pattern(owner, pattern_id) as pattern:
        if revisions.stored_before(pattern, revision, key, lambda: _tried(pattern, edits)):
            return pattern
        before, recipe = recipe_of(revision), recipe_with(revision, edits)
        if recipe != before:
            _append(pattern, recipe, describe_all(before, edits)[:200], before, key)
            _share(pattern, recipe, before)
    return pattern


def fill(owner: int, pattern_id: int, source: int, revision: int,
         key: UUID | None = None) -> Pattern:
    """Give a pattern the lanes and the frame of another of its piece, as one revision; StaleEdit
    and Http404 as for edits."""
    with _locked_pattern(owner, pattern_id) as pattern:
        if revisions.stored_before(pattern, revision, key, str):
            return pattern
        other = get_object_or_404(pattern.piece.patterns, pk=source, deleted=None)
        given, before = recipe_of(other.state), recipe_of(revision)
        recipe = before.model_copy(update={
            name: getattr(given, name) for name in ("bars", "swing", "probability_scale", "lanes")})
        _append(pattern, recipe, f"as {other.name}", before, key)
    return pattern


def move(owner: int, pattern_id: int, revision: int, back: bool,
         key: UUID | None = None) -> Pattern:
    """Undo (`back`) or redo one revision; nothing happens at either end, nor where the last move
    had this `key`. StaleEdit and Http404 as for edits."""
    with _locked_pattern(owner, pattern_id) as pattern:
        if revisions.step(pattern, revision, back, key):
            _share(pattern, recipe_of(pattern.state), recipe_of(revision))
    return pattern


_SEEDS = """
WITH RECURSIVE past AS (
    SELECT id, parent_id, recipe, 0 AS age FROM studio_revision WHERE id = %s
    UNION ALL SELECT r.id, r.parent_id, r.recipe, past.age + 1
    FROM studio_revision r JOIN past ON r.id = past.parent_id WHERE past.age < 300)
SELECT coalesce((recipe->>'seed')::bigint, 0), (
    SELECT coalesce((lane->>'seed')::bigint, 0)
    FROM jsonb_array_elements(coalesce(recipe->'lanes', '[]'::jsonb)) lane WHERE lane->>'id' = %s)
FROM past ORDER BY age"""


def earlier_chances(pattern: Pattern, lane: str | None) -> tuple[list[int], list[int]]:
    """The seeds that the pattern had before its present one, and those that a lane had, the newest
    first, each once: the chances that can be gone back to."""
    with connection.cursor() as cursor:
        cursor.execute(_SEEDS, (pattern.state, lane))
        rows = cursor.fetchall()
    pattern_seeds, lane_seeds = (list(dict.fromkeys(
        seed for seed in seeds if seed is not None)) for seeds in zip(*rows, strict=True))
    return pattern_seeds[1:], lane_seeds[1:]


@contextmanager
def locked(**piece: Any) -> Iterator[Piece]:
    """Nobody else changes anything in the piece that these fields name (Http404 if there is none):
    it is the one thing that is ever locked, so that no two wait for each other."""
    with transaction.atomic():
        yield get_object_or_404(Piece.objects.select_for_update(of=("self",), no_key=True),
                                deleted=None, **piece)


@contextmanager
def _locked_pattern(owner: int, pattern_id: int) -> Iterator[Pattern]:
    """A pattern as it stands once its piece is locked: it may have changed while that was waited
    for."""
    with locked(owner=owner, patterns=pattern_id, patterns__deleted=None) as piece:
        pattern = Pattern.objects.select_related("head").defer("head__recipe").get(pk=pattern_id)
        pattern.piece = piece
        yield pattern


def _tried(pattern: Pattern, edits: Sequence[Edit]) -> str:
    """Edits in words, as seen from the newer state."""
    try:
        return "; ".join(edit.describe(recipe_of(pattern.state)) for edit in edits)
    except ValueError:
        return "your change"


def _append(pattern: Pattern, recipe: Recipe, label: str, before: Recipe | None = None,
            key: UUID | None = None) -> None:
    """Store a recipe as the pattern's newest revision, once it is known that it can be opened."""
    check_playable(recipe, before)
    document = to_json(recipe)
    revisions.append(pattern, Revision(pattern=pattern, key=key, recipe=document, label=label))
    remember(pattern.state, recipe, document)


def _share(pattern: Pattern, recipe: Recipe, before: Recipe) -> None:
    """Where tempo, metre or key changed, bring along the piece's other patterns that had the
    same."""
    shared = {name: value for name in SHARED
              if (value := getattr(recipe, name)) != getattr(before, name)}
    if not shared:
        return
    others = Pattern.objects.filter(piece_id=pattern.piece_id, deleted=None)
    for other in others.exclude(pk=pattern.pk).select_related("head"):
        theirs = recipe_of(other.state)
        changed = {name: value for name, value in shared.items()
                   if getattr(theirs, name) == getattr(before, name)}
        if changed:
            try:
                _append(other, theirs.model_copy(update=changed),
                        "tempo, metre and key of the piece", theirs)
            except RecipeError as problem:
                raise RecipeError(f"In the pattern {other.name}: {problem}") from None
