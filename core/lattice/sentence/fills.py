"""What a pattern says of its fills."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from lattice.base.clauses import ClauseList, Names, Part, documents
from lattice.base.words import Offer, choice, many, nth, number
from lattice.features.chance import MOST_PASSES
from lattice.recipe import PatternFill, Recipe

OTHERS = {"rest": ("the others rest", "but controllers"), "play": ("the others play on", "")}


class _Fills(ClauseList[Recipe, PatternFill]):
    """Fills are made of what plays, or of a clip, and so not offered as a clause."""

    def offer(self, lane: Recipe) -> Offer | None:
        return None


def _parts(recipe: Recipe, names: Names, i: int) -> Sequence[Part]:
    fill, at = recipe.fills[i], f"fills.{i}"
    last = "bar" if fill.bars == 1 else many(fill.bars, "bars")
    what = f"the last {last} stirred by throw {fill.throw}" if fill.throw is not None else \
        f"“{fill.name}” in the last {last}"
    return ["In the ", nth(f"{at}.from", "pass of the fill", fill.turn, 1, fill.every),
            " of every ",
            number(f"{at}.every", "passes from fill to fill", fill.every, fill.turn, MOST_PASSES),
            f" passes {what}, and ",
            choice(f"{at}.others", "the other lanes", fill.others, OTHERS), "."]


def _none(recipe: Recipe) -> Any:
    raise NotImplementedError


FILLS = _Fills("fills", "fill", "fills", lambda recipe: recipe.fills, _parts, _none, documents,
               moves=False, about="other bars, every so many passes", group="how sure")
