"""Hits set by the musician, one by one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

from pydantic import AfterValidator, Field

from lattice.base.values import StepNumber
from lattice.base.words import Slot, step_list
from lattice.rules.base import FixedRule, RuleContext, grid_words
from lattice.time.fields import TimeFields


def _in_order(hits: tuple[int, ...]) -> tuple[int, ...]:
    return tuple(sorted(set(hits)))


class Hand(FixedRule):
    """The steps in `hits`, counted from 0; those past the lane's end wait until it is longer."""

    title: ClassVar[str] = "Play"
    about: ClassVar[str] = "the steps that you set one by one"
    lane_title: ClassVar[str] = "by hand"
    stands_by_default: ClassVar[bool] = True
    copies: ClassVar[bool] = True

    kind: Literal["hand"]
    hits: Annotated[tuple[StepNumber, ...], Field(max_length=128), AfterValidator(_in_order)] = ()

    def pattern(self, context: RuleContext) -> list[bool]:
        chosen = set(self.hits)
        return [step in chosen for step in range(context.steps)]

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        hits = [hit for hit in self.hits if hit < lane.steps]
        return [
            "" if not hits else "step " if len(hits) == 1 else "steps ",
            step_list("rule.hits", "steps played", hits, lane.steps),
            " by hand, of ",
            *grid_words(lane),
        ]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        return "set by hand" if hit else "left empty by hand"

    def drawn(self, steps: Sequence[int], on: bool) -> Self:
        hits = {*self.hits, *steps} if on else {*self.hits}.difference(steps)
        return self.model_copy(update={"hits": tuple(sorted(hits))})

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="hand", hits=tuple(step for step, hit in enumerate(hits) if hit))

    @classmethod
    def exactly(cls, hits: Sequence[bool], context: RuleContext) -> list[Self]:
        return [cls.starting(hits, ())]
