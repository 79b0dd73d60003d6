"""Pieces that leave as documents, and come back."""

from collections.abc import Mapping
from typing import Any
from uuid import UUID, uuid5

from django.db import connection
from django.db.models import QuerySet
from lattice import (
    ClipSaid,
    PieceClip,
    PiecePattern,
    Pieces,
    RecipeError,
    check_count,
    check_length,
    to_json,
)
from lattice import Piece as PieceDocument

from studio.limits import check_playable
from studio.models import (
    Clip,
    ClipRevision,
    OrderRevision,
    Pattern,
    Piece,
    Revision,
    SoundFile,
)
from studio.stored import clips, orders, sounds, trail
from studio.stored.owners import check_pieces, owner_locked
from studio.worked_out.recipes import recipe_of
from studio.worked_out.thumbs import thumb

CAME_IN = "came in"


def leaving(pieces: QuerySet[Piece]) -> Pieces:
    """Pieces as they stand, without their past and without the Trail; RecipeError where they are
    more than a file holds."""
    there = {"piece__in": pieces, "deleted": None}
    check_count(pieces.count(), Pattern.objects.filter(**there).count()
                + Clip.objects.filter(**there).count())
    return Pieces(pieces=tuple(map(piece_document, pieces)))


def piece_document(piece: Piece) -> PieceDocument:
    """A piece as it stands, without its past."""
    patterns = list(piece.patterns.filter(deleted=None))
    places = {pattern.pk: place for place, pattern in enumerate(patterns)}
    return PieceDocument(
        name=piece.name, patterns=tuple(map(pattern_document, patterns)),
        order=orders.order_of(piece).renumbered(
            {number: place + 1 for number, place in places.items()}),
        clips=tuple(clip_document(clip, places) for clip in piece.clips.filter(deleted=None)))


def pattern_document(pattern: Pattern) -> PiecePattern:
    """A pattern as it stands."""
    return PiecePattern(name=pattern.name, recipe=recipe_of(pattern.state))


def clip_document(clip: Clip, places: Mapping[int, int]) -> PieceClip:
    """A clip as it stands; `places`: of the patterns beside it, by their numbers."""
    return PieceClip(
        name=clip.name, clip=clips.notes_of(clip.state), **clips.said_of(clip),
        recipe=trail.made_by(clip),
        pattern=places.get(clip.pattern_id) if clip.pattern_id else None)


def recordings(owner: int, pieces: Pieces) -> dict[str, bytes]:
    """The recordings that pieces are heard by, as far as they are kept here."""
    wanted = {digest for piece in pieces.pieces for digest in piece.recordings}
    return {digest: bytes(data) for digest, data in SoundFile.objects.filter(
        owner=owner, digest__in=wanted).values_list("digest", "data")}


def arrive(owner: int, pieces: Pieces, found: Mapping[str, bytes], key: UUID) -> list[Piece]:
    """Make pieces of a document, and keep their recordings; all of it, or nothing with a
    RecipeError that names the piece. Asking again under the same key changes nothing."""
    _check(pieces)
    with owner_locked(owner):
        keys = [uuid5(key, str(number)) for number in range(len(pieces.pieces))]
        known = {piece.key: piece for piece in Piece.objects.filter(owner=owner, key__in=keys)}
        if known:
            return [known[key] for key in keys if key in known]
        check_pieces(owner, len(keys))
        for digest, data in found.items():
            sounds.keep(owner, digest, data)
        made = Piece.objects.bulk_create(
            Piece(owner_id=owner, key=key, name=document.name)
            for key, document in zip(keys, pieces.pieces, strict=True))
        _fill(list(zip(made, pieces.pieces, strict=True)))
    return made


def _check(pieces: Pieces) -> None:
    """RecipeError, before any of it is stored, where a piece holds what could not be opened."""
    for piece in pieces.pieces:
        try:
            for pattern in piece.patterns:
                check_playable(pattern.recipe)
            check_length(piece.order, {place: pattern.recipe for place, pattern
                                       in enumerate(piece.patterns, 1)})
        except RecipeError as problem:
            raise RecipeError(f"In “{piece.name}”: {problem}") from None


def _fill(pieces: list[tuple[Piece, PieceDocument]]) -> None:
    """Store what is in new pieces, all of a kind at once."""
    patterns = Pattern.objects.bulk_create(
        Pattern(piece=piece, name=each.name) for piece, said in pieces for each in said.patterns)
    recipes = [each.recipe for _, said in pieces for each in said.patterns]
    _stand(Pattern, [Revision(pattern=pattern, recipe=to_json(recipe), label=CAME_IN)
                     for pattern, recipe in zip(patterns, recipes, strict=True)])
    of: dict[int, list[Pattern]] = {}
    for pattern in patterns:
        of.setdefault(pattern.piece_id, []).append(pattern)
    _stand(Piece, [OrderRevision(piece=piece, label=CAME_IN, document=to_json(
        said.order.renumbered({place: each.pk for place, each in enumerate(of[piece.pk], 1)})))
        for piece, said in pieces if said.order.blocks])
    laid = [(piece, place, each) for piece, said in pieces
            for place, each in enumerate(said.clips)]
    shelved = Clip.objects.bulk_create(
        Clip(piece=piece, name=each.name, place=place,
             **each.model_dump(include=set(ClipSaid.model_fields)),
             pattern=None if each.pattern is None else of[piece.pk][each.pattern],
             segments=trail.known_by(each.recipe), picture=thumb(each.clip))
        for piece, place, each in laid)
    _stand(Clip, [ClipRevision(
        clip=clip, label="kept", document=to_json(each.clip.model_copy(update={"name": each.name})))
        for clip, (_, _, each) in zip(shelved, laid, strict=True)])


def _stand(kind: type[Pattern | Piece | Clip], states: list[Any]) -> None:
    """Store first states, and let each thing stand at its own."""
    if not states:
        return
    model, things = type(states[0]), kind._meta.db_table
    of = f"{kind._meta.model_name}_id"
    made = model.objects.bulk_create(states)
    with connection.cursor() as cursor:
        cursor.execute(
            f"UPDATE {things} SET head_id = state.id FROM {model._meta.db_table} state "  # noqa: S608
            f"WHERE state.{of} = {things}.id AND state.id = ANY(%s)", ([each.pk for each in made],))
