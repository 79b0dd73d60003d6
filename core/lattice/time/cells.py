"""Where the cells of a lane lie in time, and which step each of them plays.

Lane time is time before the lane's `shift`.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, replace

from lattice.base.draws import Draws
from lattice.base.frame import Frame
from lattice.time.directions import one_round
from lattice.time.fields import TimeFields
from lattice.time.grain import Timeline
from lattice.time.path import path_cells


@dataclass(frozen=True, slots=True)
class Run:
    """A lane between two restarts; for lanes that count anew in every frame, within one frame.

    number: the restart's or frame's, the first index of every draw in it.
    origin: lane time of cell 0. limit: where the next restart cuts notes off, or None.
    begin, stop: the cells [begin, stop) that belong to it. frame: the frame whose hits it counts,
    for lanes that count anew in every frame.
    """

    number: int
    origin: int
    limit: int | None
    begin: int
    stop: int
    frame: int | None = None


class LaneTime:
    """The cells of one lane, for any range of time."""

    def __init__(self, lane: TimeFields, frame: Frame, times: Timeline, draws: Draws, *,
                 counts_anew: bool) -> None:
        """counts_anew: whether the lane's hits are counted anew in every frame, whatever order
        its steps have."""
        self.lane = lane
        self.draws = draws
        self.times = times
        self.cell = times.ticks(lane.cell_beats(frame))
        self.shift = times.ticks(4 * lane.shift)
        self.first, last = lane.played
        self.window = last - self.first + 1
        self.round = one_round(self.first, last, lane.direction)
        self.counts_anew = counts_anew
        self.framed = self.round is None or counts_anew
        """Whether hits have no closed form, so that counts begin anew in every frame."""
        self.restart = lane.restart_bars * times.bar if lane.restart_bars else None
        self.path = path_cells(lane, times) if lane.rate_path else None

    @property
    def period(self) -> int:
        """Cells in one period of the direction; for those without, as many as steps are played."""
        return len(self.round) if self.round else self.window

    @property
    def longest(self) -> int:
        """The longest cell, in ticks."""
        return max(self.path.lengths) if self.path else self.cell

    @property
    def begins_anew(self) -> int | None:
        """After how many ticks the first cell comes again whatever was played; None: never."""
        return self.times.frame if self.path or self.lane.span == "once" else self.restart

    def start(self, run: Run, cell: int) -> int:
        """Where a cell begins, in lane time."""
        return run.origin + (self.path.starts[cell] if self.path else cell * self.cell)

    def length(self, cell: int) -> int:
        """How long a cell is; in a rate path it may be cut by its stretch's end."""
        return self.path.lengths[cell] if self.path else self.cell

    def step(self, run: Run, cell: int) -> int:
        """The step that a cell of a lane with a period plays."""
        assert self.round is not None
        offset = self.lane.offset if self.lane.span == "once" else 0
        return self.round[(cell + offset) % len(self.round)]

    def step_at(self, run: Run, cell: int) -> int:
        """The step that any one cell plays."""
        if self.round is not None:
            return self.step(run, cell)
        return self.steps(replace(run, begin=cell), cell + 1)[0] \
            if self.lane.direction == "random" else self.steps(run, cell + 1)[-1]

    def steps(self, run: Run, stop: int) -> list[int]:
        """The steps that the cells from run.begin up to `stop` play."""
        if self.round is not None:
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
        count = len(self.path.starts) if self.path else min(self.period, -(-frame // self.cell))
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
                # What follows may be hit in a frame in which no cell of its own begins.
                if begin < after or self.counts_anew:
                    number = k if self.restart is None else run.number
                    yield Run(number, run.origin, run.limit, begin, max(begin, after), k)

    def span(self, run: Run, start: int, end: int) -> tuple[int, int]:
        """The cells of a run that begin in [start, end) of lane time."""
        if self.path:
            first = bisect_left(self.path.starts, start - run.origin)
            stop = bisect_left(self.path.starts, end - run.origin)
        else:
            first = -((run.origin - start) // self.cell)
            stop = -((run.origin - end) // self.cell)
        return max(first, run.begin), min(stop, run.stop)
