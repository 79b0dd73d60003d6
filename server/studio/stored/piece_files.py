"""Pieces that leave as documents, and come back."""

from collections.abc import Iterable, Mapping
from uuid import UUID, uuid5

from django.db import transaction
from lattice.base.errors import RecipeError
from lattice.piece import Piece as PieceDocument
from lattice.piece import PieceClip, PiecePattern, Pieces

from studio.models import Clip, Piece, SoundFile
from studio.stored import clips, history, orders, sounds, trail
from studio.worked_out.recipes import recipe_of


def leaving(pieces: Iterable[Piece]) -> Pieces:
    """Pieces as they stand, without their past and without the Trail."""
    return Pieces(pieces=tuple(map(_document, pieces)))


def _document(piece: Piece) -> PieceDocument:
    patterns = list(piece.patterns.filter(deleted=None))
    places = {pattern.pk: place for place, pattern in enumerate(patterns)}
    return PieceDocument(
        name=piece.name,
        patterns=tuple(PiecePattern(name=pattern.name, recipe=recipe_of(pattern.head_id))
                       for pattern in patterns),
        order=orders.order_of(piece).renumbered(
            {number: place + 1 for number, place in places.items()}),
        clips=tuple(_clip(clip, places) for clip in piece.clips.filter(deleted=None)))


def _clip(clip: Clip, places: Mapping[int, int]) -> PieceClip:
    return PieceClip(
        name=clip.name, clip=clips.notes_of(clip.head_id), starred=clip.starred,
        tags=tuple(clip.tags), recipe=trail.made_by(clip),
        pattern=places.get(clip.pattern_id) if clip.pattern_id else None)


def recordings(owner: int, pieces: Pieces) -> dict[str, bytes]:
    """The recordings that pieces are heard by, as far as they are kept here."""
    wanted = {digest for piece in pieces.pieces for digest in piece.recordings}
    return {digest: bytes(data) for digest, data in SoundFile.objects.filter(
        owner=owner, digest__in=wanted).values_list("digest", "data")}


def arrive(owner: int, pieces: Pieces, found: Mapping[str, bytes], key: UUID) -> list[Piece]:
    """Make pieces of a document, and keep their recordings; all of it, or nothing with a
    RecipeError that names the piece. Asking again under the same key changes nothing."""
    made = []
    with transaction.atomic():
        for digest, data in found.items():
            sounds.keep(owner, digest, data)
        for number, document in enumerate(pieces.pieces):
            piece, new = Piece.objects.get_or_create(
                owner_id=owner, key=uuid5(key, str(number)), defaults={"name": document.name})
            made.append(piece)
            if new:
                try:
                    _fill(piece, document)
                except RecipeError as problem:
                    raise RecipeError(f"In “{document.name}”: {problem}") from None
    return made


def _fill(piece: Piece, document: PieceDocument) -> None:
    patterns = [history.begin(piece, each.name, each.recipe, label="came in")
                for each in document.patterns]
    if document.order.blocks:
        orders.begin(piece, document.order.renumbered(
            {place: pattern.pk for place, pattern in enumerate(patterns, 1)}))
    for each in reversed(document.clips):  # the last that is laid down lies first
        clips.shelve(piece, each.clip.model_copy(update={"name": each.name}), starred=each.starred,
                     tags=list(each.tags),
                     pattern=None if each.pattern is None else patterns[each.pattern],
                     segments=trail.known_by(each.recipe))
