"""Euclidean distribution: hits spread as evenly as can be."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.values import limits
from lattice.base.words import Slot, many, number
from lattice.rules.base import FixedRule, RuleContext, grid_words
from lattice.time.fields import TimeFields

Pulses = Annotated[int, Field(ge=0, le=128)]
Rotation = Annotated[int, Field(ge=-127, le=127)]


class Euclid(FixedRule):
    """`pulses` hits spread over the steps; `rotation` moves them that many steps later."""

    title: ClassVar[str] = "Spread"
    about: ClassVar[str] = "so many hits, as evenly as can be"
    lane_title: ClassVar[str] = "evenly"
    begins_lanes: ClassVar[bool] = True

    kind: Literal["euclid"]
    pulses: Pulses
    rotation: Rotation = 0

    def pattern(self, context: RuleContext) -> list[bool]:
        return rotated(euclid(self.pulses, context.steps), self.rotation)

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        return [
            number("rule.pulses", "hits", self.pulses, 0, lane.steps),
            " hits over ",
            *grid_words(lane),
            ", turned ",
            number("rule.rotation", "turn", self.rotation, *limits(Rotation)),
        ]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        turned = f", turned {self.rotation}," if self.rotation else ""
        put, left = ("puts", "leaves") if self.pulses == 1 else ("put", "leave")
        verb = f"{put} it here" if hit else f"{left} it empty"
        return f"{many(self.pulses, 'hits')} spread over {many(steps, 'steps')}{turned} {verb}"

    def check(self, steps: int) -> None:
        if self.pulses > steps:
            raise RecipeError(f"There is no room for {many(self.pulses, 'hits')} in "
                              f"{many(steps, 'steps')}.")

    def resized(self, steps: int) -> Self:
        return self.model_copy(update={"pulses": min(self.pulses, steps)})

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="euclid", pulses=sum(hits))

    @classmethod
    def exactly(cls, hits: Sequence[bool], context: RuleContext) -> list[Self]:
        turn = turned(hits)
        return [] if turn is None else [cls(kind="euclid", pulses=sum(hits), rotation=turn)]


@lru_cache(maxsize=4096)
def euclid(pulses: int, steps: int) -> tuple[bool, ...]:
    """The most even spread of `pulses` hits over `steps`, beginning with a hit if there is one.

    Source: E. Bjorklund, The Theory of Rep-Rate Pattern Generation in the SNS Timing System
    (2003), as applied to rhythm by G. Toussaint, The Euclidean Algorithm Generates Traditional
    Musical Rhythms (2005): groups [1] and [0] are paired off, what is left over becomes the
    second kind, until at most one group of the second kind remains.
    """
    if pulses == 0 or steps == 0:
        return (False,) * steps
    many: tuple[bool, ...] = (True,)
    few: tuple[bool, ...] = (False,)
    count, rest = pulses, steps - pulses
    while rest > 1:
        pairs = min(count, rest)
        left_over = many if count > rest else few
        many, few = many + few, left_over
        count, rest = pairs, count + rest - 2 * pairs
    return many * count + few * rest


def rotated(hits: Sequence[bool], rotation: int) -> list[bool]:
    """Every hit `rotation` steps later, cyclically; negative is earlier."""
    turn = rotation % len(hits)
    return [*hits[len(hits) - turn :], *hits[: len(hits) - turn]]


def turned(hits: Sequence[bool]) -> int | None:
    """By how many steps a spread of as many hits has to be turned to be these; the fewest either
    way. None where they are not spread evenly."""
    steps, spread = len(hits), euclid(sum(hits), len(hits))
    turns = sorted(range(-(steps // 2), (steps + 1) // 2), key=lambda turn: (abs(turn), -turn))
    return next((turn for turn in turns if rotated(spread, turn) == list(hits)), None)
