"""How loud: velocity, contour, accents, squeeze."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import Field, model_validator

from lattice.base.clauses import ClauseKind, Names, Part
from lattice.base.draws import Draws
from lattice.base.group import Rounds
from lattice.base.values import Document, Percent, Velocity, half_up, limits
from lattice.base.words import Fold, choice, factors, nth, number, percent
from lattice.features.human import Human
from lattice.features.vary import VaryFields
from lattice.hits.fields import COUNTS, Count, Every, falls_on
from lattice.hits.found import Hit
from lattice.strands.fields import StrandFields
from lattice.strands.kinds import VELOCITY as STRAND
from lattice.strands.reading import reader
from lattice.strands.words import strand_forms, strand_words, written
from lattice.time.path import PathCells

Added = Annotated[int, Field(ge=-126, le=126)]
Factor = Annotated[float, Field(ge=0, le=2)]


class Accent(Document):
    """Every `every`-th hit from the `first`-th: `add` to its velocity, or `set` it."""

    every: Every
    first: Annotated[Every, Field(alias="from")] = 1
    add: Added | None = None
    set: Velocity | None = None
    count: Count = "on"

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.add is None) == (self.set is None):
            raise ValueError('An accent has either "add" or "set".')
        return self

    def falls_on(self, hit: Hit) -> bool:
        """Whether this hit is accented."""
        number = hit.ordinal if self.count == "on" else hit.cycle_ordinal
        return falls_on(number, self.every, self.first)


class Contour(Document):
    """Velocity factors over successive hits, blended in by `amount` percent."""

    amount: Percent = 0
    shape: Annotated[tuple[Factor, ...], Field(min_length=1, max_length=32)] = (1, 0.45, 0.7, 0.45)


class LoudnessFields(StrandFields, VaryFields):
    """What makes hits differ in loudness, besides the velocity."""

    accent: Accent | None = None
    contour: Contour | None = None
    squeeze: Percent = 0

    def add_rounds(self, rounds: Rounds) -> None:
        super().add_rounds(rounds)
        if self.accent is not None and self.accent.count == "on":
            rounds.by_hit(self.accent.every)
        if self.contour is not None:
            rounds.by_hit(len(self.contour.shape))


class Loudness:
    """The velocity of a lane's hits and strokes."""

    def __init__(self, lane: LoudnessFields, draws: Draws, path: PathCells | None,
                 human: Human | None) -> None:
        self.lane, self.draws, self.human = lane, draws, human
        self.read = reader(STRAND, lane, draws)
        self.contour = lane.contour or (Contour() if path else None)
        own = lane.contour.amount if lane.contour else 0
        self.contours = [each.contour if each else own for each in path.stretches] if path else []
        self.varied = lane.vary.velocity != (0, 0)

    def of_hit(self, hit: Hit, struck: float | None = None) -> float:
        """Strand or single value (or the velocity with which a note was struck), contour,
        accent."""
        velocity = self.read(hit) if struck is None else struck
        if self.contour is not None:
            shape = self.contour.shape
            amount = self.contours[hit.cell] if self.contours else self.contour.amount
            velocity *= 1 + amount / 100 * (shape[hit.ordinal % len(shape)] - 1)
        if self.human is not None:
            velocity *= self.human.louder(hit)
        accent = self.lane.accent
        if accent is not None and accent.falls_on(hit):
            velocity = accent.set if accent.set is not None else velocity + (accent.add or 0)
        return velocity

    def of_stroke(self, velocity: float, address: tuple[int, int, int, int]) -> int:
        """Give or take, squeeze, and the one rounding, half up, into 1..127."""
        if self.varied:
            velocity += self.draws.within(*self.lane.vary.velocity, "vary velocity", *address)
        if self.lane.squeeze:
            velocity += (self.lane.velocity - velocity) * self.lane.squeeze / 100
        return min(127, max(1, half_up(velocity)))


def _velocity_parts(lane: LoudnessFields, names: Names) -> list[Part]:
    strand = lane.strands.of(STRAND)
    if strand is not None:
        return [Fold(f"Velocity from its strand of {len(strand.values)}, read by {strand.by}.",
                     ["Velocity ", *strand_words(STRAND, lane), "."])]
    return ["Velocity ", number("velocity", "velocity", lane.velocity, *limits(Velocity)), "."]


VELOCITY = ClauseKind[LoudnessFields](
    "velocity", "velocity", lambda lane: True, _velocity_parts, writes=written,
    forms=lambda lane: strand_forms(STRAND, lane))


def _accent_parts(lane: LoudnessFields, names: Names) -> list[Part]:
    accent = lane.accent
    assert accent is not None
    amount: list[Part] = (
        [" by ", number("accent.add", "accent", accent.add, *limits(Added),
                        text=f"{accent.add:+d}")]
        if accent.add is not None
        else [" at ", number("accent.set", "accent", accent.set or 1, *limits(Velocity))])
    return ["Accent every ", nth("accent.every", "every nth hit", accent.every, *limits(Every)),
            " hit", *amount, " from the ",
            nth("accent.from", "first accent", accent.first, *limits(Every)),
            " on, ", choice("accent.count", "way of counting", accent.count, COUNTS), "."]


ACCENT = ClauseKind[LoudnessFields](
    "accent", "accent", lambda lane: lane.accent is not None, _accent_parts,
    starts={"accent": {"every": 3, "add": 24}}, cleared=("accent",),
    about="every nth hit louder, or softer", group="how loud", often=True)


def _contour_parts(lane: LoudnessFields, names: Names) -> list[Part]:
    contour = lane.contour
    assert contour is not None
    return ["Contour ", factors("contour.shape", "contour shape", contour.shape,
                                limits(Factor)[1]),
            " blended in by ",
            percent("contour.amount", "contour", contour.amount, *limits(Percent)), "."]


CONTOUR = ClauseKind[LoudnessFields](
    "contour", "contour", lambda lane: lane.contour is not None, _contour_parts,
    starts={"contour": {"amount": 50}}, cleared=("contour",),
    about="strong and weak hits in turn, as hands play", group="how loud")
SQUEEZE = ClauseKind[LoudnessFields](
    "squeeze", "squeeze", lambda lane: lane.squeeze != 0,
    lambda lane, names: [
        "Loudness squeezed by ", percent("squeeze", "squeeze", lane.squeeze, *limits(Percent)),
        " toward ", number("velocity", "velocity", lane.velocity, *limits(Velocity)), "."],
    starts={"squeeze": 40}, cleared=("squeeze",),
    about="loud and soft brought closer together", group="how loud")
