"""A gust: for a while, a lane plays one relative of itself."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lattice.base.draws import Draws
from lattice.recipe import Lane
from lattice.relatives.stock import Stock, planted, ranks

TRIED = 8
"""So many rhythms are drawn until one is another than what plays now."""


def may_blow(lane: Lane) -> bool:
    """Whether gusts blow a lane about by itself: lanes that follow go along with the ones that they
    follow."""
    return lane.kind != "control" and lane.follows is None


def gusted(stock: Stock, away: float, throw: int) -> Lane:
    """The lane with one relative for its rhythm: a share `away` of the steps, 0 to 1, is let loose,
    and up to half of so many hits come or, less often, go. What plays now itself only where nothing
    else was drawn."""
    return planted(stock.lane, stock.steps(_hits(stock, away, throw)))


def _hits(stock: Stock, away: float, throw: int) -> NDArray[np.bool_]:
    draws = Draws(throw, 0, stock.lane.id)
    weights = stock.loosened(stock.now.astype(np.float64), draws, np.full(TRIED, away))
    least, most = int(stock.on.sum()), stock.ground.steps - int(stock.off.sum())
    for row, order in enumerate(ranks(weights)):
        more = round((draws("gust", row) - 0.3) * away * stock.ground.steps / 2)
        hits: NDArray[np.bool_] = order < min(max(int(stock.now.sum()) + more, least), most)
        if not np.array_equal(hits, stock.now):
            return hits
    return stock.now
