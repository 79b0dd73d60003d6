"""What every rule is: its parameters, its sentence, its hits, and its words for why.

A rule is one file in this package: a subclass of FixedRule (a hit or a rest for each step) or of
FollowingRule (decided from another lane's hits) with `title`, `about`, `lane_title`, a `kind` and
its parameters.

- Parameters are fields of a frozen document and hashable, so that a lane can be compared and kept
  at hand by them; sequences are tuples. A parameter's bounds stand in its type, and its words read
  them there (`lattice.base.values.limits`).
- The slots of its words are called "rule." and the field's path. After any of them has been
  changed, `resized` brings the others into what the lane's steps allow.
- A rule with parts of which there may be several (such as classes that are united) says how many
  in `count`, and their words in `part_words`; "+" takes `with_another`, and "x" takes `without`.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import ClassVar, Self

from lattice.base.draws import Draws
from lattice.base.frame import Frame
from lattice.base.values import Document, StepLength, limits
from lattice.base.words import Slot, fraction, number
from lattice.time.fields import StepCount, TimeFields


@dataclass(frozen=True, slots=True)
class RuleContext:
    """What a rule may look at besides its own parameters."""

    lane: TimeFields
    frame: Frame
    draws: Draws

    @property
    def steps(self) -> int:
        """How many steps there are to decide on."""
        return self.lane.steps

    @property
    def places(self) -> list[Fraction]:
        """For each step, its place in the bar in the lane's first cycle, in beats."""
        cell, bar = self.lane.cell_beats(self.frame), self.frame.bar_beats
        return [step * cell % bar for step in range(self.steps)]


class FixedRule(Document):
    """A rule that says for each of a lane's steps whether it is a hit."""

    title: ClassVar[str]
    """How the rule reads as the first word of the sentence."""
    about: ClassVar[str]
    """What it does, in half a line."""
    lane_title: ClassVar[str]
    """How a new lane that begins by it is offered: its hits fall "evenly", it is "its answer"."""
    begins_lanes: ClassVar[bool] = False
    """Whether a new lane begins with this rule; one rule does."""
    stands_by_default: ClassVar[bool] = False
    """Whether a lane that names no rule has this one; one rule does."""
    copies: ClassVar[bool] = False
    """Whether `starting` makes exactly the hits that it is given."""
    reversible: ClassVar[bool] = True
    flippable: ClassVar[bool] = True
    directed: ClassVar[bool] = True
    """Whether its lane may play in reverse, flipped, and in another direction than forward."""
    part_label: ClassVar[str] = "part"
    part_about: ClassVar[str] = ""
    """What one of its parts is called, and what one more of them does, where it has parts."""

    kind: str

    def pattern(self, context: RuleContext) -> list[bool]:
        """One boolean a step."""
        raise NotImplementedError

    def words(self, lane: TimeFields, names: Mapping[str, str]) -> list[str | Slot]:
        """The sentence after its first word; `names` maps other lanes' ids to their names."""
        raise NotImplementedError

    def reason(self, hit: bool, steps: int, names: Mapping[str, str]) -> str:
        """Why the rule put a hit on a step, or left it empty."""
        raise NotImplementedError

    @classmethod
    def starting(cls, hits: Sequence[bool], others: Sequence[str]) -> Self:
        """The rule to begin with when a lane with these hits is given this kind; `others` are the
        lanes that it may follow."""
        raise NotImplementedError

    @classmethod
    def exactly(cls, hits: Sequence[bool], context: RuleContext) -> list[Self]:
        """The rules of this kind that make exactly these hits, one a step; often none."""
        return []

    def check(self, steps: int) -> None:
        """RecipeError where the parameters cannot hold for a lane of `steps`."""

    def resized(self, steps: int) -> Self:
        """The same rule for another number of steps, changed only where it must be."""
        return self

    def drawn(self, steps: Sequence[int], on: bool) -> Self | None:
        """The rule with these steps made hits or rests; None where steps are not its parameters
        (they are pinned then)."""
        return None

    @property
    def count(self) -> int:
        """How many parts there are of those that there may be several of; None of them: 0."""
        return 0

    def part_words(self, number: int, lane: TimeFields) -> list[str | Slot]:
        """The words of one part, counted from 0."""
        raise NotImplementedError

    def with_another(self, lane: TimeFields) -> Self | None:
        """The rule with one more part; None where it cannot have one."""
        return None

    def without(self, number: int) -> Self:
        """The rule without this part."""
        raise NotImplementedError


class FollowingRule(FixedRule):
    """A rule that looks at another lane's hits; it decides cell by cell, not step by step."""

    reversible: ClassVar[bool] = False
    lane_about: ClassVar[str]
    lane_note: ClassVar[int]
    """What a new lane does that follows a lane by this rule, and the drum that it has."""
    leads_controllers: ClassVar[bool] = False
    """Whether a new controller is offered that follows a lane by this rule."""

    of: str

    @property
    def divides(self) -> int:
        """Into how many parts the stretch between two hits that are heard is divided exactly."""
        return 1

    def onsets(
        self, cells: Sequence[tuple[int, int]], heard: Sequence[tuple[int, int]], frame: int
    ) -> list[tuple[int, int]]:
        """The hits among `cells`.

        cells: (start, end) of this lane's cells, in ticks; heard: (start, ordinal) of the other
        lane's hits from one frame before the first cell to one frame after the last.
        Returns (index of the cell, start) for every hit, in order of time.
        """
        raise NotImplementedError

    @classmethod
    def between(cls, of: str, own: Sequence[Fraction], heard: Sequence[Fraction]) -> list[Self]:
        """The rules of this kind that may put a lane's hits where it has them, over hits of the
        lane `of` that begin before them and go on after; places in beats. What is named here is
        still to be proved by playing it."""
        raise NotImplementedError

    def summary(self, leader: str) -> str:
        """The rule in a few words, with the name of the lane that it follows."""
        raise NotImplementedError


def falling(cells: Sequence[tuple[int, int]], times: Iterable[int]) -> list[tuple[int, int]]:
    """The times that fall into cells, (start, end) in ticks: (index of the cell, time) each."""
    starts = [start for start, _ in cells]
    found = ((bisect_right(starts, at) - 1, at) for at in times)
    return [(index, at) for index, at in found if index >= 0 and at < cells[index][1]]


def grid_words(lane: TimeFields) -> list[str | Slot]:
    """The words that name the grid: "12 steps of 1/16"."""
    return [
        number("steps", "steps", lane.steps, *limits(StepCount)),
        " steps of ",
        fraction("step", "step length", lane.step, *limits(StepLength)),
    ]
