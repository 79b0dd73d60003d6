"""Hits drawn by weight: more density adds hits, and a pull favours strong or weak places."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from lattice.base.values import Percent, half_up, limits
from lattice.base.words import Slot, many, number, percent
from lattice.rules.base import FixedRule, RuleContext, grid_words
from lattice.time.fields import TimeFields

Pull = Annotated[float, Field(ge=-100, le=100)]


class Density(FixedRule):
    """`amount` percent of the steps, the heaviest first; `pull` leans to the beat or off it."""

    title: ClassVar[str] = "Fill"
    about: ClassVar[str] = "a share of the steps, by weight and place in the bar"
    lane_title: ClassVar[str] = "by weight"

    kind: Literal["density"]
    amount: Percent
    pull: Pull = 0

    def pattern(self, context: RuleContext) -> list[bool]:
        lean = abs(self.pull) / 100
        weights = []
        for step, place in enumerate(context.places):
            strength = salience(place, context.frame.meter)
            if self.pull < 0:
                strength = 1 - strength
            weights.append((1 - lean) * context.draws("density", step) + lean * strength)
        heaviest = sorted(range(context.steps), key=lambda step: (-weights[step], step))
        chosen = set(heaviest[: half_up(self.amount * context.steps / 100)])
        return [step in chosen for step in range(context.steps)]

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        return [
            percent("rule.amount", "density", self.amount, *limits(Percent)),
            " of ",
            *grid_words(lane),
            ", pulled ",
            number("rule.pull", "pull to the beat", self.pull, *limits(Pull)),
            " to the beat",
        ]

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        count = half_up(self.amount * steps / 100)
        if count == 0:
            return f"none of {many(steps, 'steps')} is played"
        among = "the heaviest" if count == 1 else f"among the {count} heaviest"
        return f"it is {'' if hit else 'not '}{among} of {many(steps, 'steps')}"

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        return cls(kind="density", amount=half_up(100 * sum(hits) / max(1, len(hits))))

    @classmethod
    def exactly(cls, hits: Sequence[bool], context: RuleContext) -> list[Self]:
        whole = half_up(100 * sum(hits) / len(hits))
        exact = half_up(whole * len(hits) / 100) == sum(hits)
        # Only pulled all the way does a lane's chance not matter.
        made = [cls(kind="density", amount=whole if exact else 100 * sum(hits) / len(hits),
                    pull=pull) for pull in (100, -100)]
        return [rule for rule in made if rule.pattern(context) == list(hits)]


def salience(place: Fraction, meter: tuple[int, int]) -> float:
    """How strong a place in the bar is, 0 to 1; `place` in beats from the bar's start."""
    beat = Fraction(4, meter[1])
    if place == 0:
        return 1
    if meter[0] % 2 == 0 and place == beat * meter[0] / 2:
        return 0.8
    for divisor, strength in ((1, 0.6), (2, 0.4), (4, 0.2)):
        if place % (beat / divisor) == 0:
            return strength
    return 0
