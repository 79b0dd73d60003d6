"""Gusts: for a while, lanes play a relative; while a key is held, or every n-th pass by itself."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import limits
from lattice.base.words import choice, number, ordinal
from lattice.sentence import Said

Away = Annotated[float, Field(ge=0.05, le=1)]
MOST_PASSES = 16

OVER = {"all": ("over all lanes", ""), "chosen": ("over the chosen lanes", ""),
        "moving": ("over all lanes that may move", "those that stay among the cuttings stay here")}
EVERY: dict[int, tuple[str, str]] = {0: ("never", "only while the key is held")} | {
    passes: (f"every {ordinal(passes)} pass", "") for passes in range(2, MOST_PASSES + 1)}


class Gusts(Said):
    """How far a gust is away (0 to 1: the share of the steps that is let loose), every how many
    passes one comes by itself (0: none does), and over which lanes."""

    label = "gusts"
    away: Away = 0.4
    every: Annotated[int, Field(ge=0, le=MOST_PASSES)] = 0
    over: Literal["all", "chosen", "moving"] = "all"

    def parts(self) -> Sequence[Part]:
        return ["Gusts: hold G for one ", number("away", "how far gusts are away", self.away,
                                                 *limits(Away), step=0.05),
                " away; by themselves ", choice("every", "gusts by themselves", self.every, EVERY),
                ", ", choice("over", "lanes of gusts", self.over, OVER), "."]
