"""The grid that notes were played on: its step, its swing, and how far they lie off it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import log2
from statistics import median

from lattice.base.frame import Swing
from lattice.base.words import listed
from lattice.features.timing import straightened

STEPS = tuple(Fraction(1, parts) for parts in (4, 8, 12, 16, 20, 24, 32, 28, 40, 48, 64, 96))
"""The steps that are tried, in whole notes."""
SWUNG = Fraction(1, 8), Fraction(1, 16)
WITH_SWING = Fraction(1, 4), Fraction(1, 2), 1, 2, 4
"""How often a step, but for triplets, goes into the grid of a swing."""
LEAST_SWING, MOST_SWING = 51.0, 75.0
FINE = 1 / 480
"""Being off by so many beats costs a note one bit."""
SWING_BITS = 6
"""A swing has to save so many bits, to be taken for one."""
NOT_OFF = 1e-6
MOST_LOOKED_AT = 1500
MOST_OF_ALL = 4000
"""So many notes are looked at of a part, and of all parts."""


@dataclass(frozen=True, slots=True)
class Grid:
    """A step in whole notes, a swing if there is one, and how far, in beats, notes lie off it at
    most."""

    step: Fraction
    swing: Swing | None
    off: float


def proposed(parts: Sequence[Sequence[float]], bar: float, rounded: float) -> list[Grid]:
    """The grids in which the notes of each part, at these places in beats, are told in the fewest
    bits: for each note the number of its place within a beat, and how far it lies off that
    (minimum description length; J. Rissanen, Modeling by shortest data description, 1978). A swing
    that one part has is the others' too where they lose nothing by it. `rounded`: what is off by
    no more than this was rounded by the file."""
    most = min(MOST_LOOKED_AT, max(200, MOST_OF_ALL // max(1, len(parts))))
    looked_at = [sorted({round(start, 9) for start in starts})[:most] for starts in parts]
    found = [min((_best(places, swing, bar, rounded)
                  for swing in (None, *_swings(places, bar, rounded))), key=_bits)
             for places in looked_at]
    saved = {swing: _best(places, None, bar, rounded)[0] - bits
             for places, (bits, grid) in zip(looked_at, found, strict=True)
             if (swing := grid.swing)}
    if saved:
        shared = max(saved, key=lambda swing: saved[swing])
        for number, places in enumerate(looked_at):
            told = _best(places, shared, bar, rounded)
            if told[0] - SWING_BITS <= found[number][0]:
                found[number] = told
    return [grid for _, grid in found]


def _bits(told: tuple[float, Grid]) -> float:
    return told[0]


def _best(places: Sequence[float], swing: Swing | None, bar: float, rounded: float) -> tuple[
        float, Grid]:
    """The step that tells places in the fewest bits under a swing, and how many those are."""
    back = straightened(swing, bar)
    straight = [back(place) for place in places]
    steps = [step for step in STEPS if swing is None or swing.grid / step in WITH_SWING
             or step.denominator % 3 == 0]
    told = [(_told(straight, float(4 * step), rounded), step) for step in steps]
    (bits, off), step = min(told)
    return bits + (SWING_BITS if swing else 0), Grid(step, swing, off)


def _told(places: Sequence[float], step: float, rounded: float) -> tuple[float, float]:
    """The bits that places take on a grid, and how far the furthest lies off it."""
    each = max(0.0, -log2(step))
    bits = furthest = 0.0
    for place in places:
        off = _off(place, step, rounded)
        bits += each + log2(1 + off / FINE)
        furthest = max(furthest, off)
    return bits, furthest


def _off(place: float, step: float, rounded: float) -> float:
    """How far a place lies off a grid, in beats, beside what was rounded."""
    return max(0.0, abs(place - round(place / step) * step) - rounded)


def _swings(places: Sequence[float], bar: float, rounded: float) -> list[Swing]:
    """Swings that the notes between two beats, or halves of one, may have."""
    found = []
    for grid in SWUNG:
        pair = float(8 * grid)
        whole = int(bar / pair + 1e-9) * pair
        late = [share for place in places if place % bar < whole - 1e-9
                if LEAST_SWING <= (share := 100 * (place % bar % pair) / pair) <= MOST_SWING + 4]
        if late:
            percent = _tidy(median(late), 100 * rounded / pair)
            if LEAST_SWING <= percent <= MOST_SWING:
                found.append(Swing(grid=grid, percent=percent))
    return found


def _tidy(percent: float, rounded: float) -> float:
    """A percentage in as few decimals as lie within what was rounded."""
    return next((short for digits in (0, 1, 2, 3, 6)
                 if abs((short := round(percent, digits)) - percent) <= rounded + 1e-7), percent)


def told(name: str, grid: Grid, tempo: float, places: Sequence[float], bar: float,
         rounded: float) -> str:
    """What was recognised of notes at these places, in one sentence; where only some bars lie off
    the grid, which ones."""
    step = f"{name}: steps of {grid.step}"
    kind = {3: " (triplets)", 5: " (quintuplets)", 7: " (septuplets)"}
    parts = next((said for number, said in kind.items() if grid.step.denominator % number == 0), "")
    swing = f", swing {grid.swing.percent:g} % of {grid.swing.grid}" if grid.swing else ""
    if grid.off <= NOT_OFF:
        return f"{step}{parts}{swing}."
    back, size = straightened(grid.swing, bar), float(4 * grid.step)
    every = {int(place // bar) + 1 for place in places}
    off = {int(place // bar) + 1 for place in places if _off(back(place), size, rounded) > NOT_OFF}
    where = f" in {_bars(sorted(off))}" if off and off != every else ""
    return (f"{step}{parts}{swing}, played in by hand{where}, "
            f"up to {1000 * grid.off * 60 / tempo:.0f} ms off.")


def _bars(numbers: Sequence[int]) -> str:
    """Bars, those that follow each other from the first to the last."""
    runs: list[list[int]] = []
    for number in numbers:
        if runs and runs[-1][-1] == number - 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    told = [f"{run[0]}" if len(run) == 1 else f"{run[0]}–{run[-1]}" for run in runs]
    return f"bar{'s' if len(numbers) > 1 else ''} {listed(told)}"
