"""The bars of a clip, where its metre may become another on the way."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from math import ceil

FINEST_PLACE = 960 * 1024
"""Places of metres are told apart to such a part of a beat."""
HAIR = Fraction(1, 10**6)
"""Of a bar: one of which there is less is not counted."""


@dataclass(frozen=True, slots=True)
class Section:
    """A stretch [start, end) in one metre, in beats: its bars are counted from where it begins,
    whatever was left of the one before; `bar` is the number of its first, from 1."""

    start: Fraction
    end: Fraction
    bar: int
    meter: tuple[int, int]

    @property
    def bar_beats(self) -> Fraction:
        """The length of a bar."""
        return Fraction(4 * self.meter[0], self.meter[1])

    @property
    def bars(self) -> int:
        """How many bars it has, one that is begun counted as whole."""
        return max(0, ceil((self.end - self.start) / self.bar_beats - HAIR))


def sections(beats: Fraction, meter: tuple[int, int],
             changes: Iterable[tuple[float, tuple[int, int]]]) -> list[Section]:
    """The stretches of so many beats that begin in a metre, which changes at these times, in their
    order."""
    found = [Section(Fraction(0), beats, 1, meter)]
    for time, other in changes:
        at, last = Fraction(time).limit_denominator(FINEST_PLACE), found[-1]
        if at >= beats:
            break
        found[-1] = Section(last.start, at, last.bar, last.meter)
        if at == last.start:  # nothing of it is heard
            found.pop()
        bar = found[-1].bar + found[-1].bars if found else 1
        found.append(Section(at, beats, bar, other))
    return found


def beginning(within: list[Section], number: int) -> Fraction:
    """Where the bar with this number, counted from 0, begins in beats; that after the last one is
    where the last one would end."""
    section = [each for each in within if each.bar <= number + 1][-1]
    return section.start + (number + 1 - section.bar) * section.bar_beats
