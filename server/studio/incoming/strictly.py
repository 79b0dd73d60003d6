"""JSON that can be stored and answered again."""

import json
import re
from math import isfinite
from typing import Any

_NUL = re.compile(rb"(?<!\\)(?:\\\\)*\\u0000")
_HALF = re.compile(rb"\\u[dD][89a-fA-F]")


class NotToBeKept(ValueError):
    """JSON in the loose sense, with something in it that no store keeps."""

    def __init__(self) -> None:
        super().__init__("Numbers have to be finite, and text cannot hold NUL or half of a "
                         "character.")


def _finite(text: str) -> float:
    number = float(text)
    if not isfinite(number):
        raise NotToBeKept
    return number


def strictly(body: bytes) -> Any:
    """What JSON (RFC 8259) says; NotToBeKept for NaN, Infinity, lone surrogates and NUL, other
    ValueErrors for what is no JSON."""
    if _NUL.search(body):
        raise NotToBeKept
    said = json.loads(body, parse_constant=_finite, parse_float=_finite)
    if _HALF.search(body):
        try:
            json.dumps(said, ensure_ascii=False).encode()
        except UnicodeEncodeError:
            raise NotToBeKept from None
    return said
