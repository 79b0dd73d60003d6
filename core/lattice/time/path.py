"""Rate paths: other step lengths, and another feel, for some beats of the frame."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from lattice.time.fields import RateStretch, TimeFields
from lattice.time.grain import Timeline


@dataclass(frozen=True, slots=True)
class PathPart:
    """Beats [begin, end) of the frame in cells of `cell` beats. stretch: the one that covers them;
    None where they have the lane's own step length and feel."""

    begin: Fraction
    end: Fraction
    cell: Fraction
    stretch: RateStretch | None


def path_plan(lane: TimeFields, frame: Fraction) -> list[PathPart]:
    """A rate path over a whole frame of so many beats."""
    plan: list[PathPart] = []
    at = Fraction(0)
    for stretch in lane.rate_path:
        plan.append(PathPart(at, min(stretch.start, frame), 4 * lane.step, None))
        at = stretch.start + stretch.beats
        plan.append(PathPart(stretch.start, min(at, frame), 4 * stretch.step, stretch))
    plan.append(PathPart(at, frame, 4 * lane.step, None))
    return [part for part in plan if part.begin < part.end]


@dataclass(frozen=True, slots=True)
class PathCells:
    """A rate path's cells within the frame: where each starts and how long it is, in ticks, and the
    stretch that it is in (None: it is as the lane's own)."""

    starts: list[int]
    lengths: list[int]
    stretches: list[RateStretch | None]


def path_cells(lane: TimeFields, times: Timeline) -> PathCells:
    """The cells of a lane's rate path."""
    found = PathCells([], [], [])
    for part in path_plan(lane, Fraction(times.frame, times.grain)):
        stop, length = times.ticks(part.end), times.ticks(part.cell)
        for start in range(times.ticks(part.begin), stop, length):
            found.starts.append(start)
            found.lengths.append(min(length, stop - start))
            found.stretches.append(part.stretch)
    return found
