"""A lane that moves a controller: its hits set values, and the line goes through them."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from functools import cached_property
from math import ceil, floor

from lattice.base.values import half_up
from lattice.control.line import EVENTS_A_BEAT, HAIR, Knot, value_reader
from lattice.features.chance import Fate
from lattice.features.movement import WordPath
from lattice.hits.found import MOST_FRAMES_AHEAD, Hit
from lattice.play.events import Sounding
from lattice.play.lines import Line
from lattice.play.voice import Setting, Voice
from lattice.recipe import Lane

LOUDEST = 127


class ControlVoice(Voice):
    """The values of a control lane."""

    def __init__(self, lane: Lane, setting: Setting, followed: Voice | None) -> None:
        super().__init__(lane, setting, followed)
        assert lane.control is not None
        self.control = lane.control
        self.value = value_reader(lane, self.draws, self.hits)
        self._leader = followed
        if followed and lane.sets_by_velocity:  # set with its notes, as late or early as they are
            self.reach.later(followed.reach.late)
            self.reach.early += followed.reach.early
        self._path, self._bar = lane.value_path, self.times.bar / self.times.grain
        self.line = Line(lane.control, lane.channel, lane.id, self._set,
                         self.times.frame / self.times.grain, stands=True, silent=self.never_sounds)

    @property
    def lines(self) -> Sequence[Line]:
        return [self.line]

    def soundings(self, start: float, end: float) -> list[Sounding]:
        return []

    def hits_between(self, start: float, end: float) -> Iterator[tuple[Hit, Fate, Knot]]:
        """The hits whose values may be set in [start, end) beats, in the order of the grid, the
        fate of each, and the knot that it sets."""
        hits = self.hits.between(*self.times.around(start - self.reach.late,
                                                    end + self.reach.early))
        if self.lane.sets_by_velocity:
            yield from self._by_velocity(hits, *self.lane.sets_by_velocity)
            return
        for hit in hits:
            time = self._time(hit)
            value = int(self.value(hit)) if self._path is None else self._on_path(time)
            yield hit, self.chance.fate(hit), Knot(time, value)

    def _by_velocity(self, hits: Sequence[Hit], low: int, high: int) -> Iterator[
            tuple[Hit, Fate, Knot]]:
        """What the hits of the lane that is followed set, each by its loudest note, and with that:
        a hit that lies where none begins goes by the last within the frame before it, in its own
        time. Where that does not come off, nothing is set."""
        if not hits or self._leader is None:
            return
        frame, grain = self.times.frame / self.times.grain, self.times.grain
        struck = {each.hit.start: each for each in self._leader.soundings(
            hits[0].start / grain - frame, hits[-1].start / grain + frame)
            if each.hit is not None}
        starts = sorted(struck)
        for hit in hits:
            place = bisect_right(starts, hit.start) - 1
            if place < 0 or hit.start - starts[place] >= self.times.frame or \
                    not struck[starts[place]].sounds:
                continue
            loudest = max(struck[starts[place]].notes, key=lambda note: note.velocity)
            time = min(note.start for note in struck[starts[place]].notes) \
                if starts[place] == hit.start else self._time(hit)
            share = (loudest.velocity - 1) / (LOUDEST - 1)
            yield hit, self.chance.fate(hit), Knot(time, half_up(low + (high - low) * share))

    def _on_path(self, at: float) -> int:
        """What the value's path says at a time, within the controller's bounds."""
        assert self._path is not None
        low, high = self.control.bounds
        return min(high, max(low, half_up(self._path.at(at / self._bar, self.draws))))

    def _time(self, hit: Hit) -> float:
        cell_beats = hit.length / self.times.grain
        at = self.warp(hit.start / self.times.grain) + self.nudge(hit) / 100 * cell_beats
        if self.loose:
            at += self.given_or_taken(cell_beats, hit.run.number, hit.cell, 0, 0)
        return max(0.0, at)

    def _set(self, start: float, end: float) -> list[Knot]:
        if self._path is not None and self.control.move == "step":
            return self._moved_on(self._path, start, end)
        return [knot for _, fate, knot in self.hits_between(start, end)
                if fate.sounds and start <= knot.time < end]

    def _moved_on(self, path: WordPath, start: float, end: float) -> list[Knot]:
        """Where the value becomes another along its path, from the first hit that sounds on: every
        1/96 beat at most."""
        first = self._first
        if first is None or end <= first.time:
            return []
        found = [first] if start <= first.time else []
        if path.first == path.last and not path.drawn:
            return found
        begin = max(floor(first.time * EVENTS_A_BEAT + HAIR) + 1,
                    ceil(start * EVENTS_A_BEAT - HAIR))
        value = self._on_path(max(first.time, (begin - 1) / EVENTS_A_BEAT))
        for place in range(begin, ceil(end * EVENTS_A_BEAT + HAIR)):
            at = place / EVENTS_A_BEAT
            before, value = value, self._on_path(at)
            if value != before and start <= at < end:
                found.append(Knot(at, value))
        return found

    @cached_property
    def _first(self) -> Knot | None:
        """What the first hit that sounds sets; None where there is none for long."""
        frame = self.times.frame / self.times.grain
        begin, width = 0.0, frame
        while begin < MOST_FRAMES_AHEAD * frame and not self.never_sounds:
            found = [knot for _, fate, knot in self.hits_between(begin, begin + width)
                     if fate.sounds]
            if found:
                return min(found, key=lambda knot: knot.time)
            begin, width = begin + width, 2 * width
        return None
