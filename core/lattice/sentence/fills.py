"""What a pattern says of its fills."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lattice.base.clauses import ClauseList, Fields, Names, Part, documents
from lattice.base.frame import Bars
from lattice.base.values import limits
from lattice.base.words import Fold, choice, many, number, typed
from lattice.features.gusts import Throw
from lattice.recipe import PatternFill, Recipe

OTHERS = {"rest": ("the others rest", "but controllers"), "play": ("the others play on", "")}


def _parts(recipe: Recipe, names: Names, i: int) -> Sequence[Part]:
    fill, at = recipe.fills[i], f"fills.{i}"
    last = "bar" if fill.bars == 1 else many(fill.bars, "bars")
    told = f"the last {last} stirred by throw {fill.throw}" if fill.throw is not None else \
        f"“{fill.name}” in the last {last}"
    whole: list[Part] = [
        "the fill ", typed(f"{at}.name", "name of the fill", fill.name), " plays in the last ",
        number(f"{at}.bars", "bars of the fill", fill.bars, *limits(Bars)), " bars"]
    if fill.throw is not None:
        whole += [", made by throw ", number(f"{at}.throw", "throw of the fill", fill.throw,
                                             *limits(Throw))]
    return [*fill.when(at), Fold(told, whole), ", and ",
            choice(f"{at}.others", "the other lanes", fill.others, OTHERS), "."]


def _forms(recipe: Recipe) -> Iterator[Fields]:
    """One that was kept, and one that was made; what plays in it is written elsewhere."""
    for throw in ({}, {"throw": 1}):
        yield {"fills": [{"name": "Fill", "lanes": [{"id": "lane", "name": "Lane"}]} | throw]}


FILLS = ClauseList[Recipe, PatternFill](
    "fills", "fill", "fills", lambda recipe: recipe.fills, _parts, None, documents, moves=False,
    forms=_forms)
