"""Search: all rhythms with so many hits that compare with what plays now as is wished.

Up to 24 steps every rhythm there is is looked at. A rhythm is two halves of the circle, and each
measure that is compared is a sum over its hits or over pairs of them: so it is worked out once for
every half, and for two halves together only what lies between them is added. A measure that is no
such sum is worked out of each that fits otherwise. With more steps, or where those are too many, a
sample is looked at.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from lattice.base.draws import Draws
from lattice.base.words import many
from lattice.cuttings.grown import GOLDEN, counts, different
from lattice.cuttings.wish import ANYWHERE, SEARCHED, Wish
from lattice.measures import MEASURES
from lattice.measures.base import Measure, PerHit, PerInterval, PerPair
from lattice.measures.distance import DISTANCES
from lattice.measures.rhythms import Hits, Numbers, Rhythms
from lattice.relatives.stock import Stock, ranks

MOST_SEARCHED_STEPS = 24
"""Up to so many steps every rhythm is looked at."""
SAMPLE = 20_000
"""So many rhythms with more steps are looked at."""
MOST_SORTED = 300_000
"""Of more that fit, so many, evenly spaced, are sorted and shown of."""
NECKLACES_AT_ONCE = 1 << 16
"""So many masks are turned round at once, which fit in the processor's cache."""
CLOSE = 1e-5
"""Measures that lie no further apart are the same."""

Block = NDArray[np.float32]
Table = Callable[[NDArray[np.intp], NDArray[np.intp]], Block]
"""Values for late halves (down), which are alike, and early ones (across), both by their places."""


@dataclass(frozen=True)
class Sought:
    """Rhythms that fit; how many there are altogether among how many that were looked at."""

    rhythms: Rhythms
    fitting: int
    looked_at: int


def searched(stock: Stock, wish: Wish) -> Sought:
    """Up to `wish.count` of the rhythms that fit, evenly from the low end of the wish's measure to
    the high one; RecipeError where the lane cannot have so many hits."""
    low, high = counts(stock, wish)
    stock = _beginning(stock, wish.begins)
    if stock.ground.steps <= MOST_SEARCHED_STEPS:
        return _Exhaustive(stock, wish, low, high).found()
    return _sampled(stock, wish, low, high)


def _beginning(stock: Stock, begins: str) -> Stock:
    """The stock with its first step a hit or a rest whatever happens, where that is wished."""
    there = np.arange(stock.ground.steps) == 0
    return replace(stock, on=stock.on | (there & (begins == "one")),
                   off=stock.off | (there & (begins == "later")))


def _compared(stock: Stock, wish: Wish) -> list[tuple[Measure, str, float]]:
    """The measures that are compared: how, and with which value of what plays now."""
    now = Rhythms(stock.ground, stock.now[None, :])
    return [(MEASURES[name], how, float(MEASURES[name].of(now)[0])) for name in SEARCHED
            if (how := getattr(wish, name)) != "any"]


def _fits(values: NDArray[np.float32], how: str, now: float) -> NDArray[np.bool_]:
    low, high = np.float32(now - CLOSE), np.float32(now + CLOSE)
    fit: NDArray[np.bool_] = values < low if how == "less" else values > high \
        if how == "more" else (values >= low) & (values <= high)
    return fit


def _near(hits: Hits, stock: Stock, wish: Wish) -> NDArray[np.bool_]:
    """Which rhythms are no further from what plays now than is wished, where that is bounded."""
    near: NDArray[np.bool_] = DISTANCES[wish.near].of(hits, stock.now) <= wish.within
    return near


def _chosen(values: Numbers, count: int, draws: Draws) -> NDArray[np.intp]:
    """So many places among values, evenly in their order; among like ones by chance."""
    noise = draws.table("sought", 1, len(values))[0]
    order = np.lexsort((noise, values))
    if len(order) <= count:
        return order
    return order[np.linspace(0, len(order) - 1, count).round().astype(np.int64)]


