"""Rolls: a hit, or a stretch of beats, split into many strokes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from lattice.chance import Turns
from lattice.slots import ClauseKind, Slot, choice, fraction, nth, number, percent, step_number
from lattice.values import Beats, Document, Percent, StepNumber

if TYPE_CHECKING:
    from lattice.draws import Draws
    from lattice.recipe import Lane

Curve = Literal["even", "gathering", "slackening"]

CURVES: dict[str, Callable[[float], float]] = {
    "even": lambda u: u,
    "gathering": lambda u: 1 - (1 - u) ** 1.5,
    "slackening": lambda u: u**1.5,
}
"""Where a stroke at the share u of an even roll begins, 0 to 1."""
CURVE_WORDS = {"even": ("even", "strokes equally far apart"),
               "gathering": ("gathering", "closer and closer"),
               "slackening": ("slackening", "further and further apart")}

Share = Annotated[float, Field(ge=0, le=400)]
Semitones = Annotated[float, Field(ge=-48, le=48)]


@dataclass(frozen=True, slots=True)
class RollFate:
    """Whether a roll comes off, whether it is its turn, and what it drew, in percent."""

    comes_off: bool
    turn: bool
    draw: float | None = None


class Roll(Document):
    """`strokes` over the cell of `step`, or over `beats` from `start` in the frame.

    velocity: percent of the hit's, from the first to the last stroke; pitch: semitones likewise.
    """

    step: StepNumber | None = None
    start: Beats | None = None
    beats: Beats | None = None
    strokes: Annotated[int, Field(ge=1, le=256)]
    velocity: tuple[Share, Share] = (100, 100)
    pitch: tuple[Semitones, Semitones] = (0, 0)
    curve: Curve = "even"
    probability: Percent = 100
    turns: Turns | None = None

    @model_validator(mode="after")
    def _placed(self) -> Self:
        on_step = self.step is not None
        stretch = self.start is not None and self.beats is not None and self.beats > 0
        if on_step == stretch or (on_step and (self.start, self.beats) != (None, None)):
            raise ValueError('A roll has a "step", or a "start" and "beats" above 0.')
        return self

    def fate(self, purpose: str, passing: int, draws: Draws, *index: int) -> RollFate:
        """Whether the roll comes off in pass `passing`; purpose and index address its draw."""
        turn = not self.turns or passing % self.turns[1] == self.turns[0] - 1
        if self.probability >= 100:
            return RollFate(turn, turn)
        draw = 100 * draws(purpose, *index)
        return RollFate(turn and draw < self.probability, turn, draw)

    @property
    def place(self) -> str:
        """The purpose of the roll's draw: where it is."""
        return f"roll {self.step}" if self.step is not None else f"roll at {self.start}"

    def share(self, stroke: int) -> float:
        """How far along the roll a stroke is, 0 for the first to 1 for the last."""
        return stroke / (self.strokes - 1) if self.strokes > 1 else 0.0

    def loudness(self, stroke: int) -> float:
        """The factor on the hit's velocity."""
        low, high = self.velocity
        return (low + (high - low) * self.share(stroke)) / 100

    def interval(self, stroke: int) -> float:
        """The semitones added to the hit's pitch."""
        low, high = self.pitch
        return low + (high - low) * self.share(stroke)


@lru_cache
def strand_roll(strokes: int) -> Roll:
    """The plain roll that a value of the roll strand stands for."""
    return Roll(step=0, strokes=strokes)


def _parts(lane: Lane, others: Mapping[str, str], i: int) -> list[str | Slot]:
    roll, at = lane.rolls[i], f"rolls.{i}"
    parts: list[str | Slot] = []
    if roll.step is not None:
        parts += ["Step ", step_number(f"{at}.step", "rolled step", roll.step, 0, 127)]
    else:
        parts += ["From beat ",
                  fraction(f"{at}.start", "start of the roll in beats", roll.start, "0",
                           "1024", ["0", "1", "2", "3"]), " for ",
                  fraction(f"{at}.beats", "length of the roll in beats", roll.beats, "1/64",
                           "1024", ["1/2", "1", "2", "4"]),
                  " beats" if roll.beats and roll.beats > 1 else " beat"]
    parts += [" rolls ", number(f"{at}.strokes", "strokes", roll.strokes, 1, 256), " times"]
    if roll.beats is not None:
        parts += [" (strokes of ", fraction(f"{at}.stroke_length", "stroke length",
                                            roll.beats / 4 / roll.strokes, "1/4096", "16"), ")"]
    parts += [
        ", ", choice(f"{at}.curve", "curve", roll.curve, CURVE_WORDS), ", velocity ",
        percent(f"{at}.velocity.0", "first stroke's velocity", roll.velocity[0], 0, 400), " to ",
        percent(f"{at}.velocity.1", "last stroke's velocity", roll.velocity[1], 0, 400),
        ", pitch ", number(f"{at}.pitch.0", "first stroke's pitch", roll.pitch[0], -48, 48),
        " to ", number(f"{at}.pitch.1", "last stroke's pitch", roll.pitch[1], -48, 48), ", ",
        percent(f"{at}.probability", "chance of the roll", roll.probability), " of the time, in ",
    ]
    every = roll.turns[1] if roll.turns else 1
    if roll.turns:
        parts += ["the ", nth(f"{at}.turns.0", "turn of the roll", roll.turns[0], 1, every),
                  " of "]
    shown = "every pass" if every == 1 else f"every {every} passes"
    return [*parts, number(f"{at}.every", "passes between the roll's turns", every, 1, 128,
                           text=shown), "."]


def _one_more(lane: Lane) -> dict[str, Any]:
    """The lane's rolls and one on the first step that has none."""
    rolled = {roll.step for roll in lane.rolls}
    free = next((step for step in range(128) if step not in rolled), 0)
    return {"rolls": [*_documents(lane), {"step": free, "strokes": 3, "velocity": [100, 60]}]}


def _documents(lane: Lane) -> list[dict[str, Any]]:
    return [roll.model_dump(mode="json") for roll in lane.rolls]


ROLLS = ClauseKind(
    "rolls", "roll", lambda lane: bool(lane.rolls), _parts, _one_more, (),
    items=lambda lane: len(lane.rolls), without=lambda lane, i: {
        "rolls": [roll for n, roll in enumerate(_documents(lane)) if n != i]},
    about="a step split into many strokes", group="where hits fall")
