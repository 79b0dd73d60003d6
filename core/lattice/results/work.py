"""How much there is to work out, told from a recipe before anything is worked out.

The unit is about the work for one note: ten microseconds on a small machine of 2025. Whoever
serves many musicians refuses what costs too much; the core itself has no bound.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from functools import partial
from math import ceil, floor

from lattice.base.group import Reach
from lattice.base.lately import Lately
from lattice.play import lanes_in_groups
from lattice.recipe import Lane, Recipe
from lattice.sentence import by_bar
from lattice.strands.kinds import GATE, ROLL, TIE
from lattice.time.path import path_plan

LANE_WORK = 10.0
"""Finding a lane's place, however short the stretch."""
MAKING = 40.0
"""Setting the moving words of a lane for a bar, and finding what plays by them."""
GUST = 60.0
"""Drawing a gust over a lane, and finding what plays by it."""
MOST_BARS_LOOKED_AT = 64
LISTED = 0.05
"""Listing a cell of a rate path."""


@dataclass(frozen=True, slots=True)
class _Dense:
    """How dense a lane is. cell: the shortest, in beats; a_frame: cells in a frame, where each
    frame is gone through by itself, else None; whole: whether all of a frame is gone through for
    any part of it; strokes: notes a cell; rolled: strokes a frame over stretches of beats; rings:
    beats that a note may last; comes_round: beats in which a hit comes, if any does; reach: how far
    a note may lie off its place."""

    cell: float
    a_frame: float | None
    whole: bool
    strokes: float
    rolled: int
    rings: float
    comes_round: float
    reach: Reach


_known = Lately[_Dense](4096)


def work(recipe: Recipe, start: float, end: float, only: Iterable[str] | None = None) -> float:
    """The work of playing [start, end) beats: all lanes, or `only` some and those they follow.
    Where words move over more bars than are looked at, the dearest of those stands for all."""
    return _gust_work(recipe, start, end, only) + _fill_work(recipe, start, end) + \
        _moving_work(recipe, start, end, only)


def _fill_work(recipe: Recipe, start: float, end: float) -> float:
    bars = max(0.0, end - start) / float(recipe.bar_beats)
    return sum((MAKING * len(recipe.lanes) + _still_work(
        recipe.model_copy(update={"lanes": fill.lanes}), 0, float(fill.bars * recipe.bar_beats),
        None)) * ceil(bars / (fill.every * recipe.bars)) for fill in recipe.fills)


def _gust_work(recipe: Recipe, start: float, end: float, only: Iterable[str] | None) -> float:
    lanes = [lane.id for lane in recipe.lanes] if only is None else list(only)
    passes = max(0.0, end - start) / float(recipe.frame_beats)
    return sum(GUST * ceil(passes / gust.every) * sum(
        gust.over(lane_id) for lane_id in lanes) for gust in recipe.gusts)


