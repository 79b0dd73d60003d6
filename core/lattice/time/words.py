"""The words for a lane's time: window, restart, shift, rate path."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from lattice.base.clauses import ClauseKind, ClauseList, Fields, Names, Part, documents
from lattice.base.values import Beats, Percent, StepLength, limits
from lattice.base.words import beat, fraction, number, percent, step_number
from lattice.time.fields import BarCount, RateStretch, Shift, TimeFields

SHORTEST_STRETCH = Fraction(1, 64)
"""The least number of beats that a word makes a stretch last."""


def _window_parts(lane: TimeFields, names: Names) -> list[Part]:
    first, last = lane.played
    return ["Only steps ", step_number("window.0", "first step played", first, 0, last),
            " to ", step_number("window.1", "last step played", last, first, lane.steps - 1), "."]


WINDOW = ClauseKind[TimeFields](
    "window", "window", lambda lane: lane.window is not None, _window_parts,
    starts=lambda lane: {"window": [0, max(0, lane.steps - 2)]}, cleared=("window",),
    about="play only some of the steps")


def _restart_parts(lane: TimeFields, names: Names) -> list[Part]:
    return ["Starts again every ",
            number("restart_bars", "bars to restart", lane.restart_bars or 1, *limits(BarCount)),
            " bar." if lane.restart_bars == 1 else " bars."]


RESTART = ClauseKind[TimeFields](
    "restart", "restart", lambda lane: lane.restart_bars is not None, _restart_parts,
    starts={"restart_bars": 1}, cleared=("restart_bars",), about="begin again every so many bars")
SHIFT = ClauseKind[TimeFields](
    "shift", "shift", lambda lane: lane.shift != 0,
    lambda lane, names: ["Shifted by ", fraction(
        "shift", "shift", lane.shift, *limits(Shift),
        ["-1/16", "-1/32", "-1/64", "1/64", "1/32", "1/24", "1/16", "1/12", "1/8"]),
        " of a whole note."],
    starts={"shift": "1/32"}, cleared=("shift",), about="lay the whole lane later or earlier",
    group="when")


def _path_parts(lane: TimeFields, names: Names, i: int) -> list[Part]:
    stretch, at = lane.rate_path[i], f"rate_path.{i}"
    first, last = limits(Beats)
    contour: list[Part] = [", contour ", percent(
        f"{at}.contour", "contour of the stretch", stretch.contour,
        *limits(Percent))] if stretch.contour else []
    return [
        "From beat ", beat(f"{at}.start", "start of the stretch in beats", stretch.start, first,
                             last),
        " for ", fraction(f"{at}.beats", "length of the stretch in beats", stretch.beats,
                          SHORTEST_STRETCH, last, ["1/2", "1", "2", "4"]),
        f" {'beats' if stretch.beats > 1 else 'beat'} in steps of ",
        fraction(f"{at}.step", "step length of the stretch", stretch.step, *limits(StepLength)),
        *contour, ", ",
        percent(f"{at}.human", "how human the stretch is", stretch.human, *limits(Percent)),
        " human.",
    ]


def _stretches(lane: TimeFields) -> Iterator[Fields]:
    """Stretches without and with a contour."""
    for contour in (0, 50):
        yield {"rate_path": documents([_next_stretch(lane).model_copy(
            update={"contour": contour})])}


def _next_stretch(lane: TimeFields) -> RateStretch:
    """One more beat, at twice the pace, after the path's last stretch."""
    last = lane.rate_path[-1] if lane.rate_path else None
    return RateStretch(start=last.start + last.beats if last else Fraction(0), beats=Fraction(1),
                       step=lane.step / 2, human=40)


RATE_PATH = ClauseList[TimeFields, RateStretch](
    "rate-path", "rate path", "rate_path", lambda lane: lane.rate_path, _path_parts,
    _next_stretch, documents, forms=_stretches, about="other step lengths for some beats")
