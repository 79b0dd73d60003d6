"""What several kinds of answers have in common, and how an answer is written."""

from typing import Any

from django.http import HttpResponse
from ninja import Schema

from studio.worked_out.written import json_bytes


class HistoryOut(Schema):
    """What undo and redo would take back or bring back, in words."""

    undo: str | None
    redo: str | None


def json_of(answer: Any, status: int = 200) -> HttpResponse:
    """An answer that needs no check against its schema, since its types are the schema's; parts of
    a recipe in it are whole, neutral fields too."""
    return HttpResponse(json_bytes(answer), content_type="application/json", status=status)
