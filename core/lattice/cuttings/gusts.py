"""Gusts that are held: while a key is down, lanes play a relative."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lattice.base.clauses import Part
from lattice.base.values import limits
from lattice.base.words import choice, number
from lattice.features.gusts import FIRST_AWAY, Away
from lattice.sentence import Said

OVER = {"all": ("over all lanes", ""), "chosen": ("over the chosen lanes", ""),
        "moving": ("over all lanes that may move", "those that stay among the cuttings stay here")}


class Gusts(Said):
    """How far a gust is away (0 to 1: the share of the steps that is let loose), and over which
    lanes it blows."""

    label = "gusts"
    away: Away = FIRST_AWAY
    over: Literal["all", "chosen", "moving"] = "all"

    def parts(self) -> Sequence[Part]:
        return ["Gusts: hold G for one ", number("away", "how far gusts are away", self.away,
                                                 *limits(Away), step=0.05),
                " away, ", choice("over", "lanes of gusts", self.over, OVER), "."]
