"""Progressions: chords with lengths, gone round from time 0."""

from __future__ import annotations

import re
from bisect import bisect_right
from dataclasses import dataclass
from fractions import Fraction
from itertools import accumulate
from typing import Annotated, Any, Self

from pydantic import BeforeValidator, Field, model_validator

from lattice.base.errors import RecipeError
from lattice.base.frame import Frame
from lattice.base.values import Document, Lasting
from lattice.base.words import many
from lattice.pitch.chords import Chord, is_name, read_chord
from lattice.pitch.key import Key

MOST_CHORDS = 256


def _lengths(value: Any) -> Any:
    return tuple(value) if isinstance(value, list) else value


class Chords(Document):
    """A progression in Roman numerals or chord names. beats: how long each lasts (one bar where
    there is none): one length for all, or one each."""

    text: Annotated[str, Field(max_length=2000)]
    beats: Annotated[
        Annotated[tuple[Lasting, ...], Field(max_length=MOST_CHORDS)] | Lasting | None,
        BeforeValidator(_lengths)] = None

    @model_validator(mode="after")
    def _agree(self) -> Self:
        words = self.words
        if not 1 <= len(words) <= MOST_CHORDS:
            raise ValueError(f"A progression has 1 to {MOST_CHORDS} chords.")
        if isinstance(self.beats, tuple) and len(self.beats) not in (1, len(words)):
            raise ValueError(f"The progression has {many(len(words), 'chords')} and "
                             f"{many(len(self.beats), 'lengths')}; give one length for all, or one "
                             "each.")
        try:
            self.chords(0)
        except RecipeError as problem:
            raise ValueError(str(problem)) from None
        return self

    @property
    def words(self) -> list[str]:
        """The chords one by one, as they are written."""
        return re.split(r"[\s|,]+", self.text.strip(" \t\r\n|,")) if self.text.strip(
            " \t\r\n|,") else []

    @property
    def named(self) -> bool:
        """Whether they are written by their names, and not as numerals."""
        return all(is_name(word) for word in self.words if word != "%")

    def chords(self, key_root: int) -> list[Chord]:
        """The chords, numerals counted from a key's root; RecipeError for what cannot be read."""
        found: list[Chord] = []
        for number, word in enumerate(self.words, 1):
            if word != "%":
                found.append(read_chord(word, number, key_root))
            elif found:
                found.append(found[-1])
            else:
                raise RecipeError("Chord 1, “%”, repeats the chord before it, and there is none.")
        return found

    def lengths(self, bar: Fraction) -> tuple[Fraction, ...]:
        """How many beats each lasts."""
        each = self.beats if self.beats is not None else bar
        if isinstance(each, tuple):
            return each if len(each) > 1 else each * len(self.words)
        return (each,) * len(self.words)


class Harmonised(Frame):
    """A frame with what its lanes are in tune with."""

    key: Key = Key()
    chords: Chords | None = None


@dataclass(frozen=True, slots=True)
class InForce:
    """The chord at a place. number: its place in the progression; since: the tick that it came
    with; run: the tick at which the progression began anew."""

    chord: Chord
    number: int
    since: int
    run: int


class Progression:
    """A pattern's chords in ticks."""

    def __init__(self, chords: Chords, key_root: int, bar: Fraction, grain: int) -> None:
        self.chords = chords.chords(key_root)
        ends = [int(end * grain) for end in accumulate(chords.lengths(bar))]
        self.length = ends[-1]
        """Ticks until it comes round."""
        self.starts = [0, *ends[:-1]]
        """The ticks at which each begins, the first time round."""

    def at(self, tick: int) -> InForce:
        """The chord in force at a place of pattern time."""
        run, within = divmod(tick, self.length)
        number = bisect_right(self.starts, within) - 1
        begin = run * self.length
        return InForce(self.chords[number], number, begin + self.starts[number], begin)
