"""What is made random within bounds: each throw a small document that says itself, and one step of
undo."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from lattice.base.draws import Draws
from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES
from lattice.edits.base import Edit
from lattice.features.gusts import Throw
from lattice.recipe import Lane, Recipe
from lattice.sentence import Said

Hand = Literal["stays", "goes"]
HAND = {"stays": ("stays", "pinned steps are left as they are"),
        "goes": ("goes too", "pins are no hindrance")}
"""What becomes of what hands have set."""


class ThrowEdit(Edit, Said):
    """A throw over some lanes, or over all that it can be made over where none is named; `throw`
    decides chance, each lane's by itself."""

    do: str
    place: ClassVar[int]
    """Where it comes among the others that are offered."""
    about: ClassVar[str]
    over: ClassVar[Literal["lanes", "pattern"]] = "lanes"
    """Whether it can be made over some lanes, or is made over the pattern as a whole."""
    throw: Throw = 0
    lanes: Annotated[list[str] | None, Field(max_length=MAX_LANES)] = None

    @property
    def changes(self) -> int:
        return 16 if self.lanes is None else 1 + len(self.lanes)

    def draws(self, lane_id: str = "") -> Draws:
        """The draws of a lane, or of the pattern."""
        return Draws(self.throw, 0, lane_id)

    def fits(self, lane: Lane) -> bool:
        """Whether it can be made over a lane."""
        raise NotImplementedError

    def lanes_of(self, recipe: Recipe) -> Sequence[Lane]:
        """The lanes that it is made over; RecipeError where there are none."""
        named = recipe.lanes if self.lanes is None else [recipe.lane(each) for each in self.lanes]
        fitting = [lane for lane in named if self.fits(lane)]
        if not fitting:
            whose = f"{named[0].name} has" if len(named) == 1 else "These lanes have"
            raise RecipeError(f"{whose} nothing that “{self.label}” could change.")
        return fitting

    def describe(self, recipe: Recipe) -> str:
        if self.over == "pattern":
            return f"{self.label} thrown"
        who = recipe.lane(self.lanes[0]).name if self.lanes and len(self.lanes) == 1 else \
            "all lanes" if self.lanes is None else f"{len(self.lanes)} lanes"
        return f"{who}: {self.label} thrown"


class Between(ThrowEdit):
    """A throw between two bounds, the lower of which is no higher than the other."""

    low: float
    high: float

    @model_validator(mode="after")
    def _rises(self) -> Self:
        if self.low > self.high:
            raise ValueError("The lower bound goes up to the upper one.")
        return self
