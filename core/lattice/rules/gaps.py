"""A lane that plays where another does not."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence
from fractions import Fraction
from math import inf
from typing import ClassVar, Literal, Self

from lattice.base.values import Percent, half_up, limits, tidy
from lattice.base.words import Slot, choice, number
from lattice.rules.base import FollowingRule, grid_words
from lattice.time.fields import TimeFields


class Gaps(FollowingRule):
    """A hit in each cell in which no hit of the lane `of` begins; or in `amount` percent of those
    of each frame, those first that lie furthest from the other lane's hits, the earlier first."""

    title: ClassVar[str] = "Fill the gaps of"
    about: ClassVar[str] = "plays where another lane does not"
    lane_title: ClassVar[str] = "its gaps"
    lane_about: ClassVar[str] = "plays where this one does not"
    lane_note: ClassVar[int] = 54

    kind: Literal["gaps"]
    of: str
    amount: Percent = 100

    def onsets(
        self, cells: Sequence[tuple[int, int]], heard: Sequence[tuple[int, int]], frame: int
    ) -> list[tuple[int, int]]:
        starts = [start for start, _ in heard]
        free = [
            (index, start)
            for index, (start, end) in enumerate(cells)
            if bisect_left(starts, start) == bisect_left(starts, end)
        ]
        if self.amount == 100:
            return free

        def nearness(cell: tuple[int, int]) -> tuple[float, int]:
            after = bisect_left(starts, cell[1])
            return -min((abs(each - cell[1]) for each in starts[max(0, after - 1):after + 1]),
                        default=inf), cell[1]
        chosen = sorted(free, key=nearness)[:half_up(len(free) * self.amount / 100)]
        return sorted(chosen)

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        share = number("rule.amount", "share of the gaps", self.amount, *limits(Percent),
                       text="wholly" if self.amount == 100 else f"by {tidy(self.amount)} %")
        return [choice("rule.of", "other lane", self.of, dict(names)), " ", share, " with ",
                *grid_words(lane)]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        name = names.get(self.of, self.of)
        if hit or self.amount == 100:
            return f"{name} {'is silent' if hit else 'plays'} here"
        return f"{name} plays here, or it is not among the {self.amount:g} % of its gaps"

    def summary(self, leader: str) -> str:
        return f"gaps of {leader}"

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="gaps", of=others[0])

    @classmethod
    def between(cls, of: str, own: Sequence[Fraction], heard: Sequence[Fraction]) -> list[Self]:
        return [cls(kind="gaps", of=of)] if own and set(own).isdisjoint(heard) else []
