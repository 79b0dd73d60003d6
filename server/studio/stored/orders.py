"""The order of a piece's patterns: its states, undo and redo."""

from collections.abc import Sequence
from uuid import UUID

from lattice import (
    NamedRecipe,
    Order,
    OrderEdit,
    Patterns,
    RecipeError,
    check_length,
    recipes_of,
    to_json,
)

from studio.models import OrderRevision, Piece
from studio.stored import revisions
from studio.stored.patterns import locked
from studio.worked_out.recipes import recipe_of


def patterns_of(piece: Piece) -> dict[int, NamedRecipe]:
    """The patterns of a piece as they stand, by their numbers."""
    heads = piece.patterns.filter(deleted=None).values_list("pk", "name", "head_id")
    return {number: NamedRecipe(name, recipe_of(head)) for number, name, head in heads}


def order_of(piece: Piece) -> Order:
    """The order as it stands; an empty one where there is none yet."""
    return Order.model_validate(piece.head.document) if piece.head else Order()


def begin(piece: Piece, order: Order) -> None:
    """Give a piece that has none its first order; RecipeError where that is too long."""
    check_length(order, recipes_of(patterns_of(piece)))
    _append(piece, order, "made")


def store(owner: int, piece_id: int, revision: int, edits: Sequence[OrderEdit],
          key: UUID | None = None) -> Piece:
    """Append one state with the edits made; revision 0: there is no order yet. StaleEdit if
    `revision` is not the newest, Http404 if the piece is not this owner's. Edits whose `key` was
    stored before are left as they are."""
    with locked(owner=owner, pk=piece_id) as piece:
        patterns = patterns_of(piece)
        before = order_of(piece)
        if piece.head is None and revision == 0:
            begin(piece, Order())
            revision = piece.state
        if revisions.stored_before(piece, revision, key, lambda: _tried(before, edits, patterns)):
            return piece
        after, labels = before, []
        for edit in edits:
            labels.append(edit.describe(after, patterns))
            after = edit.apply(after, patterns)
        if after != before:
            check_length(after, recipes_of(patterns), before)
            _append(piece, after, "; ".join(labels)[:200], key)
    return piece


def move(owner: int, piece_id: int, revision: int, back: bool, key: UUID | None = None) -> Piece:
    """Undo (`back`) or redo one state; StaleEdit and Http404 as for edits."""
    with locked(owner=owner, pk=piece_id) as piece:
        if piece.head is not None:
            revisions.step(piece, revision, back, key)
    return piece


def copy(source: Piece, target: Piece) -> None:
    """Give a piece that was just made of another's patterns, one by one, the same order."""
    numbers = [piece.patterns.filter(deleted=None).values_list("pk", flat=True)
               for piece in (source, target)]
    order = order_of(source)
    renumbered = order.renumbered(dict(zip(*numbers, strict=False)))
    if target.head is None and len(renumbered.blocks) == len(order.blocks) > 0:
        begin(target, renumbered)


def _tried(order: Order, edits: Sequence[OrderEdit], patterns: Patterns) -> str:
    """Edits in words, as seen from the newer state."""
    try:
        return "; ".join(edit.describe(order, patterns) for edit in edits)
    except RecipeError:
        return "your change"


def _append(piece: Piece, order: Order, label: str, key: UUID | None = None) -> None:
    revisions.append(piece, OrderRevision(piece=piece, key=key, document=to_json(order),
                                          label=label))
