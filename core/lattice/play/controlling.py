"""A lane that moves a controller: its hits set values, and the line goes through them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lattice.control.line import Knot, value_reader
from lattice.features.chance import Fate
from lattice.hits.found import Hit
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
            yield hit, self.chance.fate(hit), Knot(self._time(hit), int(self.value(hit)))

    def _time(self, hit: Hit) -> float:
        cell_beats = hit.length / self.times.grain
        at = self.warp(hit.start / self.times.grain) + self.nudge(hit) / 100 * cell_beats
        if self.loose:
            at += self.given_or_taken(cell_beats, hit.run.number, hit.cell, 0, 0)
        return max(0.0, at)

    def _set(self, start: float, end: float) -> list[Knot]:
        return [knot for _, fate, knot in self.hits_between(start, end)
                if fate.sounds and start <= knot.time < end]
