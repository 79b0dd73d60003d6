"""A lane that plays where another does not."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import ClassVar, Literal, Self

from lattice.base.words import Slot, choice
from lattice.rules.base import FollowingRule, grid_words
from lattice.time.fields import TimeFields


class Gaps(FollowingRule):
    """A hit in each cell in which no hit of the lane `of` begins."""

    title: ClassVar[str] = "Fill the gaps of"
    about: ClassVar[str] = "plays where another lane does not"
    lane_title: ClassVar[str] = "its gaps"
    lane_about: ClassVar[str] = "plays where this one does not"
    lane_note: ClassVar[int] = 54

    kind: Literal["gaps"]
    of: str

    def onsets(
        self, cells: Sequence[tuple[int, int]], heard: Sequence[tuple[int, int]], frame: int
    ) -> list[tuple[int, int]]:
        starts = [start for start, _ in heard]
        return [
            (index, start)
            for index, (start, end) in enumerate(cells)
            if bisect_left(starts, start) == bisect_left(starts, end)
        ]

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        return [choice("rule.of", "other lane", self.of, dict(names)), " with ",
                *grid_words(lane)]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        verb = "is silent" if hit else "plays"
        return f"{names.get(self.of, self.of)} {verb} here"

    def summary(self, leader: str) -> str:
        return f"gaps of {leader}"

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="gaps", of=others[0])

    @classmethod
    def between(cls, of: str, own: Sequence[Fraction], heard: Sequence[Fraction]) -> list[Self]:
        return [cls(kind="gaps", of=of)] if own and set(own).isdisjoint(heard) else []
