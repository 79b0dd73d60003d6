"""Where the cells of a lane lie in time, and which step each of them plays.

All positions are whole numbers of *ticks*: the pattern's grain, a fraction of a beat so fine that
every grid position of the pattern is a whole number of them. So positions stay exact however far
a pattern runs. Lane time is time before the lane's `shift`.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from math import lcm
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from lattice.errors import RecipeError
from lattice.values import Beats, Document, StepLength

if TYPE_CHECKING:
    from lattice.draws import Draws
    from lattice.recipe import Lane, Recipe

FINEST_GRAIN_BITS = 512
HAIR = Fraction(1, 1_000_000)
"""So far, in beats, floating point may have moved a place off the grid."""

Span = Literal["cycle", "fit", "once"]
Direction = Literal["forward", "backward", "bounce", "bounce-twice", "random", "wander"]


class RateStretch(Document):
    """From `start`, `beats` long in the frame: cells of `step`, contour blended by `contour`."""

    start: Beats
    beats: Beats
    step: StepLength
    contour: Annotated[float, Field(ge=0, le=100)] = 0


def ordered(first: int, last: int, direction: Direction) -> tuple[int, ...] | None:
    """One period of the steps played from first to last; None where there is no period.

    bounce plays its ends once, bounce-twice plays them twice in a row.
    """
    steps = tuple(range(first, last + 1))
    if direction == "forward":
        return steps
    if direction == "backward":
        return steps[::-1]
    if direction == "bounce":
        return steps + steps[-2:0:-1]
    if direction == "bounce-twice":
        return steps + steps[::-1]
    return None


@dataclass(frozen=True, slots=True)
class Timeline:
    """The pattern's measures in ticks; `grain` is the number of ticks in a beat."""

    grain: int
    bar: int
    frame: int

    def ticks(self, beats: Fraction) -> int:
        """An exact position in ticks; the grain holds every position that a recipe names."""
        return beats.numerator * self.grain // beats.denominator

    def around(self, start: float, end: float) -> tuple[int, int]:
        """The ticks [begin, stop) that hold every grid position in [start, end) beats, and those
        a hair beside it, however fine the grain."""
        return (self.ticks(Fraction(start) - HAIR), self.ticks(Fraction(end) + HAIR) + 1)


