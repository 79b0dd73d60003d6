"""Fills: now and then, the last bars of a pass are others."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from math import ceil
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.frame import Bars
from lattice.base.group import MAX_LANES
from lattice.base.values import LaneName, to_json
from lattice.base.words import many, ordinal
from lattice.clip.document import Clip
from lattice.clip.taken import Segment, take_clip
from lattice.edits.base import Edit, new_id, with_new_lane
from lattice.features.gusts import Throw
from lattice.features.recurring import Passes
from lattice.recipe import MOST_FILLS, Lane, PatternFill, Recipe, refusing
from lattice.rules.hand import Hand
from lattice.strands.fields import Strands
from lattice.telling.fill import fill_lanes
from lattice.tools import lay_in
from lattice.tools.fill import Fill as FillTool

EVERY = 4
"""A new fill comes in the last of so many passes."""


class AddFill(Edit):
    """Let these lanes play in the last `bars` bars of the `turn`-th (the last, where none is said)
    of every `every` passes, each in place of the lane that is the same voice. A voice that there is
    not becomes a lane that plays nowhere else."""

    do: Literal["add_fill"]
    name: LaneName
    every: Passes = EVERY
    turn: Passes | None = None
    bars: Bars = 1
    others: Literal["rest", "play"] = "rest"
    throw: Throw | None = None
    lanes: Annotated[list[dict[str, Any]], Field(min_length=1, max_length=MAX_LANES)]

    @property
    def changes(self) -> int:
        return 1 + len(self.lanes)

    def apply(self, recipe: Recipe) -> Recipe:
        with refusing():
            told = [Lane.model_validate(lane) for lane in self.lanes]
        lanes = list[Lane]()
        for lane, place in _placed(told, recipe):
            if place is None:
                place = lane.model_copy(update={
                    "id": new_id(lane.name, recipe), "rule": Hand(kind="hand"),
                    "strands": Strands()})
                recipe = with_new_lane(_gusts_over_these(recipe), [*recipe.lanes], place, None)
            lanes.append(_as(place, lane))
        return _with_fill(recipe, name=self.name, every=self.every, turn=self.turn or self.every,
                          bars=self.bars, others=self.others, throw=self.throw, lanes=lanes)

    def describe(self, recipe: Recipe) -> str:
        return f"+ “{self.name}” every {ordinal(self.every)} pass"


def clip_fill(clip: Clip, recipe: Recipe) -> AddFill:
    """The edit that lets a clip play as a fill of a pattern; RecipeError where it cannot."""
    passes = ceil(Fraction(clip.bars, recipe.bars))
    return AddFill(do="add_fill", name=clip.name[:60], every=max(EVERY, passes), bars=clip.bars,
                   lanes=[to_json(lane) for lane in fill_lanes(clip, recipe)])


class MakeFill(Edit):
    """Make a fill of the last bar of the `turn`-th of every `every` passes: a share of its notes
    is stirred and split into strokes, as the clip tool does it, by a throw. One that was made for
    that pass before makes room."""

    do: Literal["make_fill"]
    every: Passes = EVERY
    turn: Passes | None = None
    throw: Throw = 0

    @property
    def changes(self) -> int:
        return MAX_LANES

    def apply(self, recipe: Recipe) -> Recipe:
        turn = self.turn or self.every
        recipe = recipe.model_copy(update={"fills": tuple(
            fill for fill in recipe.fills
            if fill.throw is None or (fill.every, fill.turn) != (self.every, turn))})
        end = float(turn * recipe.frame_beats)
        bar = recipe.bar_beats
        taken = take_clip("the fill", [Segment(recipe, 0, 0, end)], end - float(bar), bar)
        tool = FillTool(rounds=1, beats=bar, throw=self.throw)
        placed = _placed(fill_lanes(lay_in(taken, tool, None).clip, recipe), recipe)
        # Strokes that would take a lane more stay out.
        lanes = [_as(place, lane) for lane, place in placed if place is not None]
        return _with_fill(recipe, name="fill", every=self.every, turn=turn, throw=self.throw,
                          lanes=lanes)

    def describe(self, recipe: Recipe) -> str:
        return f"a fill every {ordinal(self.every)} pass"


def _with_fill(recipe: Recipe, *, turn: int, **fields: Any) -> Recipe:
    """The recipe with one more fill, whose lanes are those of the pattern; the newest is heard,
    where several come at once."""
    with refusing():
        fill = PatternFill.model_validate({"from": turn} | fields)
    if len(recipe.fills) >= MOST_FILLS:
        raise RecipeError(f"A pattern has up to {MOST_FILLS} fills; take one out first.")
    if fill.bars > turn * recipe.bars:
        raise RecipeError(f"A fill of {many(fill.bars, 'bars')} does not end with pass {turn} of "
                          f"{many(recipe.bars, 'bars')}; let it come in a later pass.")
    return recipe.model_copy(update={"fills": (fill, *recipe.fills)})


def _placed(told: Sequence[Lane], recipe: Recipe) -> list[tuple[Lane, Lane | None]]:
    """Lanes, each with the pattern's lane that is the same voice, if one is left."""
    left, placed = list(recipe.lanes), list[tuple[Lane, Lane | None]]()
    for lane in told:
        place = _same_voice(lane, left)
        if place is not None:
            left.remove(place)
        placed.append((lane, place))
    return placed


def _as(place: Lane, lane: Lane) -> Lane:
    """What a lane plays, for another one."""
    return lane.model_copy(update={"id": place.id})


def _gusts_over_these(recipe: Recipe) -> Recipe:
    """The recipe with gusts over the lanes that there are, so that none fills a new one that plays
    nowhere but in fills."""
    ids = tuple(lane.id for lane in recipe.lanes)
    return recipe.model_copy(update={"gusts": tuple(
        gust.model_copy(update={"lanes": gust.lanes or ids or None}) for gust in recipe.gusts)})


def _same_voice(lane: Lane, others: Sequence[Lane]) -> Lane | None:
    """The lane that is the same voice: by its id or its name, or for a drum by that alone."""
    alike = [each for each in others if each.kind == lane.kind and each.channel == lane.channel
             and (each.note == lane.note or lane.kind == "pitched")]
    return next((each for each in alike if each.id == lane.id), None) or \
        next((each for each in alike if lane.kind == "drum" or each.name == lane.name), None)
