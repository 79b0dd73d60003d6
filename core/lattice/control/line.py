"""The line that a controller follows: a knot for each hit that sounds, and what lies between."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import ceil

from lattice.base.draws import Draws
from lattice.base.values import half_up
from lattice.control.fields import Control, ControlFields
from lattice.hits.found import LaneHits
from lattice.strands.kinds import VALUE
from lattice.strands.reading import Read, per_cell, reader

EVENTS_A_BEAT = 96
HAIR = 1e-9

LEANS: dict[str, Callable[[float], float] | None] = {
    "even": None, "low": lambda u: u * u, "high": lambda u: 1 - (1 - u) * (1 - u)}
LEAN_WORDS = {"even": ("evenly", "anywhere in the range"),
              "low": ("mostly low", "leaning to the lower end"),
              "high": ("mostly high", "leaning to the upper end")}
CURVES: dict[str, Callable[[float], float]] = {
    "even": lambda t: t, "early": lambda t: 1 - (1 - t) * (1 - t), "late": lambda t: t * t}
CURVE_WORDS = {"even": ("evenly", "along a straight line"),
               "early": ("early", "most of the way at first"),
               "late": ("late", "most of the way at last")}


@dataclass(frozen=True, slots=True)
class Knot:
    """A value that is set, at its final time in beats."""

    time: float
    value: int


def value_reader(lane: ControlFields, draws: Draws, hits: LaneHits) -> Read:
    """What the hits of a control lane set. In lanes that answer others a draw is addressed by the
    frame and the hit's number in it, since several hits may fall in one cell."""
    index = hits.frame_and_number if lane.follows else per_cell
    return reader(VALUE, lane, draws, LEANS[lane.lean], index)


def moved(control: Control, knots: Sequence[Knot], until: float) -> Iterator[Knot]:
    """The events of a line through knots in the order of time, up to `until`: none repeats the
    value before it, and a glide has at most one every 1/96 beat, the last of them that long
    before the next knot. The last knot is held, for nothing is known of what follows."""
    value: int | None = None
    for knot, following in pairwise([*knots, None]):
        assert knot is not None
        if following is not None and following.time <= knot.time:
            continue  # set again at once
        for event in _from(control, knot, following, until):
            if event.value != value:
                value = event.value
                yield event


def _from(control: Control, knot: Knot, following: Knot | None, until: float) -> Iterator[Knot]:
    if control.move == "step" or following is None or following.value == knot.value:
        yield knot
        return
    curve, whole = CURVES[control.curve], following.time - knot.time
    count = int((whole - 1 / EVENTS_A_BEAT) * EVENTS_A_BEAT + HAIR)
    count = min(max(count, 0), max(0, ceil((until - knot.time) * EVENTS_A_BEAT)))
    for i in range(count + 1):
        share = curve(i / EVENTS_A_BEAT / whole)
        yield Knot(knot.time + i / EVENTS_A_BEAT,
                   half_up(knot.value + (following.value - knot.value) * share))


CORNERS = 12
"""So many straight pieces a curved glide is drawn with."""


def corners(control: Control, knots: Sequence[Knot], start: float, end: float) -> list[
        tuple[float, float]]:
    """The corners of the line through knots over [start, end] beats, to draw it: steps with both
    ends of each edge, glides in straight pieces."""
    found: list[tuple[float, float]] = []
    for knot, following in pairwise([*knots, None]):
        assert knot is not None
        until = following.time if following else end
        if until < start or knot.time > end or until <= knot.time:
            continue
        at, last = max(start, knot.time), min(end, until)
        if control.move == "step" or following is None:
            found += [(at, knot.value), (last, knot.value)]
            continue
        pieces = 1 if control.curve == "even" else CORNERS
        for i in range(pieces + 1):
            time = at + (last - at) * i / pieces
            share = CURVES[control.curve]((time - knot.time) / (until - knot.time))
            found.append((time, knot.value + (following.value - knot.value) * share))
    return found
