"""Pieces as files: out, one or several, and in again."""

from uuid import UUID

from django.http import HttpResponse
from lattice import RecipeError, safe_name
from ninja import Query, Router, Schema

from studio.api.answers import download, json_of
from studio.api.listed import Numbers, listed
from studio.api.owned import pieces_of
from studio.api.signed_in import FromOwner
from studio.incoming.archive import MOST_BYTES, packed, unpacked
from studio.stored import piece_files

router = Router(tags=["piece files"])
RAW = {"requestBody": {"required": True, "content": {
    "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}}


class SeveralPieces(Schema):
    """Which pieces, by their numbers with commas between; all, where none is named."""

    pieces: Numbers = ""


class ArrivedOut(Schema):
    """A piece that came in."""

    id: int
    name: str


class ArriveIn(Schema):
    """`key` makes sending a file twice harmless."""

    key: UUID


@router.get("/pieces.zip")
def save_pieces(request: FromOwner, several: Query[SeveralPieces]) -> HttpResponse:
    """Pieces with everything in them as one file."""
    pieces = pieces_of(request).filter(deleted=None)
    if several.pieces:
        pieces = pieces.filter(pk__in=listed(several.pieces))
    document = piece_files.leaving(pieces.select_related("head"))
    if not document.pieces:
        raise RecipeError("There is no piece to be saved.")
    name = document.pieces[0].name if len(document.pieces) == 1 else "Jolly Lattice pieces"
    data = packed(document, piece_files.recordings(request.auth, document))
    if len(data) > MOST_BYTES:
        raise RecipeError("These pieces with their sounds are more than one file takes; save fewer "
                          "at once.")
    return download(data, "application/zip", f"{safe_name(name)}.lattice.zip")


@router.post("/piece-files", response=list[ArrivedOut], openapi_extra=RAW)
def bring_pieces(request: FromOwner, wanted: Query[ArriveIn]) -> HttpResponse:
    """Make the pieces that a file (the body) holds."""
    document, sounds = unpacked(request.read(MOST_BYTES + 1))
    return json_of([{"id": piece.id, "name": piece.name} for piece in
                    piece_files.arrive(request.auth, document, sounds, wanted.key)])
