"""What has a history: states that follow one another, and a head that stands at one of them."""

from collections.abc import Callable
from typing import Any
from uuid import UUID

from studio.models import Clip, ClipRevision, OrderRevision, Pattern, Piece, Revision

Thing = Pattern | Clip | Piece
"""What has states: a pattern its recipes, a clip its notes, a piece its order."""


class StaleEdit(Exception):
    """The edit was made on a state that is no longer the newest; `tried` says in words what it
    was."""

    def __init__(self, thing: Any, tried: str) -> None:
        super().__init__(tried)
        self.thing, self.tried = thing, tried


def stored_before(thing: Thing, revision: int, key: UUID | None,
                  tried: Callable[[], str]) -> bool:
    """Whether what is asked for on `revision` was stored already, under this key; StaleEdit if it
    was not, and the thing has moved on since."""
    if thing.state == revision:
        return False
    if key is not None and thing.revisions.filter(key=key).exists():
        return True
    raise StaleEdit(thing, tried() or "undo")


def append(thing: Thing, state: Revision | ClipRevision | OrderRevision) -> None:
    """Put a new state after the head; it is the head then."""
    state.parent_id = thing.state or None
    state.save()
    thing.head = state
    thing.save(update_fields=["head"])


def step(thing: Thing, revision: int, back: bool, key: UUID | None) -> bool:
    """Undo (`back`) or redo one state; False where nothing is moved: at either end, or where the
    last move had this `key`. StaleEdit as for edits."""
    if key is not None and thing.moved == key:
        return False
    if thing.state != revision:
        raise StaleEdit(thing, "undo")
    head = thing.head
    target = head and (head.parent if back else newest_child(head))
    if target is None:
        return False
    thing.head, thing.moved = target, key  # type: ignore[assignment]
    thing.save(update_fields=["head", "moved"])
    return True


def newest_child(state: Any) -> Any:
    """The state that redo leads to."""
    return state.children.order_by("-id").first()


def history_of(thing: Thing) -> dict[str, Any]:
    """Whether there is something to undo and to redo, and what it was."""
    head = thing.head
    if head is None:
        return {"undo": None, "redo": None}
    redo = head.children.order_by("-id").values_list("label", flat=True).first()
    return {"undo": head.label if head.parent_id else None, "redo": redo}
