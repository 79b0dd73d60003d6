"""Nudges that are a swing: hits late by just as much as a swing would make them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from fractions import Fraction

from lattice.base.clauses import NEUTRAL, Fields
from lattice.base.frame import Swing, SwingPercent
from lattice.base.values import limits, to_json
from lattice.features.timing import straightened, swung
from lattice.strands.kinds import GATE, NUDGE, StrandKind, Value, numbers
from lattice.telling.target import Target

GRIDS = 1, 2
"""Grids that are looked at, in cells of the lane."""
CLOSE = 1e-7
"""A nudge no further off than this, in beats, is the swing's."""

Values = Mapping[StrandKind, Sequence[Value]]


def swings(target: Target) -> Iterator[tuple[Fields, Values]]:
    """Swings that a lane's nudges may be, of its own or the pattern's: the fields that say so, and
    what nudge and gate are on each hit then. A swing stretches notes too, so that gates change."""
    lane, recipe = target.lane, target.recipe
    nudges, gates = target.values.get(NUDGE), target.values.get(GATE)
    swinging = lane.swing_in(recipe)
    if nudges is None or gates is None or not any(nudges) or lane.rate_path or lane.rolls or (
            swinging is not None and swinging.percent != 50):
        return
    cell = lane.cell_beats(recipe)
    later = [nudge / 100 * float(cell) for nudge in numbers(nudges)]
    starts = [hit.start / target.performance.times.grain for hit in target.hits]
    for swing, fields in _candidates(target, cell, starts, later):
        warp = swung(swing, target.performance.times)
        back = straightened(swing, float(recipe.bar_beats))
        if all(abs(warp(at) - at - by) < CLOSE for at, by in zip(starts, later, strict=True)):
            lasting = [back(at + by + float(cell) * gate / 100) - at
                       for at, by, gate in zip(starts, later, numbers(gates), strict=True)]
            yield fields, {NUDGE: [0.0] * len(starts),
                           GATE: [round(100 * beats / float(cell), 6) for beats in lasting]}


def _candidates(target: Target, cell: Fraction, starts: Sequence[float],
                later: Sequence[float]) -> Iterator[tuple[Swing, Fields]]:
    """The pattern's swing, where the lane stays straight; and by how much its first late hit is
    late, on each grid."""
    pattern = target.recipe.swing
    if pattern is not None and target.lane.swing == "straight":
        yield pattern, {"swing": NEUTRAL}
    at, by = next((start, late) for start, late in zip(starts, later, strict=True) if late)
    low, high = limits(SwingPercent)
    for cells in GRIDS:
        half = float(cell * cells)
        rest = at % float(target.recipe.bar_beats) % (2 * half)
        over = max(0.0, 2 * (rest - half))
        percent = round(100 * (by + rest - over) / (2 * min(rest, 2 * half - rest)), 4) \
            if rest else 0.0
        if low < percent <= high:
            swing = Swing(grid=cell * cells / 4, percent=percent)
            yield swing, {"swing": to_json(swing)}
