"""Slow movement: a number of the sentence that follows a path over bars, another value each bar."""

from __future__ import annotations

from collections.abc import Callable
from math import cos, floor, pi
from typing import Annotated, Self

from pydantic import AfterValidator, Field

from lattice.base.draws import Draws
from lattice.base.group import LaneGroup
from lattice.base.values import Document, half_up, tidy
from lattice.base.words import Shape, Slot

SHAPES: dict[Shape, tuple[str, str]] = {
    "wave": ("move in a wave", "there and back, softly"),
    "line": ("move in a line", "there, and begins anew"),
    "steps": ("move in steps", "there by a few jumps, and begins anew"),
    "wander": ("wander", "from place to place, by chance"),
    "drawn": ("move as drawn", "a value of its own for each bar"),
}
MOST_PATHS, MOST_BARS, FARTHEST = 8, 64, 1e6

PathBars = Annotated[int, Field(ge=1, le=MOST_BARS)]
PathSteps = Annotated[int, Field(ge=2, le=16)]
Place = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]
Points = Annotated[tuple[Place, ...], Field(max_length=MOST_BARS)]


class WordPath(Document):
    """The path that one number follows: `word` is the one of its slot, and values are as that word
    reads. `first` and `last` are its ends over `bars`; a path that is drawn has a point a bar.

    The share of the way from `first` to `last` in bar n of a round of N, both from 0: line
    n / (N - 1) · steps floor(n S / N) / (S - 1) for S steps · wave (1 - cos(2 pi n / N)) / 2 ·
    wander: a line from draw k to draw k + 1 for each k-th stretch of N bars. Where n is a fraction
    of a bar, a line stays at its end from the last bar's beginning on.
    """

    word: Annotated[str, Field(pattern=r"^[a-z][a-z0-9_.]{0,59}$")]
    shape: Shape = "wave"
    first: Annotated[Place, Field(alias="from")]
    last: Annotated[Place, Field(alias="to")]
    bars: PathBars = 8
    steps: PathSteps = 4
    points: Points = ()

    @property
    def drawn(self) -> Points:
        """The points, where it is they that are followed."""
        return self.points if self.shape == "drawn" else ()

    @property
    def round(self) -> int | None:
        """After how many bars it comes round; None: never."""
        return None if self.shape == "wander" else len(self.drawn) or self.bars

    def at(self, bar: float, draws: Draws) -> float:
        """The value in a bar, or at a fraction of one, counted from 0, before it is rounded."""
        if self.drawn:
            return self.drawn[floor(bar) % len(self.drawn)]
        return self.first + (self.last - self.first) * self._share(bar, draws)

    def _share(self, bar: float, draws: Draws) -> float:
        stretch, within = floor(bar / self.bars), bar % self.bars
        if self.shape == "wander":
            purpose = f"path {self.word}"
            begin, end = draws(purpose, stretch), draws(purpose, stretch + 1)
            return begin + (end - begin) * within / self.bars
        if self.shape == "steps":
            return floor(within * self.steps / self.bars) / (self.steps - 1)
        if self.shape == "wave":
            return (1 - cos(2 * pi * within / self.bars)) / 2
        return min(1.0, within / (self.bars - 1)) if self.bars > 1 else 0.0

    def value(self, bar: int, draws: Draws, slot: Slot) -> float:
        """The value that a word has in a bar: rounded to its steps, within its bounds."""
        return on_word(self.at(bar, draws), slot)

    def lifted(self, by: float) -> Self:
        """The path, moved as a whole, whatever bounds its word has."""
        return self._each(lambda value: value + by)

    def shifted(self, by: float, slot: Slot) -> Self:
        """The path, moved as a whole as far as the word's bounds let it."""
        return self._each(lambda value: on_word(value + by, slot))

    def _each(self, change: Callable[[float], float]) -> Self:
        return self.model_copy(update={"first": change(self.first), "last": change(self.last),
                                       "points": tuple(map(change, self.points))})


def in_steps(value: float, slot: Slot) -> float:
    """A value rounded to a word's steps."""
    return tidy(round(half_up(value / slot.step) * slot.step, 4))


def on_word(value: float, slot: Slot) -> float:
    """A value rounded to a word's steps and brought within its bounds."""
    low, high = slot.bounds
    return tidy(min(high, max(low, in_steps(value, slot))))


def _one_each(paths: tuple[WordPath, ...]) -> tuple[WordPath, ...]:
    words = [path.word for path in paths]
    if len(set(words)) < len(words):
        raise ValueError("A word follows one path at a time.")
    return paths


Paths = Annotated[tuple[WordPath, ...], Field(max_length=MOST_PATHS), AfterValidator(_one_each)]


def path_of(paths: Paths, word: str) -> WordPath | None:
    """The path that a word follows, if it follows one."""
    return next((path for path in paths if path.word == word), None)


class MovementFields(LaneGroup):
    """Which of the lane's numbers follow a path."""

    paths: Paths = ()