@dataclass(frozen=True)
class _Half:
    """All ways to fill some of the steps that follow each other, by their masks: bit b of a mask
    is step `first` + b. Per mask its number of hits, and its first and last one (0 where it has
    none)."""

    first: int
    masks: NDArray[np.uint32]
    bits: Hits

    @staticmethod
    def of(stock: Stock, first: int, after: int) -> _Half:
        masks = np.arange(1 << (after - first), dtype=np.uint32)
        bits = (masks[:, None] >> np.arange(after - first, dtype=np.uint32) & 1).astype(np.bool_)
        on, off = stock.on[first:after], stock.off[first:after]
        fit = ~(on & ~bits).any(axis=1) & ~(off & bits).any(axis=1)
        return _Half(first, masks[fit], bits[fit])

    @cached_property
    def counts(self) -> NDArray[np.int64]:
        counts: NDArray[np.int64] = self.bits.sum(axis=1, dtype=np.int64)
        return counts

    @cached_property
    def lead(self) -> NDArray[np.intp]:
        lead: NDArray[np.intp] = self.first + np.argmax(self._some, axis=1)
        return lead

    @cached_property
    def end(self) -> NDArray[np.intp]:
        end: NDArray[np.intp] = self.first + self._some.shape[1] - 1 - np.argmax(
            self._some[:, ::-1], axis=1)
        return end

    @property
    def _some(self) -> Hits:
        """The steps, one without a hit where there are none: the late half of a single step."""
        return self.bits if self.bits.shape[1] else np.zeros((len(self.bits), 1), dtype=np.bool_)

    def inside(self, pairs: NDArray[np.float64]) -> NDArray[np.float64]:
        """The sum of pairs[a, b] over the hits a that have a next one, b, in the same half."""
        total = np.zeros(len(self.masks))
        following = np.full(len(self.masks), -1)
        for bit in range(self.bits.shape[1] - 1, -1, -1):
            here = self.bits[:, bit]
            total += np.where(here & (following >= 0), pairs[self.first + bit][following], 0.0)
            following = np.where(here, self.first + bit, following)
        return total


