"""A lane that moves a controller: its hits set values, and the line goes through them."""

from __future__ import annotations

from collections.abc import Iterator
from math import inf

from lattice.control.line import Knot, moved, value_reader
from lattice.features.chance import Fate
from lattice.hits.found import MOST_FRAMES_AHEAD, Hit
from lattice.play.events import Change, Sounding
from lattice.play.voice import Setting, Voice
from lattice.recipe import Lane
from lattice.strands.kinds import PROBABILITY


class ControlVoice(Voice):
    """The values of a control lane."""

    def __init__(self, lane: Lane, setting: Setting, followed: Voice | None) -> None:
        super().__init__(lane, setting, followed)
        assert lane.control is not None
        self.control = lane.control
        self.value = value_reader(lane, self.draws, self.hits)
        self._silent = not lane.links and self.chance.scale * lane.highest(PROBABILITY) == 0
        self._nothing: dict[int, float] = {}
        """From where on (each way) nothing was found, however far was looked."""

    def soundings(self, start: float, end: float) -> list[Sounding]:
        return []

    def hits_between(self, start: float, end: float) -> Iterator[tuple[Hit, Fate, Knot]]:
        """The hits whose values may be set in [start, end) beats, in the order of the grid, the
        fate of each, and the knot that it sets."""
        for hit in self.hits.between(*self.times.around(start - self.reach.late,
                                                        end + self.reach.early)):
            yield hit, self.chance.fate(hit), Knot(self._time(hit), int(self.value(hit)))

    def _time(self, hit: Hit) -> float:
        cell_beats = hit.length / self.times.grain
        at = self.warp(hit.start / self.times.grain) + self.nudge(hit) / 100 * cell_beats
        if self.loose:
            at += self.given_or_taken(cell_beats, hit.run.number, hit.cell, 0, 0)
        return max(0.0, at)

    def knots(self, start: float, end: float) -> list[Knot]:
        """The knots that decide the line over [start, end): those set in it, the one in force
        before, and the next after it."""
        if self._silent:
            return []
        within = self._set(start, end)
        before = self._search(start, -1)
        after = self._search(end, 1)
        return [*before[-1:], *within, *after[:1]]

    def _set(self, start: float, end: float) -> list[Knot]:
        found = [knot for _, fate, knot in self.hits_between(start, end)
                 if fate.sounds and start <= knot.time < end]
        return sorted(found, key=lambda knot: knot.time)

    def _search(self, at: float, way: int) -> list[Knot]:
        """The nearest knots before a time (way -1) or from it on (1), further and further away."""
        frame = self.times.frame / self.times.grain
        if way * (at - self._nothing.get(way, way * inf)) >= 0:
            return []
        width, reached = frame / 4, 0.0
        while reached < MOST_FRAMES_AHEAD * frame and (way > 0 or at - reached > 0):
            near, far = at + way * reached, at + way * (reached + width)
            found = self._set(*sorted((near, far)))
            if found:
                return found
            reached, width = reached + width, 2 * width
        self._nothing[way] = at
        return []

    def changes(self, start: float, end: float) -> list[Change]:
        """The events in [start, end) beats, in order."""
        return [self.change(event.time, event.value)
                for event in moved(self.control, self.knots(start, end), end)
                if start <= event.time < end]

    def change(self, at: float, value: int) -> Change:
        """The event that sets the controller."""
        return Change(at, self.control.number, value, self.lane.channel, self.lane.id)

    def in_force(self, at: float) -> int | None:
        """The value in force just before a time; None where nothing was set yet."""
        value = None
        for event in moved(self.control, self.knots(at, at), at):
            if event.time < at:
                value = event.value
        return value
