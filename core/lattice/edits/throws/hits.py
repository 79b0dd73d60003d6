"""Throw the hits."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np

from lattice.base.clauses import Part
from lattice.base.values import Percent, limits
from lattice.base.words import choice, number, percent
from lattice.cuttings.grown import grown, stock_of
from lattice.cuttings.wish import Stray, Wish
from lattice.edits.plant import Plant
from lattice.edits.throws.base import HAND, Between, Hand
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, with_lane

RELATIVES = 40
"""Out of so many relatives one is drawn."""


class ThrowHits(Between):
    """Other hits: one of the relatives of what plays now, straying so far (0 to 1) and between two
    densities. Lanes that follow others are thrown with the ones that they follow."""

    do: Literal["throw_hits"] = "throw_hits"
    place = 10
    label = "hits"
    about = "another rhythm, near or far"
    stray: Stray = 0.4
    low: Percent = 10
    high: Percent = 70
    hand: Hand = "stays"

    def parts(self) -> Sequence[Part]:
        return ["Other hits, straying by ",
                number("stray", "how far they stray", self.stray, *limits(Stray), step=0.05), ", ",
                percent("low", "lower density", self.low, 0, self.high), " to ",
                percent("high", "upper density", self.high, self.low, 100),
                " dense; what is set by hand ",
                choice("hand", "what is set by hand", self.hand, HAND), "."]

    def fits(self, lane: Lane) -> bool:
        return lane.follows is None

    def apply(self, recipe: Recipe) -> Recipe:
        wish = Wish(count=RELATIVES, stray=self.stray, low=self.low, high=self.high,
                    throw=self.throw)
        lanes = self.lanes_of(recipe)
        if self.hand == "goes":
            for lane in lanes:
                recipe = with_lane(recipe, lane.model_copy(update={"pins": {}}))
        performance = Performance(recipe)
        for lane in lanes:
            stock = stock_of(performance, lane.id, wish)
            others = [row for row in grown(stock, wish).hits if not np.array_equal(row, stock.now)]
            if others:
                hits = others[int(self.draws(lane.id)("hits", 0) * len(others))]
                recipe = Plant(do="plant", lane=lane.id, hits=stock.steps(hits)).apply(recipe)
        return recipe
