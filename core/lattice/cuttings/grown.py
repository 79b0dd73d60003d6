"""Relatives of a lane: other hits on the same steps.

A chain of them lets a share of the steps loose (`lattice.relatives.stock`); going up the chain only
adds hits. The first chain lets none loose; each further one lets go up to `stray` of the steps.
"""

from __future__ import annotations

from dataclasses import replace
from math import ceil, floor

import numpy as np

from lattice.base.draws import Draws
from lattice.base.errors import RecipeError
from lattice.base.words import many, written
from lattice.cuttings.families import family_weights
from lattice.cuttings.wish import Wish
from lattice.measures.rhythms import BEAT, Hits, Rhythms
from lattice.play import Performance
from lattice.relatives.roles import likes
from lattice.relatives.stock import Floats, Stock, ranks

GOLDEN = 0.6180339887498949
"""Multiples of it, modulo 1, lie evenly between 0 and 1 however many are taken."""
MOST_ROUNDS = 5
"""So often more chains are grown where the ones so far hold too many doubles."""


def stock_of(performance: Performance, lane_id: str, wish: Wish) -> Stock:
    """A lane as relatives like these are grown from it; RecipeError where there is no such lane."""
    stock = performance.stock(lane_id)
    on = stock.on
    if wish.stays == "hits":
        on = on | stock.now
    elif wish.stays == "beats":
        on = on | (stock.now & (np.array(stock.ground.weights) >= BEAT))
    return replace(stock, on=on, role=stock.role if wish.role == "own" else wish.role)


def counts(stock: Stock, wish: Wish) -> tuple[int, int]:
    """The fewest and the most hits that a wish allows; RecipeError where there are none."""
    steps, name = stock.ground.steps, stock.lane.name
    least, most = int(stock.on.sum()), steps - int(stock.off.sum())
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
    low, high = counts(stock, wish)
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
    anchor = stock.now.astype(np.float64) if wish.source == "now" else \
        likes(stock.role, stock.ground) if wish.source == "role" else \
        family_weights(wish.family, stock.role, stock.ground)
    return stock.loosened(anchor, draws, share)


def different(hits: Hits) -> Hits:
    """The rows without doubles, in the order of their first."""
    packed = np.ascontiguousarray(np.packbits(hits, axis=1))
    keys = packed.view(np.dtype((np.void, packed.shape[1]))).ravel()
    _, first = np.unique(keys, return_index=True)
    return hits[np.sort(first)]