class _Exhaustive:
    """Every rhythm: early halves across, late halves down."""

    def __init__(self, stock: Stock, wish: Wish, low: int, high: int) -> None:
        self.stock, self.wish, self.low, self.high = stock, wish, low, high
        steps = stock.ground.steps
        self.middle = (steps + 1) // 2
        self.early = _Half.of(stock, 0, self.middle)
        self.late = _Half.of(stock, self.middle, steps)

    def found(self) -> Sought:
        wished = _compared(self.stock, self.wish)
        compared = [(self._table(measure.sums), how, now) for measure, how, now in wished
                    if measure.sums]
        kept: list[NDArray[np.uint32]] = []
        for rows in self._alike():
            counts = self.early.counts + self.late.counts[rows[0]]
            columns = np.flatnonzero((counts >= self.low) & (counts <= self.high))
            fit = np.ones((len(rows), len(columns)), dtype=np.bool_)
            for table, how, now in compared:
                fit &= _fits(table(rows, columns), how, now)
            late, early = np.nonzero(fit)
            kept.append(self.late.masks[rows][late] << np.uint32(self.middle)
                        | self.early.masks[columns][early])
        others = [each for each in wished if each[0].sums is None]
        if (others or self.wish.near != ANYWHERE) and sum(map(len, kept)) > MOST_SORTED:
            return _sampled(self.stock, self.wish, self.low, self.high)
        there = np.zeros(1 << self.stock.ground.steps, dtype=np.bool_)
        for found in kept:
            there[self._fitting(found, others)] = True
        masks = _once(there, self.stock.ground.steps, self.low, self.high) \
            if self.wish.turns == "once" else np.flatnonzero(there).astype(np.uint32)
        fitting = len(masks)
        if fitting > MOST_SORTED:
            masks = masks[np.linspace(0, fitting - 1, MOST_SORTED).astype(np.int64)]
        rhythms = self._rhythms(masks)
        chosen = _chosen(values_along(rhythms, self.stock, self.wish.along), self.wish.count,
                         Draws(self.wish.throw, 0, self.stock.lane.id))
        return Sought(Rhythms(self.stock.ground, rhythms.hits[chosen]), fitting,
                      len(self.early.masks) * len(self.late.masks))

    def _rhythms(self, masks: NDArray[np.uint32]) -> Rhythms:
        steps = np.arange(self.stock.ground.steps, dtype=np.uint32)
        return Rhythms(self.stock.ground, (masks[:, None] >> steps & 1).astype(np.bool_))

    def _fitting(self, masks: NDArray[np.uint32],
                 others: list[tuple[Measure, str, float]]) -> NDArray[np.uint32]:
        """Those of which measures fit that are no sums: they are worked out of each."""
        for measure, how, now in others:
            values = measure.of(self._rhythms(masks))
            masks = masks[_fits(values.astype(np.float32), how, now)]
        if self.wish.near != ANYWHERE:
            masks = masks[_near(self._rhythms(masks).hits, self.stock, self.wish)]
        return masks

    def _alike(self) -> Iterator[NDArray[np.intp]]:
        """The late halves by the first and last hit that they have, and by how many."""
        late = self.late
        ends = np.where(late.counts > 0, late.lead * MOST_SEARCHED_STEPS + late.end, -1)
        key = ends * (MOST_SEARCHED_STEPS + 1) + late.counts
        order = np.argsort(key, kind="stable")
        edges = np.flatnonzero(np.diff(key[order])) + 1
        yield from (rows for rows in np.split(order, edges) if len(rows))

    def _counts(self, rows: NDArray[np.intp], columns: NDArray[np.intp]) -> NDArray[np.int64]:
        """How many hits late halves that are alike have together with each of these early ones."""
        counts: NDArray[np.int64] = self.early.counts[columns] + self.late.counts[rows[0]]
        return counts

    def _table(self, sums: PerHit | PerInterval | PerPair) -> Table:
        """What a measure that is such a sum is of late halves that are alike, together with each of
        some early ones."""
        ground = self.stock.ground
        if isinstance(sums, PerPair):
            return self._even(sums.pairs(ground.steps), sums.most)
        if isinstance(sums, PerHit):
            weights = sums.weights(ground).astype(np.float32)
            early = self.early.bits @ weights[:self.middle]
            late = self.late.bits @ weights[self.middle:]
            return lambda rows, columns: late[rows][:, None] + early[columns][None, :]
        summed = self._pairs(sums.pairs(ground))
        if not sums.mean:
            return summed

        def shared(rows: NDArray[np.intp], columns: NDArray[np.intp]) -> Block:
            block = summed(rows, columns)
            block /= np.maximum(self._counts(rows, columns), 1).astype(np.float32)[None, :]
            return block
        return shared

    def _pairs(self, pairs: NDArray[np.float64]) -> Table:
        """Sums over hits and their next ones."""
        early, late = self.early, self.late
        inside_early, inside_late = early.inside(pairs), late.inside(pairs)
        alone = np.where(early.counts > 0, inside_early + pairs[early.end, early.lead], 0.0)

        def block(rows: NDArray[np.intp], columns: NDArray[np.intp]) -> Block:
            between = alone
            if late.counts[rows[0]] > 0:
                first, last = late.lead[rows[0]], late.end[rows[0]]
                between = np.where(early.counts > 0, inside_early + pairs[early.end, first]
                                   + pairs[last, early.lead], pairs[last, first])
            inside: Block = inside_late[rows].astype(np.float32)[:, None]
            whole: Block = inside + between[columns].astype(np.float32)[None, :]
            return whole
        return block

    def _even(self, apart: NDArray[np.float64],
              most: Callable[[NDArray[np.int64]], NDArray[np.float64]]) -> Table:
        """Sums over all pairs of hits, by the most that they can be."""
        early, late = self.early.bits.astype(np.float32), self.late.bits.astype(np.float32)
        middle, narrow = self.middle, apart.astype(np.float32)
        own_early = np.einsum("ij,ij->i", early @ narrow[:middle, :middle], early) / 2
        own_late = np.einsum("ij,ij->i", late @ narrow[middle:, middle:], late) / 2
        # The pairs within the late half, within the early one and between them, as one product.
        down = np.column_stack([late @ narrow[middle:, :middle], own_late, np.ones_like(own_late)])
        across = np.vstack([early.T, np.ones_like(own_early), own_early])

        def block(rows: NDArray[np.intp], columns: NDArray[np.intp]) -> Block:
            counts = self._counts(rows, columns)
            best = np.where(counts > 1, most(counts), 1).astype(np.float32)
            even: Block = (down[rows] @ (across[:, columns] / best)).astype(np.float32, copy=False)
            even[:, counts < 2] = 1
            return even
        return block


