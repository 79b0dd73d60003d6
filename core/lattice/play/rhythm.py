"""A lane's rhythm: the steps that it plays, gone round in a circle."""

from __future__ import annotations

import numpy as np

from lattice.measures.rhythms import Ground
from lattice.play.voice import Voice
from lattice.recipe import Lane, Recipe
from lattice.relatives.roles import role_of
from lattice.relatives.stock import Stock
from lattice.time.cells import Run


def ground_of(lane: Lane, recipe: Recipe) -> Ground:
    """The steps that a lane plays; each counts as long as the lane's cells, and the first of them
    as the start of a bar, whichever way the lane runs."""
    first, last = lane.played
    return Ground(last - first + 1, lane.cell_beats(recipe), recipe.meter)


def stock_of(voice: Voice, recipe: Recipe) -> Stock:
    """A lane as relatives are grown from it: its hits after pins and keep, in its first cycle and
    before chance; what is set by hand stays."""
    lane, ground = voice.lane, ground_of(voice.lane, recipe)
    first, last = lane.played
    played = range(first, last + 1)
    steps, pins = _steps(voice), [lane.pins.get(step) for step in played]
    return Stock(lane, ground, first, np.array([step in steps for step in played]),
                 np.array([pin is True for pin in pins]), np.array([pin is False for pin in pins]),
                 role_of(lane))


def _steps(voice: Voice) -> set[int]:
    """The steps that are hits."""
    lane, hits, time = voice.lane, voice.hits, voice.time
    first, last = lane.played
    if time.round is None and hits.followed is None:
        return {step for step in range(first, last + 1) if lane.pins.get(step, hits.base[step])}
    if time.framed or time.path:
        longest = max(voice.times.frame, time.period * time.longest)
        runs = time.runs(0, longest + abs(time.shift))
        return {hit.step for hit in hits.of_run(runs[0])} if runs else set()
    return {hit.step for hit in hits.of_run(Run(0, 0, None, 0, time.period))}
