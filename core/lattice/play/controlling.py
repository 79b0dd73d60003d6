"""A lane that moves a controller: its hits set values, and the line goes through them."""

from __future__ import annotations

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


class ControlVoice(Voice):
    """The values of a control lane."""

    def __init__(self, lane: Lane, setting: Setting, followed: Voice | None) -> None:
        super().__init__(lane, setting, followed)
        assert lane.control is not None
        self.control = lane.control
        self.value = value_reader(lane, self.draws, self.hits)
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
        for hit in self.hits.between(*self.times.around(start - self.reach.late,
                                                        end + self.reach.early)):
            time = self._time(hit)
            value = int(self.value(hit)) if self._path is None else self._on_path(time)
            yield hit, self.chance.fate(hit), Knot(time, value)

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
