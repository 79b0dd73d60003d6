"""The shortest way to say what a kind of value is on each hit."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from lattice.base.clauses import NEUTRAL, Fields
from lattice.base.values import half_up, tidy
from lattice.features.loudness import Contour
from lattice.hits.fields import falls_on
from lattice.strands.fields import MOST_VALUES
from lattice.strands.kinds import VELOCITY, StrandKind, Together, Value

Place = tuple[int, int, int]
"""A hit's step, cell and number, each counted from 0."""
BY = {"hit": 2, "step": 0, "cell": 1}
LONGEST_ACCENT = 16
"""Accents further apart than this many hits are not looked for."""


def ways(kind: StrandKind, places: Sequence[Place], values: Sequence[Value]) -> Iterator[Fields]:
    """The fields that give hits at these places their values, the shorter ways first: one value,
    or a strand; velocities also by a contour, or by accents, over one value."""
    cleared: dict[str, Any] = {f"strands.{kind.name}": NEUTRAL}
    if kind is VELOCITY:
        cleared |= {"contour": NEUTRAL, "accent": NEUTRAL}
    if len(set(values)) <= 1 and not isinstance(values[0], Together):
        if values[0] == kind.neutral:
            yield cleared
        elif kind.neutral is None:
            yield cleared | {kind.name: _written(kind, values[0])}
        else:
            yield cleared | _strand(kind, "hit", [values[0]])
        return
    found = _repeated(kind, places, values)
    if found:
        yield cleared | found
    if kind is VELOCITY:
        numbers = [place[2] for place in places]
        yield from (cleared | each for each in _contours(numbers, values))
        yield from (cleared | each for each in _accents(numbers, values))


def _repeated(kind: StrandKind, places: Sequence[Place],
              values: Sequence[Value]) -> dict[str, Any] | None:
    """The shortest strand that gives these values, by hit, by step or by cell; None where even the
    longest is too short."""
    best: tuple[str, list[Value]] | None = None
    for by, part in BY.items():
        most = len(best[1]) - 1 if best else MOST_VALUES
        period = _period([place[part] for place in places], values, most)
        if period is not None:
            best = by, period
    return None if best is None else _strand(kind, *best)


def _period(keys: Sequence[int], values: Sequence[Value], most: int) -> list[Value] | None:
    """The shortest row of values that, gone round, has each value at its key; where there is no
    key, the value before goes on."""
    for length in range(1, min(most, max(keys, default=0) + 1) + 1):
        row: list[Value | None] = [None] * length
        for key, value in zip(keys, values, strict=True):
            there = row[key % length]
            if there is None:
                row[key % length] = value
            elif there != value:
                break
        else:
            filled: list[Value] = []
            last: Value = next(value for value in row if value is not None)
            for value_there in row:
                last = last if value_there is None else value_there
                filled.append(last)
            return filled
    return None


def _strand(kind: StrandKind, by: str, values: Sequence[Value]) -> dict[str, Any]:
    return {f"strands.{kind.name}": {"values": [_written(kind, value) for value in values],
                                     "by": by}}


def _written(kind: StrandKind, value: Value) -> Any:
    if isinstance(value, Together):
        return value.document
    assert not isinstance(value, tuple)
    return int(value) if kind.whole else tidy(value)


def _contours(numbers: Sequence[int], values: Sequence[Value]) -> Iterator[dict[str, Any]]:
    """Contours of the usual shape over one velocity."""
    shape = Contour().shape
    heard: dict[int, Value] = {}
    for number, value in zip(numbers, values, strict=True):
        if heard.setdefault(number % len(shape), value) != value:
            return
    full = heard.get(0)
    if full is None or isinstance(full, Together | tuple):
        return
    for amount in range(1, 101):
        if all(max(1, half_up(full * (1 + amount / 100 * (shape[place] - 1)))) == value
               for place, value in heard.items()):
            yield {"velocity": int(full), "contour": {"amount": amount}}
            return


def _accents(numbers: Sequence[int], values: Sequence[Value]) -> Iterator[dict[str, Any]]:
    """Every nth hit louder or softer by so much, over one velocity."""
    if len(set(values)) != 2:
        return
    for every in range(2, LONGEST_ACCENT + 1):
        for first in range(1, every + 1):
            calm: set[Value] = set()
            loud: set[Value] = set()
            for number, value in zip(numbers, values, strict=True):
                (loud if falls_on(number, every, first) else calm).add(value)
            if len(calm) != 1 or len(loud) != 1:
                continue
            (plain,), (strong,) = calm, loud
            if isinstance(plain, int) and isinstance(strong, int):
                yield {"velocity": plain, "accent": {"every": every, "from": first,
                                                     "add": strong - plain}}
                return