def timeline(recipe: Recipe) -> Timeline:
    """The grain in which all grid positions of a recipe are whole; RecipeError where it would be
    finer than 1/2^512 of a beat."""
    parts = {recipe.bar_beats.denominator}
    answers = 1
    for lane in recipe.lanes:
        parts |= {cell_beats(lane, recipe).denominator, (4 * lane.shift).denominator}
        if lane.rate_path:  # beats outside its stretches have the lane's own step, fitted or not
            parts.add((4 * lane.step).denominator)
        for stretch in lane.rate_path:
            parts |= {(4 * stretch.step).denominator, stretch.start.denominator,
                      stretch.beats.denominator}
        parts |= {beats.denominator for roll in lane.rolls
                  for beats in (roll.start, roll.beats) if beats is not None}
        answers *= getattr(lane.rule, "place", Fraction(0)).denominator
    grain = answers
    for part in parts:
        grain = lcm(grain // answers, part) * answers
        if grain.bit_length() > FINEST_GRAIN_BITS:
            raise RecipeError("Step lengths, shifts and rolls here are too many different "
                              "fractions to be exact together; choose simpler ones.")
    return Timeline(grain, int(recipe.bar_beats * grain), int(recipe.frame_beats * grain))


def cell_beats(lane: Lane, recipe: Recipe) -> Fraction:
    """The length d of a lane's cells, in beats (outside the stretches of a rate path)."""
    if lane.span != "fit":
        return 4 * lane.step
    first, last = lane.played
    bars = lane.fit_bars or recipe.bars
    return bars * recipe.bar_beats / (last - first + 1)


@dataclass(frozen=True, slots=True)
class Run:
    """A lane between two restarts; for lanes that count anew in every frame, within one frame.

    number: the restart's or frame's, the first index of every draw in it.
    origin: lane time of cell 0. limit: where the next restart cuts notes off, or None.
    begin, stop: the cells [begin, stop) that belong to it.
    """

    number: int
    origin: int
    limit: int | None
    begin: int
    stop: int


class LaneTime:
    """The cells of one lane, for any range of time."""

    def __init__(self, lane: Lane, recipe: Recipe, times: Timeline, draws: Draws) -> None:
        self.lane = lane
        self.draws = draws
        self.times = times
        self.cell = times.ticks(cell_beats(lane, recipe))
        self.shift = times.ticks(4 * lane.shift)
        self.first, last = lane.played
        self.window = last - self.first + 1
        self.order = ordered(self.first, last, lane.direction)
        self.framed = self.order is None or lane.follows is not None
        """Whether hits have no closed form, so that counts begin anew in every frame."""
        self.restart = lane.restart_bars * times.bar if lane.restart_bars else None
        self.path = _path_cells(lane, times) if lane.rate_path else None

    @property
    def period(self) -> int:
        """Cells in one period of the direction; for those without, as many as steps are played."""
        return len(self.order) if self.order else self.window

    def start(self, run: Run, cell: int) -> int:
        """Where a cell begins, in lane time."""
        return run.origin + (self.path[0][cell] if self.path else cell * self.cell)

    def length(self, cell: int) -> int:
        """How long a cell is; in a rate path it may be cut by its stretch's end."""
        return self.path[1][cell] if self.path else self.cell

    def step(self, run: Run, cell: int) -> int:
        """The step that a cell of a lane with a period plays."""
        assert self.order is not None
        offset = self.lane.offset if self.lane.span == "once" else 0
        return self.order[(cell + offset) % len(self.order)]

    def step_at(self, run: Run, cell: int) -> int:
        """The step that any one cell plays."""
        if self.order is not None:
            return self.step(run, cell)
        return self.steps(replace(run, begin=cell), cell + 1)[0] \
            if self.lane.direction == "random" else self.steps(run, cell + 1)[-1]

    def steps(self, run: Run, stop: int) -> list[int]:
        """The steps that the cells from run.begin up to `stop` play."""
        if self.order is not None:
            return [self.step(run, cell) for cell in range(run.begin, stop)]
        if self.lane.direction == "random":
            return [self.first + int(self.draws("direction", run.number, cell) * self.window)
                    for cell in range(run.begin, stop)]
        return list(self._wander(run, stop))

    def _wander(self, run: Run, stop: int) -> Iterator[int]:
        at = 0
        for cell in range(run.begin, stop):
            if cell > run.begin:
                at += int(self.draws("direction", run.number, cell) * 3) - 1
                at = 1 if at < 0 else self.window - 2 if at >= self.window else at
                at = min(max(at, 0), self.window - 1)
            yield self.first + at

    def runs(self, start: int, end: int) -> list[Run]:
        """The runs that have cells beginning in [start, end) of lane time, each with *all* the
        cells it has up to its own end or, where it has none, up to `end`."""
        start = max(start, -self.shift, 0)
        if end <= start:
            return []
        if self.path or self.lane.span == "once":
            return self._frame_runs(start, end)
        runs = self._restart_runs(start, end)
        return list(self._split_at_frames(runs, start, end)) if self.framed else runs

    def _frame_runs(self, start: int, end: int) -> list[Run]:
        frame = self.times.frame
        count = len(self.path[0]) if self.path else min(self.period, -(-frame // self.cell))
        return [Run(k, k * frame, (k + 1) * frame, 0, count)
                for k in range(start // frame, -(-end // frame))]

    def _restart_runs(self, start: int, end: int) -> list[Run]:
        if self.restart is None:
            return [Run(0, 0, None, 0, -(-end // self.cell))]
        count = -(-self.restart // self.cell)
        return [Run(n, n * self.restart, (n + 1) * self.restart, 0, count)
                for n in range(start // self.restart, -(-end // self.restart))]

    def _split_at_frames(self, runs: list[Run], start: int, end: int) -> Iterator[Run]:
        frame, cell = self.times.frame, self.cell
        for run in runs:
            stop = run.limit if run.limit is not None else end
            for k in range(max(start, run.origin) // frame, -(-min(end, stop) // frame)):
                begin = max(0, -((run.origin - k * frame) // cell))
                after = -((run.origin - (k + 1) * frame) // cell)
                if run.limit is not None:
                    after = min(after, run.stop)
                if begin < after:
                    number = k if self.restart is None else run.number
                    yield Run(number, run.origin, run.limit, begin, after)

    def span(self, run: Run, start: int, end: int) -> tuple[int, int]:
        """The cells of a run that begin in [start, end) of lane time."""
        if self.path:
            first = bisect_left(self.path[0], start - run.origin)
            stop = bisect_left(self.path[0], end - run.origin)
        else:
            first = -((run.origin - start) // self.cell)
            stop = -((run.origin - end) // self.cell)
        return max(first, run.begin), min(stop, run.stop)


def path_plan(lane: Lane, frame: Fraction) -> list[tuple[Fraction, Fraction, Fraction, float]]:
    """A rate path over a whole frame, in beats: (begin, end, cell, contour amount). Beats that no
    stretch covers have the lane's own step length and contour."""
    own = lane.contour.amount if lane.contour else 0
    plan: list[tuple[Fraction, Fraction, Fraction, float]] = []
    at = Fraction(0)
    for stretch in lane.rate_path:
        plan.append((at, stretch.start, 4 * lane.step, own))
        at = stretch.start + stretch.beats
        plan.append((stretch.start, at, 4 * stretch.step, stretch.contour))
    plan.append((at, frame, 4 * lane.step, own))
    return [(begin, min(end, frame), cell, contour)
            for begin, end, cell, contour in plan if begin < min(end, frame)]


def _path_cells(lane: Lane, times: Timeline) -> tuple[list[int], list[int], list[float]]:
    """Starts, lengths and contour amounts of a rate path's cells within the frame."""
    starts: list[int] = []
    lengths: list[int] = []
    contours: list[float] = []
    for begin, end, cell, contour in path_plan(lane, Fraction(times.frame, times.grain)):
        stop, length = times.ticks(end), times.ticks(cell)
        for start in range(times.ticks(begin), stop, length):
            starts.append(start)
            lengths.append(min(length, stop - start))
            contours.append(contour)
    return starts, lengths, contours
