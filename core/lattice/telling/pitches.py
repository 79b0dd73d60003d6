"""Other ways to say a lane's pitches: in the pattern's key, over the chords, or as a walk."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any, get_args

from lattice.arpeggio.orders import ORDERS
from lattice.arpeggio.orders.base import Period
from lattice.arpeggio.pool import Pools
from lattice.base.clauses import NEUTRAL, Fields
from lattice.base.draws import Draws
from lattice.hits.found import Hit
from lattice.pitch.fields import Reads
from lattice.pitch.reading import Harmony, Pitches
from lattice.play import NoteVoice
from lattice.recipe import Lane, edited
from lattice.strands.kinds import OCTAVE, Together, Value
from lattice.telling.target import Target

MOST_IN_POOL = 12
"""A walk over more different notes is not looked for."""
SHORTEST_WALK = 3
"""Fewer hits than this are no walk."""
MOST_OCTAVES = 3


@dataclass(frozen=True)
class Reading:
    """Fields that say how degrees are read, and the degree of each hit in them."""

    fields: Fields
    degrees: list[Value]


@dataclass(frozen=True)
class _Line:
    """What a pitched lane plays: the pitches of each hit, ascending."""

    target: Target
    pitches: list[tuple[float, ...]]

    @property
    def hits(self) -> list[Hit]:
        """The hits that these are the pitches of."""
        return self.target.hits


def _line(target: Target) -> _Line | None:
    voice, lane = target.voice, target.lane
    if not isinstance(voice, NoteVoice) or not lane.reads_degrees or lane.voicing != "close" or \
            lane.transpose.degrees or lane.transpose.semitones or lane.strands.of(OCTAVE):
        return None
    return _Line(target, [voice.pitches.of(hit) for hit in target.hits])


def readings(target: Target) -> Iterator[Reading]:
    """The degrees of a lane read otherwise: in the pattern's key where it has its own, and over
    the chords where there are any."""
    line = _line(target)
    if line is None:
        return
    lane, recipe = target.lane, target.recipe
    keys = [NEUTRAL] if lane.key is not None else []
    modes = [mode for mode in get_args(Reads)
             if mode != lane.reads and (mode == "key" or recipe.chords)]
    for fields in [{"key": key} for key in keys] + [{"reads": mode} for mode in modes] + [
            {"key": key, "reads": mode} for key in keys for mode in modes]:
        degrees = _degrees(line, edited(lane, fields))
        if degrees is not None:
            yield Reading(fields, degrees)


def _degrees(line: _Line, lane: Lane) -> list[Value] | None:
    """The degree of each hit as a lane reads it; None where it cannot say a pitch."""
    performance = line.target.performance
    harmony = Harmony(lane.key or line.target.recipe.key, performance.progression)
    pitches = Pitches(lane, harmony, Draws(0, 0, lane.id), line.target.voice.hits)
    known: dict[tuple[Any, ...], Value | None] = {}
    found: list[Value] = []
    for hit, wanted in zip(line.hits, line.pitches, strict=True):
        force = harmony.at(hit.start)
        key = (wanted, force and force.number)
        if key not in known:
            known[key] = _degree(pitches, hit.start, wanted)
        degree = known[key]
        if degree is None:
            return None
        found.append(degree)
    return found


def _degree(pitches: Pitches, tick: int, wanted: tuple[float, ...]) -> Value | None:
    single = [pitches.degree_for(tick, int(pitch)) for pitch in wanted]
    if any(pitches.pitch_of(tick, degree) != pitch
           for degree, pitch in zip(single, wanted, strict=True)):
        return None
    if len(single) == 1:
        return single[0]
    return Together(all=tuple(sorted(single))) if len(set(single)) == len(single) <= 8 else None


def walks(target: Target) -> Iterator[Fields]:
    """Arpeggios that play the lane's single notes, one a hit."""
    line = _line(target)
    if line is None or any(len(each) != 1 for each in line.pitches) or \
            len(line.pitches) < SHORTEST_WALK:
        return
    notes = [int(each[0]) for each in line.pitches]
    different = sorted(set(notes))
    if not 1 < len(different) <= MOST_IN_POOL:
        return
    cleared: dict[str, Any] = dict.fromkeys(
        ("strands.degree", "degree", "reads", "key"), NEUTRAL)
    for fields, pool in _pools(target, different):
        lane = edited(target.lane, cleared | fields | {"arpeggio": pool})
        assert lane.arpeggio is not None
        pools = Pools(lane, lane.arpeggio, Harmony(
            lane.key or target.recipe.key, target.performance.progression),
            target.performance.times)
        if {note.pitch for each in pools.all() for note in each.listed} < set(different):
            continue
        for order in (each.name for each in ORDERS.values() if each.period):
            for restart, counts in _restarts(line, order, len(different)):
                if _walked(line, pools, order, counts, notes):
                    yield cleared | fields | {"arpeggio": pool | {
                        "order": order, "restart": restart}}
                    break


def _pools(target: Target, different: Sequence[int]) -> Iterator[
        tuple[dict[str, Any], dict[str, Any]]]:
    """Pools that may hold these notes: the chord's, the scale's, or the notes themselves, over the
    octaves that they fill."""
    registers: list[dict[str, Any]] = [{}, {"from": different[0]}]
    for name in ("chord", "scale"):
        for fields in registers:
            for octaves in range(1, MOST_OCTAVES + 1):
                yield fields, {"pool": name, "octaves": octaves}
    for octaves in range(MOST_OCTAVES, 0, -1):
        first = [note for note in different if note < different[0] + 12]
        if len(first) * octaves == len(different) and all(
                note + 12 * octave in different for note in first for octave in range(octaves)):
            yield {}, {"pool": first, "octaves": octaves}


def _restarts(line: _Line, order: str, size: int) -> Iterator[tuple[Any, list[int]]]:
    """Ways to begin the walk anew, and the walk's place on each hit."""
    frame = line.target.performance.times.frame
    yield "pass", _counted([hit.start // frame for hit in line.hits])
    if line.target.performance.progression:
        harmony = Harmony(line.target.recipe.key, line.target.performance.progression)
        yield "chord", _counted([force.since if (force := harmony.at(hit.start)) else 0
                                 for hit in line.hits])
    yield "never", [hit.ordinal for hit in line.hits]


def _counted(groups: Sequence[int]) -> list[int]:
    counts: dict[int, int] = {}
    found = []
    for group in groups:
        found.append(counts.get(group, 0))
        counts[group] = found[-1] + 1
    return found


def _walked(line: _Line, pools: Pools, order: str | Period, counts: Sequence[int],
            notes: Sequence[int]) -> bool:
    """Whether a walk plays these notes."""
    for hit, count, note in zip(line.hits, counts, notes, strict=True):
        pool = pools.at(hit.start)
        if not pool.listed:
            return False
        period = pool.period(order)
        played = pool.played(order, period[count % len(period)])
        if [each.pitch for each in played] != [note]:
            return False
    return True


