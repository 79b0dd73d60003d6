"""A look at an order: its blocks in true time, each with a picture, and the chosen one's sentence.
"""

from collections.abc import Hashable, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import partial
from typing import Any

from lattice import (
    Block,
    Order,
    Patterns,
    PlacedBlock,
    RecipeError,
    Sentence,
    block_sentence,
    block_summary,
    laid_out,
    recipes_of,
    take_clip,
    to_json,
    work,
)

from studio.limits import MOST_WORK
from studio.worked_out.memory import Memory
from studio.worked_out.thumbs import Pictures, Thumb, thumb

LOST_BEATS = Fraction(4)
"""So long a block stands that cannot be played."""
MOST_PICTURED = MOST_WORK / 16
"""For the picture of one block."""
FINEST_SHARE = 1024
Picture = tuple[Any, float]
"""Of a block, or none where it would be nothing to speak of; and which share of it that shows."""
_pictures: Memory[Hashable, Picture] = Memory(2048)


@dataclass(slots=True)
class ShownBlock:
    """A block in its place. at, beats: on the order's time line; bar: the bar that it begins in,
    from 1; each: how long one pass, bar or step of it lasts there; start, end: what it plays, in
    its pattern's own beats; edits: what it changes of the pattern's recipe; pictured: the share of
    it that the picture shows; problem: why it cannot be played."""

    pattern: int
    name: str
    summary: str
    count: int
    at: float
    beats: float
    bar: float
    each: float
    start: float
    end: float
    speed: str
    tempo: float
    bar_beats: float
    frame_beats: float
    edits: list[dict[str, Any]]
    thumb: Thumb | None
    pictured: float
    problem: str | None


@dataclass(slots=True)
class OrderView:
    """An order. between: the first and last block that go round; chosen: the block whose sentence
    is told; waits: some blocks have no picture yet, and will when it is asked for again."""

    blocks: list[ShownBlock]
    beats: float
    bars: float
    seconds: float
    between: tuple[int, int] | None
    chosen: int | None
    sentence: Sentence | None
    waits: bool


def look_at_order(order: Order, patterns: Patterns, heads: Mapping[int, int],
                  chosen: int | None) -> OrderView:
    """Everything that a page shows of an order; heads: the revision that each pattern stands at."""
    blocks: list[ShownBlock] = []
    at, bar, seconds = Fraction(0), Fraction(1), 0.0
    recipes = recipes_of(patterns)
    pictures = Pictures()
    for block in order.blocks:
        try:
            (laid,) = laid_out(Order(blocks=(block,)), recipes)
            beats, bar_beats = laid.beats, laid.recipe.bar_beats
            picture = pictures.known(_pictures, (heads[block.pattern], block.model_dump_json()),
                                     partial(_picture, laid))
            shown = _shown(laid, patterns[block.pattern].name, picture or (None, 0.0))
            seconds += laid.seconds
        except RecipeError as problem:
            beats = bar_beats = LOST_BEATS
            shown = _lost(block, patterns, str(problem))
        shown.at, shown.bar = float(at), float(bar)
        blocks.append(shown)
        at += beats
        bar += beats / bar_beats
    if chosen is not None and chosen >= len(order.blocks):
        chosen = None
    return OrderView(blocks, float(at), float(bar - 1), seconds, order.between, chosen,
                     None if chosen is None else block_sentence(order.blocks[chosen], patterns),
                     pictures.waits)


def _shown(laid: PlacedBlock, name: str, picture: Picture) -> ShownBlock:
    block, recipe = laid.block, laid.recipe
    edits = [to_json(block.adapting) | {"do": "adapt"}] if block.adapting else []
    return ShownBlock(
        block.pattern, name, block_summary(block), block.count, 0, float(laid.beats), 1,
        float(laid.beats / block.count), float(laid.start), float(laid.end), str(block.speed),
        recipe.tempo, float(recipe.bar_beats), float(recipe.frame_beats), edits,
        *picture, None)


def _lost(block: Block, patterns: Patterns, problem: str) -> ShownBlock:
    name = patterns[block.pattern].name if block.pattern in patterns else "gone"
    beats = float(LOST_BEATS)
    return ShownBlock(block.pattern, name, block_summary(block), block.count, 0, beats, 1, beats, 0,
                      beats, "1", 120, beats, beats, [], None, 1, problem)


def _picture(laid: PlacedBlock) -> Picture:
    """What a block plays, or as much of it as is not too much work."""
    share = _pictured_share(laid)
    if not share:
        return None, 0.0
    whole = laid.segment("")
    segment = replace(whole, end=whole.start + float(share * (laid.end - laid.start)))
    return thumb(take_clip("", [segment], segment.at, laid.beats * share)), float(share)


def _pictured_share(laid: PlacedBlock) -> Fraction:
    """The largest share of a block whose work, which is more than in proportion to it, is at most
    MOST_PICTURED; by halves of what it would be in proportion."""
    start, beats = float(laid.start), float(laid.end - laid.start)
    share = 1.0
    while share * FINEST_SHARE >= 1:
        cost = work(laid.recipe, start, start + share * beats)
        if cost <= MOST_PICTURED:
            return Fraction(int(share * FINEST_SHARE), FINEST_SHARE)
        share *= min(0.5, MOST_PICTURED / cost)
    return Fraction(0)
