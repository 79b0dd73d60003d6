"""The notes of one part of a clip as voices: each what a single lane can say."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from lattice.base.values import Gate, StepLength, limits
from lattice.clip.document import ClipNote
from lattice.features.timing import straightened, swung
from lattice.strands.kinds import NUDGE
from lattice.telling.grids import Grid
from lattice.time.grain import Timeline

LONGEST = limits(Gate)[1] / 100
SHORTEST = limits(Gate)[0] / 100
"""How many cells a note may last."""

FINEST = limits(StepLength)[0]


@dataclass(frozen=True, slots=True)
class Hit:
    """What a cell plays: how far off it, and how long, in percent of the cell; how loud; which
    notes."""

    nudge: float
    gate: float
    velocity: int
    pitches: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Lying:
    """How cells lie: each of `step` whole notes, the first `shift` later; straight, or as the
    pattern swings."""

    step: Fraction
    shift: Fraction = Fraction(0)
    straight: bool = False


@dataclass(slots=True)
class Voice:
    """What a lane plays: how its cells lie, and the hits of some of them."""

    lying: Lying
    hits: dict[int, Hit] = field(default_factory=dict)

    @property
    def lowest(self) -> int:
        """Its lowest note."""
        return min(hit.pitches[0] for hit in self.hits.values())

    @property
    def highest(self) -> int:
        """Its highest note."""
        return max(hit.pitches[-1] for hit in self.hits.values())

    def around(self, cells: int, length: int) -> bool:
        """Whether what its first `length` of so many cells play comes again and again."""
        return all((cell + length) % cells in self.hits and
                   self.hits[(cell + length) % cells] == hit for cell, hit in self.hits.items())

    def part(self, begin: int, end: int) -> Voice:
        """The cells [begin, end), counted from 0."""
        return Voice(self.lying, {cell - begin: hit for cell, hit in self.hits.items()
                                 if begin <= cell < end})

    def coarser(self, cells: int, most: int) -> tuple[Voice, int]:
        """The voice with longer cells, so that there are no more than so many, where its hits
        allow it; and how many cells there are then."""
        for wider in range(2, cells + 1):
            if cells % wider or cells // wider > most or any(
                    cell % wider for cell in self.hits):
                continue
            hits = {cell // wider: Hit(hit.nudge / wider, hit.gate / wider, hit.velocity,
                                       hit.pitches) for cell, hit in self.hits.items()}
            if all(hit.gate >= 100 * SHORTEST for hit in hits.values()):
                return Voice(replace(self.lying, step=self.lying.step * wider), hits), \
                    cells // wider
        return self, cells


class _Cells:
    """Cells that lie so in a clip of so many beats, in floating point: how long each is, how much
    later the first begins, and how many there are."""

    __slots__ = ("beats", "count", "finer", "later", "lying")

    def __init__(self, lying: Lying, beats: Fraction) -> None:
        self.lying = lying
        self.beats, self.later = float(4 * lying.step), float(4 * lying.shift)
        self.count = int(beats / (4 * lying.step))
        self.finer = lying.step / 2 >= FINEST
        """Whether they may be halved."""


class Placing:
    """Puts notes on the cells of a grid, in a clip of so many beats."""

    def __init__(self, grid: Grid, beats: Fraction, times: Timeline, rounded: float) -> None:
        self.grid, self.beats, self.rounded = grid, beats, rounded
        bar = times.bar / times.grain
        self.warps = {False: (swung(grid.swing, times), straightened(grid.swing, bar)),
                      True: (swung(None, times), straightened(None, bar))}
        self._plain = _Cells(Lying(grid.step), beats)
        self._widths = [width for width in range(1, self._plain.count)
                        if self._plain.count % width == 0]
        """How many steps a cell may be long, but for all of them."""
        self._known: dict[float, tuple[_Cells, ...]] = {}

    def voices(self, notes: Iterable[ClipNote], together: bool) -> list[Voice]:
        """The fewest voices that play these notes: those that begin together alike are one chord
        step where they may be `together`; others are voices of their own, the highest first."""
        placed: dict[_Cells, dict[int, list[Hit]]] = {}
        for note in notes:
            cells, cell, hit = self._placed(note)
            placed.setdefault(cells, {}).setdefault(cell, []).append(hit)
        order = sorted(placed, key=lambda cells: (cells.lying.straight, cells.lying.shift != 0,
                                                  cells.lying.step))
        return [voice for cells in order
                for voice in _parted(placed[cells], cells.lying, together)]

    def _placed(self, note: ClipNote) -> tuple[_Cells, int, Hit]:
        """The cells that a note lies among, the number of its own, and what it plays there."""
        cell, _ = self._nearest(note.start, self._plain)
        width, halved = self._width(self._lasts(note, self._plain, cell)), 0
        swinging, straight, leaning = self._cells(width, halved)
        while note.length < 1.01 * SHORTEST * swinging.beats and swinging.finer:
            halved += 1
            swinging, straight, leaning = self._cells(width, halved)
        for cells in (swinging, straight):
            cell, off = self._nearest(note.start, cells)
            if abs(off) <= NUDGE.high / 100 * cells.beats and cell < cells.count:
                return cells, cell, self._hit(note, cells, cell, off)
        # It leans toward the next round's first cell, and is still played in this one.
        cell, off = self._nearest(note.start, leaning)
        return leaning, cell % leaning.count, self._hit(note, leaning, cell, off)

    def _cells(self, width: int, halved: int) -> tuple[_Cells, ...]:
        """Cells of so many steps, halved so often: as the pattern swings, straight, and straight
        and half a cell sooner. The same ones for all that are as long."""
        parts = width / 2**halved
        known = self._known.get(parts)
        if known is None:
            step = self.grid.step * width / 2**halved
            known = self._known[parts] = tuple(_Cells(lying, self.beats) for lying in (
                Lying(step), Lying(step, straight=True), Lying(step, -step / 2, straight=True)))
        return known

    def _nearest(self, start: float, cells: _Cells) -> tuple[int, float]:
        """The number of the nearest cell, and how much later than it a note begins, in beats;
        nothing where only the file's rounding set them apart."""
        warp, back = self.warps[cells.lying.straight]
        cell = round((back(start) - cells.later) / cells.beats)
        off = start - warp(cell * cells.beats + cells.later)
        return cell, 0.0 if abs(off) <= 0.98 * self.rounded + 1e-9 else off

    def _lasts(self, note: ClipNote, cells: _Cells, cell: int) -> float:
        """How long a note lasts before swing, in beats."""
        warp, back = self.warps[cells.lying.straight]
        at = cell * cells.beats + cells.later
        return back(warp(at) + note.length) - at

    def _width(self, lasts: float) -> int:
        """How many steps long a cell has to be for a note that lasts so many beats."""
        return next((width for width in self._widths
                     if lasts <= LONGEST * self._plain.beats * width * 0.999999),
                    self._plain.count)

    def _hit(self, note: ClipNote, cells: _Cells, cell: int, off: float) -> Hit:
        step = cells.beats
        gate = 100 * self._lasts(note, cells, cell) / step
        if self.grid.swing and not cells.lying.straight:
            gate = self._rounded_gate(note, cell * step, step, off, gate)
        return Hit(_tidy(100 * off / step), _tidy(min(max(gate, 100 * SHORTEST), 100 * LONGEST)),
                   note.velocity, (note.pitch,))

    def _rounded_gate(self, note: ClipNote, at: float, step: float, off: float,
                      gate: float) -> float:
        """A gate in as few decimals as end where the file has rounded the note's end to."""
        warp = self.warps[False][0]
        return next((short for digits in (0, 1, 2) if abs(
            warp(at + (short := round(gate, digits)) * step / 100) + off - note.end)
            < 0.98 * self.rounded), gate)


def _tidy(value: float) -> float:
    """Percent without a float's last places, so that alike is the same in whichever bar it is."""
    return float(whole) if abs(value - (whole := round(value))) < 1e-7 else round(value, 9)


def _parted(by_cell: dict[int, list[Hit]], lying: Lying, together: bool) -> list[Voice]:
    voices: list[Voice] = []
    for cell, hits in by_cell.items():
        for number, hit in enumerate(_chords(hits) if together else hits):
            if number == len(voices):
                voices.append(Voice(lying))
            voices[number].hits[cell] = hit
    return voices


def _chords(hits: Sequence[Hit]) -> list[Hit]:
    """Notes of one cell that sound alike as chord steps of up to eight, the highest first."""
    if len(hits) == 1:
        return list(hits)
    alike: dict[tuple[float, float, int], set[int]] = {}
    for hit in hits:
        alike.setdefault((hit.nudge, hit.gate, hit.velocity), set()).update(hit.pitches)
    found = []
    for (nudge, gate, velocity), pitches in alike.items():
        row = sorted(pitches)
        found += [Hit(nudge, gate, velocity, tuple(row[i:i + 8])) for i in range(0, len(row), 8)]
    return sorted(found, key=lambda hit: -hit.pitches[-1])
