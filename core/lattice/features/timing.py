"""Swing, the pattern's or a lane's own."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import Literal

from lattice.base.clauses import ClauseKind, Names, Part
from lattice.base.frame import Frame, Swing, SwingPercent
from lattice.base.group import LaneGroup, Reach
from lattice.base.values import limits
from lattice.base.words import fraction, number
from lattice.time.grain import Timeline

GRIDS = Fraction(1, 64), Fraction(1, 2)
"""The grids that a word offers; a document may have others."""
BEGINNING = {"swing": {"grid": "1/16", "percent": 58}}


class TimingFields(LaneGroup):
    """Which swing the lane has."""

    swing: Literal["follow", "straight"] | Swing = "follow"

    def swing_in(self, frame: Frame) -> Swing | None:
        """The swing that the lane has in a pattern."""
        if isinstance(self.swing, Swing):
            return self.swing
        return frame.swing if self.swing == "follow" else None

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        super().add_reach(reach, frame, cell)
        swing = self.swing_in(frame)
        if swing:
            reach.later(2 * float(swing.grid))


def straight(beats: float) -> float:
    """The warp of time that no swing is."""
    return beats


def swung(swing: Swing | None, times: Timeline) -> Callable[[float], float]:
    """The warp of time that a swing is, from beats to beats.

    Within each whole pair of a bar, [0, s] is stretched to [0, 2s x percent], the rest to what is
    left; an incomplete pair at a bar's end stays straight.
    """
    if swing is None or swing.percent == 50:
        return straight
    bar, pair = times.bar / times.grain, float(8 * swing.grid)
    half, share = pair / 2, swing.percent / 100
    whole = int(bar / pair + 1e-9) * pair

    def warp(beats: float) -> float:
        # A hair of tolerance keeps what lies on a bar line on it in floating point.
        bars = (beats + 1e-9) // bar
        within = beats - bars * bar
        if within >= whole - 1e-9:
            return beats
        pairs = (within + 1e-9) // pair
        rest = within - pairs * pair
        moved = rest * 2 * share if rest <= half else \
            pair * share + (rest - half) * 2 * (1 - share)
        return bars * bar + pairs * pair + moved

    return warp


def straightened(swing: Swing | None, bar: float) -> Callable[[float], float]:
    """The way back through the warp of a swing, from beats to beats; `bar` is a bar's length."""
    if swing is None or swing.percent == 50:
        return straight
    pair = float(8 * swing.grid)
    half, first = pair / 2, pair * swing.percent / 100
    whole = int(bar / pair + 1e-9) * pair

    def back(beats: float) -> float:
        bars = (beats + 1e-9) // bar
        within = beats - bars * bar
        if within >= whole - 1e-9:
            return beats
        pairs = (within + 1e-9) // pair
        rest = within - pairs * pair
        moved = rest / first * half if rest <= first else \
            half + (rest - first) / (pair - first) * half
        return bars * bar + pairs * pair + moved

    return back


def swing_parts(swing: Swing) -> list[Part]:
    """The words of a swing, the same for a lane and for the pattern."""
    return [
        number("swing.percent", "swing", swing.percent, *limits(SwingPercent), step=0.1,
               text=f"{swing.percent:g} %"), " on ",
        fraction("swing.grid", "swing grid", swing.grid, *GRIDS,
                 ["1/4", "1/8", "1/16", "1/32"])]


def _own_parts(lane: TimingFields, names: Names) -> list[Part]:
    if isinstance(lane.swing, Swing):
        return ["Swing of its own: ", *swing_parts(lane.swing), "."]
    return ["Straight, whatever the pattern's swing."]


SWING = ClauseKind[TimingFields](
    "swing", "own swing", lambda lane: lane.swing != "follow", _own_parts,
    starts=BEGINNING, cleared=("swing",), forms=lambda lane: (BEGINNING, {"swing": "straight"}),
    about="another swing than the pattern's", group="when")
STRAIGHT = ClauseKind[TimingFields](
    "straight", "stay straight", lambda lane: lane.swing != "follow", lambda lane, names: [],
    starts={"swing": "straight"}, cleared=("swing",), forms=lambda lane: (),
    about="no swing, whatever the pattern does", group="when")
PATTERN_SWING = ClauseKind[Frame](
    "swing", "swing", lambda frame: frame.swing is not None,
    lambda frame, names: ["Swing ", *swing_parts(frame.swing), "."] if frame.swing else [],
    starts=BEGINNING, cleared=("swing",),
    about="the first of each pair of steps lasts longer", group="when", often=True)
