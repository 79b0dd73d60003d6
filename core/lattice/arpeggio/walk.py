"""The walk of an arpeggio: which notes of the pool each hit plays."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace

from lattice.arpeggio.anchors import Anchors, Moment
from lattice.arpeggio.fields import Arpeggio, ArpeggioFields, Second
from lattice.arpeggio.orders import order_of
from lattice.arpeggio.orders.base import Entry, Pause
from lattice.arpeggio.pool import Pool, PoolNote, Pools, extended
from lattice.base.draws import Draws
from lattice.hits.found import Hit, LaneHits
from lattice.pitch.reading import Harmony
from lattice.time.cells import Run

ORDER = "arpeggio order"
ANCHOR = "arpeggio anchor"
MOST_FRAMES = 64
"""So many frames of a walk that chance decides are remembered."""


@dataclass(frozen=True, slots=True)
class Walked:
    """Where the walk stands on a hit. place: counted from its last restart; at: the entry of the
    order, whose places are those of `notes`; None where it plays all of them."""

    place: int
    at: Entry | None
    notes: tuple[PoolNote, ...]


@dataclass(frozen=True, slots=True)
class AnchorFate:
    """Whether an anchor comes off, and what it drew, in percent. note: what it plays; None where
    the pool has no first note."""

    comes_off: bool
    draw: float | None
    note: PoolNote | None


class Walk:
    """The arpeggio of one lane."""

    def __init__(self, lane: ArpeggioFields, arpeggio: Arpeggio, harmony: Harmony, draws: Draws,
                 hits: LaneHits) -> None:
        self.arpeggio, self.harmony, self.draws, self.hits = arpeggio, harmony, draws, hits
        self.pools = Pools(lane, arpeggio, harmony, hits.times)
        self.anchors = Anchors(arpeggio.anchor, hits) if arpeggio.anchor else None
        self.waits = arpeggio.anchor is not None and arpeggio.anchor.walk == "waits"
        """Whether it waits where an anchor stands."""
        self._restarts = arpeggio.anchor is not None and arpeggio.anchor.walk == "restarts"
        self._order = order_of(arpeggio.order)
        self._drawn: dict[int, dict[int, int]] = {}
        self._latest: tuple[Hashable, int] = (None, 0)

    def between(self, begin: int, stop: int) -> list[Moment]:
        """The moments that begin in [begin, stop) of pattern time."""
        if self.anchors is not None:
            return self.anchors.between(begin, stop)
        return [Moment(hit, hit, False) for hit in self.hits.between(begin, stop)]

    def anchor(self, moment: Moment) -> AnchorFate:
        """What becomes of the anchor of a moment that has one."""
        anchor, hit = self.arpeggio.anchor, moment.hit
        assert anchor is not None
        first = self.pools.at(hit.start).first
        note = (first[0] if first else None) if anchor.note == "root" else PoolNote(anchor.note)
        if anchor.probability >= 100:
            return AnchorFate(note is not None, None, note)
        draw = 100 * self.draws(ANCHOR, hit.run.number, hit.cell)
        return AnchorFate(note is not None and draw < anchor.probability, draw, note)

    def as_walked(self, hit: Hit) -> Hit:
        """A hit that is counted together with anchors, as the walk counts it."""
        if self.anchors is None:
            return hit
        return replace(hit, ordinal=self.hits.counted_before(hit.run, hit.start))

    def at(self, hit: Hit) -> Walked | None:
        """Where the walk stands on a hit, as the walk counts it; None where the pool is empty."""
        pool = self.pools.at(hit.start)
        if not pool.first:
            return None
        arpeggio, place = self.arpeggio, self._place(hit)
        if place == 0 and arpeggio.first == "all":
            return Walked(place, None, pool.first)
        if place == 0 and isinstance(arpeggio.first, int):
            return Walked(place, None, pool.ordered(arpeggio.order)[:arpeggio.first])
        if self._order.whole:
            return Walked(place, None, pool.by_pitch)
        notes = pool.ordered(arpeggio.order)
        if self._order.drawn:
            return Walked(place, self._drawn_in(hit.start // self.hits.times.frame)[hit.start],
                          notes)
        period = pool.period(arpeggio.order)
        return Walked(place, period[place % len(period)], notes)

    def notes(self, hit: Hit) -> Sequence[PoolNote]:
        """The notes that a hit plays, the lowest first; none where the pool is empty."""
        walked = self.at(hit)
        if walked is None:
            return ()
        if walked.at is None:
            return sorted(walked.notes, key=lambda note: note.pitch)
        return self.pools.at(hit.start).played(self.arpeggio.order, walked.at)

    @property
    def holds(self) -> bool:
        """Whether some hits hold on what the ones before have sounded."""
        return self._order.holds

    def pauses(self, hit: Hit) -> Pause | None:
        """Whether a hit holds on, or rests, and begins no note. A hold that is the first after a
        restart has nothing to hold: it rests."""
        walked = self.at(hit)
        if walked is None or not isinstance(walked.at, str):
            return None
        return walked.at if walked.place else "rest"

    def counts(self, run: Run, tick: int) -> list[tuple[int, int]]:
        """What the walk comes round with besides the lane's own counts, and how much of each comes
        before a place of pattern time."""
        hits, restart = self.hits.counted_before(run, tick), self.arpeggio.restart
        if isinstance(restart, int):
            return [(restart, hits)]
        resets = restart == "pass" or (restart == "chord" and self.harmony.progression)
        if resets or self._restarts or self.arpeggio.begins_in_frames:
            return []
        if self.waits and self.anchors is not None:
            hits -= self.anchors.hits_before(run, tick)
        return [(len(pool.period(self.arpeggio.order)), hits) for pool in self.pools.all()
                if pool.listed and not self._order.whole]

    def _place(self, hit: Hit) -> int:
        """How many hits the walk has played since its last restart."""
        arpeggio, hits, run = self.arpeggio, self.hits, hit.run
        begins = hits.restarted(hit)
        if arpeggio.restart == "pass" or arpeggio.begins_in_frames:
            begins = max(begins, hit.start // hits.times.frame * hits.times.frame)
        if arpeggio.restart == "chord":
            force = self.harmony.at(hit.start)
            begins = max(begins, force.since if force else 0)
        if self._restarts:
            assert self.anchors is not None
            last = self.anchors.last_before(run, hit.start)
            begins = max(begins, last + 1 if last is not None else 0)
        first = self._counted(hit, begins)
        if isinstance(arpeggio.restart, int):
            numbered = hit.ordinal - hit.ordinal % arpeggio.restart
            if numbered > first:
                first = numbered
                begins = self._where(hit, first) if self.waits else begins
        place = hit.ordinal - first
        if self.waits:
            assert self.anchors is not None
            anchored = self.anchors.hits_before
            place -= anchored(run, hit.start) - anchored(run, begins)
        return place

    def _counted(self, hit: Hit, tick: int) -> int:
        """How many hits of the run come before a place; asked for again and again at one."""
        key: Hashable = (hit.run.number, hit.run.begin, tick)
        if self._latest[0] != key:
            self._latest = key, self.hits.counted_before(hit.run, tick)
        return self._latest[1]

    def _where(self, hit: Hit, ordinal: int) -> int:
        """Where the hit of a run with this number begins, at or before `hit`."""
        low, high = self.hits.restarted(hit), hit.start
        while low < high:  # the first place with more than `ordinal` hits up to it
            middle = (low + high) // 2
            if self.hits.counted_before(hit.run, middle + 1) > ordinal:
                high = middle
            else:
                low = middle + 1
        return low

    def _drawn_in(self, frame: int) -> dict[int, int]:
        """The places in the pool that chance gives the hits of a frame, by their starts."""
        if frame not in self._drawn:
            if len(self._drawn) >= MOST_FRAMES:
                self._drawn.clear()
            self._drawn[frame] = self._draw(frame)
        return self._drawn[frame]

    def _draw(self, frame: int) -> dict[int, int]:
        assert self._order.drawn is not None
        ticks = self.hits.times.frame
        walk, drawn = self._order.drawn(), dict[int, int]()
        number, force = 0, object()
        for moment in self.between(frame * ticks, (frame + 1) * ticks):
            hit = moment.walked
            pool = self.pools.at(moment.hit.start)
            if hit is None or (self.waits and moment.anchored):
                continue
            if not self._place(hit):
                walk.begin()
            now = self.pools.in_force(hit.start)
            if now != force:
                walk.changed()
                force = now
            if pool.listed:
                drawn[hit.start] = walk.step(len(pool.listed), self.draws(ORDER, frame, number))
            number += 1
        return drawn


class SecondWalk:
    """The second walk: all that sounds at a hit is a pool again."""

    def __init__(self, second: Second, draws: Draws) -> None:
        self.second, self.draws = second, draws
        self._order = order_of(second.order)

    def strokes(self, sounding: Sequence[PoolNote], hit: Hit, count: int) -> list[
            Sequence[PoolNote]]:
        """What begins on each of `count` strokes; `sounding` lists the anchor first, and each note
        with its velocity."""
        loudest: dict[int, PoolNote] = {}
        for note in sounding:
            known = loudest.get(note.pitch)
            if known is None or (note.velocity or 0) > (known.velocity or 0):
                loudest[note.pitch] = note
        pool = extended(list(loudest.values()), self.second.octaves, "up")
        if self._order.whole:
            return [pool.by_pitch] * count
        order = self.second.order
        notes = pool.ordered(order)
        if self._order.drawn:
            return [(notes[at],) for at in self._drawn(pool, hit, count)]
        period = pool.period(order)
        return [pool.played(order, period[i % len(period)]) for i in range(count)]

    def last_held(self, stroke: int, count: int) -> int:
        """The stroke, of `count`, to whose end what begins on one is held."""
        order, last = self.second.order, stroke
        if not self._order.holds:
            return stroke
        for i in range(stroke + 1, count):
            entry = order[i % len(order)]
            if entry == "hold":
                last = i
            elif entry != "rest":
                break
        return last

    def _drawn(self, pool: Pool, hit: Hit, count: int) -> list[int]:
        assert self._order.drawn is not None
        walk = self._order.drawn()
        walk.begin()
        return [walk.step(len(pool.listed), self.draws(
            "second order", hit.run.number, hit.cell, stroke)) for stroke in range(count)]
