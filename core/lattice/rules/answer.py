"""A lane that plays between another's hits."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from fractions import Fraction
from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, ClassVar, Literal, Self

from pydantic import BeforeValidator, Field

from lattice.rules.base import FollowingRule, steps_parts
from lattice.slots import Slot, choice, fraction, nth
from lattice.values import Rational, to_fraction

if TYPE_CHECKING:
    from lattice.recipe import Lane

PLACES = ["0", "1/4", "1/3", "1/2", "2/3", "3/4"]


def _place(value: object) -> Fraction:
    place = to_fraction(value)
    if not 0 <= place < 1 or place.denominator > 1000:
        raise ValueError("The place of an answer goes from 0 up to, not including, 1.")
    return place


class Answer(FollowingRule):
    """After each `every`-th hit of `of`, one hit `place` of the way to that lane's next hit."""

    title: ClassVar[str] = "Answer"
    about: ClassVar[str] = "plays between another lane's hits"

    kind: Literal["answer"]
    of: str
    every: Annotated[int, Field(ge=1, le=128)] = 1
    place: Annotated[Rational, BeforeValidator(_place)] = Fraction(1, 2)

    def onsets(
        self, cells: Sequence[tuple[int, int]], heard: Sequence[tuple[int, int]], frame: int
    ) -> list[tuple[int, int]]:
        starts = [start for start, _ in cells]
        found = []
        for (start, ordinal), (following, _) in pairwise(heard):
            if (ordinal + 1) % self.every or following - start > frame:
                continue
            at = start + (following - start) * self.place.numerator // self.place.denominator
            index = bisect_right(starts, at) - 1
            if index >= 0 and at < cells[index][1]:
                found.append((index, at))
        return found

    def parts(self, lane: Lane, others: Mapping[str, str]) -> list[str | Slot]:
        return [
            "every ",
            nth("rule.every", "every nth hit", self.every, 1, 128),
            " hit of ",
            choice("rule.of", "other lane", self.of, dict(others)),
            ", ",
            fraction("rule.place", "place of the answer", self.place, "0", "999/1000", PLACES),
            " of the way to its next, on ",
            *steps_parts(lane),
        ]

    def reason(self, hit: bool, steps: int, others: Mapping[str, str]) -> str:
        name = others.get(self.of, self.of)
        return f"it answers {name}" if hit else f"no answer to {name} falls here"

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="answer", of=others[0])
