"""A strip: a lane's relatives in a row along one measure, neighbours as like as can be."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from lattice.base.errors import RecipeError
from lattice.base.values import half_up
from lattice.cuttings.grown import grown, stock_of
from lattice.cuttings.search import searched, values_along, words_along
from lattice.cuttings.tones import Tones
from lattice.cuttings.wish import Wish
from lattice.measures.rhythms import Rhythms
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, with_lane
from lattice.relatives.stock import Stock
from lattice.results.measured import lane_rhythm
from lattice.rules.gaps import Gaps

BINS = 32
"""Values of a measure that lie closer together than this part of its range count as alike."""
NEAR_DOUBLE = 2
"""Neighbours with the same value that differ by so many steps, one hit moved, are near-doubles."""


@dataclass(frozen=True, slots=True)
class Mark:
    """A relative on a strip.

    hits: the steps that are hits, from 0. value: of the strip's measure; words: how that reads.
    at: where it lies along the strip, 0 to 1. group: the number of the group of near-doubles that
    it is one of, rising along the strip. degrees: of each hit, where a lane's degrees move too.
    amount: the percentage of the gaps that makes them, in a lane that fills the gaps of another.
    """

    hits: list[int]
    value: float
    words: str
    at: float
    group: int
    degrees: list[int] | None = None
    amount: int | None = None


@dataclass(frozen=True, slots=True)
class Strip:
    """A lane's relatives, from the low end of the measure to the high one.

    hits: the steps that are hits now. now: where they lie among the marks, 0 to 1. fitting: how
    many rhythms there are, shown or not. looked_at: of a search, among how many. refused: why
    there are none.
    """

    lane: str
    marks: list[Mark]
    hits: list[int]
    now: float
    fitting: int
    looked_at: int | None
    refused: str | None

    @staticmethod
    def without(lane: str, why: str) -> Strip:
        """The strip of a lane that has no relatives of the kind that is wished for."""
        return Strip(lane, [], [], 0.0, 0, None, why)


def mark_strip(performance: Performance, lane_id: str, wish: Wish) -> Strip:
    """The relatives of a lane along the wish's measure; RecipeError where none can be grown."""
    stock = stock_of(performance, lane_id, wish)
    if isinstance(stock.lane.rule, Gaps):
        return _answering(performance.recipe, stock, wish)
    if wish.source == "all":
        sought = searched(stock, wish)
        found = _laid_out(stock, sought.rhythms, wish.along, sought.fitting, sought.looked_at)
    else:
        rhythms = grown(stock, wish)
        found = _laid_out(stock, rhythms, wish.along, len(rhythms.hits), None)
    tones = None if wish.degrees == "stay" else Tones.of(performance, stock)
    if tones is None:
        return found
    return replace(found, marks=[
        replace(mark, degrees=tones.drawn([step - stock.first for step in mark.hits], wish))
        for mark in found.marks])


def _laid_out(stock: Stock, rhythms: Rhythms, along: str, fitting: int,
              looked_at: int | None) -> Strip:
    if not len(rhythms.hits):
        raise RecipeError(f"No rhythm of {stock.lane.name}'s steps is like that; ask for less.")
    values = values_along(rhythms, stock, along)
    low, high = values.min(), values.max()
    width = high - low or 1.0
    order = _walk(rhythms, np.floor((values - low) / width * BINS + 0.5).astype(np.int64))
    values, hits = values[order], rhythms.hits[order]
    alone = (values[1:] != values[:-1]) | ((hits[1:] != hits[:-1]).sum(axis=1) > NEAR_DOUBLE)
    groups = np.concatenate([[0], np.cumsum(alone)])
    rows, steps = np.nonzero(hits)
    each = np.split(steps + stock.first, np.cumsum(np.bincount(rows, minlength=len(hits)))[:-1])
    marks = [Mark(found.tolist(), *laid) for found, *laid in zip(
        each, values.round(4).tolist(),
        [words_along(value, stock, along) for value in values.tolist()],
        ((values - low) / width).round(4).tolist(), groups.tolist(), strict=True)]
    here = values_along(Rhythms(stock.ground, stock.now[None, :]), stock, along)[0]
    return Strip(stock.lane.id, marks, stock.steps(stock.now), _between(here - low, width),
                 fitting, looked_at, None)


def _between(part: float, whole: float) -> float:
    """A part of a whole, 0 to 1."""
    return round(float(min(max(part / whole, 0), 1)), 4)


def _answering(recipe: Recipe, stock: Stock, wish: Wish) -> Strip:
    """The strip of a lane that plays in another's gaps: more and more of them."""
    lane, steps = stock.lane, stock.ground.steps
    marks: list[Mark] = []
    gaps = _free(recipe, lane)
    for amount in sorted({half_up(100 * number / gaps) for number in range(gaps + 1)}):
        rule = lane.rule.model_copy(update={"amount": amount})
        other = lane.model_copy(update={"rule": rule, "keep": None, "flip": False})
        rhythm = lane_rhythm(Performance(with_lane(recipe, other)), lane.id)
        hits = stock.steps(np.array(rhythm.hits))
        share = 100 * len(hits) / steps
        if (not marks or hits != marks[-1].hits) and wish.low <= share <= wish.high:
            marks.append(Mark(hits, round(share / 100, 4), f"{amount} % of the gaps", 0.0,
                              len(marks), amount=amount))
    if not marks:
        raise RecipeError(f"No share of the gaps makes {lane.name} {wish.low:g} to "
                          f"{wish.high:g} % dense.")
    low, high = marks[0].value, marks[-1].value
    width = high - low or 1.0
    laid = [replace(mark, at=round((mark.value - low) / width, 4)) for mark in marks]
    here = _between(float(stock.now.mean()) - low, width)
    return Strip(lane.id, laid, stock.steps(stock.now), here, len(laid), None, None)


def _free(recipe: Recipe, lane: Lane) -> int:
    """How many gaps a lane finds in the first frame; at least 1."""
    rule = lane.rule.model_copy(update={"amount": 100})
    performance = Performance(with_lane(recipe, lane.model_copy(update={
        "rule": rule, "keep": None, "flip": False, "pins": {}})))
    return max(1, len(performance.voice(lane.id).hits.between(0, performance.times.frame)))


def _walk(rhythms: Rhythms, bins: NDArray[np.int64]) -> list[int]:
    """The rows from bin to bin; within one, each time on to the one that differs least."""
    hits = rhythms.hits.astype(np.float32)
    found: list[int] = []
    order = np.argsort(bins, kind="stable")
    edges = np.flatnonzero(np.diff(bins[order])) + 1
    for rows in np.split(order, edges):
        marks = hits[rows]
        counts = marks.sum(axis=1)
        apart = counts[:, None] + counts[None, :] - 2 * marks @ marks.T
        at = int(np.argmin((marks != hits[found[-1]]).sum(axis=1))) if found else 0
        for _ in range(len(rows)):
            found.append(int(rows[at]))
            apart[:, at] = np.inf
            at = int(apart[at].argmin())
    return found
