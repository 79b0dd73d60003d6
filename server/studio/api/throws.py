"""Throws: what can be made random within bounds, each as a sentence; nothing is stored here."""

from collections.abc import Sequence
from typing import Any, Literal

from django.http import HttpResponse
from lattice import THROWS, AnyThrow, Clause, Lane, ThrowEdit
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import json_of
from studio.api.owned import pattern_of
from studio.api.signed_in import FromOwner, owner_lately
from studio.worked_out.recipes import recipe_of

router = Router(tags=["throws"])


class ThrowsIn(Schema):
    """Throws as they stood when they were seen last; those that are missing are as they begin.
    `slot` names a word of the one that is called `of` ("throw_hits"), which takes a new `value`.
    `pattern` is what they are to be made over."""

    pattern: int
    throws: list[AnyThrow] = Field(default=[], max_length=len(THROWS))
    of: str | None = Field(default=None, max_length=40)
    slot: str = Field(default="", max_length=60)
    value: Any = None


class OfferedThrow(Schema):
    """A throw as an edit, what it is called and does, whether it is made over lanes or over the
    pattern as a whole, the lanes that it could change, and its sentence."""

    edit: AnyThrow
    label: str
    about: str
    over: Literal["lanes", "pattern"]
    fits: list[str]
    sentence: list[Clause]


@router.post("/throws", response=list[OfferedThrow], auth=owner_lately)
def offer_throws(request: FromOwner, data: ThrowsIn) -> HttpResponse:
    """All that can be thrown, with a word changed, and what of a pattern it fits."""
    lanes = recipe_of(pattern_of(request, data.pattern).state).lanes
    known = {type(each): each for each in data.throws}
    return json_of([_offered(known.get(kind) or kind.as_it_stands(), data, lanes)
                    for kind in THROWS])


def _offered(throw: ThrowEdit, data: ThrowsIn, lanes: Sequence[Lane]) -> dict[str, Any]:
    if data.of == throw.do:
        throw = throw.worded(data.slot, data.value)
    return {"edit": throw, "label": throw.label, "about": throw.about, "over": throw.over,
            "fits": [lane.id for lane in lanes if throw.fits(lane)], "sentence": throw.sentence}
