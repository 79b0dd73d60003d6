"""The recipe: the document that says what a pattern plays, typed and validated.

Positions and lengths are exact. Absent fields have their neutral value, and `to_json` leaves
neutral values out, so documents stay short and readable.
"""

from __future__ import annotations

from collections.abc import Hashable
from fractions import Fraction
from itertools import pairwise
from typing import Annotated, Any, Literal, Self

from pydantic import BeforeValidator, Field, ValidationError, field_validator, model_validator

from lattice.chance import Link, Turns
from lattice.errors import RecipeError, told
from lattice.feel import Accent, Contour, Swing, Vary
from lattice.hits import Keep
from lattice.rolls import Roll
from lattice.rules import FollowingRule, Rule
from lattice.rules.hand import Hand
from lattice.strands import Strands
from lattice.time import Direction, RateStretch, Span
from lattice.values import (
    Document,
    LaneName,
    Percent,
    Rational,
    Scale,
    Seed,
    StepLength,
    StepNumber,
    to_fraction,
)
from lattice.values import Velocity as VelocityValue

MAX_LANES = 64
MAX_BARS = 16

Tempo = Annotated[float, Field(ge=20, le=400)]
LaneId = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]


def _shift(value: Any) -> Fraction:
    shift = to_fraction(value)
    if abs(shift) > 4:
        raise ValueError("A shift goes from -4 to 4 whole notes.")
    return shift


class Key(Document):
    """The key of a pattern: root as a pitch class (0 is C) and the scale's name."""

    root: Annotated[int, Field(ge=0, le=11)] = 0
    scale: Annotated[str, Field(min_length=1, max_length=40)] = "major"


class Chords(Document):
    """A progression in Roman numerals or chord names, with the length of each in beats."""

    text: Annotated[str, Field(max_length=2000)]
    beats: Annotated[tuple[Annotated[float, Field(gt=0, le=1024)], ...], Field(max_length=256)]


class Lane(Document):
    """One voice: a drum with one note.

    Percentages: probability 0-100, its scale 0-200, gate 1-800 of the cell, squeeze 0-100.
    `step` is a fraction of a whole note; `window` names the first and last step that are played.
    """

    id: LaneId
    name: LaneName
    kind: Literal["drum"] = "drum"
    note: Annotated[int, Field(ge=0, le=127)] = 36
    channel: Annotated[int, Field(ge=1, le=16)] = 10
    mute: bool = False
    solo: bool = False
    seed: Seed = 0

    step: StepLength = Fraction(1, 16)
    steps: Annotated[int, Field(ge=1, le=128)] = 16
    window: tuple[StepNumber, StepNumber] | None = None
    span: Span = "cycle"
    fit_bars: Annotated[int, Field(ge=1, le=256)] | None = None
    offset: StepNumber = 0
    shift: Annotated[Rational, BeforeValidator(_shift)] = Fraction(0)
    restart_bars: Annotated[int, Field(ge=1, le=256)] | None = None
    rate_path: Annotated[tuple[RateStretch, ...], Field(max_length=256)] = ()
    direction: Direction = "forward"

    rule: Rule = Hand(kind="hand")
    reverse: bool = False
    flip: bool = False
    pins: dict[StepNumber, bool] = {}
    keep: Keep | None = None

    velocity: VelocityValue = 100
    probability: Percent = 100
    probability_scale: Scale = 100
    gate: Annotated[float, Field(ge=1, le=800)] = 90
    strands: Strands = Strands()
    links: Annotated[tuple[Link, ...], Field(max_length=64)] = ()
    turns: dict[StepNumber, Turns] = {}

    accent: Accent | None = None
    contour: Contour | None = None
    vary: Vary = Vary()
    squeeze: Percent = 0
    swing: Literal["follow", "straight"] | Swing = "follow"
    rolls: Annotated[tuple[Roll, ...], Field(max_length=128)] = ()

    @field_validator("rate_path")
    @classmethod
    def _in_order(cls, path: tuple[RateStretch, ...]) -> tuple[RateStretch, ...]:
        path = tuple(sorted(path, key=lambda stretch: stretch.start))
        for stretch, following in pairwise(path):
            if stretch.start + stretch.beats > following.start:
                raise ValueError("The stretches of a rate path must not overlap.")
        return path

    @model_validator(mode="after")
    def _fits_together(self) -> Self:
        if self.window and not self.window[0] <= self.window[1] < self.steps:
            raise ValueError(f"A window goes from step 0 up to step {self.steps - 1}, in order.")
        if isinstance(self.rule, FollowingRule):
            answers = self.rule.kind == "answer"
            if self.reverse or (answers and (self.flip or self.direction != "forward")):
                allowed = "be flipped, not reversed" if not answers else \
                    "not be reversed or flipped, nor change direction"
                raise ValueError(f"A lane that follows another may {allowed}.")
        try:
            self.rule.check(self.steps)
        except RecipeError as problem:
            raise ValueError(str(problem)) from None
        return self

    @property
    def played(self) -> tuple[int, int]:
        """The first and last step that are played."""
        return self.window or (0, self.steps - 1)

    @property
    def grid(self) -> tuple[Hashable, ...]:
        """All that decides where the lane's hits lie, which is what its followers look at."""
        return (self.id, self.seed, self.step, self.steps, self.window, self.span, self.fit_bars,
                self.offset, self.shift, self.restart_bars, self.rate_path, self.direction,
                self.rule, self.reverse, self.flip, tuple(sorted(self.pins.items())), self.keep)

    @property
    def follows(self) -> str | None:
        """The id of the lane whose hits this one looks at."""
        return self.rule.of if isinstance(self.rule, FollowingRule) else None


