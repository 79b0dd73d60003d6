"""Pieces as files: out, one or several, and in again."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from lattice.base.errors import RecipeError
from lattice.midi.export import safe_name
from ninja import Query, Router, Schema

from studio.api.clips import download
from studio.api.listed import Numbers, listed
from studio.api.pieces import PieceOut, piece_out, pieces_of
from studio.stored import piece_files
from studio.worked_out.archive import MOST_BYTES, packed, unpacked

router = Router(tags=["piece files"])
RAW = {"requestBody": {"required": True, "content": {
    "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}}


class SeveralPieces(Schema):
    """Which pieces, by their numbers with commas between; all, where none is named."""

    pieces: Numbers = ""


class ArriveIn(Schema):
    """`key` makes sending a file twice harmless."""

    key: UUID


@router.get("/pieces.zip")
def save_pieces(request: HttpRequest, several: Query[SeveralPieces]) -> HttpResponse:
    """Pieces with everything in them as one file."""
    pieces = pieces_of(request).filter(deleted=None)
    if several.pieces:
        pieces = pieces.filter(pk__in=listed(several.pieces))
    found = list(pieces.select_related("head"))
    if not found:
        raise RecipeError("There is no piece to be saved.")
    document = piece_files.leaving(found)
    name = found[0].name if len(found) == 1 else "Jolly Lattice pieces"
    data = packed(document, piece_files.recordings(request.auth, document))
    if len(data) > MOST_BYTES:
        raise RecipeError("These pieces with their sounds are more than one file takes; save fewer "
                          "at once.")
    return download(data, "application/zip", f"{safe_name(name)}.lattice.zip")


@router.post("/piece-files", response=list[PieceOut], openapi_extra=RAW)
def bring_pieces(request: HttpRequest, wanted: Query[ArriveIn]) -> list[dict[str, Any]]:
    """Make the pieces that a file (the body) holds."""
    document, sounds = unpacked(request.read(MOST_BYTES + 1))
    return [piece_out(piece) for piece in
            piece_files.arrive(request.auth, document, sounds, wanted.key)]
