"""A lane whose hits walk over a pool: the notes of its arpeggio, its anchors, and a second walk."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import islice
from math import ceil, inf

from lattice.arpeggio.anchors import Moment
from lattice.arpeggio.fields import MOST_NOTES, Anchor, Arpeggio
from lattice.arpeggio.orders.base import Pause
from lattice.arpeggio.pool import PoolNote
from lattice.arpeggio.walk import AnchorFate, SecondWalk, Walk
from lattice.features.chance import Fate
from lattice.hits.found import MOST_FRAMES_AHEAD, Hit
from lattice.play.events import Cause, Note, Sounding
from lattice.play.voice import NoteVoice, Setting, Tones, Voice
from lattice.recipe import Lane
from lattice.time.cells import Run

HAIR = 1e-9
MOST_PAUSES = 4 * MOST_NOTES
"""After so many hits in a row that begin nothing, none is looked for."""
FARTHEST_BACK = 64
"""So many frames back what still sounds is looked for."""
ANCHORED = -1
"""The number of an anchor's note in its draws, apart from those of the walk."""


class WalkingVoice(NoteVoice):
    """The notes of a lane with an arpeggio."""

    def __init__(self, lane: Lane, arpeggio: Arpeggio, setting: Setting,
                 followed: Voice | None) -> None:
        super().__init__(lane, setting, followed)
        self.arpeggio = arpeggio
        self.walk = Walk(lane, arpeggio, setting.harmony, self.draws, self.hits)
        self.second = SecondWalk(arpeggio.second, self.draws) if arpeggio.second else None
        self._exchanged = dict(arpeggio.exchanged) if lane.kind == "drum" else {}
        self._semitones = lane.transpose.semitones if lane.pitched else 0

    def counted(self, run: Run, tick: int) -> int:
        anchors = self.walk.anchors
        return super().counted(run, tick) + (anchors.rests_before(run, tick) if anchors else 0)

    def further_counts(self, run: Run, tick: int) -> list[tuple[int, int]]:
        return self.walk.counts(run, tick)

    def soundings(self, start: float, end: float) -> list[Sounding]:
        begin, stop = self.times.around(start - self.reach.late, end + self.reach.early)
        found: list[Sounding] = []
        covered = list(self._stretched(begin, stop, found)) \
            if self.rolls.over_stretches and not self.second else []
        moments = self.walk.between(begin, stop)
        if self.lane.outlasts:
            moments = [*self._before(begin), *moments]
        for index, moment in enumerate(moments):
            following = moments[index + 1].hit if index + 1 < len(moments) else None
            held = self._held_for(moment, self._after(moments, index)) if self.walk.holds else 0
            at = moment.hit.start
            found += self._at(moment, following, held, any(a <= at < b for a, b in covered))
        return found

    def _before(self, begin: int) -> list[Moment]:
        """The last moment before a place at which something begins, and those that hold it on: its
        strokes may go on there."""
        width = self.times.frame
        while begin > 0:
            found = self.walk.between(max(0, begin - width), begin)
            last = next((i for i in reversed(range(len(found))) if not self._pauses(found[i])),
                        None)
            if last is not None or width >= min(begin, FARTHEST_BACK * self.times.frame) or \
                    len(found) > MOST_PAUSES:
                return found[last:]
            width *= 2
        return []

    def _pauses(self, moment: Moment) -> Pause | None:
        """Whether a moment holds on what sounds, or rests by the order of the walk."""
        if moment.walked is None or not self.walk.holds:
            return None
        return self.walk.pauses(moment.walked)

    def _after(self, moments: Sequence[Moment], index: int) -> Iterator[Moment]:
        """The moments after one of these, as far as is looked."""
        yield from moments[index + 1:]
        begin, width = moments[-1].hit.start + 1, self.times.frame
        last = begin + MOST_FRAMES_AHEAD * self.times.frame
        while begin < last:
            yield from self.walk.between(begin, begin + width)
            begin, width = begin + width, 2 * width

    def _held_for(self, moment: Moment, after: Iterator[Moment]) -> float:
        """How many beats the hits after a moment hold on what it sounds: to the end of the last
        that holds, and comes off."""
        until = 0.0
        if moment.walked is None or self._pauses(moment):
            return until
        for each in islice(after, MOST_PAUSES):
            if each.walked is None:
                continue
            if each.anchored and self.walk.waits:
                continue
            walked = self.walk.at(each.walked)
            if walked is None or not walked.place or not isinstance(walked.at, str):
                break
            if walked.at == "hold" and not self._replaced(self._anchor_of(each)) and \
                    self.chance.fate(each.hit).sounds:
                held = (each.hit.start - moment.hit.start) / self.times.grain
                until = held + self.lasts(each.hit, None)
        return until

    def _at(self, moment: Moment, following: Hit | None, held: float, covered: bool) -> list[
            Sounding]:
        """The soundings of a moment: the walk's notes, held on for so many beats, and the
        anchor's."""
        fate = self._anchor_of(moment)
        walked: Sequence[PoolNote] = ()
        walked_fate: Fate | None = None
        if moment.walked is not None:
            walked_fate = self.chance.fate(moment.hit)
            if covered:
                walked_fate.sounds, walked_fate.covered = False, True
            if not self._replaced(fate):
                walked = self._moved(moment, self.walk.notes(moment.walked))
        lasts = self.lasts(moment.hit, following)
        anchored = self._anchored(moment, fate) if fate else None
        if self.second is not None:
            if walked and walked_fate and walked_fate.sounds:
                lasts = max(lasts, held)
            return self._walked_again(moment, walked, walked_fate, anchored, fate, lasts)
        found = []
        if walked and walked_fate:
            found.append(self._walked(moment.hit, walked, walked_fate, lasts, held))
        if anchored and fate:
            cause = Cause(moment.hit, _fate(self.arpeggio.anchor, fate), anchor=fate)
            found.append(self._sounding_of(cause, [anchored], lasts))
        return found

    def _anchor_of(self, moment: Moment) -> AnchorFate | None:
        """What becomes of the anchor of a moment, if it has one."""
        return self.walk.anchor(moment) if moment.anchored else None

    def _replaced(self, fate: AnchorFate | None) -> bool:
        """Whether an anchor sounds in place of the walk's note, or makes it wait."""
        anchor = self.arpeggio.anchor
        return anchor is not None and fate is not None and anchor.mode == "instead" and (
            anchor.walk == "waits" or fate.comes_off)

    def _moved(self, moment: Moment, notes: Sequence[PoolNote]) -> list[PoolNote]:
        """Walked notes at their pitch, with the velocity that they have on this hit."""
        by = self._semitones + self.pitches.octaves(moment.hit)
        return [PoolNote(self.exchanged(note.pitch + by), self._velocity(moment.hit, note))
                for note in notes]

    def exchanged(self, pitch: int) -> int:
        """What sounds for a note that is walked over."""
        return self._exchanged.get(pitch, pitch)

    def _velocity(self, hit: Hit, note: PoolNote) -> float:
        struck = note.velocity if self.arpeggio.struck else None
        return self.loudness.of_hit(hit, struck)

    def _anchored(self, moment: Moment, fate: AnchorFate) -> PoolNote | None:
        """The anchor's note with its velocity; None where it has none."""
        anchor, note = self.arpeggio.anchor, fate.note
        if anchor is None or note is None:
            return None
        by = self._semitones + self.pitches.octaves(moment.hit) if anchor.note == "root" else 0
        velocity = self.loudness.of_hit(moment.hit, anchor.velocity) \
            if anchor.velocity is not None else self._velocity(moment.hit, note)
        return PoolNote(note.pitch + by, velocity)

    def _walked(self, hit: Hit, notes: Sequence[PoolNote], fate: Fate, lasts: float,
                held: float) -> Sounding:
        rolled = self.rolls.of(hit)
        if rolled is None:
            return self._sounding_of(Cause(hit, fate), notes, max(lasts, held))
        strokes = self._rolled(hit, fate, rolled, _raised(notes))
        if held:
            self._hold(hit, strokes, held)
        return Sounding(hit, fate, strokes[0], strokes)

    def _hold(self, hit: Hit, strokes: Sequence[Note], held: float) -> None:
        """Let the last stroke of a roll sound as long as its hit is held on."""
        grain, limit = self.times.grain, self._limit(hit)
        late = self.nudge(hit) / 100 * hit.length / grain
        ends = min(self.warp(hit.start / grain + held) + late,
                   self.warp(limit / grain) if limit is not None else inf)
        for note in strokes:
            if note.causes[0].stroke == strokes[-1].causes[0].stroke:
                note.length = max(note.length, ends - note.start)

    def _sounding_of(self, cause: Cause, notes: Sequence[PoolNote], lasts: float) -> Sounding:
        hit, fate = cause.hit, cause.fate
        assert hit is not None
        played = self._together(hit, _as_pairs(notes), lasts, cause,
                                ANCHORED if cause.anchor else 0)
        return Sounding(hit, fate, played[0], played)

    def _over_stretch(self, begin: int, end: int) -> tuple[Hit | None, Tones]:
        for moment in self.walk.between(begin, end):
            if moment.walked is not None:
                return moment.hit, _raised(self._moved(moment, self.walk.notes(moment.walked)))
        by = self._semitones
        return None, _raised([PoolNote(note.pitch + by, self._without_hit(note))
                              for note in self.walk.pools.at(begin).first[:1]])

    def _without_hit(self, note: PoolNote) -> float:
        struck = note.velocity if self.arpeggio.struck else None
        return self.lane.velocity if struck is None else struck

    def _following(self, hit: Hit) -> Hit | None:
        return self.walk.anchors.following(hit) if self.walk.anchors else super()._following(hit)

    def _walked_again(self, moment: Moment, walked: Sequence[PoolNote], walked_fate: Fate | None,
                      anchored: PoolNote | None, anchor_fate: AnchorFate | None,
                      lasts: float) -> list[Sounding]:
        """The second walk over all that sounds; what does not is drawn where it would stand."""
        hit, found = moment.hit, []
        sounding: list[PoolNote] = []
        fate: Fate | None = None
        if anchored and anchor_fate:
            own = _fate(self.arpeggio.anchor, anchor_fate)
            if own.sounds:
                sounding, fate = [anchored], own
            else:
                found.append(self._sounding_of(Cause(hit, own, anchor=anchor_fate), [anchored],
                                               lasts))
        if walked and walked_fate:
            if walked_fate.sounds:
                sounding, fate = [*sounding, *walked], walked_fate
            else:
                found.append(self._sounding_of(Cause(hit, walked_fate), walked, lasts))
        if fate is not None:
            notes = list(self._second_strokes(hit, sounding, Cause(hit, fate, anchor=(
                anchor_fate if fate is not walked_fate else None)), lasts))
            if notes:
                found.append(Sounding(hit, fate, notes[0], notes))
        return found

    def _second_strokes(self, hit: Hit, sounding: Sequence[PoolNote], cause: Cause,
                        lasts: float) -> Iterator[Note]:
        second = self.second
        assert second is not None
        grain, limit = self.times.grain, self._limit(hit)
        step = self.times.ticks(4 * second.second.step)
        count = max(1, ceil(lasts * grain / step - HAIR))
        if limit is not None:
            count = max(1, min(count, -((hit.start - limit) // step)))
        cell_beats = hit.length / grain
        nudge = self.nudge(hit) / 100 * cell_beats
        for i, notes in enumerate(second.strokes(sounding, hit, count)):
            at = hit.start + i * step
            own = replace(cause, stroke=i, strokes=count)
            held = second.last_held(i, count) - i
            for j, note in enumerate(notes):
                yield self._note(at / grain, step / grain * (held + second.second.gate / 100),
                                 (at, grain), limit, nudge, note.velocity or 0, note.pitch,
                                 (hit.run.number, hit.cell, i, j), cell_beats, hit.cell, own)


def _as_pairs(notes: Sequence[PoolNote]) -> list[tuple[float, float]]:
    return [(note.pitch, note.velocity or 0) for note in notes]


def _raised(notes: Sequence[PoolNote]) -> Tones:
    """The notes of a roll's strokes, raised by semitones."""
    pairs = _as_pairs(notes)
    return lambda interval: [(pitch + interval, velocity) for pitch, velocity in pairs]


def _fate(anchor: Anchor | None, fate: AnchorFate) -> Fate:
    """An anchor's fate as that of a hit."""
    assert anchor is not None
    return Fate(fate.comes_off, anchor.probability, fate.draw)