def _moving_work(recipe: Recipe, start: float, end: float, only: Iterable[str] | None) -> float:
    moving = by_bar(recipe)
    if moving is None or end <= start:
        return _still_work(recipe, start, end, only)
    bar = float(recipe.bar_beats)
    first, after = floor(start / bar), ceil(end / bar)
    stride = max(1, (after - first) // MOST_BARS_LOOKED_AT)
    looked_at = range(first, after, stride)
    values = Counter(moving.values(number) for number in looked_at)
    lanes = {lane.id for lane in recipe.lanes} if only is None else set(only)
    dearest = total = 0.0
    for each, bars in values.items():
        playing = moving.recipe_with(each)
        one = MAKING * len(moving.moved) + _still_work(playing, start, start + bar,
                                                       lanes & moving.moved)
        dearest, total = max(dearest, one), total + bars * one
    if stride > 1:
        total = dearest * (after - first)
    return total + _still_work(recipe, start, end, lanes - moving.moved)


def _still_work(recipe: Recipe, start: float, end: float, only: Iterable[str] | None) -> float:
    """The work where no word moves."""
    frame = float(recipe.frame_beats)
    dense: dict[str, _Dense] = {}
    setting = recipe.setting
    for lane in recipe.playing_order():
        leader = dense[lane.follows] if lane.follows else None
        dense[lane.id] = _known.of(lane, *recipe.leaders(lane), also=setting, make=partial(
            _dense, lane, recipe, leader))
    wanted = dict.fromkeys(dense if only is None else only, (start, end))
    for group in lanes_in_groups(recipe):  # what still rings at the end may be cut by others
        rings = max(dense[lane.id].rings for lane in group)
        wanted |= {lane.id: (start, end + rings) for lane in group if lane.id in wanted}
    total = 0.0
    for lane in reversed(recipe.playing_order()):  # followers before those they follow
        if lane.id not in wanted:
            continue
        begin, stop = wanted[lane.id]
        reach = dense[lane.id].reach
        begin, stop = max(0.0, begin - reach.late), stop + reach.early
        total += _lane_work(dense[lane.id], lane, begin, stop, frame)
        if lane.follows is not None:
            known = wanted.get(lane.follows, (begin, stop))
            around = 2 * frame + dense[lane.id].cell  # it hears whole frames, and one on each side
            wanted[lane.follows] = (min(known[0], begin - around), max(known[1], stop + around))
    return total


def _lane_work(dense: _Dense, lane: Lane, start: float, end: float, frame: float) -> float:
    beats = max(0.0, end - start)
    frames = max(0, ceil(end / frame) - floor(max(0.0, start) / frame))
    cells = beats / dense.cell + 1
    if dense.a_frame is not None:
        cells = frames * dense.a_frame if dense.whole else min(cells, frames * dense.a_frame)
    listed = LISTED * (dense.a_frame or 0) if lane.rate_path else 0
    return LANE_WORK + listed + cells * dense.strokes + frames * dense.rolled


def _dense(lane: Lane, recipe: Recipe, leader: _Dense | None) -> _Dense:
    frame = recipe.frame_beats
    first, last = lane.played
    played = last - first + 1
    cell = longest = float(lane.cell_beats(recipe))
    a_frame: float | None = None
    whole = lane.direction in ("random", "wander") or lane.follows is not None
    if lane.rate_path:
        plan = path_plan(lane, frame)
        a_frame = float(sum(ceil((part.end - part.begin) / part.cell) for part in plan))
        cell, longest = (float(bound(part.cell for part in plan)) for bound in (min, max))
    elif lane.span == "once":
        a_frame = min(2.0 * played, float(frame) / cell + 1)
    elif whole:
        a_frame = float(frame) / cell + 1
    reach = Reach()
    lane.add_reach(reach, recipe, longest)
    if lane.smooth:  # each chord step is moved from the one before, since the progression began
        reach.later(float(sum(recipe.chords.lengths(recipe.bar_beats))) if recipe.chords
                    else float(frame))
    rings = _rings(lane, played, longest)
    if leader is not None and lane.highest(TIE):  # tied until a hit of its leader brings the next
        rings = max(rings, leader.rings, leader.comes_round)
    comes_round = 2 * longest * played * (lane.keep.every if lane.keep else 1)
    return _Dense(cell, a_frame, whole, _strokes(lane, played) * lane.thickness(rings),
                  sum(roll.strokes for roll in lane.rolls if roll.step is None),
                  rings, max(comes_round, leader.comes_round if leader else 0), reach)


def _strokes(lane: Lane, played: int) -> float:
    """Notes for each cell, one at least."""
    most: dict[int, int] = {}
    for roll in lane.rolls:
        if roll.step is not None:
            most[roll.step] = max(most.get(roll.step, 1), roll.strokes)
    return lane.highest(ROLL) + sum(strokes - 1 for strokes in most.values()) / played


def _rings(lane: Lane, played: int, cell: float) -> float:
    """Beats that a note may last: by its gate, or tied until the next hit."""
    rings = cell * lane.highest(GATE) / 100
    if lane.highest(TIE):
        every = lane.keep.every if lane.keep else 1
        rings = max(rings, 2 * cell * played * every)
    return rings
