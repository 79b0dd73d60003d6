"""Loudness and feel: contour, accents, give or take, squeeze, swing."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Annotated, Self

from pydantic import AfterValidator, Field, model_validator

from lattice.hits import COUNTS, Count, Hit
from lattice.slots import ClauseKind, Slot, choice, factors, fraction, nth, number, percent
from lattice.strands import reader
from lattice.values import Document, Percent, StepLength, half_up

if TYPE_CHECKING:
    from lattice.draws import Draws
    from lattice.recipe import Lane
    from lattice.time import Timeline


class Accent(Document):
    """Every `every`-th hit from the `first`-th: `add` to its velocity, or `set` it."""

    every: Annotated[int, Field(ge=1, le=128)]
    first: Annotated[int, Field(ge=1, le=128, alias="from")] = 1
    add: Annotated[int, Field(ge=-126, le=126)] | None = None
    set: Annotated[int, Field(ge=1, le=127)] | None = None
    count: Count = "on"

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.add is None) == (self.set is None):
            raise ValueError('An accent has either "add" or "set".')
        return self

    def falls_on(self, hit: Hit) -> bool:
        """Whether this hit is accented."""
        number = hit.ordinal if self.count == "on" else hit.cycle_ordinal
        return number >= self.first - 1 and (number - self.first + 1) % self.every == 0


class Contour(Document):
    """Velocity factors over successive hits, blended in by `amount` percent."""

    amount: Percent = 0
    shape: Annotated[tuple[Annotated[float, Field(ge=0, le=2)], ...],
                     Field(min_length=1, max_length=32)] = (1, 0.45, 0.7, 0.45)


def _rising(pair: tuple[float, float]) -> tuple[float, float]:
    if pair[0] > pair[1]:
        raise ValueError("Give or take goes from the lower to the higher end.")
    return pair


Spread = Annotated[tuple[float, float], AfterValidator(_rising)]


class Vary(Document):
    """Give or take: an even draw per note, in velocity and in time (percent of the cell)."""

    velocity: Spread = (0, 0)
    time: Spread = (0, 0)

    @model_validator(mode="after")
    def _bounded(self) -> Self:
        if max(map(abs, self.velocity)) > 126 or max(map(abs, self.time)) > 50:
            raise ValueError("Give or take goes up to 126 in velocity and 50 % in time.")
        return self


class Swing(Document):
    """The first half of each pair of `grid` steps gets `percent` of the pair: 50 is straight."""

    grid: StepLength
    percent: Annotated[float, Field(ge=50, le=75)]


def swung(swing: Swing | None, times: Timeline) -> Callable[[float], float]:
    """The warp of time that a swing is, from beats to beats.

    Within each whole pair of a bar, [0, s] is stretched to [0, 2s x percent], the rest to what is
    left; an incomplete pair at a bar's end stays straight.
    """
    if swing is None or swing.percent == 50:
        return lambda beats: beats
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


class Loudness:
    """The velocity of a lane's hits and strokes."""

    def __init__(self, lane: Lane, draws: Draws, contours: list[float] | None) -> None:
        self.lane, self.draws = lane, draws
        self.read = reader("velocity", lane, draws)
        self.contour = lane.contour or (Contour() if contours else None)
        self.contours = contours
        self.varied = lane.vary.velocity != (0, 0)

    def of_hit(self, hit: Hit) -> float:
        """Strand or single value, contour, accent."""
        velocity = self.read(hit)
        if self.contour is not None:
            shape = self.contour.shape
            amount = self.contours[hit.cell] if self.contours else self.contour.amount
            velocity *= 1 + amount / 100 * (shape[hit.ordinal % len(shape)] - 1)
        accent = self.lane.accent
        if accent is not None and accent.falls_on(hit):
            velocity = accent.set if accent.set is not None else velocity + (accent.add or 0)
        return velocity

    def of_stroke(self, velocity: float, run: int, cell: int, stroke: int) -> int:
        """Give or take, squeeze, and the one rounding, half up, into 1..127."""
        if self.varied:
            velocity += self.draws.within(*self.lane.vary.velocity, "vary velocity",
                                          run, cell, stroke)
        if self.lane.squeeze:
            velocity += (self.lane.velocity - velocity) * self.lane.squeeze / 100
        return min(127, max(1, half_up(velocity)))


def _velocity_parts(lane: Lane, others: Mapping[str, str]) -> list[str | Slot]:
    strand = lane.strands.velocity
    if strand is not None:
        return [f"Velocity from its strand of {len(strand.values)}, read by {strand.by}."]
    return ["Velocity ", number("velocity", "velocity", lane.velocity, 1, 127), "."]


