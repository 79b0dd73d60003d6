"""What several kinds of answers have in common, and how an answer is written."""

from typing import Any

import orjson
from django.http import HttpResponse
from lattice.base.values import Document
from ninja import Schema


class HistoryOut(Schema):
    """What undo and redo would take back or bring back, in words."""

    undo: str | None
    redo: str | None


def json_of(answer: Any, status: int = 200) -> HttpResponse:
    """An answer that needs no check against its schema, since its types are the schema's; parts of
    a recipe in it are whole, neutral fields too."""
    body = orjson.dumps(answer, default=Document.model_dump)
    return HttpResponse(body, content_type="application/json", status=status)
