"""Clips taken from what was heard."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from math import lcm

from lattice.clip.document import FINEST_GRAIN, Clip, ClipChange, ClipLane, ClipNote
from lattice.control.fields import Number
from lattice.play import Change, Note, Performance
from lattice.play.events import one_at_a_time
from lattice.recipe import Lane, Recipe

FINEST_OFFSET = 100_000
"""Stretches begin at fractions of a beat with denominators up to this."""


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of what was heard: from `at` (beats on the listener's time line) on, the recipe's
    own beats [start, end)."""

    recipe: Recipe
    at: float
    start: float
    end: float


def heard(segments: Sequence[Segment]) -> list[Note]:
    """The notes of stretches that followed each other, on the listener's time line.

    Where one stretch takes over from another, a note that still sounds is cut by the next on its
    channel and pitch, as everywhere.
    """
    notes: list[Note] = []
    performance: Performance | None = None
    for segment in segments:
        offset = segment.at - segment.start
        performance = Performance(segment.recipe, performance)
        notes += [replace(note, start=note.start + offset)
                  for note in performance.notes(segment.start, segment.end)]
    return one_at_a_time(sorted(notes, key=lambda note: note.start))


def controlled(segments: Sequence[Segment], start: float, end: float) -> list[Change]:
    """The controllers set in [start, end) on the listener's time line: those in force at the start
    and wherever another recipe takes over, and every change; none repeats the value before it."""
    found: list[Change] = []
    known: dict[tuple[int, Number], int] = {}
    performance: Performance | None = None
    for segment in segments:
        performance = Performance(segment.recipe, performance)
        offset = segment.at - segment.start
        first = max(segment.start, start - offset)
        for change in [*performance.in_force(first),
                       *performance.changes(first, min(segment.end, end - offset))]:
            key = (change.channel, change.number)
            if known.get(key) != change.value:
                known[key] = change.value
                found.append(replace(change, time=change.time + offset))
    return found


def clip(name: str, segments: Sequence[Segment], start: float, beats: Fraction) -> Clip:
    """A clip of `beats` from `start` on the listener's time line, note for note."""
    recipe = segments[-1].recipe
    known = {lane.id: lane for segment in segments for lane in segment.recipe.lanes}
    end = start + float(beats)
    notes = [note for note in heard(segments) if start <= note.start < end]
    changes = controlled(segments, start, end)
    playing = {note.lane for note in notes} | {change.lane for change in changes}
    return Clip(
        name=name, tempo=recipe.tempo, meter=recipe.meter, key=recipe.key, beats=beats,
        lanes=tuple(clip_lane(lane) for lane in known.values() if lane.id in playing),
        notes=tuple(ClipNote(start=note.start - start, length=note.length, pitch=note.pitch,
                             velocity=note.velocity, channel=note.channel, lane=note.lane)
                    for note in notes),
        changes=tuple(ClipChange(time=change.time - start, number=change.number,
                                 value=change.value, channel=change.channel, lane=change.lane)
                      for change in changes),
        grain=_grain(notes, segments, start))


def _grain(notes: Sequence[Note], segments: Sequence[Segment], start: float) -> int | None:
    """Into how many parts a beat is to be divided for the place of every note on the grid, counted
    from `start`; None where they are too many."""
    offsets = [segment.at - segment.start - start for segment in segments]
    grain = lcm(*(Fraction(offset).limit_denominator(FINEST_OFFSET).denominator
                  for offset in offsets), *(note.grid.denominator for note in notes))
    return grain if grain <= FINEST_GRAIN else None


def clip_lane(lane: Lane) -> ClipLane:
    """A lane of a pattern as a clip has it."""
    return ClipLane(id=lane.id, name=lane.name, kind=lane.kind, sound=lane.sound,
                    own_sound=lane.own_sound, choked_by=lane.choked_by)
