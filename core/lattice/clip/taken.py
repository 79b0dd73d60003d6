"""Clips taken from what was heard."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from math import lcm

from lattice.base.controllers import Number
from lattice.clip.document import (
    FINEST_GRAIN,
    MAY_CHANGE,
    Clip,
    ClipChange,
    ClipMark,
    ClipNote,
)
from lattice.clip.lanes import HeardLanes
from lattice.play import Change, Note, Performance
from lattice.play.events import one_at_a_time
from lattice.recipe import Recipe

FINEST_OFFSET = 100_000
"""Stretches begin at fractions of a beat with denominators up to this."""


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of what was heard: from `at` (beats on the listener's time line) on, the recipe's
    own beats [start, end), `speed` of them in a beat of the listener's; `name` is a marker there,
    and `pattern` says of which pattern it is: two may have lanes of one id."""

    recipe: Recipe
    at: float
    start: float
    end: float
    speed: Fraction = Fraction(1)
    name: str = ""
    pattern: int = 0

    def placed(self, own: float) -> float:
        """Where one of the recipe's own beats, from `start` on, lies on the listener's time line:
        not a float's last place before `at`."""
        speed = float(self.speed)
        return max(self.at, own / speed + (self.at - self.start / speed))

    def own(self, heard: float) -> float:
        """Which of the recipe's own beats is heard there."""
        speed = float(self.speed)
        return (heard - (self.at - self.start / speed)) * speed


def heard(segments: Sequence[Segment], lanes: HeardLanes) -> list[Note]:
    """The notes of stretches that followed each other, on the listener's time line, by their lanes
    in a clip.

    Where one stretch takes over from another, a note that still sounds is cut by the next on its
    channel and pitch, as everywhere.
    """
    notes: list[Note] = []
    performance: Performance | None = None
    for segment in segments:
        performance = Performance(segment.recipe, performance)
        own = performance.notes(segment.start, segment.end)
        renamed = lanes.renamed(segment.pattern)
        if renamed:
            own = [replace(note, lane=renamed.get(note.lane, note.lane)) for note in own]
        if segment.speed == 1:
            notes += [replace(note, start=segment.placed(note.start)) for note in own]
            continue
        over, under = segment.speed.as_integer_ratio()
        notes += [replace(note, start=segment.placed(note.start),
                          length=note.length * under / over,
                          place=(note.place[0] * under, note.place[1] * over)) for note in own]
    return one_at_a_time(sorted(notes, key=lambda note: note.start))


def controlled(segments: Sequence[Segment], lanes: HeardLanes, start: float,
               end: float) -> list[Change]:
    """The controllers set in [start, end) on the listener's time line: those in force at the start
    and wherever another recipe takes over, and every change; none repeats the value before it, of
    its channel, or where a lane of notes sets it, of its lane."""
    found: list[Change] = []
    known: dict[tuple[int | str, Number], int] = {}
    performance: Performance | None = None
    for segment in segments:
        performance = Performance(segment.recipe, performance)
        renamed = lanes.renamed(segment.pattern)
        first = max(segment.start, segment.own(start))
        by_hits = {lane.id for lane in segment.recipe.lanes if lane.kind != "control"}
        for change in [*performance.in_force(first),
                       *performance.changes(first, min(segment.end, segment.own(end)))]:
            if change.tuning:  # a clip's notes say it
                continue
            lane = renamed.get(change.lane, change.lane)
            key = (lane if change.lane in by_hits else change.channel, change.number)
            if known.get(key) != change.value:
                known[key] = change.value
                found.append(replace(change, time=segment.placed(change.time), lane=lane))
    return found


def take_clip(name: str, segments: Sequence[Segment], start: float, beats: Fraction) -> Clip:
    """A clip of `beats` from `start` on the listener's time line, note for note; marks where the
    tempo, the metre or the key become others."""
    known = HeardLanes((segment.pattern, segment.recipe) for segment in segments)
    end = start + float(beats)
    notes = [note for note in heard(segments, known) if start <= note.start < end]
    lanes, changes = known.playing((note.lane for note in notes),
                                   controlled(segments, known, start, end))
    first = next((each for each in reversed(segments) if each.at <= start), segments[0]).recipe
    return Clip(
        name=name, tempo=first.tempo, meter=first.meter, key=first.key, beats=beats,
        lanes=lanes,
        notes=tuple(ClipNote(start=note.start - start, length=note.length, pitch=note.pitch,
                             velocity=note.velocity, channel=note.channel, lane=note.lane,
                             tune=note.tune, sound=note.sound)
                    for note in notes),
        changes=tuple(ClipChange(time=change.time - start, number=change.number,
                                 value=change.value, channel=change.channel, lane=change.lane)
                      for change in changes),
        marks=tuple(_marks(segments, start, end)), grain=_grain(notes, segments, start))


def _marks(segments: Sequence[Segment], start: float, end: float) -> Iterator[ClipMark]:
    """Where stretches begin that have a name, or another tempo, metre or key than before."""
    before: Recipe | None = None
    for segment in segments:
        recipe = segment.recipe
        said = {name: value for name in MAY_CHANGE
                if before and (value := getattr(recipe, name)) != getattr(before, name)}
        if start <= segment.at < end:
            time = segment.at - start
            if time == 0:
                said = {}
            if said or segment.name:
                yield ClipMark(time=time, name=segment.name, **said)
        before = recipe


def _grain(notes: Sequence[Note], segments: Sequence[Segment], start: float) -> int | None:
    """Into how many parts a beat is to be divided for the place of every note on the grid, counted
    from `start`; None where they are too many."""
    grain = lcm(*((_exact(each.at - start) - _exact(each.start) / each.speed).denominator
                  for each in segments), *(note.grid.denominator for note in notes))
    return grain if grain <= FINEST_GRAIN else None


def _exact(beats: float) -> Fraction:
    return Fraction(beats).limit_denominator(FINEST_OFFSET)
