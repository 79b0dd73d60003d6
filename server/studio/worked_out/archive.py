"""Files of pieces: a .zip archive with pieces.json, whose schema is docs/piece.schema.json, and the
recordings that the pieces are heard by, each as sounds/ and its SHA-256."""

import io
import json
import re
import zlib
from collections.abc import Mapping
from typing import Any
from zipfile import BadZipFile, ZipFile

from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.midi.export import zipped
from lattice.piece import Pieces, read_pieces

from studio.worked_out.strictly import NotToBeKept, strictly

MIB = 2**20
MOST_BYTES = 64 * MIB
MOST_UNPACKED = 160 * MIB
MOST_SAID = 32 * MIB
"""Of pieces.json, unpacked."""
SAID = "pieces.json"
SOUND = re.compile(r"sounds/([0-9a-f]{64})")


def packed(pieces: Pieces, sounds: Mapping[str, bytes]) -> bytes:
    """The file of pieces and recordings."""
    said = {"format": pieces.format, "version": pieces.version} | to_json(pieces)
    return zipped([(SAID, json.dumps(said, ensure_ascii=False, indent=1).encode()),
                   *((f"sounds/{digest}", data) for digest, data in sorted(sounds.items()))])


def unpacked(data: bytes) -> tuple[Pieces, dict[str, bytes]]:
    """What a file says, and its recordings; RecipeError with one sentence, and the place, where it
    is damaged or too large. A document by itself, without an archive, is read too."""
    if len(data) > MOST_BYTES:
        raise RecipeError(f"A file of pieces takes up to {MOST_BYTES // MIB} MB; let fewer pieces "
                          "leave at once.")
    if not data.startswith(b"PK"):
        return read_pieces(_said(data)), {}
    try:
        with ZipFile(io.BytesIO(data)) as archive:
            entries = archive.infolist()
            if sum(entry.file_size for entry in entries) > MOST_UNPACKED:
                raise RecipeError(f"This file holds more than {MOST_UNPACKED // MIB} MB.")
            named = {entry.filename: entry for entry in entries}
            if SAID not in named:
                raise RecipeError(f"There is no {SAID} in this archive, so it holds no pieces.")
            if named[SAID].file_size > MOST_SAID:
                raise RecipeError(f"{SAID} is larger than {MOST_SAID // MIB} MB.")
            pieces = read_pieces(_said(archive.read(SAID)))
            return pieces, {found[1]: archive.read(name) for name in named
                            if (found := SOUND.fullmatch(name))}
    except RecipeError:
        raise
    except (BadZipFile, NotImplementedError, EOFError, OSError, ValueError, RuntimeError,
            zlib.error) as problem:
        told = re.sub(r"[^\x20-\x7e]", "?", str(problem)).rstrip(".")[:100]
        raise RecipeError(f"This file is damaged: {told or 'it ends too early'}.") from None


def _said(data: bytes) -> Any:
    """The document; RecipeError with the place of what is no JSON."""
    if len(data) > MOST_SAID:
        raise RecipeError(f"{SAID} is larger than {MOST_SAID // MIB} MB.")
    try:
        return strictly(data)
    except json.JSONDecodeError as problem:
        raise RecipeError(f"{SAID} is damaged at line {problem.lineno}, column {problem.colno}: "
                          f"{problem.msg}.") from None
    except (NotToBeKept, RecursionError, UnicodeDecodeError):
        raise RecipeError(f"{SAID} holds something that no document can have.") from None
