"""Pools: the notes that an arpeggio walks over, at a place in time."""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from lattice.arpeggio.fields import Arpeggio, ArpeggioFields, Held
from lattice.arpeggio.orders import order_of
from lattice.arpeggio.orders.base import Entry, Period
from lattice.pitch.reading import Harmony
from lattice.time.grain import Timeline


@dataclass(frozen=True, slots=True)
class PoolNote:
    """A note, and the velocity it was struck with (None: not held), or that it sounds with."""

    pitch: int
    velocity: float | None = None


@dataclass(frozen=True)
class Pool:
    """The notes of a pool: `first` as they are listed before they are extended, `listed` octave
    after octave from the lowest."""

    first: tuple[PoolNote, ...]
    listed: tuple[PoolNote, ...]

    @cached_property
    def by_pitch(self) -> tuple[PoolNote, ...]:
        """The notes from the lowest up."""
        return tuple(sorted(self.listed, key=lambda note: note.pitch))

    def ordered(self, order: str | Period) -> tuple[PoolNote, ...]:
        """The notes that the places of an order count over."""
        return self.listed if order_of(order).listed else self.by_pitch

    def period(self, order: str | Period) -> Period:
        """The entries of one period of a walk in an order that has one."""
        if order not in self._periods:
            entries = order_of(order).period
            assert entries is not None
            self._periods[order] = entries(len(self.listed))
        return self._periods[order]

    def played(self, order: str | Period, entry: Entry) -> tuple[PoolNote, ...]:
        """The notes that an entry of an order plays, from the lowest up."""
        if isinstance(entry, str):
            return ()
        row = self.ordered(order)
        if isinstance(entry, int):
            return (row[entry],)
        return tuple(sorted((row[place] for place in entry), key=lambda note: note.pitch))

    @cached_property
    def _periods(self) -> dict[str | Period, Period]:
        return {}


def once(notes: Iterable[PoolNote]) -> tuple[PoolNote, ...]:
    """Equal notes once, at their first place, with the later velocity."""
    found: dict[int, PoolNote] = {}
    for note in notes:
        found[note.pitch] = note
    return tuple(found.values())


def extended(notes: Sequence[PoolNote], octaves: int, extend: str) -> Pool:
    """A pool over several octaves, each as the first is."""
    low = 0 if extend == "up" else 1 - octaves
    high = 0 if extend == "down" else octaves - 1
    over: dict[int, PoolNote] = {}
    for octave in range(low, high + 1):
        for note in notes:
            pitch = note.pitch + 12 * octave
            over.setdefault(pitch, PoolNote(pitch, note.velocity))
    return Pool(tuple(notes), tuple(over.values()))


class Pools:
    """The pools of one lane."""

    def __init__(self, lane: ArpeggioFields, arpeggio: Arpeggio, harmony: Harmony,
                 times: Timeline) -> None:
        self.lane, self.arpeggio, self.harmony, self.times = lane, arpeggio, harmony, times
        self._stretches = [(times.ticks(each.start), times.ticks(each.start + each.beats),
                            each.notes) for each in arpeggio.stretches]
        self._known: dict[Hashable, Pool] = {}

    def in_force(self, tick: int) -> Hashable:
        """What tells the pool at one place from that at another: with each chord of the
        progression, or each change of what is held, there is another."""
        if self.arpeggio.pool == "chord":
            force = self.harmony.at(tick)
            return force.since if force else None
        if self._stretches and self.arpeggio.pool == "held":
            within = tick % self.times.frame
            return tuple(begin <= within < end for begin, end, _ in self._stretches)
        return None

    def at(self, tick: int) -> Pool:
        """The pool at a place; it may be empty."""
        key: Hashable = self.in_force(tick)
        if self.arpeggio.pool == "chord" and key is not None:
            force = self.harmony.at(tick)
            key = force and force.number
        pool = self._known.get(key)
        if pool is None:
            notes = once(map(self._moved, self._notes(tick)))
            pool = self._known[key] = extended(notes, self.arpeggio.octaves, self.arpeggio.extend)
        return pool

    def all(self) -> list[Pool]:
        """Every pool that comes in force in time."""
        if self.arpeggio.pool == "chord" and self.harmony.progression:
            return [self.at(tick) for tick in self.harmony.progression.starts]
        edges = {0, *(edge for begin, end, _ in self._stretches for edge in (begin, end))}
        return [self.at(tick) for tick in sorted(edges) if tick < self.times.frame]

    def _moved(self, note: PoolNote) -> PoolNote:
        """A note of the pool, moved by the lane's degrees along the key."""
        lane = self.lane
        if not (lane.pitched and lane.transpose.degrees):
            return note
        return PoolNote(self.harmony.key.from_note(note.pitch, lane.transpose.degrees),
                        note.velocity)

    def _notes(self, tick: int) -> Iterable[PoolNote]:
        lane, key, pool = self.lane, self.harmony.key, self.arpeggio.pool
        if pool == "held":
            return [PoolNote(each.note, each.velocity) for each in self._held(tick)]
        if pool == "chord":
            chord = self.harmony.chord(tick)
            base = lane.base(chord.bass) if lane.pitched else \
                lane.note + (chord.bass - lane.note) % 12
            return [PoolNote(base + above) for above in chord.classes]
        if pool == "scale":
            base = lane.base(key.root) if lane.pitched else lane.note
            return [PoolNote(base + key.above_root(i)) for i in range(len(key.notes))]
        return [PoolNote(note) for note in pool]

    def _held(self, tick: int) -> Iterable[Held]:
        if not self._stretches:
            return [each for each in self.arpeggio.held if isinstance(each, Held)]
        within = tick % self.times.frame
        return [note for begin, end, notes in self._stretches if begin <= within < end
                for note in notes]
