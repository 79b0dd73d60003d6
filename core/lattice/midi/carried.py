"""A recipe that travels in a MIDI file, in a sequencer-specific meta event: the educational
manufacturer's id 7D, a mark of ours, and the document as JSON in UTF-8."""

from __future__ import annotations

import json
from typing import Any

EDUCATIONAL = b"\x7d"
MARK = EDUCATIONAL + b"jolly-lattice recipe 1 "


def carrying(recipe: dict[str, Any]) -> bytes:
    """The data of the event that carries a recipe's document."""
    return MARK + json.dumps(recipe, ensure_ascii=False, separators=(",", ":")).encode()


def carried(data: bytes) -> dict[str, Any] | None:
    """The document in an event's data; None where it is another's event, or damaged."""
    if not data.startswith(MARK):
        return None
    try:
        document = json.loads(data[len(MARK):])
    except (ValueError, RecursionError):
        return None
    return document if isinstance(document, dict) else None
