"""Cuttings: many relatives of a pattern's lanes, laid out in strips; nothing is stored."""

from typing import Any

from django.http import HttpResponse
from lattice import (
    MOST_SEARCHED_STEPS,
    Clause,
    Gusts,
    Lane,
    Performance,
    RecipeError,
    Strip,
    Wish,
    mark_strip,
    pattern_measures,
    work,
)
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import json_of
from studio.api.asked import Trying, tried
from studio.api.signed_in import FromOwner, owner_lately
from studio.limits import MOST_WORK, TOO_DENSE

router = Router(tags=["cuttings"])
MOST_GROWN = 8000
"""So many relatives are grown at once, of all lanes together."""
MOST_SEARCHED = 2 ** (MOST_SEARCHED_STEPS + 1)
"""So many rhythms are looked at at once."""


class CuttingsIn(Trying):
    """What relatives are wanted, and of which lanes (all where none is named); `slot` names a word
    of the wish that takes a new `value` first, or, after "gusts.", one of gusts."""

    wish: Wish = Wish()
    gusts: Gusts = Gusts()
    lanes: list[str] | None = Field(default=None, max_length=64)
    slot: str | None = None
    value: Any = None


class CuttingsOut(Schema):
    """The wish and gusts as they stand, their sentences, a strip for each lane, and of all lanes
    together the share of hits that begin together, and of cells that are hits."""

    wish: Wish
    sentence: list[Clause]
    gusts: Gusts
    gusts_sentence: list[Clause]
    strips: list[Strip]
    agreement: float
    density: float


@router.post("/patterns/{pattern_id}/cuttings", response=CuttingsOut, auth=owner_lately)
def grow_cuttings(request: FromOwner, pattern_id: int, data: CuttingsIn) -> HttpResponse:
    """Relatives of lanes, from a revision or from what is tried out on it."""
    recipe = tried(request.auth, pattern_id, data)
    wish, gusts = data.wish, data.gusts
    if data.slot is not None and data.slot.startswith("gusts."):
        gusts = gusts.worded(data.slot.removeprefix("gusts."), data.value)
    elif data.slot is not None:
        wish = wish.worded(data.slot, data.value)
    lanes = recipe.lanes if data.lanes is None else [recipe.lane(each) for each in data.lanes]
    _check(wish, lanes)
    if work(recipe, 0, float(recipe.frame_beats)) > MOST_WORK:
        raise RecipeError(TOO_DENSE)
    performance = Performance(recipe)
    return json_of({"wish": wish, "sentence": wish.sentence,
                    "gusts": gusts, "gusts_sentence": gusts.sentence,
                    "strips": [_strip(performance, lane, wish) for lane in lanes],
                    **pattern_measures(performance)})


def _check(wish: Wish, lanes: "tuple[Lane, ...] | list[Lane]") -> None:
    """RecipeError where so much is wanted that it would take long."""
    looked_at = sum(2 ** min(MOST_SEARCHED_STEPS, lane.played[1] - lane.played[0] + 1)
                    for lane in lanes)
    if len(lanes) * wish.count > MOST_GROWN or (wish.source == "all" and
                                                looked_at > MOST_SEARCHED):
        raise RecipeError("That is too much at once; ask for fewer relatives or fewer lanes.")


def _strip(performance: Performance, lane: Lane, wish: Wish) -> Strip:
    try:
        return mark_strip(performance, lane.id, wish)
    except RecipeError as problem:
        return Strip.without(lane.id, str(problem))
