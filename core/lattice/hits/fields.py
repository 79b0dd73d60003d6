"""The fields that say which cells of a lane are hits."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from lattice.base.errors import RecipeError
from lattice.base.frame import Frame
from lattice.base.group import Grain
from lattice.base.values import Document, StepNumber, fixed
from lattice.rules import FollowingRule, Rule, rule_that
from lattice.time.fields import TimeFields

Count = Literal["on", "cycle"]
COUNTS = {"on": ("counted on", "through cycles and passes"),
          "cycle": ("counted afresh in each cycle", "every cycle alike")}
"""How each way of counting hits reads."""
Every = Annotated[int, Field(ge=1, le=128)]


def falls_on(number: int, every: int, first: int) -> bool:
    """Whether a number, from 0, is one of every `every`-th from the `first`-th (from 1) on."""
    return number >= first - 1 and (number - first + 1) % every == 0


class Keep(Document):
    """Keep every `every`-th hit from the `first`-th (from 1) on, or drop those instead."""

    every: Every
    first: Annotated[Every, Field(alias="from")] = 1
    drop: bool = False
    count: Count = "on"

    def chooses(self, ordinal: int) -> bool:
        """Whether the hit with this number (from 0) stays."""
        return falls_on(ordinal, self.every, self.first) != self.drop

    def kept_before(self, ordinal: int) -> int:
        """How many of the hits numbered 0 … ordinal-1 stay."""
        chosen = max(0, -((self.first - 1 - ordinal) // self.every))
        return ordinal - chosen if self.drop else chosen


class Longer(Document):
    """What a lane had when it was longer and its rule had more room."""

    rule: Rule
    window: tuple[StepNumber, StepNumber] | None = None

    def within(self, steps: int) -> tuple[Rule, tuple[int, int] | None]:
        """The rule and the window for so many steps, changed only where they must be."""
        if self.window is None:
            return self.rule.resized(steps), None
        first, last = self.window
        return self.rule.resized(steps), (min(first, steps - 1), min(last, steps - 1))


class HitFields(TimeFields):
    """The rule, what is done to its hits (in the order of these fields), and hits by hand.

    `longer` plays nothing: it waits until the lane has steps enough for it again.
    """

    rule: Rule = rule_that("stands_by_default").starting((), ())
    reverse: bool = False
    flip: bool = False
    pins: dict[StepNumber, bool] = {}
    keep: Keep | None = None
    longer: Longer | None = None

    @model_validator(mode="after")
    def _rule_holds(self) -> Self:
        rule = self.rule
        refused = [what for what, wanted, allowed in (
            ("reversed", self.reverse, rule.reversible), ("flipped", self.flip, rule.flippable),
            ("played in another direction", self.direction != "forward", rule.directed),
        ) if wanted and not allowed]
        if refused:
            raise ValueError(f"A lane with the rule “{rule.title} …” cannot be "
                             f"{' and '.join(refused)}.")
        try:
            rule.check(self.steps)
        except RecipeError as problem:
            raise ValueError(str(problem)) from None
        return self

    @property
    def follows(self) -> str | None:
        """The id of the lane whose hits this one looks at."""
        return self.rule.of if isinstance(self.rule, FollowingRule) else None

    def resized(self, steps: int) -> Self:
        """The lane with another number of steps. What has no room waits, and comes back when the
        lane is lengthened again, unless the rule or the window was changed meanwhile."""
        now = (self.rule, self.window)
        waiting = self.longer
        if waiting is None or waiting.within(self.steps) != now:
            waiting = Longer(rule=self.rule, window=self.window)
        rule, window = waiting.within(steps)
        fits = (rule, window) == (waiting.rule, waiting.window)
        return self.model_copy(update={"steps": steps, "rule": rule, "window": window,
                                       "longer": None if fits else waiting})

    @property
    def grid(self) -> tuple[Hashable, ...]:
        """All that decides where the lane's hits lie, which is what its followers look at."""
        return tuple(fixed(getattr(self, name)) for name in HitFields.model_fields
                     if name != "longer")

    def add_grain(self, grain: Grain, frame: Frame) -> None:
        super().add_grain(grain, frame)
        if isinstance(self.rule, FollowingRule):
            grain.divides(self.rule.divides)
