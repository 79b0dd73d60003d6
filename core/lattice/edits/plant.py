"""Planting: hits that were found elsewhere take the place of a lane's rule; and a voice that
answers a lane in its gaps; and gusts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES
from lattice.base.values import Percent, StepNumber, to_json
from lattice.base.words import many, ordinal
from lattice.edits.base import Edit, new_id, with_new_lane
from lattice.edits.movement import without_lost_paths
from lattice.edits.strands import strand_of, with_strand
from lattice.features.gusts import FIRST_AWAY, MOST_GUSTS, Away, PatternGust, Throw
from lattice.features.recurring import Passes
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, edited, refusing, with_lane
from lattice.relatives.gust import gusted, may_blow
from lattice.relatives.stock import AS_THEY_ARE, planted
from lattice.rules.gaps import Gaps
from lattice.strands.kinds import DEGREE, Degree

ANSWERING = 40
"""Percent of the gaps that an answering voice begins with."""


class Plant(Edit):
    """A lane plays these steps, set by hand; its pins, strands and all else stay. What is done to
    the hits of a rule (reverse, flip, keep) goes, since they are as they shall be. `amount`: a lane
    that fills another's gaps goes on to, with this percentage of them. `degrees`: one for each
    hit, which its step has from then on."""

    do: Literal["plant"]
    lane: str
    hits: Annotated[list[StepNumber], Field(max_length=128)]
    amount: Percent | None = None
    degrees: Annotated[list[Degree], Field(max_length=128)] | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        beyond = [step for step in self.hits if step >= lane.steps]
        if beyond:
            raise RecipeError(f"{lane.name} has {many(lane.steps, 'steps')}; there is no step "
                              f"{beyond[0] + 1} to plant a hit on.")
        if self.amount is not None and isinstance(lane.rule, Gaps):
            return with_lane(recipe, edited(lane, AS_THEY_ARE | {"rule.amount": self.amount}))
        after = planted(lane, self.hits)
        if self.degrees is not None:
            after = self._with_degrees(after)
        return without_lost_paths(with_lane(recipe, after), recipe, lane.id)

    def _with_degrees(self, lane: Lane) -> Lane:
        if not lane.pitched or len(self.degrees or ()) != len(self.hits):
            raise RecipeError(f"{lane.name} takes one degree for each hit, if it is pitched.")
        strand = strand_of(lane, DEGREE, by_step=True)
        values = list(to_json(strand)["values"])
        for step, degree in zip(self.hits, self.degrees or (), strict=True):
            values[step] = degree
        return with_strand(lane, DEGREE, {"values": values})

    def describe(self, recipe: Recipe) -> str:
        return f"{recipe.lane(self.lane).name}: a cutting planted"


class Gust(Edit):
    """Lanes (all that play notes, where none is named) play a relative of themselves, `away` from
    what they play, 0 to 1. The throw decides which."""

    do: Literal["gust"]
    away: Away = FIRST_AWAY
    throw: Throw = 0
    lanes: Annotated[list[str], Field(max_length=MAX_LANES)] | None = None

    @property
    def changes(self) -> int:
        return 16 if self.lanes is None else 1 + len(self.lanes)

    def apply(self, recipe: Recipe) -> Recipe:
        performance = Performance(recipe)
        lanes = recipe.lanes if self.lanes is None else [recipe.lane(each) for each in self.lanes]
        for lane in lanes:
            if may_blow(lane):
                after = gusted(performance.stock(lane.id), self.away, self.throw)
                recipe = without_lost_paths(with_lane(recipe, after), recipe, lane.id)
        return recipe

    def describe(self, recipe: Recipe) -> str:
        return "a gust planted"


class AddGust(Edit):
    """Let a gust blow by itself, in one of every so many passes: another each time, or always one
    that was heard, by its throw."""

    do: Literal["add_gust"]
    every: Passes = 8
    turn: Passes | None = None
    away: Away = FIRST_AWAY
    lanes: Annotated[list[str] | None, Field(min_length=1, max_length=MAX_LANES)] = None
    throw: Throw | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        if len(recipe.gusts) >= MOST_GUSTS:
            raise RecipeError(f"Up to {MOST_GUSTS} gusts come by themselves; take one out first.")
        for lane_id in self.lanes or ():
            recipe.lane(lane_id)
        with refusing():
            gust = PatternGust.model_validate({
                "every": self.every, "from": self.turn or self.every, "away": self.away,
                "lanes": self.lanes, "throw": self.throw})
        return recipe.model_copy(update={"gusts": (*recipe.gusts, gust)})

    def describe(self, recipe: Recipe) -> str:
        return f"+ a gust every {ordinal(self.every)} pass"


class AddAnswering(Edit):
    """A new lane below another that plays in some of its gaps."""

    do: Literal["add_answering"]
    lane: str

    def apply(self, recipe: Recipe) -> Recipe:
        leader = recipe.lane(self.lane)
        name = f"{leader.name[:50]} answers"
        lane = Lane(id=new_id(name, recipe), name=name, note=Gaps.lane_note, step=leader.step,
                    steps=leader.steps, window=leader.window,
                    # Gaps go on to the frame's end, even after a lane that plays once.
                    span="cycle" if leader.span == "once" else leader.span,
                    fit_bars=leader.fit_bars, velocity=84,
                    rule=Gaps(kind="gaps", of=leader.id, amount=ANSWERING))
        return with_new_lane(recipe, [*recipe.lanes], lane, leader.id)

    def describe(self, recipe: Recipe) -> str:
        return f"+ a voice that answers {recipe.lane(self.lane).name}"
