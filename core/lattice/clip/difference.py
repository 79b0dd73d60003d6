"""What makes one state of a clip out of the one before it: what stays is named by its place, what
is new is said. Kept instead of the whole, it is as small as the change."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import chain
from typing import Any

from pydantic import BaseModel

from lattice.base.values import to_json
from lattice.clip.document import Clip, ClipChange, ClipNote

LISTS: dict[str, type[BaseModel]] = {"notes": ClipNote, "changes": ClipChange}


def clip_difference(before: Clip, after: Clip) -> dict[str, Any]:
    """As JSON: the fields that are others, and of notes and changes of controllers what they are
    made of, in their order: [place, count] for so many that stay, from a place of the list before
    on, and each other as it is. Those that stay have to be the same objects."""
    other = {name for name in Clip.model_fields
             if name not in LISTS and getattr(after, name) != getattr(before, name)}
    found: dict[str, Any] = after.model_dump(mode="json", include=other) if other else {}
    for name in LISTS:
        old, new = getattr(before, name), getattr(after, name)
        if new is not old:
            found[name] = list(_made_of(old, new))
    return found


def _made_of(old: Sequence[BaseModel], new: Sequence[BaseModel]) -> Iterator[Any]:
    places = {id(each): place for place, each in enumerate(old)}
    first = count = 0
    for each in new:
        place = places.get(id(each))
        if count and place == first + count:
            count += 1
            continue
        if count:
            yield [first, count]
        first, count = place or 0, int(place is not None)
        if place is None:
            yield to_json(each)
    if count:
        yield [first, count]


def said_anew(found: dict[str, Any]) -> int:
    """How many notes and changes a difference says, instead of naming their places."""
    return sum(isinstance(each, dict) for name in LISTS for each in found.get(name, ()))


def made_different(before: Clip, found: dict[str, Any]) -> Clip:
    """The clip that a difference makes of the one before."""
    fields = {name: value for name, value in found.items() if name not in LISTS}
    after = before
    if fields:
        frame = before.model_copy(update={"notes": (), "changes": ()})
        frame = Clip.model_validate({"notes": ()} | to_json(frame) | fields)
        after = frame.model_copy(update={name: getattr(before, name) for name in LISTS})
    return after.model_copy(update={
        name: tuple(chain.from_iterable(_said(each, kind, getattr(before, name))
                                        for each in found[name]))
        for name, kind in LISTS.items() if name in found})


def _said(each: Any, kind: type[BaseModel], old: Sequence[BaseModel]) -> Sequence[BaseModel]:
    if isinstance(each, dict):
        return [kind.model_validate(each)]
    first, count = each
    return old[first:first + count]
