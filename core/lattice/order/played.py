"""What an order plays: where its blocks lie in time, and the whole as a clip."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from lattice.base.errors import RecipeError
from lattice.clip.document import MOST_BEATS, Clip
from lattice.clip.taken import Segment, take_clip
from lattice.order.document import Block, Order
from lattice.recipe import Recipe

LONGEST_BEATS = 65_536
"""So long an order may be: nine hours at 120 beats a minute."""


@dataclass(frozen=True, slots=True)
class PlacedBlock:
    """A block in its place: `at` is where it begins on the order's time line, in beats, `beats` how
    long it lasts there; [start, end) is what it plays of `recipe`, which is its pattern as the
    block changes it, in that pattern's own beats."""

    block: Block
    recipe: Recipe
    at: Fraction
    beats: Fraction
    start: Fraction
    end: Fraction

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return float(self.beats) * 60 / self.recipe.tempo

    def segment(self, name: str) -> Segment:
        """What is heard of it, with a marker."""
        return Segment(self.recipe, float(self.at), float(self.start), float(self.end),
                       self.block.speed, name, self.block.pattern)


def laid_out(order: Order, patterns: Mapping[int, Recipe]) -> list[PlacedBlock]:
    """The blocks in their places; RecipeError for a pattern that there is not, and for a block
    that cannot be as it says."""
    found: list[PlacedBlock] = []
    at = Fraction(0)
    for number, block in enumerate(order.blocks, 1):
        recipe = patterns.get(block.pattern)
        if recipe is None:
            raise RecipeError(f"The pattern of block {number} is not in this piece any more; "
                              "choose another.")
        if block.adapting:
            recipe = block.adapting.apply(recipe)
        beats = block.beats(recipe)
        found.append(PlacedBlock(block, recipe, at, beats, *block.stretch(recipe)))
        at += beats
    return found


def check_length(order: Order, patterns: Mapping[int, Recipe],
                 before: Order | None = None) -> None:
    """RecipeError if an order lasts over 65,536 beats, unless it was as long `before`. Blocks that
    cannot be played do not count."""
    beats = _beats(order, patterns)
    if beats > LONGEST_BEATS and (before is None or beats > _beats(before, patterns)):
        raise RecipeError(f"An order lasts up to {LONGEST_BEATS:,} beats, and this would be "
                          f"{float(beats):,.0f}; let its blocks play less often.")


def _beats(order: Order, patterns: Mapping[int, Recipe]) -> Fraction:
    return sum((block.beats(patterns[block.pattern]) for block in order.blocks
                if block.pattern in patterns), Fraction(0))


def order_clip(name: str, laid: Sequence[PlacedBlock], names: Mapping[int, str]) -> Clip:
    """The whole order as one clip, with a marker a block, called by its pattern; and marks where
    tempo, metre and key change. RecipeError where there is nothing, or more than 16,384 beats."""
    if not laid:
        raise RecipeError("There is no block in the order yet; add a pattern.")
    beats = laid[-1].at + laid[-1].beats
    if beats > MOST_BEATS:
        raise RecipeError(f"A clip lasts up to {MOST_BEATS:,} beats, and this order {beats:g}; "
                          "take blocks out, or let them play fewer passes.")
    return take_clip(name, [each.segment(names[each.block.pattern]) for each in laid], 0.0, beats)
