"""A lane that plays between another's hits."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from fractions import Fraction
from itertools import pairwise
from typing import Annotated, ClassVar, Literal, Self

from pydantic import AfterValidator, Field

from lattice.base.values import Rational, Within, limits
from lattice.base.words import Slot, choice, fraction, nth
from lattice.rules.base import FollowingRule, falling, grid_words
from lattice.time.fields import TimeFields

PLACES = ["0", "1/4", "1/3", "1/2", "2/3", "3/4"]
FINEST = 1000
REFUSAL = "The place of an answer goes from 0 up to, not including, 1."


def _not_too_fine(place: Fraction) -> Fraction:
    if place.denominator > FINEST:
        raise ValueError(REFUSAL)
    return place


Place = Annotated[Rational, AfterValidator(_not_too_fine), AfterValidator(
    Within(Fraction(0), 1 - Fraction(1, FINEST), REFUSAL))]
Every = Annotated[int, Field(ge=1, le=128)]


class Answer(FollowingRule):
    """After each `every`-th hit of `of`, one hit `place` of the way to that lane's next hit."""

    title: ClassVar[str] = "Answer"
    about: ClassVar[str] = "plays between another lane's hits"
    lane_title: ClassVar[str] = "its answer"
    lane_about: ClassVar[str] = "plays between its hits"
    lane_note: ClassVar[int] = 76
    flippable: ClassVar[bool] = False
    directed: ClassVar[bool] = False

    kind: Literal["answer"]
    of: str
    every: Every = 1
    place: Place = Fraction(1, 2)

    @property
    def divides(self) -> int:
        return self.place.denominator

    def onsets(
        self, cells: Sequence[tuple[int, int]], heard: Sequence[tuple[int, int]], frame: int
    ) -> list[tuple[int, int]]:
        answers = []
        for (start, ordinal), (following, _) in pairwise(heard):
            if (ordinal + 1) % self.every or following - start > frame:
                continue
            answers.append(
                start + (following - start) * self.place.numerator // self.place.denominator)
        return falling(cells, answers)

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        return [
            "every ",
            nth("rule.every", "every nth hit", self.every, *limits(Every)),
            " hit of ",
            choice("rule.of", "other lane", self.of, dict(names)),
            ", ",
            fraction("rule.place", "place of the answer", self.place,
                     *limits(Place), PLACES),
            " of the way to its next, on ",
            *grid_words(lane),
        ]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        name = names.get(self.of, self.of)
        return f"it answers {name}" if hit else f"no answer to {name} falls here"

    def summary(self, leader: str) -> str:
        return f"answers {leader}"

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="answer", of=others[0])

    @classmethod
    def between(cls, of: str, own: Sequence[Fraction], heard: Sequence[Fraction]) -> list[Self]:
        if len(heard) < 2 or not own or not heard[0] <= own[0] < heard[-1]:
            return []
        first = bisect_right(heard, own[0]) - 1
        place = (own[0] - heard[first]) / (heard[first + 1] - heard[first])
        if place.denominator > FINEST:
            return []
        followed = bisect_right(heard, own[1]) - 1 - first if own[1:] else first + 1
        every = max(1, followed)
        return [cls(kind="answer", of=of, every=every, place=place)] if every <= 128 else []
