"""The small value types that a recipe is made of."""

import re
from fractions import Fraction
from typing import Annotated, Any

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    PlainSerializer,
    WithJsonSchema,
)

MAX_DENOMINATOR = 100_000


class Document(BaseModel):
    """A part of a recipe: immutable, and refusing fields it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, strict=False,
                              allow_inf_nan=False)


def to_fraction(value: Any) -> Fraction:
    """Read "3/16", "-1/32", "2" or a whole number; ValueError (one sentence) for anything else."""
    if isinstance(value, Fraction):
        fraction = value
    elif isinstance(value, int) and not isinstance(value, bool) and abs(value) <= MAX_DENOMINATOR:
        fraction = Fraction(value)
    elif isinstance(value, str) and re.fullmatch(r"\s*[+-]?\d{1,6}(\s*/\s*\d{1,6})?\s*", value):
        top, _, bottom = value.replace(" ", "").partition("/")
        if bottom and int(bottom) == 0:
            raise ValueError("A fraction cannot be divided by zero.")
        fraction = Fraction(int(top), int(bottom or 1))
    else:
        raise ValueError("Write a fraction such as 1/16, 1/12 or 3/16.")
    if fraction.denominator > MAX_DENOMINATOR:
        raise ValueError(f"The lower half of a fraction goes up to {MAX_DENOMINATOR:,}.")
    return fraction


Rational = Annotated[
    Fraction,
    BeforeValidator(to_fraction),
    PlainSerializer(str, return_type=str),
    WithJsonSchema({"type": ["string", "integer"], "pattern": r"^[+-]?\d{1,6}(/\d{1,6})?$"}),
]
"""An exact fraction; in JSON a string such as "3/16", or a whole number."""


def _step_length(value: Fraction) -> Fraction:
    if not Fraction(1, 1024) <= value <= 16:
        raise ValueError("A step length goes from 1/1024 to 16 whole notes.")
    return value


def _beats(value: Fraction) -> Fraction:
    if not 0 <= value <= 1024:
        raise ValueError("Beats go from 0 to 1,024.")
    return value


StepLength = Annotated[Rational, BeforeValidator(lambda v: _step_length(to_fraction(v)))]
"""A fraction of a whole note, 1/1024 to 16."""

Beats = Annotated[Rational, BeforeValidator(lambda v: _beats(to_fraction(v)))]
"""Quarter-note beats, 0 to 1,024, exact."""

Velocity = Annotated[int, Field(ge=1, le=127)]
Percent = Annotated[float, Field(ge=0, le=100)]
Scale = Annotated[float, Field(ge=0, le=200)]
"""A scaling in percent, 0 to 200; 100 changes nothing."""

Seed = Annotated[int, Field(ge=0, lt=2**53)]
"""A seed; below 2^53, so that every JSON reader keeps it whole."""

def one_line(text: str) -> str:
    """A name as people type it, without the blanks around it; ValueError (one sentence) where
    nothing is left of it, or it holds what cannot be printed on one line."""
    if not text.strip() or not text.isprintable():
        raise ValueError("A name needs at least one letter, on one line.")
    return text.strip()


LaneName = Annotated[str, Field(min_length=1, max_length=60), AfterValidator(one_line)]
Name = Annotated[str, Field(min_length=1, max_length=80), AfterValidator(one_line)]
"""What pieces, patterns and clips are called."""

StepNumber = Annotated[int, Field(ge=0, le=127)]


def half_up(value: float) -> int:
    """Round to the nearest whole number, halves upward; also those that floating point has left a
    hair below."""
    return int((value + 0.500000001) // 1)


def tidy(value: float) -> int | float:
    """A number as people write it: 3 rather than 3.0."""
    return int(value) if value == int(value) else value
