"""Changes to a recipe: each a small document, each giving a new recipe or a clear refusal.

A module in this package that defines a subclass of Edit with a `do` of its own has made a change;
nothing else needs to be told about it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from lattice.base.found import documents, one_of
from lattice.edits.base import Edit
from lattice.edits.throws import THROWS
from lattice.recipe import Recipe

__all__ = ["EDITS", "AnyEdit", "Edit", "apply_all", "describe_all", "work_of"]

EDITS: tuple[type[Edit], ...] = (*documents(__name__, __path__, Edit, "do").values(), *THROWS)
"""Every change."""
if TYPE_CHECKING:
    AnyEdit = Edit
else:
    AnyEdit = one_of(EDITS, "do")


def apply_all(recipe: Recipe, edits: Sequence[Edit]) -> Recipe:
    """The recipe with the edits made one after another."""
    for edit in edits:
        recipe = edit.apply(recipe)
    return recipe


def describe_all(recipe: Recipe, edits: Sequence[Edit]) -> str:
    """What edits made one after another do, in words."""
    words = []
    for place, edit in enumerate(edits):
        words.append(edit.describe(recipe))
        if place < len(edits) - 1:
            recipe = edit.apply(recipe)
    return "; ".join(words)


CHANGE = 40.0
"""The work of changing one lane, in the unit of lattice.results.work."""


def work_of(edits: Sequence[Edit]) -> float:
    """The work of making edits."""
    return CHANGE * sum(edit.changes for edit in edits)
