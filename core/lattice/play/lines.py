"""What a lane sets a controller to over time: a knot for each of its hits that sounds."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import inf

from lattice.control.fields import Control
from lattice.control.line import Knot, moved
from lattice.hits.found import MOST_FRAMES_AHEAD
from lattice.play.events import Change

Set = Callable[[float, float], list[Knot]]
"""The knots that are set in [start, end) beats."""


class Line:
    """One controller of a lane. `stands`: whether it is set anew where a bar begins by other values
    than the one before, and not only with the next hit; `frame`: the beats of a frame; `tuning`:
    whether it is how the tuning of a drum leaves."""

    def __init__(self, control: Control, channel: int, lane_id: str, within: Set, frame: float, *,
                 stands: bool, silent: bool, tuning: bool = False) -> None:
        self.control, self.stands = control, stands
        self._channel, self._lane_id, self._frame = channel, lane_id, frame
        self._within, self._silent, self._tuning = within, silent, tuning
        self._nothing: dict[int, float] = {}
        """From where on (each way) nothing was found, however far was looked."""

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
        return sorted(self._within(start, end), key=lambda knot: knot.time)

    def _search(self, at: float, way: int) -> list[Knot]:
        """The nearest knots before a time (way -1) or from it on (1), further and further away."""
        if way > 0 and self.control.move == "step":
            return []  # what comes next moves nothing before
        if way * (at - self._nothing.get(way, way * inf)) >= 0:
            return []
        width, reached = self._frame / 4, 0.0
        while reached < MOST_FRAMES_AHEAD * self._frame and (way > 0 or at - reached > 0):
            near, far = at + way * reached, at + way * (reached + width)
            found = self._set(*sorted((near, far)))
            if found:
                return found
            reached, width = reached + width, 2 * width
        self._nothing[way] = at
        return []

    def changes(self, start: float, end: float) -> list[Change]:
        """The events in [start, end) beats, in order; none repeats the value before it."""
        return self._events(self.knots(start, end), start, end)

    def set_within(self, start: float, end: float) -> list[Change]:
        """The events of the hits in [start, end) beats alone, whatever was set before."""
        return [] if self._silent else self._events(self._set(start, end), start, end)

    def _events(self, knots: Sequence[Knot], start: float, end: float) -> list[Change]:
        return [self.change(event.time, event.value)
                for event in moved(self.control, knots, end) if start <= event.time < end]

    def change(self, at: float, value: int) -> Change:
        """The event that sets the controller."""
        return Change(at, self.control.number, value, self._channel, self._lane_id,
                      self._tuning)

    def in_force(self, at: float) -> int | None:
        """The value in force just before a time; None where nothing was set yet."""
        value = None
        for event in moved(self.control, self.knots(at, at), at):
            if event.time < at:
                value = event.value
        return value
