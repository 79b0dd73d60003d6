"""Which cells of a lane are hits: the rule, reverse, flip, pins, keep; in this order."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import gcd

from lattice.base.draws import Draws
from lattice.base.frame import Frame
from lattice.base.residues import Residue
from lattice.hits.fields import HitFields, Keep
from lattice.rules import FollowingRule, RuleContext
from lattice.time.cells import LaneTime, Run
from lattice.time.grain import Timeline

MOST_FRAMES_AHEAD = 4096
"""So far ahead the next hit is looked for."""


@dataclass(slots=True)
class Hit:
    """A step that plays, before chance.

    start is in ticks of pattern time; length is the cell's. ordinal counts the lane's hits (from
    0) on through its run, cycle_ordinal from the cycle's start.
    """

    run: Run
    cell: int
    step: int
    start: int
    length: int
    ordinal: int
    cycle_ordinal: int
    pinned: bool


class LaneHits:
    """The hits of one lane, for any range of time."""

    def __init__(self, lane: HitFields, frame: Frame, times: Timeline, draws: Draws,
                 followed: LaneHits | None) -> None:
        self.lane = lane
        self.times = times
        self.time = LaneTime(lane, frame, times, draws, counts_anew=followed is not None)
        self.followed = followed
        self._cycles: dict[tuple[int, int], list[int]] = {}
        self._frames: dict[int, list[Hit]] = {}
        if self.followed is None:
            self.base = self._base(frame, draws)
        if not self.time.framed:
            self._count_period()

    def _base(self, frame: Frame, draws: Draws) -> list[bool]:
        """The rule's hits after reverse and flip, one a step."""
        lane = self.lane
        hits = lane.rule.pattern(RuleContext(lane, frame, draws))
        if lane.reverse:
            hits = hits[::-1]
        return [not hit for hit in hits] if lane.flip else hits

    @property
    def count(self) -> int:
        """How many of the steps that are played are hits, pins included and keep left aside; for
        rules that say so of a step."""
        first, last = self.lane.played
        return sum(self.lane.pins.get(step, self.base[step]) for step in range(first, last + 1))

    def counts(self) -> tuple[int, int]:
        """After how many cycles the count of kept hits comes round, and how many hits there are
        in so many cycles; for lanes whose counts have a closed form."""
        plain, pinned, keep = self._plain, self._pinned, self.lane.keep
        if keep is None or not plain:
            return 1, plain + pinned
        if keep.count == "cycle":
            return 1, keep.kept_before(plain) + pinned
        cycles = keep.every // gcd(keep.every, plain)
        chosen = plain * cycles // keep.every
        return cycles, (plain * cycles - chosen if keep.drop else chosen) + pinned * cycles

    def _count_period(self) -> None:
        """Number the hits of one period, so that any cell's counts follow in closed form."""
        run = Run(0, 0, None, 0, self.time.period)
        self._marks: list[tuple[int, int, bool]] = []  # (cell, step, pinned) of possible hits
        for cell, step in enumerate(self.time.steps(run, self.time.period)):
            pin = self.lane.pins.get(step)
            if self.base[step] if pin is None else pin:
                self._marks.append((cell, step, pin is True))
        self._pinned = sum(pinned for _, _, pinned in self._marks)
        self._plain = len(self._marks) - self._pinned

    def between(self, start: int, end: int) -> list[Hit]:
        """The hits that begin in [start, end) of pattern time, in order."""
        shift = self.time.shift
        runs = self.time.runs(start - shift, end - shift)
        found: list[Hit] = []
        for run in runs:
            if self.time.framed:
                found += [hit for hit in self._framed(run) if start <= hit.start < end]
            else:
                found += self._closed(run, *self.time.span(run, start - shift, end - shift))
        if self.time.shift < 0 or start < 0:
            found = [hit for hit in found if hit.start >= 0]
        return found

    def _heard(self, start: int, end: int) -> Iterator[Hit]:
        """The same, frame by frame and remembered: lanes that follow this one ask for each frame
        several times, and those that follow them again."""
        frame = self.times.frame
        for k in range(start // frame, -(-end // frame)):
            if k not in self._frames:
                if len(self._frames) >= MOST_FRAMES_AHEAD:
                    self._frames.clear()
                self._frames[k] = self.between(k * frame, (k + 1) * frame)
            yield from (hit for hit in self._frames[k] if start <= hit.start < end)

    def _closed(self, run: Run, begin: int, stop: int) -> list[Hit]:
        """The hits among cells [begin, stop) of a lane whose counts have a closed form."""
        time, keep = self.time, self.lane.keep
        period, shift, path = time.period, time.shift, time.path
        plain_each, pinned_each = self._plain, self._pinned
        per_cycle = keep is not None and keep.count == "cycle"
        found = []
        for cycle in range(begin // period, -(-stop // period)):
            if keep is None:
                first = cycle * (plain_each + pinned_each)
            elif per_cycle:
                first = cycle * (keep.kept_before(plain_each) + pinned_each)
            else:
                first = keep.kept_before(cycle * plain_each) + cycle * pinned_each
            plain = 0 if per_cycle else cycle * plain_each
            ordinal, base = first, cycle * period
            for offset, step, pinned in self._marks:
                if not pinned:
                    plain += 1
                    if keep is not None and not keep.chooses(plain - 1):
                        continue
                cell = base + offset
                if begin <= cell < stop:
                    where = run.origin + (path.starts[cell] if path else cell * time.cell) + shift
                    found.append(Hit(run, cell, step, where, time.length(cell), ordinal,
                                     ordinal - first, pinned))
                ordinal += 1
        return found

    def _framed(self, run: Run) -> list[Hit]:
        """All hits of a run whose counts begin with it."""
        time, lane, keep = self.time, self.lane, self.lane.keep
        found = []
        ordinal = plain = 0
        for cell, step, start in self._counted(run):
            pin = lane.pins.get(step)
            if pin is None:
                plain += 1
                if keep is not None and not keep.chooses(plain - 1):
                    continue
            found.append(Hit(run, cell, step, start, time.length(cell), ordinal, ordinal,
                             pin is True))
            ordinal += 1
        return found

    def _counted(self, run: Run) -> list[tuple[int, int, int]]:
        """(cell, step, start) of each hit that a run counts, after pins, before keep: those that
        fall in its frame. Where another lane is followed, the last cell before may reach into it,
        and its own last one beyond it."""
        time, shift = self.time, self.time.shift
        own = self._in_cells(run)
        if self.followed is None or run.frame is None:
            return own
        low = run.frame * self.times.frame + shift
        high = low + self.times.frame
        before = replace(run, begin=run.begin - 1, stop=run.begin)
        if run.begin and time.start(before, before.begin) + time.cell + shift > low:
            own = self._in_cells(before) + own
        return [each for each in own if low <= each[2] < high]

    def _in_cells(self, run: Run) -> list[tuple[int, int, int]]:
        """(cell, step, start) of each hit in a run's cells, after pins, before keep."""
        if run.begin == run.stop:
            return []
        steps = self.time.steps(run, run.stop)
        return [(run.begin + index, steps[index], start)
                for index, start in self._onsets(run, steps)]

    def _onsets(self, run: Run, steps: Sequence[int]) -> list[tuple[int, int]]:
        """(index of the cell in the run, start) of each hit after pins, before keep."""
        time, pins = self.time, self.lane.pins
        starts = [time.start(run, run.begin + i) + time.shift for i in range(len(steps))]
        if self.followed is None:
            return [(i, starts[i]) for i, step in enumerate(steps)
                    if pins.get(step, self.base[step])]
        assert isinstance(self.lane.rule, FollowingRule)
        frame = self.times.frame
        cells = [(start, start + time.length(run.begin + i)) for i, start in enumerate(starts)]
        heard = [(hit.start, hit.ordinal)
                 for hit in self.followed._heard(starts[0] - frame, cells[-1][1] + frame + 1)]
        onsets = self.lane.rule.onsets(cells, heard, frame)
        if self.lane.flip:
            played = {index for index, _ in onsets}
            onsets = [(i, start) for i, start in enumerate(starts) if i not in played]
        limit = run.limit + time.shift if run.limit is not None else None
        kept = [(i, start) for i, start in onsets
                if pins.get(steps[i], True) and (limit is None or start < limit)]
        places = {start for _, start in kept}
        kept += [(i, start) for i, start in enumerate(starts)
                 if pins.get(steps[i]) and start not in places]
        return sorted(kept, key=lambda onset: onset[1])

    def of_run(self, run: Run) -> list[Hit]:
        """All hits of a run that ends."""
        return self._framed(run) if self.time.framed else self._closed(run, run.begin, run.stop)

    def restarted(self, hit: Hit) -> int:
        """Where the lane began the last time before a hit, in pattern time."""
        return max(0, hit.run.origin + self.time.shift)

    def frame_and_number(self, hit: Hit) -> tuple[int, int]:
        """The frame in which a hit counts that is counted anew in every frame, and its number."""
        run = hit.run
        return run.number if run.frame is None else run.frame, hit.ordinal

    def counted_before(self, run: Run, tick: int) -> int:
        """How many hits a run has before a place of pattern time, as ordinals count them."""
        time = self.time
        if time.framed:
            return bisect_left([hit.start for hit in self._framed(run)], tick)
        before = tick - time.shift - run.origin
        cell = bisect_left(time.path.starts, before) if time.path else \
            max(0, -(-before // time.cell))
        cycle, rest = divmod(cell, time.period)
        marks = bisect_left([offset for offset, _, _ in self._marks], rest)
        pinned = sum(pinned for _, _, pinned in self._marks[:marks])
        plain, keep = marks - pinned, self.lane.keep
        pinned += cycle * self._pinned
        if keep is None:
            return pinned + cycle * self._plain + plain
        if keep.count == "cycle":
            return pinned + cycle * keep.kept_before(self._plain) + keep.kept_before(plain)
        return pinned + keep.kept_before(cycle * self._plain + plain)

    @property
    def residues(self) -> list[Residue]:
        """The cells that are hits, where counts have a closed form: classes of numbers, some of
        which are taken away again."""
        period, keep = self.time.period, self.lane.keep
        found: list[Residue] = []
        plain = 0
        for offset, _, pinned in self._marks:
            number, plain = plain, plain + (not pinned)
            if pinned or keep is None:
                found.append(Residue(offset, period))
            elif keep.count == "cycle":
                if keep.chooses(number):
                    found.append(Residue(offset, period))
            else:
                found += self._kept(keep, offset, number)
        return found

    def _kept(self, keep: Keep, offset: int, number: int) -> Iterator[Residue]:
        """The cells at one offset of each cycle that stay, of the plain hit with this number."""
        period = self.time.period
        if keep.drop:
            yield Residue(offset, period)
        chosen = Residue(keep.first - 1, keep.every).meets(Residue(number, self._plain))
        if chosen is not None:
            # Plain hits number + c x plain of the lane are the cells offset + c x period.
            cycles = Residue((chosen.rest - number) // self._plain, chosen.modulus // self._plain)
            first = max(0, -((number - (keep.first - 1)) // self._plain))
            yield Residue(cycles.rest * period + offset, cycles.modulus * period,
                          first * period + offset, -1 if keep.drop else 1)

    def cycle_of(self, hit: Hit) -> tuple[int, int]:
        """The address of a hit's cycle: (run, cycle); in lanes without a period the cycle is the
        frame, named by its first cell."""
        return hit.run.number, \
            hit.run.begin if self.time.framed else hit.cell // self.time.period

    def steps_hit_in_cycle(self, hit: Hit) -> list[int]:
        """The distinct steps that are hits in the cycle of `hit`, in order."""
        address = self.cycle_of(hit)
        if address not in self._cycles:
            if self.time.framed:
                hits = self._framed(hit.run)
            else:
                begin = address[1] * self.time.period
                stop = begin + self.time.period
                if hit.run.limit is not None:
                    stop = min(stop, hit.run.stop)
                hits = self._closed(hit.run, begin, stop)
            self._cycles[address] = sorted({each.step for each in hits})
        return self._cycles[address]

    def following(self, hit: Hit) -> Hit | None:
        """The lane's next hit; None if there is none for long."""
        begin, width = hit.start + 1, self.times.frame
        while begin - hit.start < MOST_FRAMES_AHEAD * self.times.frame:
            found = self.between(begin, begin + width)
            if found:
                return found[0]
            begin, width = begin + width, 2 * width
        return None

    def verdict(self, run: Run, cell: int) -> tuple[bool, bool | None, bool]:
        """For why: (the rule has a hit here, the pin, the cell is a hit after keep)."""
        step = self.time.step_at(run, cell)
        pin = self.lane.pins.get(step)
        if self.time.framed:
            rule = any(run.begin + i == cell for i, _ in self._onsets(run, self.time.steps(
                run, run.stop))) if self.followed else self.base[step]
            hit = any(each.cell == cell for each in self._framed(run))
        else:
            rule = self.base[step]
            hit = bool(self._closed(run, cell, cell + 1))
        return rule, pin, hit
