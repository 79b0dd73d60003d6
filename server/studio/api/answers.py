"""What several kinds of answers have in common, and how an answer is written."""

from collections.abc import Callable
from typing import Any, TypeVar
from urllib.parse import quote

from django.http import HttpResponse
from ninja import Schema

from studio.stored.revisions import StaleEdit, Thing
from studio.worked_out.written import json_bytes

T = TypeVar("T", bound=Thing)


class HistoryOut(Schema):
    """What undo and redo would take back or bring back, in words."""

    undo: str | None
    redo: str | None


def json_of(answer: Any, status: int = 200) -> HttpResponse:
    """An answer that needs no check against its schema, since its types are the schema's; parts of
    a recipe in it are whole, neutral fields too."""
    return HttpResponse(json_bytes(answer), content_type="application/json", status=status)


def changed(what: str, change: Callable[[], T], state: Callable[[T], Any]) -> HttpResponse:
    """The state after a change; 409 with the newer state where `what` has moved on."""
    try:
        return json_of(state(change()))
    except StaleEdit as stale:
        return json_of({
            "detail": f"{what} was changed in another window; here is how it is now.",
            "tried": stale.tried, "state": state(stale.thing)}, status=409)


def download(data: bytes, content_type: str, name: str) -> HttpResponse:
    """An answer that the browser saves under a name."""
    answer = HttpResponse(data, content_type=content_type)
    answer["Cache-Control"] = "no-store"
    answer["Content-Disposition"] = content_disposition(name)
    return answer


def content_disposition(name: str) -> str:
    """The header that names a download (RFC 6266), in letters that every header takes and in
    those that it has."""
    plain = "".join(letter if letter.isascii() and letter not in '"\\%' else "_"
                    for letter in name)
    return f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
