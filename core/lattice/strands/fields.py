"""A lane's strands, and its single values where it has none."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal, Self

from pydantic import BeforeValidator, Field, create_model, field_validator, model_validator

from lattice.base.controllers import Number
from lattice.base.errors import RecipeError
from lattice.base.frame import Frame
from lattice.base.group import Reach, Rounds
from lattice.base.values import Document, Gate, Percent, StepNumber, Velocity
from lattice.hits.fields import HitFields
from lattice.strands.kinds import (
    KINDS,
    NUDGE,
    OCTAVE,
    ROLL,
    SETTING,
    Controlled,
    Degree,
    StrandKind,
    Together,
    Value,
    kind_named,
)
from lattice.time.directions import one_round

StrandDirection = Literal["forward", "backward", "bounce", "random"]
By = Literal["step", "cell", "hit"]
MOST_VALUES = 256
MOST_CONTROLS = 16


class Strand(Document):
    """Values read by step, by cell, or by hit; a pair [low, high] is a range, drawn per cell, and
    {"all": …} several degrees at once. `spare` are not read: the strand had them after its last
    value when it was longer, and has them again when it is lengthened."""

    values: Annotated[tuple[Value, ...], Field(min_length=1, max_length=MOST_VALUES)]
    by: By = "step"
    direction: StrandDirection = "forward"
    window: tuple[StepNumber, StepNumber] | None = None
    spare: Annotated[tuple[Value, ...], Field(max_length=MOST_VALUES - 1)] = ()

    @field_validator("values", "spare", mode="before")
    @classmethod
    def _chord_steps_are_whole(cls, values: Any) -> Any:
        for value in values if isinstance(values, list | tuple) else ():
            if isinstance(value, dict):
                degrees = value.get("all")
                listed = isinstance(degrees, list | tuple) and 2 <= len(degrees) <= 8 and all(
                    type(each) is int for each in degrees) and len(set(degrees)) == len(degrees)
                if set(value) != {"all"} or not (listed or degrees == "chord"):
                    raise ValueError('A chord step is {"all": …} with two to eight different '
                                     'degrees, or with "chord".')
        return values

    @model_validator(mode="after")
    def _window_fits(self) -> Self:
        if self.window and not self.window[0] <= self.window[1] < len(self.values):
            raise ValueError(f"A strand's window goes from 0 up to {len(self.values) - 1}.")
        return self

    def lengthened(self, count: int) -> Self:
        """The strand with so many values: those that it has or had, and after them all of them
        again."""
        known = self.values + self.spare
        values = tuple(known[i % len(known)] for i in range(count))
        return self.model_copy(update={"values": values, "spare": known[count:], "window": None})

    @property
    def read(self) -> tuple[int, int]:
        """The first and last value that are read."""
        return self.window or (0, len(self.values) - 1)

    @property
    def period(self) -> int:
        """After how many steps, cells or hits the values come round again."""
        if self.direction == "random":
            return 1
        return len(one_round(*self.read, self.direction) or (0,))


def _setting(controls: Any) -> Any:
    """Strands by the controllers that they set, but for those that are null."""
    if not isinstance(controls, dict):
        return controls
    if len(controls) > MOST_CONTROLS:
        raise ValueError(f"A lane sets up to {MOST_CONTROLS} controllers.")
    found: dict[Number, Strand] = {}
    for name, document in controls.items():
        try:
            kind = kind_named(f"{SETTING}{name}")
        except RecipeError as problem:
            raise ValueError(str(problem)) from None
        if kind.sets is not None and document is not None:
            found[kind.sets] = _within(kind, Strand.model_validate(document))
    return found


def _of(kind: StrandKind) -> Any:
    def parse(value: Any) -> Strand | None:
        return None if value is None else _within(kind, Strand.model_validate(value))

    return Annotated[Strand | None, BeforeValidator(parse)]


def _called(kind: StrandKind) -> str:
    return (kind.name if kind.sets is None else kind.word).capitalize()


def _within(kind: StrandKind, strand: Strand) -> Strand:
    for value in strand.values + strand.spare:
        if isinstance(value, Together):
            if not kind.several:
                raise ValueError(f"{_called(kind)} values are one number each.")
            continue
        low, high = value if isinstance(value, tuple) else (value, value)
        if not kind.low <= low <= high <= kind.high:
            raise ValueError(f"{_called(kind)} values go from {kind.low:g} to "
                             f"{kind.high:g}, a range from its lower to its higher end.")
        if kind.whole and (low != int(low) or high != int(high)):
            raise ValueError(f"{_called(kind)} values are whole numbers.")
    return strand


class AnyStrands(Document):
    """What can be asked of a lane's strands; `Strands` has a field for each kind."""

    def of(self, kind: StrandKind) -> Strand | None:
        """The strand of a kind, if there is one."""
        found: Strand | None = getattr(self, kind.name)
        return found

    def used(self) -> dict[str, Strand]:
        """The strands that are there, by the names of their kinds."""
        return {kind.name: strand for kind in KINDS.values() if (strand := self.of(kind))}


if TYPE_CHECKING:
    Strands = AnyStrands
else:
    Strands = create_model(
        "Strands", __base__=AnyStrands, __module__=__name__,
        __doc__="The strands of a lane, one of each kind at most.",
        **{kind.name: (_of(kind), None) for kind in KINDS.values()})


class StrandFields(HitFields):
    """The values that hold for all hits, and the strands that take their place.

    In percent but for velocity, degree and what a controller is set to (`value`; none: its neutral
    value); gate: of the cell. controls: strands by the controllers that they set before each hit
    of a lane of notes ("74", "bend", "pressure").
    """

    velocity: Velocity = 100
    probability: Percent = 100
    gate: Gate = 90
    degree: Degree = 0
    value: Controlled | None = None
    strands: Strands = Strands()
    controls: Annotated[dict[Number, Strand], BeforeValidator(_setting)] = {}

    def own(self, kind: StrandKind) -> Strand | None:
        """The strand of a kind, if there is one."""
        return self.strands.of(kind) if kind.sets is None else self.controls.get(kind.sets)

    def single(self, kind: StrandKind) -> float:
        """What holds where there is no strand of this kind."""
        return float(getattr(self, kind.name) or 0) if kind.neutral is None else kind.neutral

    def strand(self, kind: StrandKind) -> Strand:
        """The strand of a kind; where there is none, one that says the same for every step."""
        return self.own(kind) or Strand(values=(self.single(kind),) * self.steps)

    def highest(self, kind: StrandKind) -> float:
        """The highest value that may hold for a hit."""
        strand = self.own(kind)
        return max(value[1] if isinstance(value, tuple) else value for value in strand.values
                   if not isinstance(value, Together)) if strand else self.single(kind)

    def add_rounds(self, rounds: Rounds) -> None:
        super().add_rounds(rounds)
        for strand in (*self.strands.used().values(), *self.controls.values()):
            if strand.by == "cell":
                rounds.by_cell(strand.period)
            elif strand.by == "hit":
                rounds.by_hit(strand.period)

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        super().add_reach(reach, frame, cell)
        if self.strands.of(NUDGE):
            reach.either_way(cell * NUDGE.high / 100)
        if self.strands.of(ROLL):
            reach.later(cell)

    def strays(self) -> bool:
        return super().strays() or self.strands.of(OCTAVE) is not None
