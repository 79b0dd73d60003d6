"""Pieces and their patterns: list, make, rename, duplicate, delete and bring back."""

from collections.abc import Callable
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from django.db import transaction
from django.db.models import Count, QuerySet
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from lattice import Recipe
from ninja import Router, Schema

from studio.api.answers import json_of
from studio.api.clips import ClipOut, clip_out
from studio.api.names import NameIn, NewIn
from studio.api.owned import clips_of, patterns_of, pieces_of
from studio.api.signed_in import FromOwner
from studio.models import Clip, Pattern, Piece, Revision
from studio.stored import orders, patterns
from studio.stored.clearing import TO_COME_BACK
from studio.stored.owners import check_pieces, owner_locked
from studio.worked_out.recipes import recipe_of
from studio.worked_out.thumbs import Pictures, Thumb, revision_thumb

router = Router(tags=["pieces"])
PLAIN = Recipe()


class PatternIn(NewIn):
    """A new pattern; `copy_of` is the pattern to begin from."""

    copy_of: int | None = None


class DeletedOut(Schema):
    """Something that was deleted and can be brought back `until` it goes for good; `piece` is the
    name of its piece."""

    kind: Literal["piece", "pattern", "clip"]
    id: int
    name: str
    piece: str
    deleted: datetime
    until: datetime


class KeyIn(Schema):
    """`key` makes asking for the same thing twice harmless."""

    key: UUID | None = None


class PatternOut(Schema):
    """A pattern in a list."""

    id: int
    name: str
    thumb: Thumb


class PieceOut(Schema):
    """A piece in a list."""

    id: int
    name: str
    tempo: float
    meter: tuple[int, int]
    patterns: list[PatternOut]
    clips: int


class PieceWhole(PieceOut):
    """A piece with the clips on its Shelf."""

    shelf: list[ClipOut]


def pattern_out(pattern: Pattern) -> dict[str, Any]:
    """A pattern as the API lists it."""
    return {"id": pattern.id, "name": pattern.name,
            "thumb": revision_thumb(pattern.state)}


def pieces_out(pieces: QuerySet[Piece]) -> list[dict[str, Any]]:
    """Pieces as the API lists them; tempo and metre are those of the first pattern."""
    listed: dict[int, list[dict[str, Any]]] = {}
    first: dict[int, int] = {}
    pictures = Pictures()
    clips = dict(Clip.objects.filter(piece__in=pieces, deleted=None).order_by()
                 .values_list("piece_id").annotate(count=Count("pk")))
    for pattern in Pattern.objects.filter(piece__in=pieces, deleted=None):
        first.setdefault(pattern.piece_id, pattern.state)
        listed.setdefault(pattern.piece_id, []).append({
            "id": pattern.id, "name": pattern.name, "thumb": pictures.of_pattern(pattern.state)})
    said = {number: (tempo or PLAIN.tempo, meter or PLAIN.meter) for number, tempo, meter in
            Revision.objects.filter(pk__in=first.values()).values_list(
                "pk", "recipe__tempo", "recipe__meter")}
    return [{"id": piece.id, "name": piece.name, "tempo": tempo, "meter": meter,
             "patterns": listed.get(piece.pk, []), "clips": clips.get(piece.pk, 0)}
            for piece in pieces for tempo, meter in (
                said.get(first.get(piece.pk, 0), (PLAIN.tempo, PLAIN.meter)),)]


def piece_out(piece: Piece) -> dict[str, Any]:
    """A piece as the API lists it."""
    return pieces_out(Piece.objects.filter(pk=piece.pk))[0]


@router.get("/pieces", response=list[PieceOut])
def list_pieces(request: FromOwner) -> HttpResponse:
    """All pieces, the newest last."""
    return json_of(pieces_out(pieces_of(request).filter(deleted=None)))


@router.get("/deleted", response=list[DeletedOut])
def list_deleted(request: FromOwner) -> list[dict[str, Any]]:
    """What was deleted in the last thirty days, the latest first."""
    since = timezone.now() - TO_COME_BACK
    found: list[dict[str, Any]] = [
        {"kind": "piece", "id": piece.id, "name": piece.name, "piece": piece.name,
         "deleted": piece.deleted} for piece in pieces_of(request).filter(deleted__gt=since)]
    for kind, things in (("pattern", patterns_of(request)), ("clip", clips_of(request))):
        found += [{"kind": kind, "id": each.id, "name": each.name, "piece": each.piece.name,
                   "deleted": each.deleted}
                  for each in things.filter(deleted__gt=since).select_related("piece")]
    for each in found:
        each["until"] = each["deleted"] + TO_COME_BACK
    return sorted(found, key=lambda each: each["deleted"], reverse=True)


@router.post("/pieces", response=PieceOut)
def make_piece(request: FromOwner, data: NewIn) -> dict[str, Any]:
    """A new piece with one empty pattern."""
    return piece_out(_new_piece(request, data.name, data.key, lambda piece: [
        ("Pattern 1", Recipe(seed=piece.id))]))


