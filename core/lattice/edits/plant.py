"""Planting: hits that were found elsewhere take the place of a lane's rule; and a voice that
answers a lane in its gaps; and gusts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.values import Percent, StepNumber, to_json
from lattice.base.words import many
from lattice.cuttings.grown import Stock, gust
from lattice.cuttings.gusts import Away
from lattice.cuttings.wish import Throw, Wish
from lattice.edits.base import Edit, new_id, with_new_lane
from lattice.edits.movement import without_lost_paths
from lattice.edits.strands import strand_of, with_strand
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, edited, with_lane
from lattice.rules.gaps import Gaps
from lattice.rules.hand import Hand
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
        plain = {"reverse": False, "flip": False, "keep": None}
        if self.amount is not None and isinstance(lane.rule, Gaps):
            return with_lane(recipe, edited(lane, plain | {"rule.amount": self.amount}))
        rule = Hand(kind="hand", hits=tuple(self.hits))
        planted = edited(lane, plain | {"rule": rule.model_dump(mode="json")})
        if self.degrees is not None:
            planted = self._with_degrees(planted)
        return without_lost_paths(with_lane(recipe, planted), recipe, lane.id)

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
    away: Away = 0.4
    throw: Throw = 0
    lanes: Annotated[list[str], Field(max_length=64)] | None = None

    @property
    def changes(self) -> int:
        return 16 if self.lanes is None else 1 + len(self.lanes)

    def apply(self, recipe: Recipe) -> Recipe:
        performance = Performance(recipe)
        lanes = recipe.lanes if self.lanes is None else [recipe.lane(each) for each in self.lanes]
        for lane in lanes:
            # Lanes that follow are blown about with those that they follow.
            if lane.kind != "control" and lane.follows is None:
                stock = Stock.of(performance, lane.id, Wish())
                hits = gust(stock, self.away, self.throw)
                recipe = Plant(do="plant", lane=lane.id, hits=stock.steps(hits)).apply(recipe)
        return recipe

    def describe(self, recipe: Recipe) -> str:
        return "a gust planted"


class AddAnswering(Edit):
    """A new lane below another that plays in some of its gaps."""

    do: Literal["add_answering"]
    lane: str

    def apply(self, recipe: Recipe) -> Recipe:
        leader = recipe.lane(self.lane)
        name = f"{leader.name[:50]} answers"
        lane = Lane(id=new_id(name, recipe), name=name, note=Gaps.lane_note, step=leader.step,
                    steps=leader.steps, window=leader.window, span=leader.span,
                    fit_bars=leader.fit_bars, velocity=84,
                    rule=Gaps(kind="gaps", of=leader.id, amount=ANSWERING))
        return with_new_lane(recipe, [*recipe.lanes], lane, leader.id)

    def describe(self, recipe: Recipe) -> str:
        return f"+ a voice that answers {recipe.lane(self.lane).name}"
