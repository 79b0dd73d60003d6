"""Anchors: cells of a lane at which a note of its own sounds, hit or not; and how they are counted
with the hits."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil, gcd

from lattice.arpeggio.fields import Anchor
from lattice.base.residues import Residue, below, both
from lattice.hits.found import MOST_FRAMES_AHEAD, Hit, LaneHits
from lattice.time.cells import Run


@dataclass(frozen=True, slots=True)
class Moment:
    """A place at which a lane may sound. hit: the hit, counted together with anchors on rests, or
    the anchor as if it were one; walked: the hit as the walk counts it, None on a rest."""

    hit: Hit
    walked: Hit | None
    anchored: bool


@dataclass(frozen=True, slots=True)
class _Listed:
    """The anchors of a run whose cells are gone through: starts of all, of those on rests and of
    those on hits, in pattern time, ascending."""

    all: list[int]
    rests: list[int]
    hits: list[int]


@dataclass(frozen=True, slots=True)
class _Classes:
    """The anchors of a run in classes of cell numbers: all, and those on hits."""

    all: Sequence[Residue]
    hits: Sequence[Residue]


class Anchors:
    """The anchors of one lane, for any range of time."""

    def __init__(self, anchor: Anchor, hits: LaneHits) -> None:
        self.anchor, self.hits, self.time = anchor, hits, hits.time
        times = hits.times
        self._frame = times.frame
        self._every = times.ticks(anchor.every) if anchor.unit == "beats" else int(anchor.every)
        self._gone_through = bool(self.time.framed or self.time.path or
                                  self.time.lane.span == "once")
        self._listed: dict[tuple[int, int, int | None], _Listed] = {}
        self._classes = lru_cache(32)(self._worked_out)

    def falls_on(self, run: Run, cell: int) -> bool:
        """Whether an anchor stands at a cell."""
        if self.anchor.unit == "steps":
            return cell % self._every == 0
        return self.time.start(run, cell) % self._frame % self._every == 0

    def between(self, begin: int, stop: int) -> list[Moment]:
        """The moments that begin in [begin, stop) of pattern time, in order."""
        time, shift = self.time, self.time.shift
        by_run: dict[tuple[int, int, int | None], list[Hit]] = {}
        for hit in self.hits.between(begin, stop):
            by_run.setdefault(self._run_key(hit.run), []).append(hit)
        found: list[Moment] = []
        for run in time.runs(begin - shift, stop - shift):
            first, after = time.span(run, begin - shift, stop - shift)
            places = [(time.start(run, cell) + shift, cell)
                      for cell in self._cells(run, first, after)]
            found += self._merged(run, by_run.get(self._run_key(run), []),
                                  [place for place in places if place[0] >= max(begin, 0)])
        return found

    @staticmethod
    def _run_key(run: Run) -> tuple[int, int, int | None]:
        return run.number, run.begin, run.frame

    def _merged(self, run: Run, hits: Sequence[Hit],
                places: Sequence[tuple[int, int]]) -> Iterator[Moment]:
        if not hits and not places:
            return
        on_hits = {hit.start: hit for hit in hits}
        anchored = dict(places)
        starts = sorted({*on_hits, *anchored})
        number = self.hits.counted_before(run, starts[0])
        rests = self.rests_before(run, starts[0])
        cycle: tuple[int, int] | None = None
        before = 0  # what is counted before the cycle
        for start in starts:
            walked, cell = on_hits.get(start), anchored.get(start)
            hit = walked or self._as_hit(run, anchored[start], start)
            this = self.hits.cycle_of(hit)
            if this != cycle:
                cycle, before = this, self._counted_before_cycle(hit)
            yield Moment(replace(hit, ordinal=number + rests,
                                 cycle_ordinal=number + rests - before), walked, cell is not None)
            if walked is None:
                rests += 1
            else:
                number += 1

    def _as_hit(self, run: Run, cell: int, start: int) -> Hit:
        """What a hit at this cell would be, not yet counted."""
        return Hit(run, cell, self.time.step_at(run, cell), start, self.time.length(cell), 0, 0,
                   False)

    def _counted_before_cycle(self, hit: Hit) -> int:
        """How many hits and anchors of its run are counted before the cycle of a hit."""
        time, run = self.time, hit.run
        if time.framed:
            return 0  # it begins with its run, which a shift may have moved before time 0
        begin = time.start(run, hit.cell // time.period * time.period) + time.shift
        return self.hits.counted_before(run, begin) + self.rests_before(run, begin)

    def _cells(self, run: Run, first: int, after: int) -> list[int]:
        """The cells among [first, after) of a run at which anchors stand."""
        if self.anchor.unit == "steps":
            return list(range(first + -first % self._every, after, self._every))
        return [cell for cell in range(first, after) if self.falls_on(run, cell)]

    def rests_before(self, run: Run, tick: int) -> int:
        """How many anchors on rests a run has before a place of pattern time."""
        if self._gone_through:
            return bisect_left(self._list(run).rests, tick)
        classes, cell = self._classes(run.origin), self._first_cell(run, tick)
        return below(classes.all, cell) - below(classes.hits, cell)

    def hits_before(self, run: Run, tick: int) -> int:
        """How many anchors on hits."""
        if self._gone_through:
            return bisect_left(self._list(run).hits, tick)
        return below(self._classes(run.origin).hits, self._first_cell(run, tick))

    def last_before(self, run: Run, tick: int) -> int | None:
        """Where the last anchor of a run before a place stands; None if there is none."""
        if self._gone_through:
            starts = self._list(run).all
            at = bisect_left(starts, tick)
            return starts[at - 1] if at else None
        cell = self._first_cell(run, tick)
        last = max((number for each in self._classes(run.origin).all
                    if (number := each.last_below(cell)) is not None), default=None)
        return None if last is None else self.time.start(run, last) + self.time.shift

    def following(self, hit: Hit) -> Hit | None:
        """The next moment after a hit, where an anchor ends its tie; None if there is none for
        long."""
        begin, width = hit.start + 1, self._frame
        while begin - hit.start < MOST_FRAMES_AHEAD * self._frame:
            found = self.between(begin, begin + width)
            if found:
                return found[0].hit
            begin, width = begin + width, 2 * width
        return None

    def _first_cell(self, run: Run, tick: int) -> int:
        """The first cell of a run that begins at or after a place of pattern time."""
        return max(0, -((run.origin - (tick - self.time.shift)) // self.time.cell))

    def _list(self, run: Run) -> _Listed:
        key = self._run_key(run)
        if key not in self._listed:
            if len(self._listed) > 256:
                self._listed.clear()
            shift = self.time.shift
            starts = [self.time.start(run, cell) + shift
                      for cell in self._cells(run, run.begin, run.stop)]
            on = {hit.start for hit in self.hits.of_run(run)}
            self._listed[key] = _Listed(starts, [each for each in starts if each not in on],
                                        [each for each in starts if each in on])
        return self._listed[key]

    def _worked_out(self, origin: int) -> _Classes:
        """The classes of the cells of a run that begins at `origin` of lane time."""
        if self.anchor.unit == "steps":
            every: list[Residue] = [Residue(0, self._every)]
        else:
            every = self._on_beats(origin)
        return _Classes(every, both(every, self.hits.residues))

    def _on_beats(self, origin: int) -> list[Residue]:
        """Cells g with (origin + g d) mod F a multiple of the distance between anchors: for each
        anchor of a frame a class modulo F / gcd(d, F)."""
        cell, frame = self.time.cell, self._frame
        common = gcd(cell, frame)
        modulus = frame // common
        if modulus <= ceil(frame / self._every):  # fewer cells to look at than anchors
            return [Residue(g, modulus) for g in range(modulus)
                    if (origin + g * cell) % frame % self._every == 0]
        inverse = pow(cell // common, -1, modulus)
        return [Residue((place - origin) // common * inverse % modulus, modulus)
                for place in range(0, frame, self._every) if (place - origin) % common == 0]
