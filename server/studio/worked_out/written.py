"""Parts of answers that are written already, each with a stamp of what it says."""

from __future__ import annotations

from base64 import urlsafe_b64encode
from collections.abc import Sequence
from dataclasses import fields
from hashlib import blake2b
from typing import Any

import orjson
from lattice import Document

SHORT = 40
"""Characters: what is shorter is no part of its own."""


class Written:
    """A part as JSON, and its stamp: parts of the same stamp are the same in everything. `within`
    are parts in whose place it has their stamps."""

    __slots__ = ("stamp", "text", "within")

    def __init__(self, text: bytes, within: Sequence[Written] = (),
                 stamp: str | None = None) -> None:
        self.text, self.within = text, within
        self.stamp = stamp or stamp_of(text)


class Divided:
    """A dataclass written as a whole, with its stamp as a field more; and `apart`, with its fields
    of these names as parts of their own where they are long."""

    __slots__ = ("apart", "text")

    def __init__(self, thing: Any, *names: str) -> None:
        rest = {field.name: getattr(thing, field.name) for field in fields(thing)}
        own = {name: json_bytes(rest.pop(name)) for name in names}
        told = json_bytes(rest)[1:-1]
        stamp = stamp_of(b"".join((*own.values(), told)))
        tail = told + f',"stamp":"{stamp}"}}'.encode()
        within = {name: Written(text) for name, text in own.items() if len(text) > SHORT}
        self.text = _object(own) + tail
        self.apart = Written(_object(own | {name: named(part) for name, part in within.items()})
                             + tail, tuple(within.values()), stamp)


def _object(texts: dict[str, bytes]) -> bytes:
    """The beginning of an object of these fields, which are written already."""
    return b"{" + b"".join(b'"%b":%b,' % (name.encode(), text) for name, text in texts.items())


def named(part: Written) -> bytes:
    """What stands for a part."""
    return b'{"part":"%b"}' % part.stamp.encode()


def stamp_of(text: bytes) -> str:
    """Forty-eight bits of what is said, in eight letters."""
    return urlsafe_b64encode(blake2b(text, digest_size=6).digest()).decode()


def json_bytes(answer: Any) -> bytes:
    """An answer as JSON; documents in it are whole, with their neutral fields."""
    return orjson.dumps(answer, default=_plain)


def _plain(part: Any) -> Any:
    return orjson.Fragment(part.text) if isinstance(part, (Written, Divided)) \
        else Document.model_dump(part)