VELOCITY = ClauseKind("velocity", "velocity", lambda lane: True, _velocity_parts, {}, ())


def _accent_parts(lane: Lane, others: Mapping[str, str]) -> list[str | Slot]:
    accent = lane.accent
    assert accent is not None
    amount: list[str | Slot] = (
        [" by ", number("accent.add", "accent", accent.add, -126, 126, text=f"{accent.add:+d}")]
        if accent.add is not None
        else [" at ", number("accent.set", "accent", accent.set or 1, 1, 127)])
    return ["Accent every ", nth("accent.every", "every nth hit", accent.every, 1, 128), " hit",
            *amount, " from the ", nth("accent.from", "first accent", accent.first, 1, 128),
            " on, ", choice("accent.count", "way of counting", accent.count, COUNTS), "."]


ACCENT = ClauseKind("accent", "accent", lambda lane: lane.accent is not None, _accent_parts,
                    added={"accent": {"every": 3, "add": 24}}, cleared=("accent",),
                    about="every nth hit louder, or softer", group="how loud")
CONTOUR = ClauseKind(
    "contour", "contour", lambda lane: lane.contour is not None,
    lambda lane, others: [
        "Contour ", factors("contour.shape", "contour shape", lane.contour.shape, 2),
        " blended in by ",
        percent("contour.amount", "contour", lane.contour.amount), "."],
    added={"contour": {"amount": 50}}, cleared=("contour",),
    about="strong and weak hits in turn, as hands play", group="how loud")


def _vary(path: str, label: str, limit: int, unit: str) -> Callable[[Lane], list[str | Slot]]:
    def parts(lane: Lane) -> list[str | Slot]:
        low, high = getattr(lane.vary, path)
        return [f"Give or take in {label}: ",
                number(f"vary.{path}.0", f"lowest change in {label}", low, -limit, high,
                       text=f"{low:+g}{unit}"), " to ",
                number(f"vary.{path}.1", f"highest change in {label}", high, low, limit,
                       text=f"{high:+g}{unit}"), "."]
    return parts


_vary_velocity = _vary("velocity", "velocity", 126, "")
_vary_time = _vary("time", "time", 50, " %")
VARY = ClauseKind("vary", "give or take", lambda lane: lane.vary.velocity != (0, 0),
                  lambda lane, others: _vary_velocity(lane),
                  added={"vary.velocity": [-9, 9]}, cleared=("vary.velocity",),
                  about="each note a little louder or softer by chance", group="how loud")
VARY_TIME = ClauseKind("vary-time", "loose timing", lambda lane: lane.vary.time != (0, 0),
                       lambda lane, others: _vary_time(lane),
                       added={"vary.time": [-4, 4]}, cleared=("vary.time",),
                       about="each note a little early or late by chance", group="when")
SQUEEZE = ClauseKind(
    "squeeze", "squeeze", lambda lane: lane.squeeze != 0,
    lambda lane, others: ["Loudness squeezed by ", percent("squeeze", "squeeze", lane.squeeze),
                          " toward ", number("velocity", "velocity", lane.velocity, 1, 127), "."],
    added={"squeeze": 40}, cleared=("squeeze",),
    about="loud and soft brought closer together", group="how loud")


def swing_parts(swing: Swing) -> list[str | Slot]:
    """The words of a swing, the same for a lane and for the pattern."""
    return [
        number("swing.percent", "swing", swing.percent, 50, 75, step=0.1,
               text=f"{swing.percent:g} %"), " on ",
        fraction("swing.grid", "swing grid", swing.grid, "1/64", "1/2",
                 ["1/4", "1/8", "1/16", "1/32"])]


SWING = ClauseKind(
    "swing", "own swing", lambda lane: lane.swing != "follow",
    lambda lane, others: ["Straight, whatever the pattern's swing."] if lane.swing == "straight"
    else ["Swing of its own: ", *swing_parts(lane.swing), "."],
    added={"swing": {"grid": "1/16", "percent": 58}}, cleared=("swing",),
    about="another swing than the pattern's", group="when")
STRAIGHT = ClauseKind("straight", "stay straight", lambda lane: lane.swing != "follow",
                      lambda lane, others: [], added={"swing": "straight"}, cleared=("swing",),
                      about="no swing, whatever the pattern does", group="when")
GATE = ClauseKind(
    "gate", "gate", lambda lane: True,
    lambda lane, others: ["Each lasts by the gate strand."] if lane.strands.gate else [
        "Each lasts ", percent("gate", "gate", lane.gate, 1, 800), " of its step."],
    {}, ())
