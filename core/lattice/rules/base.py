"""What every rule offers: its parameters, its sentence, its hits, and its words for why."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING, ClassVar, Self

from lattice.draws import Draws
from lattice.slots import Slot, fraction, number
from lattice.values import Document

if TYPE_CHECKING:
    from lattice.recipe import Lane


@dataclass(frozen=True, slots=True)
class RuleContext:
    """What a rule may look at besides its own parameters.

    places: for each step, its place in the bar in the lane's first cycle, in beats.
    """

    steps: int
    draws: Draws
    places: Sequence[Fraction]
    meter: tuple[int, int]


class FixedRule(Document):
    """A rule that says for each of a lane's steps whether it is a hit."""

    title: ClassVar[str]
    """How the rule reads as the first word of the sentence."""
    about: ClassVar[str]
    """What it does, in half a line."""

    kind: str

    def pattern(self, context: RuleContext) -> list[bool]:
        """One boolean a step."""
        raise NotImplementedError

    def parts(self, lane: Lane, others: Mapping[str, str]) -> list[str | Slot]:
        """The sentence after its first word; `others` maps lane ids to names."""
        raise NotImplementedError

    def reason(self, hit: bool, steps: int, others: Mapping[str, str]) -> str:
        """Why the rule put a hit on a step, or left it empty."""
        raise NotImplementedError

    def check(self, steps: int) -> None:
        """RecipeError where the parameters cannot hold for a lane of `steps`."""

    def resized(self, steps: int) -> Self:
        """The same rule for another number of steps, changed only where it must be."""
        return self

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        """The rule to begin with when a lane with these hits is given this kind."""
        raise NotImplementedError


class FollowingRule(FixedRule):
    """A rule that looks at another lane's hits; it decides cell by cell, not step by step."""

    of: str

    def onsets(
        self, cells: Sequence[tuple[int, int]], heard: Sequence[tuple[int, int]], frame: int
    ) -> list[tuple[int, int]]:
        """The hits among `cells`.

        cells: (start, end) of this lane's cells, in ticks; heard: (start, ordinal) of the other
        lane's hits from one frame before the first cell to one frame after the last.
        Returns (index of the cell, start) for every hit, in order of time.
        """
        raise NotImplementedError


def steps_parts(lane: Lane) -> list[str | Slot]:
    """The words that name the grid: "12 steps of 1/16"."""
    return [
        number("steps", "steps", lane.steps, 1, 128),
        " steps of ",
        fraction("step", "step length", lane.step, "1/1024", "16"),
    ]
