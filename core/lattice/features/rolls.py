"""Rolls: a hit, or a stretch of beats, split into many strokes."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from lattice.arpeggio.fields import ArpeggioFields
from lattice.base.clauses import ClauseKind, ClauseList, Fields, Names, Part, documents
from lattice.base.draws import Draws, purposes
from lattice.base.errors import RecipeError
from lattice.base.frame import Frame
from lattice.base.group import Grain, Reach, Rounds
from lattice.base.values import Beats, Document, Gate, Percent, StepNumber, Velocity, limits
from lattice.base.words import Fold, beat, choice, fraction, many, nth, number, percent, step_list
from lattice.features.chance import MOST_PASSES, Turns, is_turn
from lattice.hits.found import Hit, LaneHits
from lattice.strands.kinds import DEGREE, GATE, VELOCITY, Degree, StrandKind
from lattice.strands.kinds import ROLL as STRAND
from lattice.strands.reading import reader

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

DECIMALS = 9
"""Of semitones: floating point leaves no tail."""

Strokes = Annotated[int, Field(ge=1, le=256)]
Share = Annotated[float, Field(ge=0, le=400)]
Bend = Annotated[float, Field(ge=-48, le=48)]


@dataclass(frozen=True, slots=True)
class RollFate:
    """Whether a roll comes off, whether it is its turn, and what it drew, in percent."""

    comes_off: bool
    turn: bool
    draw: float | None = None


class Roll(Document):
    """`strokes` over the cell of `step`, or over `beats` from `start` in the frame.

    velocity: percent of the hit's, from the first to the last stroke; pitch: semitones likewise, or
    degrees in a lane that reads them.
    """

    step: StepNumber | None = None
    start: Beats | None = None
    beats: Beats | None = None
    strokes: Strokes
    velocity: tuple[Share, Share] = (100, 100)
    pitch: tuple[Bend, Bend] = (0, 0)
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
        turn = not self.turns or is_turn(self.turns, passing)
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
        return round(low + (high - low) * self.share(stroke), DECIMALS)


class RollFields(ArpeggioFields):
    """The lane's rolls; of several on one step, the first that comes off sounds."""

    rolls: Annotated[tuple[Roll, ...], Field(max_length=128)] = ()

    def add_grain(self, grain: Grain, frame: Frame) -> None:
        super().add_grain(grain, frame)
        for roll in self.rolls:
            grain.holds(roll.start or Fraction(0), roll.beats or Fraction(0))

    def add_rounds(self, rounds: Rounds) -> None:
        super().add_rounds(rounds)
        for roll in self.rolls:
            if roll.turns:
                rounds.by_pass(roll.turns[1])
            if roll.step is None:
                rounds.by_pass(1)

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        super().add_reach(reach, frame, cell)
        if any(roll.step is not None for roll in self.rolls):
            reach.later(cell)


@dataclass(frozen=True, slots=True)
class RolledStretch:
    """A stretch of beats in one pass that may be rolled: ticks [start, end) of pattern time."""

    number: int
    roll: Roll
    passing: int
    start: int
    end: int
    fate: RollFate