def _once(there: Hits, steps: int, low: int, high: int) -> NDArray[np.uint32]:
    """Of rhythms that are one another turned round, the one with the lowest mask; `there` says of
    each mask whether it is one of them, all of which have `low` to `high` hits."""
    turned = necklaces(steps)
    counts = np.bitwise_count(turned)
    turned = turned[(counts >= low) & (counts <= high)]
    nothing = np.uint32(0xFFFF_FFFF)
    first = np.full(len(turned), nothing)
    for _ in range(steps):
        first = np.minimum(first, np.where(there[turned], turned, nothing))
        turned = _turned(turned, steps)
    return np.sort(first[first != nothing])


def _turned(masks: NDArray[np.uint32], steps: int) -> NDArray[np.uint32]:
    """Masks turned on by a step."""
    everything = np.uint32((1 << steps) - 1)
    on: NDArray[np.uint32] = (masks << np.uint32(1) | masks >> np.uint32(steps - 1)) & everything
    return on


@lru_cache(maxsize=4)
def necklaces(steps: int) -> NDArray[np.uint32]:
    """The rhythms of so many steps that are no turn of another: of each round of turns the lowest
    mask."""
    found: list[NDArray[np.uint32]] = []
    for begin in range(0, 1 << steps, NECKLACES_AT_ONCE):
        masks = np.arange(begin, min(1 << steps, begin + NECKLACES_AT_ONCE), dtype=np.uint32)
        turned = masks
        for _ in range(steps - 1):
            turned = _turned(turned, steps)
            lowest = masks <= turned
            masks, turned = masks[lowest], turned[lowest]
        found.append(masks)
    return np.concatenate(found)


def _sampled(stock: Stock, wish: Wish, low: int, high: int) -> Sought:
    """Rhythms of more steps than can all be looked at, by chance; where they are to be near, as
    what plays now with a share of the steps let loose."""
    steps = stock.ground.steps
    draws = Draws(wish.throw, 0, stock.lane.id)
    on, off = stock.on, stock.off
    wild = draws.table("any", SAMPLE, steps)
    if wish.near != ANYWHERE:
        wild = np.where(stock.loose(draws, np.arange(SAMPLE) * GOLDEN % 1), wild, stock.now)
    sizes = low + np.floor(draws.table("size", SAMPLE, 1) * (high - low + 1)).astype(np.int64)
    hits = ranks(stock.held(wild)) < sizes
    hits = different(hits[~(hits & off).any(axis=1) & ~(on & ~hits).any(axis=1)])
    for measure, how, now in _compared(stock, wish):
        values = measure.of(Rhythms(stock.ground, hits))
        hits = hits[_fits(values.astype(np.float32), how, now)]
    if wish.near != ANYWHERE:
        hits = hits[_near(hits, stock, wish)]
    rhythms = Rhythms(stock.ground, hits)
    chosen = _chosen(values_along(rhythms, stock, wish.along), wish.count, draws)
    return Sought(Rhythms(stock.ground, hits[chosen]), len(hits), SAMPLE)


def values_along(rhythms: Rhythms, stock: Stock, along: str) -> Numbers:
    """The values of rhythms that a strip lays them out by: of a measure, or how far
    they are from what plays now."""
    if along in DISTANCES:
        return DISTANCES[along].of(rhythms.hits, stock.now)
    return MEASURES[along].of(rhythms)


def words_along(value: float, stock: Stock, along: str) -> str:
    """How such a value reads."""
    if along in DISTANCES:
        return f"{many(round(value), DISTANCES[along].counted)} away" if value else "as it was"
    return MEASURES[along].mark(value, stock.ground.steps)
