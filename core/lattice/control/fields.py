"""The fields of a lane that moves a controller."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from lattice.base.controllers import Number, neutral_value, value_bounds
from lattice.base.values import Document
from lattice.pitch.fields import PitchFields
from lattice.strands.kinds import VALUE, StrandKind, value_of

Move = Literal["step", "glide"]
Curve = Literal["even", "early", "late"]
Lean = Literal["even", "low", "high"]
Setting = Annotated[int, Field(ge=-8192, le=8191)]


class Control(Document):
    """A controller by its number, pitch bend or channel pressure; whether it steps or glides from
    value to value, and along which curve."""

    number: Number
    move: Move = "step"
    curve: Curve = "even"

    @property
    def bounds(self) -> tuple[int, int]:
        """The lowest and the highest value."""
        return value_bounds(self.number)

    @property
    def neutral(self) -> int:
        """The value where nothing is said."""
        return neutral_value(self.number)


class ControlFields(PitchFields):
    """What a control lane sets, and where in a range its draws lean. by_velocity: what a lane that
    follows another sets for that one's softest velocity, 1, and its loudest, 127, in place of
    values of its own."""

    control: Control | None = None
    lean: Lean = "even"
    by_velocity: tuple[Setting, Setting] | None = None

    @model_validator(mode="after")
    def _controls(self) -> Self:
        if self.kind != "control":
            return self
        if self.control is None:
            raise ValueError('A control lane has a "control" with the number of its controller, '
                             '"bend" or "pressure".')
        low, high = self.control.bounds
        strand = self.strands.of(VALUE)
        for value in (*(strand.values if strand else (self.set_to,)), self.by_velocity or ()):
            ends = value if isinstance(value, tuple) else (value,)
            if any(isinstance(end, float | int) and not low <= end <= high for end in ends):
                raise ValueError(f"The values of this controller go from {low:,} to {high:,}.")
        return self

    @property
    def sets_by_velocity(self) -> tuple[int, int] | None:
        """Between which values it sets its controller from the velocity of the lane that it
        follows, if it does."""
        return self.by_velocity if self.kind == "control" and self.follows else None

    def kinds(self) -> list[StrandKind]:
        return [kind for kind in super().kinds()
                if kind.name != VALUE.name or not self.sets_by_velocity]

    @property
    def set_to(self) -> int:
        """The lane's single value."""
        if self.value is not None or self.control is None:
            return self.value or 0
        return self.control.neutral

    def single(self, kind: StrandKind) -> float:
        return self.set_to if kind.name == VALUE.name else super().single(kind)

    def strand_kind(self, name: str) -> StrandKind:
        if name == VALUE.name and self.kind == "control" and self.control is not None:
            return value_of(self.control.number)
        return super().strand_kind(name)
