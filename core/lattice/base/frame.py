"""The frame: what a pattern says for all of its lanes."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.values import Document, Scale, Seed, StepLength

Bars = Annotated[int, Field(ge=1, le=16)]
SwingPercent = Annotated[float, Field(ge=50, le=75)]


class Swing(Document):
    """The first half of each pair of `grid` steps gets `percent` of the pair: 50 is straight."""

    grid: StepLength
    percent: SwingPercent


class Frame(Document):
    """`bars` of `meter`, gone round pass after pass; its seed, swing and scale of chances."""

    meter: tuple[Annotated[int, Field(ge=1, le=32)], Literal[1, 2, 4, 8, 16, 32]] = (4, 4)
    bars: Bars = 1
    seed: Seed = 0
    swing: Swing | None = None
    probability_scale: Scale = 100

    @property
    def bar_beats(self) -> Fraction:
        """The length of a bar, in beats."""
        return Fraction(self.meter[0] * 4, self.meter[1])

    @property
    def frame_beats(self) -> Fraction:
        """The length of the frame, and so of a pass, in beats."""
        return self.bars * self.bar_beats
