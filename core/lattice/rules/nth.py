"""Any pattern with a given number of hits, by its number."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import comb
from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import BeforeValidator, Field

from lattice.base.errors import RecipeError
from lattice.base.words import Fold, Slot, index, many, number
from lattice.rules.base import FixedRule, RuleContext, grid_words
from lattice.time.fields import TimeFields


def _decimal(value: Any) -> str:
    text = str(value)
    if isinstance(value, bool) or not (text.isascii() and text.isdigit()) or len(text) > 40:
        raise ValueError("An index is a whole number, 0 or more.")
    return str(int(text))


MOST_DIGITS = 6
"""A longer number is no short way to name a pattern."""
Pulses = Annotated[int, Field(ge=0, le=128)]


class Nth(FixedRule):
    """Pattern `index` (from 0, a decimal string) among those with `pulses` hits."""

    title: ClassVar[str] = "Take"
    about: ClassVar[str] = "any pattern with so many hits, by its number"
    lane_title: ClassVar[str] = "by number"
    copies: ClassVar[bool] = True

    kind: Literal["nth"]
    pulses: Pulses
    index: Annotated[str, BeforeValidator(_decimal)] = "0"

    def pattern(self, context: RuleContext) -> list[bool]:
        return nth_pattern(self.pulses, context.steps, int(self.index))

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        count = comb(lane.steps, self.pulses)
        return [
            "pattern ",
            index("rule.index", "pattern number", self.index, count),
            Fold(f" of {count:,}"), " with ",
            number("rule.pulses", "hits", self.pulses, 0, lane.steps),
            " hits in ",
            *grid_words(lane),
        ]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        verb = "has a hit here" if hit else "has none here"
        return (f"pattern {int(self.index) + 1:,} with {many(self.pulses, 'hits')} in "
                f"{many(steps, 'steps')} {verb}")

    def check(self, steps: int) -> None:
        if self.pulses > steps:
            raise RecipeError(f"There is no room for {many(self.pulses, 'hits')} in "
                              f"{many(steps, 'steps')}.")
        last = comb(steps, self.pulses) - 1
        if int(self.index) > last:
            raise RecipeError(f"Pattern number takes a whole number from 0 to {last:,}.")

    def resized(self, steps: int) -> Self:
        pulses = min(self.pulses, steps)
        last = comb(steps, pulses) - 1
        return self.model_copy(update={"pulses": pulses, "index": str(min(int(self.index), last))})

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="nth", pulses=sum(hits), index=str(index_of(hits)))

    @classmethod
    def exactly(cls, hits: Sequence[bool], context: RuleContext) -> list[Self]:
        rule = cls.starting(hits, ())
        return [rule] if len(rule.index) <= MOST_DIGITS else []


def nth_pattern(pulses: int, steps: int, index: int) -> list[bool]:
    """Pattern `index` of the C(steps, pulses), ordered by hit positions; 0 has all at the start.

    One pass over the steps: at each, `with_hit` counts the patterns that have a hit there
    (D. Knuth, The Art of Computer Programming 4A, 7.2.1.3: combinations in lexicographic order).
    """
    hits = []
    left = pulses
    with_hit = comb(steps - 1, pulses - 1) if pulses else 0
    for step in range(steps):
        after = steps - step - 1  # steps that follow this one
        hit = left > 0 and index < with_hit
        hits.append(hit)
        if hit:
            left -= 1
            # C(after, left) becomes C(after - 1, left - 1)
            with_hit = with_hit * left // after if left else 0
        elif left:
            index -= with_hit
            # C(after, left - 1) becomes C(after - 1, left - 1)
            with_hit = with_hit * (after - left + 1) // after if after else 0
    return hits


def index_of(hits: Sequence[bool]) -> int:
    """The number of a pattern: what nth_pattern would need to make it."""
    index, left = 0, sum(hits)
    for step, hit in enumerate(hits):
        if hit:
            left -= 1
        elif left:
            index += comb(len(hits) - step - 1, left - 1)
    return index
