"""The small value types that a recipe is made of.

A type carries its own bounds; words and messages read them from it with `limits`.
"""

import re
from collections.abc import Hashable
from dataclasses import dataclass
from fractions import Fraction
from functools import cache, lru_cache
from typing import Annotated, Any, Literal, cast, get_args

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    PlainSerializer,
    WithJsonSchema,
)
from pydantic.fields import FieldInfo

MAX_DENOMINATOR = 100_000


class Document(BaseModel):
    """A part of a recipe: immutable, and refusing fields it does not know. How it is read is worked
    out when it is read first, so that a command begins soon; `ready` does it for all kinds."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, strict=False,
                              allow_inf_nan=False, defer_build=True)

    @classmethod
    def ready(cls) -> None:
        """Make every kind of document that is known by now ready to be read."""
        for kind in cls.__subclasses__():
            if not kind.__pydantic_generic_metadata__["parameters"]:
                kind.model_rebuild()
            kind.ready()


def to_fraction(value: Any) -> Fraction:
    """Read "3/16", "-1/32", "2" or a whole number; ValueError (one sentence) for anything else."""
    if isinstance(value, Fraction):
        fraction = value
    elif isinstance(value, int) and not isinstance(value, bool) and abs(value) <= MAX_DENOMINATOR:
        fraction = Fraction(value)
    else:
        fraction = _written_fraction(value if isinstance(value, str) else "")
    if fraction.denominator > MAX_DENOMINATOR:
        raise ValueError(f"The lower half of a fraction goes up to {MAX_DENOMINATOR:,}.")
    return fraction


@lru_cache(1024)
def _written_fraction(text: str) -> Fraction:
    if not re.fullmatch(r"\s*[+-]?\d{1,6}(\s*/\s*\d{1,6})?\s*", text):
        raise ValueError("Write a fraction such as 1/16, 1/12 or 3/16.")
    top, _, bottom = text.replace(" ", "").partition("/")
    if bottom and int(bottom) == 0:
        raise ValueError("A fraction cannot be divided by zero.")
    return Fraction(int(top), int(bottom or 1))


def to_sum(text: str) -> Fraction:
    """Read "2 + 3/4", or a fraction by itself, as `to_fraction` reads each."""
    return sum(map(to_fraction, text.split("+")), Fraction(0))


Rational = Annotated[
    Fraction,
    BeforeValidator(to_fraction),
    PlainSerializer(str, return_type=str),
    WithJsonSchema({"type": ["string", "integer"], "pattern": r"^[+-]?\d{1,6}(/\d{1,6})?$"}),
]
"""An exact fraction; in JSON a string such as "3/16", or a whole number."""


@dataclass(frozen=True, slots=True)
class Within:
    """Bounds of an exact fraction, and the sentence for what lies beyond them."""

    low: Fraction
    high: Fraction
    refusal: str

    def __call__(self, value: Fraction) -> Fraction:
        if not self.low <= value <= self.high:
            raise ValueError(self.refusal)
        return value


StepLength = Annotated[Rational, AfterValidator(Within(
    Fraction(1, 1024), Fraction(16), "A step length goes from 1/1024 to 16 whole notes."))]
"""A fraction of a whole note, 1/1024 to 16."""


def to_beats(value: Any) -> Any:
    """Beats may also be written as a number that is a fraction exactly, such as 1.5; others are
    left for `to_fraction` to refuse."""
    if isinstance(value, float) and abs(value) <= MAX_DENOMINATOR:
        exact = Fraction(value)
        if exact.denominator <= 1024:
            return exact
    return value


Beats = Annotated[Rational, BeforeValidator(to_beats), AfterValidator(Within(
    Fraction(0), Fraction(1024), "Beats go from 0 to 1,024."))]
"""Quarter-note beats, 0 to 1,024, exact."""


def _lasting(beats: Fraction) -> Fraction:
    if beats == 0:
        raise ValueError("A length in beats is more than 0 and up to 1,024, such as 4 or 3/2.")
    return beats


Lasting = Annotated[Beats, AfterValidator(_lasting)]
"""Beats above 0."""

LaneKind = Literal["drum", "pitched", "control"]
LANE_KINDS: tuple[LaneKind, ...] = get_args(LaneKind)

Velocity = Annotated[int, Field(ge=1, le=127)]
Percent = Annotated[float, Field(ge=0, le=100)]
Gate = Annotated[float, Field(ge=1, le=800)]
"""A length in percent of the cell."""
Scale = Annotated[float, Field(ge=0, le=200)]
"""A scaling in percent, 0 to 200; 100 changes nothing."""

Seed = Annotated[int, Field(ge=0, lt=2**53)]
"""A seed; below 2^53, so that every JSON reader keeps it whole."""


@cache
def limits(kind: Any) -> tuple[Any, Any]:
    """The lowest and the highest value that an annotated type takes; TypeError if it has none."""
    low = high = None
    for note in get_args(kind)[1:]:
        if isinstance(note, AfterValidator) and isinstance(note.func, Within):
            low, high = note.func.low, note.func.high
        elif isinstance(note, FieldInfo):
            for bound in note.metadata:
                low, high = getattr(bound, "ge", low), getattr(bound, "le", high)
    if low is None or high is None:
        raise TypeError(f"{kind} is not bounded on both sides.")
    return low, high


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
NoteNumber = Annotated[int, Field(ge=0, le=127)]
"""A MIDI note; on a drum channel it names the drum."""
Channel = Annotated[int, Field(ge=1, le=16)]
DRUM_CHANNEL = 10
"""Where General MIDI has drums."""


def fixed(value: Any) -> Hashable:
    """A field's value so that it can be part of a key: what a dictionary holds, in no order."""
    return frozenset(value.items()) if isinstance(value, dict) else cast(Hashable, value)


def to_json(document: BaseModel) -> dict[str, Any]:
    """The document of a recipe (or a part of one), neutral values left out."""
    return document.model_dump(mode="json", exclude_defaults=True, by_alias=True)


def half_up(value: float) -> int:
    """Round to the nearest whole number, halves upward; also those that floating point has left a
    hair below."""
    return int((value + 0.500000001) // 1)


def tidy(value: float) -> int | float:
    """A number as people write it: 3 rather than 3.0."""
    return int(value) if value == int(value) else value
