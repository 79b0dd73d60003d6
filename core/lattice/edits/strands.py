"""Changes to strands: a whole one, its values together, or the value behind one wedge."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.base.draws import Draws
from lattice.base.errors import RecipeError
from lattice.base.values import Document, Percent, StepNumber, half_up, to_json
from lattice.base.words import many, written
from lattice.edits.base import Edit, who
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, edited, with_lane
from lattice.strands.fields import MOST_VALUES, By, Strand, StrandDirection
from lattice.strands.kinds import (
    DEGREE,
    NUDGE,
    VALUE,
    VELOCITY,
    StrandKind,
    Together,
    Value,
    kind_named,
)
from lattice.strands.reading import placer

CLOSE = 0.001
"""A place in beats names the hit that lies no further from it than this."""


class SetStrand(Edit):
    """Give a lane a strand of one kind, or take it away (null)."""

    do: Literal["strand"]
    lane: str
    kind: str
    strand: dict[str, Any] | None

    def apply(self, recipe: Recipe) -> Recipe:
        lane, strand = recipe.lane(self.lane), self.strand
        kind = lane.strand_kind(self.kind)
        old = lane.own(kind)
        # Values that are drawn anew leave those alone that wait after them.
        if strand and old and old.spare and len(strand.get("values", ())) == len(old.values):
            strand = {"spare": to_json(old)["spare"]} | strand
        return with_lane(recipe, with_strand(lane, kind, strand))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{_called(self.kind)} strand"


class ReadStrand(Edit):
    """Change how a strand is read: by what, in which direction, or which of its values (`window`
    null: all of them). What is not given stays."""

    do: Literal["read_strand"]
    lane: str
    kind: str
    by: By = "step"
    direction: StrandDirection = "forward"
    window: tuple[StepNumber, StepNumber] | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        kind = lane.strand_kind(self.kind)
        given = self.model_dump(include=self.model_fields_set & {"by", "direction", "window"})
        return with_lane(recipe, with_strand(lane, kind,
                                             strand_of(lane, kind).model_dump() | given))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{_called(self.kind)}: way of reading"


class ShapeStrand(Edit):
    """Change the values of a strand together: all of them, or those of `steps`.

    how: set them to `amount`; raise them by it (each stops at its bound); rotate them by so many
    places; reverse them; randomise a share (percent) of them, each within [low, high]; or give the
    strand `amount` values: what a shortened one loses waits, a longer one repeats. A lane without
    the strand begins with its single value on every step; so does a choice of steps in a strand
    that is not read by step.
    """

    do: Literal["shape"]
    lane: str
    kind: str
    how: Literal["set", "raise", "rotate", "reverse", "randomise", "length"]
    amount: float = 0
    low: float | None = None
    high: float | None = None
    share: Percent = 100
    steps: Annotated[list[StepNumber], Field(max_length=128)] | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        kind = lane.strand_kind(self.kind)
        strand = strand_of(lane, kind, by_step=self.steps is not None)
        values = list(strand.values)
        places = [step for step in self.steps if step < len(values)] \
            if self.steps is not None else list(range(len(values)))
        chosen = [values[place] for place in places]
        if self.how in ("rotate", "reverse") and chosen:
            by = int(self.amount) % len(chosen)
            chosen = chosen[::-1] if self.how == "reverse" else chosen[-by:] + chosen[:-by]
        elif self.how == "randomise":
            chosen = self._randomised(recipe, lane, kind, chosen)
        elif self.how == "length":
            count = int(self.amount)
            if not 1 <= count <= MOST_VALUES:
                raise RecipeError(f"A strand has 1 to {MOST_VALUES} values.")
            return with_lane(recipe, with_strand(lane, kind, to_json(strand.lengthened(count)) | {
                "by": strand.by}))
        else:
            amount = self.amount
            chosen = [amount if self.how == "set" else kind.moved(value, amount)
                      for value in chosen]
        for place, value in zip(places, chosen, strict=True):
            values[place] = value
        return with_lane(recipe, with_strand(lane, kind, to_json(strand) | {
            "by": strand.by, "values": values}))

    def _randomised(self, recipe: Recipe, lane: Lane, kind: StrandKind,
                    values: list[Value]) -> list[Value]:
        low = kind.low if self.low is None else self.low
        high = kind.high if self.high is None else self.high
        if low > high:
            raise RecipeError("A range goes from its lower to its higher end.")
        # The values themselves are part of the address, so that every press gives others.
        draws = Draws(recipe.seed, lane.seed, lane.id)
        purpose = f"randomise {self.kind} {values}"
        return [half_up(low + draws(purpose, i) * (high - low))
                if draws(purpose, i, 1) * 100 < self.share else value
                for i, value in enumerate(values)]

    @property
    def _done(self) -> str:
        by = written(abs(self.amount))
        return {"set": f"set to {written(self.amount)}", "reverse": "reversed",
                "raise": f"{'lowered' if self.amount < 0 else 'raised'} by {by}",
                "rotate": f"turned by {many(self.amount, 'places')}",
                "randomise": "made random", "length": f"given {many(self.amount, 'values')}",
                }[self.how]

    def describe(self, recipe: Recipe) -> str:
        steps = f" of {many(len(self.steps), 'steps')}" if self.steps is not None else ""
        return f"{who(self.lane, recipe)}{_called(self.kind)}{steps} {self._done}"


class CopyStrand(Edit):
    """Give a lane the strand that another has."""

    do: Literal["copy_strand"]
    lane: str
    kind: str
    source: str

    def apply(self, recipe: Recipe) -> Recipe:
        kind = kind_named(self.kind)
        strand = strand_of(recipe.lane(self.source), kind)
        return with_lane(recipe, with_strand(recipe.lane(self.lane), kind,
                                             to_json(strand) | {"by": strand.by}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{_called(self.kind)} as in {recipe.lane(self.source).name}"


class TouchPlace(Document):
    """A hit, by its place in beats: its velocity is raised, its nudge (percent) moved, its degree
    (or the value that it sets) raised."""

    at: Annotated[float, Field(ge=0, lt=2**31)]
    louder: Annotated[float, Field(ge=-127, le=127)] = 0
    later: Annotated[float, Field(ge=-100, le=100)] = 0
    higher: Annotated[int, Field(ge=-16_384, le=16_384)] = 0


class Touch(Edit):
    """Take wedges by their tips: the values that their hits read change, each up to its bound."""

    do: Literal["touch"]
    lane: str
    places: Annotated[list[TouchPlace], Field(min_length=1, max_length=512)]

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        performance = Performance(recipe)
        found = False
        raised = lane.strand_kind(VALUE.name if lane.kind == "control" else DEGREE.name)
        changed: dict[StrandKind, dict[int, float]] = {VELOCITY: {}, NUDGE: {}, raised: {}}
        for place in self.places:
            voice = performance.at(place.at).voice(lane.id)
            near = voice.hits.between(*voice.times.around(place.at, place.at))
            hit = next((hit for hit in near
                        if abs(hit.start / voice.times.grain - place.at) < CLOSE), None)
            if hit is None:
                continue
            found = True
            for kind, by in ((VELOCITY, place.louder), (NUDGE, place.later),
                             (raised, place.higher)):
                if by:
                    at = placer(kind, strand_of(lane, kind), voice.draws)(hit)
                    changed[kind][at] = by
        if not found:
            raise RecipeError(f"{lane.name} has no hit there.")
        for kind, moves in changed.items():
            if moves:
                strand = strand_of(lane, kind)
                values = [kind.moved(value, moves.get(i, 0))
                          for i, value in enumerate(strand.values)]
                lane = with_strand(lane, kind, to_json(strand) | {"by": strand.by,
                                                                  "values": values})
        return with_lane(recipe, lane)

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{many(len(self.places), 'wedges')} moved"


def strand_of(lane: Lane, kind: StrandKind, *, by_step: bool = False) -> Strand:
    """The lane's strand; or, where it has none (or, with `by_step`, one that is read otherwise or
    is shorter than the lane), one that says the same for every step."""
    strand = lane.strand(kind)
    fits = strand.by == "step" and len(strand.values) >= lane.steps
    if not by_step or (fits and strand.direction == "forward" and strand.window is None):
        return strand
    first, last = strand.read
    values = strand.values[first : last + 1]
    return Strand(values=tuple(values[step % len(values)] for step in range(lane.steps)))


def with_strand(lane: Lane, kind: StrandKind, strand: dict[str, Any] | None) -> Lane:
    """The lane with another strand of this kind, or without one."""
    return edited(lane, {kind.path: strand})


def documents_of(values: Sequence[Value]) -> list[Any]:
    """Values as they stand in a document."""
    return [value.document if isinstance(value, Together) else value for value in values]


def _called(kind: str) -> str:
    return kind_named(kind).word or kind
