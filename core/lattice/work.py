"""How much there is to work out, told from a recipe before anything is worked out.

The unit is about the work for one note: ten microseconds on a small machine of 2025. Whoever
serves many musicians refuses what costs too much; the core itself has no bound.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import ceil, floor
from typing import TYPE_CHECKING

from lattice.play import groups
from lattice.time import cell_beats, path_plan

if TYPE_CHECKING:
    from lattice.edits.base import Edit
    from lattice.recipe import Lane, Recipe

LANE = 10.0
"""Finding a lane's place, however short the stretch."""
CHANGE = 40.0
"""Changing one lane."""
LISTED = 0.05
"""Listing a cell of a rate path."""


@dataclass(frozen=True, slots=True)
class _Dense:
    """How dense a lane is. cell: the shortest, in beats; a_frame: cells in a frame, where each
    frame is gone through by itself, else None; whole: whether all of a frame is gone through for
    any part of it; strokes: notes a cell; rolled: strokes a frame over stretches of beats; rings:
    beats that a note may last; loose: beats by which a note may lie off its place."""

    cell: float
    a_frame: float | None
    whole: bool
    strokes: float
    rolled: int
    rings: float
    loose: float


def work(recipe: Recipe, start: float, end: float, only: Iterable[str] | None = None) -> float:
    """The work of playing [start, end) beats: all lanes, or `only` some and those they follow."""
    frame = float(recipe.frame_beats)
    dense = {lane.id: _dense(lane, recipe) for lane in recipe.lanes}
    wanted = dict.fromkeys(dense if only is None else only, (start, end))
    for group in groups(recipe):  # what still rings at the end may be cut by others
        rings = max(dense[lane.id].rings for lane in group)
        wanted |= {lane.id: (start, end + rings) for lane in group if lane.id in wanted}
    total = 0.0
    for lane in reversed(recipe.playing_order()):  # followers before those they follow
        if lane.id not in wanted:
            continue
        begin, stop = wanted[lane.id]
        begin, stop = max(0.0, begin - dense[lane.id].loose), stop + dense[lane.id].loose
        total += _lane_work(dense[lane.id], lane, begin, stop, frame)
        if lane.follows is not None:
            known = wanted.get(lane.follows, (begin, stop))
            around = 2 * frame + dense[lane.id].cell  # it hears whole frames, and one on each side
            wanted[lane.follows] = (min(known[0], begin - around), max(known[1], stop + around))
    return total


def edit_work(edits: Iterable[Edit]) -> float:
    """The work of making edits."""
    return CHANGE * sum(edit.changes for edit in edits)


def _lane_work(dense: _Dense, lane: Lane, start: float, end: float, frame: float) -> float:
    beats = max(0.0, end - start)
    frames = max(0, ceil(end / frame) - floor(max(0.0, start) / frame))
    cells = beats / dense.cell + 1
    if dense.a_frame is not None:
        cells = frames * dense.a_frame if dense.whole else min(cells, frames * dense.a_frame)
    listed = LISTED * (dense.a_frame or 0) if lane.rate_path else 0
    return LANE + listed + cells * dense.strokes + frames * dense.rolled


def _dense(lane: Lane, recipe: Recipe) -> _Dense:
    frame = recipe.frame_beats
    first, last = lane.played
    played = last - first + 1
    cell = longest = float(cell_beats(lane, recipe))
    a_frame: float | None = None
    follows = lane.follows is not None
    if lane.rate_path:
        plan = path_plan(lane, frame)
        a_frame = float(sum(ceil((end - begin) / each) for begin, end, each, _ in plan))
        cell, longest = (float(bound(each for *_, each, _ in plan)) for bound in (min, max))
    elif lane.span == "once":
        a_frame = min(2.0 * played, float(frame) / cell + 1)
    elif lane.direction in ("random", "wander") or follows:
        a_frame = float(frame) / cell + 1
    whole = a_frame is not None and (lane.direction in ("random", "wander") or follows)
    loose = longest * (max(map(abs, lane.vary.time)) + (50 if lane.strands.nudge else 0)) / 100
    swing = recipe.swing if lane.swing == "follow" else lane.swing
    loose += 2 * float(swing.grid) if swing and not isinstance(swing, str) else 0
    return _Dense(cell, a_frame, whole, _strokes(lane, played),
                  sum(roll.strokes for roll in lane.rolls if roll.step is None),
                  _rings(lane, played, longest), loose)


def _strokes(lane: Lane, played: int) -> float:
    """Notes for each cell, one at least."""
    most: dict[int, int] = {}
    for roll in lane.rolls:
        if roll.step is not None:
            most[roll.step] = max(most.get(roll.step, 1), roll.strokes)
    plain = max(_highs(lane, "roll", 1))
    return plain + sum(strokes - 1 for strokes in most.values()) / played


def _rings(lane: Lane, played: int, cell: float) -> float:
    """Beats that a note may last: by its gate, or tied until the next hit."""
    rings = cell * max(_highs(lane, "gate", lane.gate)) / 100
    if max(_highs(lane, "tie", 0)):
        every = lane.keep.every if lane.keep else 1
        rings = max(rings, 2 * cell * played * every)
    return rings


def _highs(lane: Lane, kind: str, single: float) -> list[float]:
    """The highest that each value of a strand can be, or the lane's single value."""
    strand = lane.strands.used().get(kind)
    if strand is None:
        return [single]
    return [value[1] if isinstance(value, tuple) else value for value in strand.values]
