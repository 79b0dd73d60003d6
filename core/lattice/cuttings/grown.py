"""Relatives of a lane: other hits on the same steps.

How they are grown, from a weight for each step, the *anchor*: 1 for the hits that play now, or
what a role or family likes. A chain lets a share of the steps loose: those have weights by chance
in place of the anchor's, a little heavier beside hits and where the lane's role likes to be. The
k heaviest steps are then a rhythm of k hits, and going up the chain only adds hits. The first
chain lets none loose; each further one lets go up to `stray` of the steps. Draws are addressed by
the throw and the lane's id, so that the same wish gives the same relatives, on every machine.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, floor
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lattice.base.draws import Draws
from lattice.base.errors import RecipeError
from lattice.base.words import many, written
from lattice.cuttings.families import family_weights
from lattice.cuttings.roles import likes, role_of
from lattice.cuttings.wish import Wish
from lattice.measures.rhythms import BEAT, Ground, Hits, Rhythms
from lattice.play import Performance
from lattice.recipe import Lane
from lattice.results.measured import lane_rhythm

Floats = NDArray[np.floating[Any]]
GOLDEN = 0.6180339887498949
"""Multiples of it, modulo 1, lie evenly between 0 and 1 however many are taken."""
MOST_ROUNDS = 5
"""So often more chains are grown where the ones so far hold too many doubles."""


@dataclass(frozen=True)
class Stock:
    """A lane as relatives are grown from it: its ground, the first step that is played, the hits
    now, the steps that are hits or rests whatever happens, and its role."""

    lane: Lane
    ground: Ground
    first: int
    now: NDArray[np.bool_]
    on: NDArray[np.bool_]
    off: NDArray[np.bool_]
    role: str

    @staticmethod
    def of(performance: Performance, lane_id: str, wish: Wish) -> Stock:
        """The stock of a lane; RecipeError where there is no such lane."""
        rhythm = lane_rhythm(performance, lane_id)
        lane, ground = performance.recipe.lane(lane_id), rhythm.ground
        now = np.array(rhythm.hits, dtype=np.bool_)
        pins = [lane.pins.get(rhythm.first + step) for step in range(ground.steps)]
        on = np.array([pin is True for pin in pins])
        off = np.array([pin is False for pin in pins])
        if wish.stays == "hits":
            on |= now
        elif wish.stays == "beats":
            on |= now & (np.array(ground.weights) >= BEAT)
        return Stock(lane, ground, rhythm.first, now, on, off,
                     role_of(lane) if wish.role == "own" else wish.role)

    def steps(self, hits: NDArray[np.bool_]) -> list[int]:
        """The numbers of the steps of a rhythm, as the lane counts them from 0."""
        return [int(step) + self.first for step in np.flatnonzero(hits)]

    def counts(self, wish: Wish) -> tuple[int, int]:
        """The fewest and the most hits that a wish allows; RecipeError where there are none."""
        steps, name = self.ground.steps, self.lane.name
        least, most = int(self.on.sum()), steps - int(self.off.sum())
        if wish.source == "all":
            if wish.most < least or wish.fewest > most:
                raise RecipeError(f"{name} can have {least} to {most} hits, not "
                                  f"{wish.fewest} to {wish.most}.")
            return max(least, wish.fewest), min(most, wish.most)
        low, high = ceil(wish.low * steps / 100 - 1e-9), floor(wish.high * steps / 100 + 1e-9)
        if low > high:
            raise RecipeError(f"No number of hits in {name}'s {many(steps, 'steps')} "
                              f"lies between {written(wish.low)} and {written(wish.high)} %; set "
                              "them further apart.")
        if least > high or most < low:
            raise RecipeError(f"{name} has {many(least, 'hits')} that stay and "
                              f"{many(most, 'steps')} that may be hits; none of its rhythms lies "
                              f"between {written(wish.low)} and {written(wish.high)} %.")
        return max(low, least), min(high, most)


def grown(stock: Stock, wish: Wish) -> Rhythms:
    """From what plays now, a role or a family up to `wish.count` different rhythms, fewer where
    there are no more; the hits that play now come first, where they fit."""
    low, high = stock.counts(wish)
    draws = Draws(wish.throw, 0, stock.lane.id)
    chains = -(-wish.count // (high - low + 1))
    found = np.zeros((0, stock.ground.steps), dtype=np.bool_)
    for _ in range(MOST_ROUNDS):
        found = different(np.concatenate([_as_now(stock, wish, low, high), _chains(
            stock, wish, draws, chains, low, high)]))
        if len(found) >= wish.count:
            break
        chains *= 2
    return Rhythms(stock.ground, found[:wish.count])


def _as_now(stock: Stock, wish: Wish, low: int, high: int) -> Hits:
    """The hits that play now, as one rhythm or none."""
    fits = wish.source == "now" and low <= int(stock.now.sum()) <= high
    return stock.now[None, :][: int(fits)]


def _chains(stock: Stock, wish: Wish, draws: Draws, chains: int, low: int, high: int) -> Hits:
    """Of each chain its rhythms of `low` to `high` hits."""
    share = wish.stray * (np.arange(chains, dtype=np.float64) * GOLDEN % 1)
    heaviest = ranks(_weights(stock, wish, draws, share))
    sizes = np.arange(low, high + 1)[None, :, None]
    return (heaviest[:, None, :] < sizes).reshape(-1, stock.ground.steps)


def _weights(stock: Stock, wish: Wish, draws: Draws, share: Floats) -> Floats:
    """A weight for each step, a row for each chain, of whose steps a share is let loose."""
    chains, steps = len(share), stock.ground.steps
    role = likes(stock.role, stock.ground)
    anchor = stock.now.astype(np.float64) if wish.source == "now" else role \
        if wish.source == "role" else family_weights(wish.family, stock.role, stock.ground)
    beside = np.roll(stock.now, 1) | np.roll(stock.now, -1)
    wild = 0.6 * draws.table("cutting", chains, steps) + 0.25 * role + 0.15 * beside
    letting = np.floor(share * steps + 0.5)[:, None]
    loose = ranks(draws.table("loose", chains, steps)) < letting
    weights = np.where(loose, wild, 0.9 * anchor + 0.1 * role)
    return np.where(stock.on, 2.0, np.where(stock.off, -1.0, weights))


GUSTS_TRIED = 8
"""So many rhythms are drawn until one is another than what plays now."""


def gust(stock: Stock, away: float, throw: int) -> NDArray[np.bool_]:
    """One relative of what plays now for a while: a share `away` of the steps, 0 to 1, is let
    loose, and up to half of so many hits come or, less often, go. What plays now itself only where
    nothing else was drawn."""
    draws = Draws(throw, 0, stock.lane.id)
    weights = _weights(stock, Wish(), draws, np.full(GUSTS_TRIED, away))
    least, most = int(stock.on.sum()), stock.ground.steps - int(stock.off.sum())
    for row, order in enumerate(ranks(weights)):
        more = round((draws("gust", row) - 0.3) * away * stock.ground.steps / 2)
        hits: NDArray[np.bool_] = order < min(max(int(stock.now.sum()) + more, least), most)
        if not np.array_equal(hits, stock.now):
            return hits
    return stock.now


def ranks(weights: Floats) -> NDArray[np.intp]:
    """The place of each weight in its row, the heaviest first, the earlier among equals."""
    order = np.argsort(-weights, axis=1, kind="stable")
    places = np.empty_like(order)
    np.put_along_axis(places, order, np.arange(weights.shape[1])[None, :], axis=1)
    return places


def different(hits: Hits) -> Hits:
    """The rows without doubles, in the order of their first."""
    packed = np.ascontiguousarray(np.packbits(hits, axis=1))
    keys = packed.view(np.dtype((np.void, packed.shape[1]))).ravel()
    _, first = np.unique(keys, return_index=True)
    return hits[np.sort(first)]
