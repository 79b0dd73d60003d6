"""Rate paths: other step lengths, and another contour, for some beats of the frame."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from lattice.time.fields import RateStretch, TimeFields
from lattice.time.grain import Timeline


@dataclass(frozen=True, slots=True)
class PathPart:
    """Beats [begin, end) of the frame in cells of `cell` beats. stretch: the one that covers them;
    None where they have the lane's own step length and contour."""

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


def path_cells(lane: TimeFields, times: Timeline) -> tuple[
        list[int], list[int], list[float | None]]:
    """Starts, lengths and contour amounts (None: the lane's own) of a rate path's cells within the
    frame."""
    starts: list[int] = []
    lengths: list[int] = []
    contours: list[float | None] = []
    for part in path_plan(lane, Fraction(times.frame, times.grain)):
        stop, length = times.ticks(part.end), times.ticks(part.cell)
        for start in range(times.ticks(part.begin), stop, length):
            starts.append(start)
            lengths.append(min(length, stop - start))
            contours.append(part.stretch.contour if part.stretch else None)
    return starts, lengths, contours