class Rolls:
    """Which of a lane's hits and stretches roll."""

    def __init__(self, lane: RollFields, draws: Draws, hits: LaneHits) -> None:
        self.draws, self.hits = draws, hits
        self._purposes = purposes(roll.place for roll in lane.rolls)
        self._strand = reader(STRAND, lane, draws) if lane.strands.of(STRAND) else None
        self._on_steps: dict[int, list[tuple[int, Roll]]] = {}
        for i, roll in enumerate(lane.rolls):
            if roll.step is not None:
                self._on_steps.setdefault(roll.step, []).append((i, roll))
        self.over_stretches = [(i, roll) for i, roll in enumerate(lane.rolls)
                               if roll.step is None]

    def of(self, hit: Hit) -> tuple[int, Roll] | None:
        """The roll that splits a hit, with its number in the lane's list (-1: from the strand)."""
        if hit.step in self._on_steps:
            for i, roll, fate in self.listed(hit):
                if fate.comes_off:
                    return i, roll
        strokes = int(self._strand(hit)) if self._strand else 1
        return (-1, strand_roll(strokes)) if strokes > 1 else None

    def listed(self, hit: Hit) -> Iterator[tuple[int, Roll, RollFate]]:
        """The rolls in the lane's list for this hit's step, and what becomes of each; the first
        that comes off is the one that sounds."""
        passing = hit.start // self.hits.times.frame
        for i, roll in self._on_steps.get(hit.step, ()):
            yield i, roll, roll.fate(self._purposes[i], passing, self.draws,
                               hit.run.number, hit.cell)

    def stretches(self, begin: int, stop: int) -> Iterator[RolledStretch]:
        """The stretches that may roll in [begin, stop) ticks of pattern time."""
        times, shift = self.hits.times, self.hits.time.shift
        for i, roll in self.over_stretches:
            assert roll.start is not None and roll.beats is not None
            offset = times.ticks(roll.start)
            length = min(times.ticks(roll.beats), times.frame - offset)
            if length <= 0:
                continue
            first = max(0, (begin - offset - shift - length) // times.frame)
            for k in range(first, -(-(stop - offset - shift) // times.frame)):
                at = k * times.frame + offset + shift
                if at >= 0:
                    fate = roll.fate(self._purposes[i], k, self.draws, k)
                    yield RolledStretch(i, roll, k, at, at + length, fate)


@lru_cache
def strand_roll(strokes: int) -> Roll:
    """The plain roll that a value of the roll strand stands for."""
    return Roll(step=0, strokes=strokes)


SHORTEST = Fraction(1, 64)
"""The least number of beats that a word makes a roll last."""
STROKE_LENGTHS = Fraction(1, 4096), Fraction(16)


Alike = tuple[Roll, ...]
"""Rolls of several steps that differ in nothing else; or one roll by itself."""


def _alike(lane: RollFields) -> list[Alike]:
    """The lane's rolls, those that are alike together: the first of each step, since where a step
    has several their order counts."""
    found: dict[Hashable, list[Roll]] = {}
    seen: set[int] = set()
    for i, roll in enumerate(lane.rolls):
        alone = roll.step is None or roll.step in seen
        seen.add(-1 if roll.step is None else roll.step)
        found.setdefault(i if alone else roll.model_copy(update={"step": 0}), []).append(roll)
    return [tuple(rolls) for rolls in found.values()]


def _stored(alike: Sequence[Alike]) -> list[dict[str, Any]]:
    return documents([roll for rolls in alike for roll in rolls])


def _parts(lane: RollFields, names: Names, i: int) -> list[Part]:
    rolls = _alike(lane)[i]
    roll, at = rolls[0], f"rolls.{i}"
    first, last = limits(Beats)
    parts: list[Part] = []
    if roll.step is not None:
        steps = [each.step or 0 for each in rolls]
        parts += ["Step " if len(steps) == 1 else "Steps ",
                  step_list(f"{at}.steps", "rolled steps", steps, limits(StepNumber)[1] + 1)]
    else:
        parts += ["From beat ",
                  beat(f"{at}.start", "start of the roll in beats", roll.start or first, first,
                       last), " for ",
                  fraction(f"{at}.beats", "length of the roll in beats", roll.beats, SHORTEST,
                           last, ["1/2", "1", "2", "4"]),
                  " beats" if roll.beats and roll.beats > 1 else " beat"]
    parts += [" rolls " if len(rolls) == 1 else " roll ",
              number(f"{at}.strokes", "strokes", roll.strokes, *limits(Strokes)), " times"]
    if roll.beats is not None:
        parts += [" (strokes of ", fraction(f"{at}.stroke_length", "stroke length",
                                            roll.beats / 4 / roll.strokes, *STROKE_LENGTHS), ")"]
    low, high = limits(Share)
    down, up = limits(Bend)
    parts += [
        ", ", choice(f"{at}.curve", "curve", roll.curve, CURVE_WORDS), ", velocity ",
        percent(f"{at}.velocity.0", "first stroke's velocity", roll.velocity[0], low, high),
        " to ",
        percent(f"{at}.velocity.1", "last stroke's velocity", roll.velocity[1], low, high),
        ", degree " if lane.pitched and lane.walks is None else ", pitch ",
        number(f"{at}.pitch.0", "first stroke's pitch", roll.pitch[0], down, up),
        " to ", number(f"{at}.pitch.1", "last stroke's pitch", roll.pitch[1], down, up), ", ",
        percent(f"{at}.probability", "chance of the roll", roll.probability, *limits(Percent)),
        " of the time, in ",
    ]
    every = roll.turns[1] if roll.turns else 1
    if roll.turns:
        parts += ["the ", nth(f"{at}.turns.0", "turn of the roll", roll.turns[0], 1, every),
                  " of "]
    shown = "every pass" if every == 1 else f"every {many(every, 'passes')}"
    return [*parts, number(f"{at}.every", "passes between the roll's turns", every, 1, MOST_PASSES,
                           text=shown), "."]


def _another(lane: RollFields) -> Alike:
    """A roll on the first step that has none."""
    rolled = {roll.step for roll in lane.rolls}
    low, high = limits(StepNumber)
    free = next((step for step in range(low, high + 1) if step not in rolled), 0)
    return (Roll(step=free, strokes=3, velocity=(100, 60)),)


def _forms(lane: RollFields) -> Iterator[Fields]:
    """On a step and over beats, in every pass and in one of some."""
    for place in ({"step": 0}, {"start": "0", "beats": "1"}):
        for turns in ({}, {"turns": [1, 2]}):
            yield {"rolls": [place | {"strokes": 3} | turns]}


def _written(lane: RollFields, slot: str, value: Any) -> Fields:
    """A word changes all rolls that are alike. A length of strokes is so many of them; passes
    between turns are turns."""
    _, place, field, *end = slot.split(".")
    i, alike = int(place), _alike(lane)
    rolls = alike[i]
    roll = rolls[0]
    if field == "steps":
        if not value:
            raise RecipeError("A roll has at least one step; take the clause away with its ×.")
        rolls = tuple(roll.model_copy(update={"step": step}) for step in dict.fromkeys(value))
        return {"rolls": _stored([*alike[:i], rolls, *alike[i + 1:]])}
    if field == "every":
        turn = roll.turns[0] if roll.turns else 1
        field, value = "turns", [min(turn, value), value] if value > 1 else None
    elif field == "stroke_length":
        field, value = "strokes", _strokes_of(roll, value)
    made = [document | {field: value if not end else [
        value if n == int(end[0]) else each
        for n, each in enumerate(getattr(roll, field))]} for document in _stored([rolls])]
    return {"rolls": [*_stored(alike[:i]), *made, *_stored(alike[i + 1:])]}


def _strokes_of(roll: Roll, length: Any) -> int:
    """How many strokes of a length, in whole notes, a roll over beats has."""
    beats = roll.beats or Fraction(0)
    strokes = beats / (4 * Fraction(length))
    fewest, most = limits(Strokes)
    if strokes.denominator != 1 or not fewest <= strokes <= most:
        raise RecipeError(f"Strokes of {length} do not fit into {beats} beats a whole number of "
                          f"times, from {fewest} to {most}.")
    return int(strokes)


ROLLS = ClauseList[RollFields, Alike](
    "rolls", "roll", "rolls", _alike, _parts, _another, _stored,
    about="a step split into many strokes", group="where hits fall", writes=_written,
    forms=_forms, often=True)


def _single(lane: RollFields) -> list[StrandKind]:
    """The kinds of values that have strands, and of which a single value holds where the lane
    plays without a hit: in a roll over beats, and at an anchor on a rest."""
    arpeggio = lane.walks
    alone = any(roll.step is None for roll in lane.rolls) or (
        arpeggio is not None and arpeggio.anchor is not None)
    kinds = (VELOCITY, GATE, DEGREE) if lane.reads_degrees else (VELOCITY, GATE)
    return [kind for kind in kinds if alone and lane.strands.of(kind)]


def _on_rests(lane: RollFields) -> bool:
    return any(lane.single(kind) != RollFields.model_fields[kind.name].default
               for kind in _single(lane))


def _rest_parts(lane: RollFields, names: Names) -> list[Part]:
    words = {
        VELOCITY.name: number("velocity", "velocity on rests", lane.velocity, *limits(Velocity)),
        GATE.name: percent("gate", "gate on rests", lane.gate, *limits(Gate)),
        DEGREE.name: number("degree", "degree on rests", lane.degree, *limits(Degree))}
    said: list[Part] = ["On rests"]
    for kind in _single(lane):
        said += [f", {kind.name} ", words[kind.name]]
    return [Fold("", [*said, "."])]


RESTS = ClauseKind[RollFields](
    "on-rests", "on rests", _on_rests, _rest_parts, moves=False,
    forms=lambda lane: [{kind.name: lane.single(kind) + 1 for kind in _single(lane)}]
    if _single(lane) else [])
