"""The order of a piece's patterns: look at it, edit it, undo and redo, keep it as a clip."""

from collections.abc import Callable
from typing import Annotated, Any
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from lattice import (
    AnyOrderEdit,
    Clip,
    Name,
    Order,
    Patterns,
    change_order,
    laid_out,
    order_clip,
    recipes_of,
)
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import HistoryOut, changed, json_of
from studio.api.clips import ClipOut, clip_out
from studio.api.owned import pieces_of
from studio.api.signed_in import FromOwner
from studio.limits import MOST_FOR_AN_ORDER, check_stretches
from studio.models import Piece
from studio.stored import clips, orders
from studio.stored.revisions import history_of
from studio.worked_out.order_look import OrderView, look_at_order

router = Router(tags=["order"])
Chosen = Annotated[int, Field(ge=0, lt=2**31)] | None


class OrderState(Schema):
    """An order as it stands: its newest state (0: there is none yet) and its past, the revision
    that each pattern of the piece stands at, and a view of it."""

    revision: int
    history: HistoryOut
    heads: dict[int, int]
    view: OrderView


class OrderStale(Schema):
    """The order was changed elsewhere: what was tried, and the newer state."""

    detail: str
    tried: str
    state: OrderState


class OrderLookIn(Schema):
    """Edits that are tried out on the order as it stands, and the block whose sentence is
    wanted."""

    edits: list[AnyOrderEdit] = Field(default=[], max_length=64)
    chosen: Chosen = None


class OrderStepIn(Schema):
    """A state to go back or forward from, and the block whose sentence is wanted."""

    revision: int
    chosen: Chosen = None
    key: UUID | None = None


class OrderEditIn(OrderStepIn):
    """Edits to store on a state; `key` makes sending them twice harmless."""

    edits: list[AnyOrderEdit] = Field(min_length=1, max_length=64)


class OrderKeepIn(Schema):
    """What the clip of the whole order is to be called."""

    name: Name
    key: UUID | None = None


def _piece(request: FromOwner, piece_id: int) -> Piece:
    return get_object_or_404(pieces_of(request).select_related("head"), pk=piece_id, deleted=None)


def _heads(piece: Piece) -> dict[int, int]:
    return dict(piece.patterns.filter(deleted=None).values_list("pk", "head_id"))


def _state(piece: Piece, chosen: int | None) -> dict[str, Any]:
    heads = _heads(piece)
    view = look_at_order(orders.order_of(piece), orders.patterns_of(piece), heads, chosen)
    return {"revision": piece.state,
            "history": history_of(piece),
            "heads": {str(pattern): head for pattern, head in heads.items()}, "view": view}


def _changed(change: Callable[[], Piece], chosen: int | None) -> HttpResponse:
    return changed("The order", change, lambda piece: _state(piece, chosen))


@router.get("/pieces/{piece_id}/order", response=OrderState)
def read_order(request: FromOwner, piece_id: int, chosen: Chosen = None) -> HttpResponse:
    """The order as it stands."""
    return json_of(_state(_piece(request, piece_id), chosen))


@router.post("/pieces/{piece_id}/order/look", response=OrderView)
def look(request: FromOwner, piece_id: int, data: OrderLookIn) -> HttpResponse:
    """A view of the order with edits tried out; nothing is stored."""
    piece = _piece(request, piece_id)
    patterns = orders.patterns_of(piece)
    tried = change_order(orders.order_of(piece), data.edits, patterns)
    return json_of(look_at_order(tried, patterns, _heads(piece), data.chosen))


@router.post("/pieces/{piece_id}/order/edits", response={200: OrderState, 409: OrderStale})
def edit(request: FromOwner, piece_id: int, data: OrderEditIn) -> HttpResponse:
    """Store edits as one state; 409 with the newer one if the order has moved on."""
    return _changed(lambda: orders.store(request.auth, piece_id, data.revision, data.edits,
                                         data.key), data.chosen)


@router.post("/pieces/{piece_id}/order/undo", response={200: OrderState, 409: OrderStale})
def undo(request: FromOwner, piece_id: int, data: OrderStepIn) -> HttpResponse:
    """Go back one state."""
    return _changed(lambda: orders.move(request.auth, piece_id, data.revision, True, data.key),
                    data.chosen)


@router.post("/pieces/{piece_id}/order/redo", response={200: OrderState, 409: OrderStale})
def redo(request: FromOwner, piece_id: int, data: OrderStepIn) -> HttpResponse:
    """Go forward one state."""
    return _changed(lambda: orders.move(request.auth, piece_id, data.revision, False, data.key),
                    data.chosen)


@router.post("/pieces/{piece_id}/order/keep", response=ClipOut)
def keep(request: FromOwner, piece_id: int, data: OrderKeepIn) -> dict[str, Any]:
    """Make one clip of the whole order, with a marker a block."""
    piece = _piece(request, piece_id)
    whole = whole_order(orders.order_of(piece), orders.patterns_of(piece), data.name)
    return clip_out(clips.shelve(piece, whole, data.key))


def whole_order(order: Order, patterns: Patterns, name: str) -> Clip:
    """All that an order of patterns plays, as one clip under a name."""
    laid = laid_out(order, recipes_of(patterns))
    check_stretches(((each.recipe, float(each.start), float(each.end)) for each in laid),
                    MOST_FOR_AN_ORDER)
    return order_clip(name, laid, {number: each.name for number, each in patterns.items()})
