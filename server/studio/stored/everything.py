"""All that a musician has here as one archive, written while it is sent."""

import json
from collections.abc import Iterator
from typing import Any

from django.contrib.auth.models import User
from django.core.serializers.json import DjangoJSONEncoder
from lattice import Pieces, RecipeError, safe_names
from zipstream import ZIP_STORED, ZipStream

from studio.incoming.archive import packed
from studio.models import Link, OwnStart, Piece, SignIn, SoundFile, TrailPass
from studio.stored import piece_files

ABOUT = """\
All that {name} has in Jolly Lattice.

pieces/    a file for each piece, as "Save as a file" writes it, with its sounds; drop it on the
           list of pieces to have it again. deleted/ holds those that can still be brought back.
trail/     for each piece the passes that lie on its Trail, as JSON.
sounds/    recordings of your own, each called by the SHA-256 of its bytes.
account.json   your name, your starting recipes, your links, and where you are signed in.
"""
ENDINGS = {"audio/wav": ".wav", "audio/flac": ".flac", "audio/ogg": ".ogg", "audio/mpeg": ".mp3"}


def everything_of(user: User) -> ZipStream:
    """The archive, made as it is read: piece by piece, so that it may be of any size."""
    archive = ZipStream(compress_type=ZIP_STORED)  # what is large in it is packed already
    archive.add(ABOUT.format(name=user.get_username()).encode(), "READ ME.txt")
    archive.add(_json(_account(user)), "account.json")
    pieces = list(Piece.objects.filter(owner=user).values_list("pk", "name", "deleted"))
    names = safe_names([name for _, name, _ in pieces], "")
    for (number, _, deleted), name in zip(pieces, names, strict=True):
        room = "deleted" if deleted else "pieces"
        archive.add(_piece(user.pk, number), f"{room}/{name}.lattice.zip")
        archive.add(_trail(number), f"trail/{name}.json")
    for digest, kind in SoundFile.objects.filter(owner=user).values_list("digest", "kind"):
        archive.add(_sound(user.pk, digest), f"sounds/{digest}{ENDINGS.get(kind, '')}")
    return archive


def _piece(owner: int, number: int) -> Iterator[bytes]:
    try:
        piece = piece_files.piece_document(Piece.objects.select_related("head").get(pk=number))
        document = Pieces(pieces=(piece,))
        yield packed(document, piece_files.recordings(owner, document))
    except (Piece.DoesNotExist, RecipeError) as problem:  # deleted meanwhile, or too large
        yield f"This piece could not be written: {problem}".encode()


def _trail(number: int) -> Iterator[bytes]:
    yield _json(list(TrailPass.objects.filter(pattern__piece=number).values(
        "pattern__name", "ordinal", "number", "beats", "segments", "kept", "created")))


def _sound(owner: int, digest: str) -> Iterator[bytes]:
    for data in SoundFile.objects.filter(owner=owner, digest=digest).values_list("data", flat=True):
        yield bytes(data)


def _account(user: User) -> dict[str, Any]:
    links = Link.objects.filter(piece__owner=user)
    return {"name": user.get_username(), "since": user.date_joined,
            "starts": list(OwnStart.objects.filter(owner=user).values_list("document", flat=True)),
            "links": list(links.values("piece__name", "name", "by", "token", "follows", "created")),
            "signed in": list(SignIn.objects.filter(owner=user).values("agent", "begun", "seen"))}


def _json(value: Any) -> bytes:
    return json.dumps(value, ensure_ascii=False, indent=1, cls=DjangoJSONEncoder).encode()
