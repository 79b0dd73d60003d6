"""The fields that say where a lane's cells lie."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from lattice.base.frame import Frame
from lattice.base.group import Grain, LaneGroup
from lattice.base.values import Beats, Document, Percent, Rational, StepLength, StepNumber, Within
from lattice.time.directions import Direction

Span = Literal["cycle", "fit", "once"]
StepCount = Annotated[int, Field(ge=1, le=128)]
BarCount = Annotated[int, Field(ge=1, le=256)]
Shift = Annotated[Rational, AfterValidator(Within(
    Fraction(-4), Fraction(4), "A shift goes from -4 to 4 whole notes."))]


class RateStretch(Document):
    """From `start`, `beats` long in the frame: cells of `step`; contour blended by `contour`; so
    far `human`: by chance a little earlier or later, louder or softer
    (`lattice.features.human`)."""

    start: Beats
    beats: Beats
    step: StepLength
    contour: Percent = 0
    human: Percent = 0


def _in_order(path: tuple[RateStretch, ...]) -> tuple[RateStretch, ...]:
    path = tuple(sorted(path, key=lambda stretch: stretch.start))
    for stretch, following in pairwise(path):
        if stretch.start + stretch.beats > following.start:
            raise ValueError("The stretches of a rate path must not overlap.")
    return path


class TimeFields(LaneGroup):
    """`step` is a fraction of a whole note; `window` names the first and last step that are
    played; `shift` is in whole notes."""

    step: StepLength = Fraction(1, 16)
    steps: StepCount = 16
    window: tuple[StepNumber, StepNumber] | None = None
    span: Span = "cycle"
    fit_bars: BarCount | None = None
    offset: StepNumber = 0
    shift: Shift = Fraction(0)
    restart_bars: BarCount | None = None
    rate_path: Annotated[tuple[RateStretch, ...], Field(max_length=256),
                         AfterValidator(_in_order)] = ()
    direction: Direction = "forward"

    @model_validator(mode="after")
    def _window_within_steps(self) -> Self:
        if self.window and not self.window[0] <= self.window[1] < self.steps:
            raise ValueError(f"A window goes from step 0 up to step {self.steps - 1}, in order.")
        return self

    @property
    def played(self) -> tuple[int, int]:
        """The first and last step that are played."""
        return self.window or (0, self.steps - 1)

    def cell_beats(self, frame: Frame) -> Fraction:
        """The length d of the cells, in beats (outside the stretches of a rate path)."""
        if self.span != "fit":
            return 4 * self.step
        first, last = self.played
        bars = self.fit_bars or frame.bars
        return bars * frame.bar_beats / (last - first + 1)

    def add_grain(self, grain: Grain, frame: Frame) -> None:
        super().add_grain(grain, frame)
        grain.holds(self.cell_beats(frame), 4 * self.shift)
        if self.rate_path:  # beats outside its stretches have the lane's own step, fitted or not
            grain.holds(4 * self.step)
        for stretch in self.rate_path:
            grain.holds(4 * stretch.step, stretch.start, stretch.beats)
