"""Files of pieces: a .zip archive with pieces.json, whose schema is docs/piece.schema.json, and the
recordings that the pieces are heard by, each as sounds/ and its SHA-256."""

import io
import json
import re
import zlib
from collections.abc import Mapping
from typing import Any
from zipfile import BadZipFile, ZipFile

from lattice import Pieces, RecipeError, read_pieces, to_json, zipped

from studio.incoming.strictly import NotToBeKept, strictly
from studio.limits import MOST_SOUND

MIB = 2**20
MOST_BYTES = 64 * MIB
MOST_SAID = 32 * MIB
"""Of pieces.json, unpacked."""
MOST_VALUES = 1_000_000
"""In pieces.json: numbers, texts, lists and all."""
MOST_DIRECTORY = MIB // 4
"""Of an archive's list of its files, which names some 2,000."""
SAID = "pieces.json"
SOUND = re.compile(r"sounds/([0-9a-f]{64})")


def packed(pieces: Pieces, sounds: Mapping[str, bytes]) -> bytes:
    """The file of pieces and recordings."""
    said = {"format": pieces.format, "version": pieces.version} | to_json(pieces)
    text = json.dumps(said, ensure_ascii=False, indent=1).encode()
    _check_size(text)
    return zipped([(SAID, text),
                   *((f"sounds/{digest}", data) for digest, data in sorted(sounds.items()))])


def unpacked(data: bytes) -> tuple[Pieces, dict[str, bytes]]:
    """What a file says, and its recordings; RecipeError with one sentence, and the place, where it
    is damaged or too large. A document by itself, without an archive, is read too."""
    if len(data) > MOST_BYTES:
        raise RecipeError(f"A file of pieces takes up to {MOST_BYTES // MIB} MB; let fewer pieces "
                          "leave at once.")
    if not data.startswith(b"PK"):
        return read_pieces(_said(data)), {}
    _check_directory(data)
    try:
        with ZipFile(io.BytesIO(data)) as archive:
            named = {entry.filename: entry for entry in archive.infolist()}
            if SAID not in named:
                raise RecipeError(f"There is no {SAID} in this archive, so it holds no pieces.")
            if named[SAID].file_size > MOST_SAID:
                raise RecipeError(f"{SAID} is larger than {MOST_SAID // MIB} MB.")
            sounds = {found[1]: entry for name, entry in named.items()
                      if (found := SOUND.fullmatch(name))}
            if any(entry.file_size > MOST_SOUND for entry in sounds.values()) or \
                    sum(entry.file_size for entry in sounds.values()) > 2 * MOST_BYTES:
                raise RecipeError(f"The sounds in this file are too large: each takes up to "
                                  f"{MOST_SOUND // MIB} MB, all of them {2 * MOST_BYTES // MIB}.")
            pieces = read_pieces(_said(archive.read(SAID)))
            return pieces, {digest: archive.read(entry) for digest, entry in sounds.items()}
    except RecipeError:
        raise
    except (BadZipFile, NotImplementedError, EOFError, OSError, ValueError, RuntimeError,
            zlib.error) as problem:
        told = re.sub(r"[^\x20-\x7e]", "?", str(problem)).rstrip(".")[:100]
        raise RecipeError(f"This file is damaged: {told or 'it ends too early'}.") from None


def _check_directory(data: bytes) -> None:
    """RecipeError where the list of an archive's files is long, before it is read: its size is told
    at the archive's end (APPNOTE 4.3.16)."""
    at = data.rfind(b"PK\5\6", -(22 + 2**16))
    if at >= 0 and (int.from_bytes(data[at + 12:at + 16], "little") > MOST_DIRECTORY
                    or data[at - 20:at - 16] == b"PK\6\7"):
        raise RecipeError("This archive holds too many files; let fewer pieces leave at once.")


def _check_size(said: bytes) -> None:
    """RecipeError where a document is too large, in bytes or in values, before it is read."""
    if len(said) > MOST_SAID:
        raise RecipeError(f"{SAID} is larger than {MOST_SAID // MIB} MB; let fewer pieces leave at "
                          "once.")
    if sum(map(said.count, (b",", b"[", b"{"))) > MOST_VALUES:  # at least as many as there are
        raise RecipeError(f"{SAID} holds more than {MOST_VALUES:,} values; let fewer pieces leave "
                          "at once.")


def _said(data: bytes) -> Any:
    """The document; RecipeError with the place of what is no JSON."""
    _check_size(data)
    try:
        return strictly(data)
    except json.JSONDecodeError as problem:
        raise RecipeError(f"{SAID} is damaged at line {problem.lineno}, column {problem.colno}: "
                          f"{problem.msg}.") from None
    except (NotToBeKept, RecursionError, UnicodeDecodeError):
        raise RecipeError(f"{SAID} holds something that no document can have.") from None
