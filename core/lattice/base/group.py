"""Groups of a lane's fields: each feature owns one, and says for itself what it adds to the grain,
to the meeting point, and to how far a note may move."""

from __future__ import annotations

import re
from collections.abc import Container
from dataclasses import dataclass, field
from fractions import Fraction
from math import lcm
from typing import Annotated

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.frame import Frame
from lattice.base.values import Document, Seed

FINEST_GRAIN_BITS = 512

MAX_LANES = 64
"""In one pattern."""
LaneId = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]


@dataclass(slots=True)
class Grain:
    """What must be a whole number of ticks, gathered over all lanes.

    denominators: of places and lengths in beats. divisor: into so many parts the stretch between
    any two of those places may be divided.
    """

    denominators: set[int] = field(default_factory=lambda: {1})
    divisor: int = 1

    def holds(self, *beats: Fraction) -> None:
        """These places or lengths, in beats, are whole."""
        self.denominators |= {each.denominator for each in beats}

    def divides(self, parts: int) -> None:
        """So is every such part of what lies between two places."""
        self.divisor *= parts

    def ticks_per_beat(self) -> int:
        """The coarsest grain that is fine enough; RecipeError if finer than 1/2^512 of a beat."""
        grain = self.divisor
        for denominator in self.denominators:
            grain = lcm(grain // self.divisor, denominator) * self.divisor
            if grain.bit_length() > FINEST_GRAIN_BITS:
                raise RecipeError("Step lengths, shifts and rolls here are too many different "
                                  "fractions to be exact together; choose simpler ones.")
        return grain


@dataclass(slots=True)
class Rounds:
    """After how much a lane's features come round: so many passes (0 where no pass differs from
    another), cells, and hits counted on; and whether with the progression too."""

    passes: int = 0
    cells: int = 1
    hits: list[int] = field(default_factory=list)
    chords: bool = False

    def by_pass(self, passes: int) -> None:
        """Something comes round after so many passes."""
        self.passes = lcm(self.passes or 1, passes)

    def by_cell(self, cells: int) -> None:
        """Something comes round after so many cells."""
        self.cells = lcm(self.cells, cells)

    def by_hit(self, hits: int) -> None:
        """Something comes round after so many hits, counted on through cycles and passes."""
        self.hits.append(hits)

    def by_chords(self) -> None:
        """Something comes round with the progression."""
        self.chords = True


@dataclass(slots=True)
class Reach:
    """How far, in beats, a note may begin after its hit's place, and before it."""

    late: float = 0
    early: float = 0

    def later(self, beats: float) -> None:
        """A note may begin so much later."""
        self.late += beats

    def either_way(self, beats: float) -> None:
        """A note may begin so much later or earlier."""
        self.late += beats
        self.early += beats


def id_for(name: str) -> str:
    """The id that is made from a lane's name."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:30].strip("-") or "lane"


def free_id(name: str, taken: Container[str]) -> str:
    """An id made from a lane's name that is not taken, of up to as many as a pattern has lanes."""
    stem = id_for(name)
    return next(each for each in (stem, *(f"{stem}-{i}" for i in range(2, MAX_LANES + 2)))
                if each not in taken)


class LaneGroup(Document):
    """What every group of fields has. A group that adds something overrides a method and asks the
    other groups too, with super()."""

    id: LaneId
    seed: Seed = 0

    def add_grain(self, grain: Grain, frame: Frame) -> None:
        """Tell which places and lengths must be exact."""

    def add_rounds(self, rounds: Rounds) -> None:
        """Tell after how much the feature comes round."""

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        """Tell how far the feature moves notes; `cell` is the longest cell, in beats."""

    def strays(self) -> bool:
        """Whether notes may have other pitches than the lane's own."""
        return False
