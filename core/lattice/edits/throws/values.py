"""Throw the values of a strand."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal, Self

from pydantic import model_validator

from lattice.base.clauses import Part
from lattice.base.values import Percent, half_up, limits, tidy, to_json
from lattice.base.words import choice, number, percent
from lattice.edits.strands import strand_of, with_strand
from lattice.edits.throws.base import HAND, Between, Hand
from lattice.recipe import Lane, Recipe, with_lane
from lattice.strands.kinds import KINDS, VELOCITY, StrandKind, kind_named


class ThrowValues(Between):
    """Another value for a share (percent) of the steps in a strand of one kind, drawn evenly
    between two bounds; the others keep theirs."""

    do: Literal["throw_values"] = "throw_values"
    place = 20
    label = "values"
    about = "a strand's values, step by step"
    kind: str = VELOCITY.name
    low: float = VELOCITY.thrown[0]
    high: float = VELOCITY.thrown[1]
    share: Percent = 100
    hand: Hand = "stays"

    @model_validator(mode="after")
    def _fits_the_kind(self) -> Self:
        kind = kind_named(self.kind)
        if not kind.low <= self.low and self.high <= kind.high:
            raise ValueError(f"The bounds of {kind.word or kind.name} lie between "
                             f"{tidy(kind.low)} and {tidy(kind.high)}.")
        return self

    @property
    def strand(self) -> StrandKind:
        """The kind of values."""
        return kind_named(self.kind)

    def parts(self) -> Sequence[Part]:
        kind = self.strand
        return ["The ", choice("kind", "kind of values", self.kind, {
                    name: each.word or name for name, each in KINDS.items()}), " from ",
                number("low", "lower bound", self.low, kind.low, self.high), " to ",
                number("high", "upper bound", self.high, self.low, kind.high), " on ",
                percent("share", "share of the steps", self.share, *limits(Percent)),
                " of the steps; what is set by hand ",
                choice("hand", "what is set by hand", self.hand, HAND), "."]

    def worded(self, name: str, value: Any) -> Self:
        if name == "kind" and value in KINDS and value != self.kind:
            low, high = KINDS[value].thrown
            return self.model_copy(update={"kind": value, "low": low, "high": high})
        return super().worded(name, value)

    def fits(self, lane: Lane) -> bool:
        return lane.kind in self.strand.lanes

    def apply(self, recipe: Recipe) -> Recipe:
        for lane in self.lanes_of(recipe):
            recipe = with_lane(recipe, self._thrown(lane))
        return recipe

    def _thrown(self, lane: Lane) -> Lane:
        kind, draws = self.strand, self.draws(lane.id)
        strand = to_json(strand_of(lane, kind, by_step=True))
        low, high = self.low, self.high
        if lane.control is not None and lane.kind == "control" and kind.lanes == ("control",):
            low, high = (min(max(each, lane.control.bounds[0]), lane.control.bounds[1])
                         for each in (low, high))
        for step in range(lane.steps):
            stays = self.hand == "stays" and step in lane.pins
            if not stays and draws("value goes", step) * 100 < self.share:
                drawn = low + (high - low) * draws(f"value {kind.name}", step)
                strand["values"][step] = half_up(drawn) if kind.whole else round(drawn, 1)
        return with_strand(lane, kind, strand)
