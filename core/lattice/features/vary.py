"""Give or take: small changes by chance, from note to note."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, model_validator

from lattice.base.clauses import ClauseKind, Names, Part
from lattice.base.frame import Frame
from lattice.base.group import LaneGroup, Reach
from lattice.base.values import Document
from lattice.base.words import number

MOST_VELOCITY, MOST_TIME = 126, 50


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
        if max(map(abs, self.velocity)) > MOST_VELOCITY or max(map(abs, self.time)) > MOST_TIME:
            raise ValueError(f"Give or take goes up to {MOST_VELOCITY} in velocity and "
                             f"{MOST_TIME} % in time.")
        return self


class VaryFields(LaneGroup):
    """How much notes differ by chance."""

    vary: Vary = Vary()

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        super().add_reach(reach, frame, cell)
        reach.either_way(cell * max(map(abs, self.vary.time)) / 100)


def _words(which: Literal["velocity", "time"], most: int, unit: str) -> Callable[
        [VaryFields, Names], list[Part]]:
    def parts(lane: VaryFields, names: Names) -> list[Part]:
        low, high = lane.vary.velocity if which == "velocity" else lane.vary.time
        return [f"Give or take in {which}: ",
                number(f"vary.{which}.0", f"lowest change in {which}", low, -most, high,
                       text=f"{low:+g}{unit}"), " to ",
                number(f"vary.{which}.1", f"highest change in {which}", high, low, most,
                       text=f"{high:+g}{unit}"), "."]
    return parts


VARY = ClauseKind[VaryFields](
    "vary", "give or take", lambda lane: lane.vary.velocity != (0, 0),
    _words("velocity", MOST_VELOCITY, ""),
    starts={"vary.velocity": [-9, 9]}, cleared=("vary.velocity",),
    about="each note a little louder or softer by chance", group="how loud", often=True)
VARY_TIME = ClauseKind[VaryFields](
    "vary-time", "loose timing", lambda lane: lane.vary.time != (0, 0),
    _words("time", MOST_TIME, " %"),
    starts={"vary.time": [-4, 4]}, cleared=("vary.time",),
    about="each note a little early or late by chance", group="when")
