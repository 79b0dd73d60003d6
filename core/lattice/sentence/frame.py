"""What a pattern says of its frame; and what draws go by, which only texts say."""

from __future__ import annotations

import re
from typing import Any

from lattice.base.clauses import ClauseKind, Fields
from lattice.base.errors import RecipeError
from lattice.base.frame import Bars
from lattice.base.group import id_for
from lattice.base.values import limits
from lattice.base.words import Fold, number, typed
from lattice.recipe import Lane, Recipe, Tempo

HIGHEST_SEED = 2**53 - 1


def _frame_written(recipe: Recipe, slot: str, value: Any) -> Fields:
    if slot != "meter":
        return {slot: value}
    beats, stroke, unit = value.replace(" ", "").partition("/")
    if not (stroke and re.fullmatch(r"[0-9]{1,2}/[0-9]{1,2}", f"{beats}/{unit}")):
        raise RecipeError("A metre is written such as 4/4 or 7/8.")
    return {"meter": [int(beats), int(unit)]}


FRAME = ClauseKind[Recipe](
    "frame", "frame", lambda recipe: True, lambda recipe, names: [
        "A frame of ", number("bars", "bars", recipe.bars, *limits(Bars)),
        " bar" if recipe.bars == 1 else " bars",
        Fold("", [" of ", typed("meter", "metre", "/".join(map(str, recipe.meter))), " at ",
                  number("tempo", "tempo in beats per minute", recipe.tempo, *limits(Tempo),
                         step=0.01), " bpm"]), "."],
    writes=_frame_written, moves=False)


def _seed(seed: int) -> list[Fold]:
    return [Fold("", ["Rerolled to ", number("seed", "what draws go by", seed, 0, HIGHEST_SEED),
                      "."])]


SEED = ClauseKind[Lane]("seed", "reroll", lambda lane: lane.seed != 0,
                        lambda lane, names: _seed(lane.seed), moves=False,
                        forms=lambda lane: ({"seed": 1},))
PATTERN_SEED = ClauseKind[Recipe]("seed", "reroll", lambda recipe: recipe.seed != 0,
                                  lambda recipe, names: _seed(recipe.seed), moves=False,
                                  forms=lambda recipe: ({"seed": 1},))
ID = ClauseKind[Lane](
    "id", "name for draws", lambda lane: lane.id != id_for(lane.name),
    lambda lane, names: [Fold("", ["Draws as ", typed("id", "name that its draws go by", lane.id),
                                   "."])],
    writes=lambda lane, slot, value: {slot: value.lower()}, moves=False,
    forms=lambda lane: ({"id": "0-0"},))
