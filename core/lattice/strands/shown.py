"""Strands as they are shown: their values, and words for how they are read."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import get_args

from lattice.base.lately import Lately
from lattice.base.words import Slot, choice, number
from lattice.strands.fields import MOST_VALUES, Strand, StrandDirection, StrandFields
from lattice.strands.kinds import StrandKind, Value
from lattice.time.directions import DIRECTIONS

BY = {"step": ("by step", "each step its value"),
      "cell": ("on through time", "one after another, rests count too"),
      "hit": ("by hit", "one after another, from hit to hit")}
DIRECTION_WORDS = {name: (DIRECTIONS[name][0], "") for name in get_args(StrandDirection)}
BY_CHANCE = {"step": ("in random order", "drawn once for each step, and so from then on"),
             "cell": ("in random order", "drawn anew for each cell"),
             "hit": ("in random order", "drawn anew for each hit")}
"""What reading by chance means for each way of reading."""


@dataclass(frozen=True, slots=True)
class ShownStrand:
    """A strand of the chosen lane; `used` is false for one that only repeats the lane's single
    value.

    word: what it is called. values: numbers, ranges [low, high], or chord steps. low, high: the
    bounds of its kind, top: where its axis ends; whole: whether its values are whole numbers,
    several: whether a step may have several at once; raised: how much one raise is;
    thrown: between what values are drawn at first. period: after
    how many steps, cells or hits they come round. length, by and direction: how it is read, as
    words that can be changed.
    """

    kind: str
    word: str
    used: bool
    values: tuple[Value, ...]
    window: tuple[int, int] | None
    low: float
    high: float
    top: float
    whole: bool
    several: bool
    raised: float
    thrown: tuple[float, float]
    period: int
    length: Slot
    by: Slot
    direction: Slot


def shown_strands(lane: StrandFields, kinds: Iterable[StrandKind]) -> list[ShownStrand]:
    """One strand of each of these kinds, whether the lane has it or not."""
    return [_shown(kind, lane) for kind in kinds]


_known = Lately[ShownStrand](512)


def _shown(kind: StrandKind, lane: StrandFields) -> ShownStrand:
    used, strand = lane.own(kind), lane.strand(kind)
    return _known.of(kind, used, also=None if used else strand.values, make=lambda: _told(
        kind, used, strand))


def _told(kind: StrandKind, used: Strand | None, strand: Strand) -> ShownStrand:
    return ShownStrand(
        kind.name, kind.word or kind.name, used is not None, strand.values, strand.window,
        kind.low, kind.high, kind.high if kind.top is None else kind.top, kind.whole,
        kind.several, kind.raised, kind.thrown,
        strand.period, number("length", "length of the strand", len(strand.values), 1, MOST_VALUES),
        choice("by", "way of reading", strand.by, BY),
        choice("direction", "direction of the strand", strand.direction,
               DIRECTION_WORDS | {"random": BY_CHANCE[strand.by]}))
