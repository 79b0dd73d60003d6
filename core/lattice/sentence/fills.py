"""What a pattern says of its fills."""

from __future__ import annotations

from collections.abc import Sequence

from lattice.base.clauses import ClauseList, Names, Part, documents
from lattice.base.words import choice, many
from lattice.recipe import PatternFill, Recipe

OTHERS = {"rest": ("the others rest", "but controllers"), "play": ("the others play on", "")}


def _parts(recipe: Recipe, names: Names, i: int) -> Sequence[Part]:
    fill, at = recipe.fills[i], f"fills.{i}"
    last = "bar" if fill.bars == 1 else many(fill.bars, "bars")
    what = f"the last {last} stirred by throw {fill.throw}" if fill.throw is not None else \
        f"“{fill.name}” in the last {last}"
    return [*fill.when(at), f"{what}, and ",
            choice(f"{at}.others", "the other lanes", fill.others, OTHERS), "."]


FILLS = ClauseList[Recipe, PatternFill](
    "fills", "fill", "fills", lambda recipe: recipe.fills, _parts, None, documents, moves=False)
