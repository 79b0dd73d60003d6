"""A lane that plays where another does."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import ClassVar, Literal, Self

from lattice.base.words import Slot, choice
from lattice.rules.base import FollowingRule, falling, grid_words
from lattice.time.fields import TimeFields


class Where(FollowingRule):
    """A hit with each hit of the lane `of`, where that begins; pins, strands and gate are those of
    the lane's own cell in which it falls."""

    title: ClassVar[str] = "Play where"
    about: ClassVar[str] = "plays with another lane's hits"
    lane_title: ClassVar[str] = "where it plays"
    lane_about: ClassVar[str] = "with each of its hits"
    lane_note: ClassVar[int] = 39
    leads_controllers: ClassVar[bool] = True
    flippable: ClassVar[bool] = False
    directed: ClassVar[bool] = False

    kind: Literal["where"]
    of: str

    def onsets(
        self, cells: Sequence[tuple[int, int]], heard: Sequence[tuple[int, int]], frame: int
    ) -> list[tuple[int, int]]:
        return falling(cells, (at for at, _ in heard))

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        return [choice("rule.of", "other lane", self.of, dict(names)), " plays, on ",
                *grid_words(lane)]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        return f"{names.get(self.of, self.of)} {'plays' if hit else 'is silent'} here"

    def summary(self, leader: str) -> str:
        return f"where {leader} plays"

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="where", of=others[0])

    @classmethod
    def between(cls, of: str, own: Sequence[Fraction], heard: Sequence[Fraction]) -> list[Self]:
        return []  # two lanes with the same hits need not hang on each other