def _new_piece(request: FromOwner, name: str, key: UUID | None,
               contents: Callable[[Piece], list[tuple[str, Recipe]]]) -> Piece:
    """A new piece with these patterns; the one that is there if it was made with this key."""
    with owner_locked(request.auth):
        known = pieces_of(request).filter(key=key).first() if key else None
        if known:
            return known
        check_pieces(request.auth, 1)
        piece = Piece.objects.create(owner_id=request.auth, name=name, key=key)
        for title, recipe in contents(piece):
            patterns.begin(piece, title, recipe)
    return piece


@router.get("/pieces/{piece_id}", response=PieceWhole)
def read_piece(request: FromOwner, piece_id: int) -> dict[str, Any]:
    """One piece, with its Shelf."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    shelf = [clip_out(clip) for clip in piece.clips.filter(deleted=None)]
    return piece_out(piece) | {"shelf": shelf}


@router.patch("/pieces/{piece_id}", response=PieceOut)
def rename_piece(request: FromOwner, piece_id: int, data: NameIn) -> dict[str, Any]:
    """Give a piece another name."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    piece.name = data.name
    piece.save(update_fields=["name"])
    return piece_out(piece)


@router.post("/pieces/{piece_id}/duplicate", response=PieceOut)
def duplicate_piece(request: FromOwner, piece_id: int,
                    data: KeyIn | None = None) -> dict[str, Any]:
    """A copy of a piece: its patterns and their order as they stand, without their past and
    without clips."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    with transaction.atomic():
        copy = _new_piece(
            request, f"{piece.name[:73]} (copy)", data.key if data else None, lambda _: [
                (pattern.name, recipe_of(pattern.state))
                for pattern in piece.patterns.filter(deleted=None)])
        orders.copy(piece, copy)
    return piece_out(copy)


@router.delete("/pieces/{piece_id}", response={204: None})
def delete_piece(request: FromOwner, piece_id: int) -> tuple[int, None]:
    """Take a piece out of the list; it can be brought back."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id)
    piece.deleted = piece.deleted or timezone.now()
    piece.save(update_fields=["deleted"])
    return 204, None


@router.post("/pieces/{piece_id}/restore", response=PieceOut)
def restore_piece(request: FromOwner, piece_id: int) -> dict[str, Any]:
    """Bring a deleted piece back."""
    with owner_locked(request.auth):
        piece = get_object_or_404(pieces_of(request), pk=piece_id)
        if piece.deleted:
            check_pieces(request.auth, 1)
            piece.deleted = None
            piece.save(update_fields=["deleted"])
    return piece_out(piece)


@router.post("/pieces/{piece_id}/patterns", response=PatternOut)
def make_pattern(request: FromOwner, piece_id: int, data: PatternIn) -> dict[str, Any]:
    """A new pattern in a piece: empty, or a copy of another of its patterns."""
    with patterns.locked(owner=request.auth, pk=piece_id) as piece:
        there = piece.patterns.filter(deleted=None)
        if data.copy_of is not None:
            recipe = recipe_of(get_object_or_404(there, pk=data.copy_of).state)
        else:
            first = there.first()
            recipe = recipe_of(first.state) if first else Recipe()
            recipe = Recipe(tempo=recipe.tempo, meter=recipe.meter, key=recipe.key,
                            seed=there.count() + 1)
        return pattern_out(patterns.begin(piece, data.name, recipe, data.key))


@router.patch("/patterns/{pattern_id}", response=PatternOut)
def rename_pattern(request: FromOwner, pattern_id: int, data: NameIn) -> dict[str, Any]:
    """Give a pattern another name."""
    pattern = get_object_or_404(patterns_of(request), pk=pattern_id, deleted=None)
    pattern.name = data.name
    pattern.save(update_fields=["name"])
    return pattern_out(pattern)


@router.delete("/patterns/{pattern_id}", response={204: None})
def delete_pattern(request: FromOwner, pattern_id: int) -> tuple[int, None]:
    """Take a pattern out of its piece; it can be brought back."""
    pattern = get_object_or_404(patterns_of(request), pk=pattern_id)
    pattern.deleted = pattern.deleted or timezone.now()
    pattern.save(update_fields=["deleted"])
    return 204, None


@router.post("/patterns/{pattern_id}/restore", response=PatternOut)
def restore_pattern(request: FromOwner, pattern_id: int) -> dict[str, Any]:
    """Bring a deleted pattern back."""
    with patterns.locked(owner=request.auth, patterns=pattern_id) as piece:
        pattern = get_object_or_404(patterns_of(request), pk=pattern_id)
        if pattern.deleted:
            patterns.check_room(piece)
            pattern.deleted = None
            pattern.save(update_fields=["deleted"])
    return pattern_out(pattern)
