"""Parts of answers that are written already, each with a stamp of what it says."""

from base64 import urlsafe_b64encode
from hashlib import blake2b
from typing import Any

import orjson
from lattice.base.values import Document


class Written:
    """A part as JSON, and its stamp: parts of the same stamp are the same in everything."""

    __slots__ = ("stamp", "text")

    def __init__(self, text: bytes, stamp: str | None = None) -> None:
        self.text = text
        self.stamp = stamp or stamp_of(text)


def stamp_of(text: bytes) -> str:
    """Forty-eight bits of what is said, in eight letters."""
    return urlsafe_b64encode(blake2b(text, digest_size=6).digest()).decode()


def json_bytes(answer: Any) -> bytes:
    """An answer as JSON; documents in it are whole, with their neutral fields."""
    return orjson.dumps(answer, default=_plain)


def _plain(part: Any) -> Any:
    return orjson.Fragment(part.text) if isinstance(part, Written) else Document.model_dump(part)