class Recipe(Document):
    """A pattern: its frame (`bars` of `meter` at `tempo`), its seed, and its lanes."""

    version: Literal[1] = 1
    tempo: Tempo = 120
    meter: tuple[Annotated[int, Field(ge=1, le=32)], Literal[1, 2, 4, 8, 16, 32]] = (4, 4)
    bars: Annotated[int, Field(ge=1, le=MAX_BARS)] = 1
    seed: Seed = 0
    key: Key = Key()
    swing: Swing | None = None
    probability_scale: Scale = 100
    chords: Chords | None = None
    lanes: Annotated[tuple[Lane, ...], Field(max_length=MAX_LANES)] = ()

    @model_validator(mode="after")
    def _lanes_agree(self) -> Self:
        ids = [lane.id for lane in self.lanes]
        for lane_id in ids:
            if ids.count(lane_id) > 1:
                raise ValueError(f'Two lanes have the id "{lane_id}".')
        try:
            self.playing_order()
        except RecipeError as problem:
            raise ValueError(str(problem)) from None
        return self

    @property
    def bar_beats(self) -> Fraction:
        """The length of a bar, in beats."""
        return Fraction(self.meter[0] * 4, self.meter[1])

    @property
    def frame_beats(self) -> Fraction:
        """The length of the frame, and so of a pass, in beats."""
        return self.bars * self.bar_beats

    def lane(self, lane_id: str) -> Lane:
        """The lane with this id; RecipeError if there is none."""
        for lane in self.lanes:
            if lane.id == lane_id:
                return lane
        raise RecipeError(f'There is no lane "{lane_id}" in this pattern.')

    def playing_order(self) -> list[Lane]:
        """The lanes, each after the one it follows; RecipeError naming those in a circle."""
        by_id = {lane.id: lane for lane in self.lanes}
        done: dict[str, Lane] = {}
        for lane in self.lanes:
            chain: list[Lane] = []
            current: Lane | None = lane
            while current is not None and current.id not in done:
                if current in chain:
                    names = " and ".join(each.name for each in chain[chain.index(current) :])
                    raise RecipeError(f"{names} would follow each other in a circle.")
                chain.append(current)
                if current.follows is not None and current.follows not in by_id:
                    raise RecipeError(
                        f'{current.name} follows a lane "{current.follows}" that is not here.'
                    )
                current = by_id[current.follows] if current.follows is not None else None
            done.update((each.id, each) for each in reversed(chain))
        return list(done.values())


def read(document: Any) -> Recipe:
    """The recipe in a JSON document; RecipeError with one sentence for what does not fit."""
    if not isinstance(document, dict):
        raise RecipeError("A recipe is one JSON object; `lattice schema` prints what is in it.")
    try:
        return Recipe.model_validate(document)
    except ValidationError as problem:
        raise RecipeError(first_sentence(problem)) from None


def first_sentence(problem: ValidationError) -> str:
    """What is wrong first, and where, as one sentence."""
    error = problem.errors(include_url=False, include_context=False)[0]
    return told(error["msg"], *error["loc"])


def to_json(recipe: Document) -> dict[str, Any]:
    """The document of a recipe (or a part of one), neutral values left out."""
    return recipe.model_dump(mode="json", exclude_defaults=True, by_alias=True)
