"""One lane as it plays: every hit and what becomes of it, for any range of time."""

from __future__ import annotations

from collections.abc import Iterator

from lattice.base.draws import Draws
from lattice.base.group import Reach
from lattice.features.chance import Chance, Fate
from lattice.features.length import Lengths
from lattice.features.loudness import Loudness
from lattice.features.rolls import CURVES, Roll, Rolls
from lattice.features.timing import swung
from lattice.hits.found import Hit, LaneHits
from lattice.play.events import TICK, Cause, Note, Sounding, folded
from lattice.recipe import Lane, Recipe
from lattice.strands.kinds import NUDGE, OCTAVE
from lattice.strands.reading import reader
from lattice.time.grain import Timeline

Address = tuple[int, int]
"""The first two numbers of the index of a hit's draws."""


class Voice:
    """The notes of one lane."""

    def __init__(self, lane: Lane, recipe: Recipe, times: Timeline,
                 followed: Voice | None) -> None:
        self.lane, self.times = lane, times
        self.draws = Draws(recipe.seed, lane.seed, lane.id)
        self.hits: LaneHits = LaneHits(lane, recipe, times, self.draws,
                             followed.hits if followed else None)
        self.time = self.hits.time
        self.chance = Chance(lane, recipe.probability_scale, self.draws, self.hits)
        self.loudness = Loudness(lane, self.draws, self.time.path[2] if self.time.path else None)
        self.lengths = Lengths(lane, self.draws)
        self.rolls = Rolls(lane, self.draws, self.hits)
        self.warp = swung(lane.swing_in(recipe), times)
        self.nudge = reader(NUDGE, lane, self.draws)
        self.octave = reader(OCTAVE, lane, self.draws) if lane.strands.of(OCTAVE) else None
        self.pitches = (lane.note,)
        self.loose = lane.vary.time != (0, 0)
        self.reach = Reach()
        lane.add_reach(self.reach, recipe, self.time.longest / times.grain)

    def soundings(self, start: float, end: float) -> list[Sounding]:
        """Hits whose notes may begin in [start, end) beats, and what becomes of each."""
        begin, stop = self.times.around(start - self.reach.late, end + self.reach.early)
        hits = self.hits.between(begin, stop)
        found: list[Sounding] = []
        covered = list(self._stretched(begin, stop, found)) if self.rolls.over_stretches else []
        chance, sounding = self.chance, self._sounding
        for index, hit in enumerate(hits):
            fate = chance.fate(hit)
            if covered and any(a <= hit.start < b for a, b in covered):
                fate.sounds, fate.covered = False, True
            following = hits[index + 1] if index + 1 < len(hits) else None
            found.append(sounding(hit, fate, following))
        return found

    def _stretched(self, begin: int, stop: int, found: list[Sounding]) -> Iterator[
            tuple[int, int]]:
        """Play the stretches of beats that roll; yields the ticks that each covers."""
        for stretch in self.rolls.stretches(begin, stop):
            if not stretch.fate.comes_off:
                continue
            roll, at, end = stretch.roll, stretch.start, stretch.end
            hit = next(iter(self.hits.between(at, end)), None)
            velocity = self.loudness.of_hit(hit) if hit else float(self.lane.velocity)
            gate = self.lengths.gate(hit) if hit else self.lane.gate
            pitches = self._pitches(hit) if hit else self.pitches
            limit = (stretch.passing + 1) * self.times.frame + self.time.shift
            assert roll.start is not None
            # The place in the frame, told apart from any cell's number.
            address = (stretch.passing,
                       -1 - (roll.start.numerator << 20) - roll.start.denominator)
            notes = list(self._strokes(roll, stretch.number, at, end - at, velocity, gate, pitches,
                                       0.0, limit, address, hit, None))
            found.append(Sounding(None, None, notes[0], notes))
            yield at, end

    def _pitches(self, hit: Hit) -> tuple[float, ...]:
        """The pitches that sound together on a hit, the main one first."""
        return (self.lane.note + 12 * self.octave(hit),) if self.octave else self.pitches

    def _sounding(self, hit: Hit, fate: Fate, following: Hit | None) -> Sounding:
        velocity = self.loudness.of_hit(hit)
        pitches = self._pitches(hit)
        limit = hit.run.limit + self.time.shift if hit.run.limit is not None else None
        grain = self.times.grain
        cell_beats = hit.length / grain
        nudge = self.nudge(hit) / 100 * cell_beats
        rolled = self.rolls.of(hit)
        if rolled is not None:
            notes = list(self._strokes(rolled[1], rolled[0], hit.start, hit.length, velocity,
                                       self.lengths.gate(hit), pitches, nudge, limit,
                                       (hit.run.number, hit.cell), hit, fate))
            return Sounding(hit, fate, notes[0], notes)
        lasts = cell_beats * self.lengths.gate(hit) / 100
        if self.lengths.tie is not None and self.lengths.tie(hit):
            following = following or self.hits.following(hit)
            if following is not None:
                lasts = (following.start - hit.start) / grain
        notes = []
        for i, pitch in enumerate(pitches):
            notes.append(self._note(
                hit.start / grain, lasts, (hit.start, grain), limit, nudge, velocity, pitch,
                (hit.run.number, hit.cell, 0, i), cell_beats, hit.cell, Cause(hit, fate)))
        return Sounding(hit, fate, notes[0], notes)

    def _strokes(self, roll: Roll, number: int, start: int, length: int, velocity: float,
                 gate: float, pitches: tuple[float, ...], nudge: float, limit: int | None,
                 address: Address, hit: Hit | None, fate: Fate | None) -> Iterator[Note]:
        """The notes of a roll, one at least: where it begins, its lane still plays."""
        count, grain, even = roll.strokes, self.times.grain, roll.curve == "even"
        first, whole = start / grain, length / grain
        cell_beats = whole if fate is not None else self.time.cell / grain
        begins = [(start * count + length * i) / (count * grain) for i in range(count + 1)] \
            if even else [first + whole * CURVES[roll.curve](i / count) for i in range(count + 1)]
        for i in range(count):
            if limit is not None and begins[i] >= limit / grain:
                return
            place = (start * count + length * i, grain * count) if even else (start, grain)
            lasts = (begins[i + 1] - begins[i]) * gate / 100
            cause = Cause(hit, fate, number, i, count)
            for j, pitch in enumerate(pitches):
                yield self._note(begins[i], lasts, place, limit, nudge, velocity * roll.loudness(i),
                                 pitch + roll.interval(i), (*address, i, j), cell_beats,
                                 hit.cell if hit else 0, cause)

    def _note(self, at: float, lasts: float, place: tuple[int, int], limit: int | None,
              nudge: float, velocity: float, pitch: float, address: tuple[int, int, int, int],
              cell_beats: float, cell: int, cause: Cause) -> Note:
        """One note at `at` on the grid, for `lasts` beats; `place` is `at` exactly. It ends at
        `limit` (ticks) at the latest, wherever nudge and give or take move it."""
        warp = self.warp
        begins = warp(at)
        length = warp(at + lasts) - begins
        begins += nudge
        if self.loose:
            low, high = self.lane.vary.time
            begins += self.draws.within(low, high, "vary time", *address) / 100 * cell_beats
        if limit is not None:
            length = min(length, warp(limit / self.times.grain) - begins)
        return Note(begins if begins > 0 else 0.0, self.lane.channel, self.lane.id, cell, place,
                    (cause,), length if length > TICK else TICK,
                    pitch if type(pitch) is int and 0 <= pitch < 128 else folded(pitch),
                    self.loudness.of_stroke(velocity, address))
