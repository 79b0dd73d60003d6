"""The order as a document: blocks, each naming a pattern, how long it plays, and how."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from lattice.base.group import MAX_LANES
from lattice.base.values import Document, Rational, StepLength, Within
from lattice.edits.adapt import Adapt
from lattice.pitch.fields import Semitones
from lattice.pitch.key import Key
from lattice.recipe import Recipe
from lattice.strands.kinds import Degree

MOST_BLOCKS = 256
SLOWEST, FASTEST = Fraction(1, 16), Fraction(16)

Count = Annotated[int, Field(ge=1, le=512)]
PassNumber = Annotated[int, Field(ge=0, le=9999)]
Speed = Annotated[Rational, AfterValidator(Within(
    SLOWEST, FASTEST, "A block plays at 1/16 to 16 times the speed of its pattern."))]
Unit = Literal["passes", "bars", "steps"]


class Block(Document):
    """A pattern, named by its number in the piece, that plays for a while.

    It plays `count` passes, bars, or steps of `step` (a fraction of a whole note), counted in the
    pattern's own time, from the beginning of its pass `first` (from 0) on; moved by degrees of its
    key or by semitones, in another `key`, `speed` of its own beats in a beat of the tempo, and
    `without` some of its lanes.
    """

    pattern: Annotated[int, Field(ge=1, lt=2**53)]
    count: Count = 1
    unit: Unit = "passes"
    step: StepLength = Fraction(1, 16)
    first: PassNumber = 0
    degrees: Degree = 0
    semitones: Semitones = 0
    key: Key | None = None
    speed: Speed = Fraction(1)
    without: Annotated[tuple[str, ...], Field(max_length=MAX_LANES)] = ()

    @property
    def adapting(self) -> Adapt | None:
        """What it changes of its pattern; None where that plays as it is."""
        if not (self.degrees or self.semitones or self.key or self.without):
            return None
        return Adapt(degrees=self.degrees, semitones=self.semitones, key=self.key,
                     without=self.without)

    def stretch(self, recipe: Recipe) -> tuple[Fraction, Fraction]:
        """The stretch [start, end) that it plays, in its pattern's own beats."""
        start = self.first * recipe.frame_beats
        each = {"passes": recipe.frame_beats, "bars": recipe.bar_beats, "steps": 4 * self.step}
        return start, start + self.count * each[self.unit]

    def beats(self, recipe: Recipe) -> Fraction:
        """How long it lasts on the order's time line."""
        start, end = self.stretch(recipe)
        return (end - start) / self.speed


class Order(Document):
    """Blocks that play one after another; `between`, where it is there, names the first and the
    last of those that go round, counted from 0."""

    blocks: Annotated[tuple[Block, ...], Field(max_length=MOST_BLOCKS)] = ()
    between: tuple[int, int] | None = None

    def renumbered(self, numbers: Mapping[int, int]) -> Order:
        """The order with other numbers for its patterns. Blocks of patterns that have none are left
        out, and then the brackets too."""
        blocks = tuple(block.model_copy(update={"pattern": numbers[block.pattern]})
                       for block in self.blocks if block.pattern in numbers)
        return Order(blocks=blocks,
                     between=self.between if len(blocks) == len(self.blocks) else None)

    @model_validator(mode="after")
    def _brackets_within(self) -> Self:
        if self.between and not 0 <= self.between[0] <= self.between[1] < len(self.blocks):
            raise ValueError("The brackets stand around blocks that are there, in order.")
        return self
