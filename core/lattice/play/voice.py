"""What lanes of every kind have in common as they play, and a lane of notes: every hit and what
becomes of it, for any range of time."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial

from lattice.base.draws import Draws
from lattice.base.group import Reach
from lattice.control.fields import Control
from lattice.control.line import Knot
from lattice.features.chance import Chance, Fate
from lattice.features.human import Human
from lattice.features.length import Lengths
from lattice.features.loudness import Loudness
from lattice.features.rolls import CURVES, Roll, RolledStretch, Rolls
from lattice.features.timing import straight, swung
from lattice.features.tuning import SET_BY_TUNING, tuned_by
from lattice.hits.found import Hit, LaneHits
from lattice.pitch.reading import Harmony, Pitches
from lattice.play.events import TICK, Cause, Note, Sounding, folded
from lattice.play.lines import Line
from lattice.recipe import Lane, Recipe
from lattice.strands.kinds import NUDGE, PROBABILITY
from lattice.strands.reading import Read, reader
from lattice.time.cells import Run
from lattice.time.grain import Timeline

Address = tuple[int, int]
"""The first two numbers of the index of a hit's draws."""
Tones = Callable[[float], Sequence[tuple[float, float]]]
"""The pitches and velocities that begin together, the main one first, told what a roll adds."""


@dataclass(frozen=True, slots=True)
class Setting:
    """What voices take from their pattern: the recipe, its measures, and what a lane's pitches are
    read against."""

    recipe: Recipe
    times: Timeline
    harmony: Harmony


class Voice:
    """One lane: its hits, whether they sound, and when."""

    def __init__(self, lane: Lane, setting: Setting, followed: Voice | None) -> None:
        recipe, times = setting.recipe, setting.times
        self.lane, self.times = lane, times
        self.draws = Draws(recipe.seed, lane.seed, lane.id)
        self.hits: LaneHits = LaneHits(lane, recipe, times, self.draws,
                                       followed.hits if followed else None)
        self.time = self.hits.time
        self.chance = Chance(lane, recipe.probability_scale, self.draws, self.hits)
        self.warp = swung(lane.swing_in(recipe), times)
        path = self.time.path
        self.human = Human(path, self.draws) if path and lane.most_human else None
        nudge = reader(NUDGE, lane, self.draws)
        self.nudge = self.human.late(nudge) if self.human else nudge
        self.loose = lane.vary.time != (0, 0)
        self.reach = Reach()
        lane.add_reach(self.reach, recipe, self.time.longest / times.grain)

    def soundings(self, start: float, end: float) -> list[Sounding]:
        """Hits whose notes may begin in [start, end) beats, and what becomes of each."""
        raise NotImplementedError

    @property
    def never_sounds(self) -> bool:
        """Whether no hit has a chance."""
        return not self.lane.links and self.chance.scale * self.lane.highest(PROBABILITY) == 0

    @property
    def lines(self) -> Sequence[Line]:
        """What it sets controllers to, by their numbers."""
        return []

    def counted(self, run: Run, tick: int) -> int:
        """How many hits of a run are counted before a place of pattern time."""
        return self.hits.counted_before(run, tick)

    def further_counts(self, run: Run, tick: int) -> list[tuple[int, int]]:
        """What comes round with counts of its own, and how much of each comes before a place."""
        return []

    def given_or_taken(self, cell_beats: float, a: int, b: int, c: int, d: int) -> float:
        """How much later, in beats, give or take makes what has this address."""
        low, high = self.lane.vary.time
        return self.draws.within(low, high, "vary time", a, b, c, d) / 100 * cell_beats


class NoteVoice(Voice):
    """The notes of a drum lane or a pitched one."""

    def __init__(self, lane: Lane, setting: Setting, followed: Voice | None) -> None:
        super().__init__(lane, setting, followed)
        self.loudness = Loudness(lane, self.draws, self.time.path, self.human)
        self.lengths = Lengths(lane, self.draws)
        self.rolls = Rolls(lane, self.draws, self.hits)
        self.pitches = Pitches(lane, setting.harmony, self.draws, self.hits)
        frame = self.times.frame / self.times.grain
        self.sets = [(kind, reader(kind, lane, self.draws)) for kind in lane.setting]
        """What each hit sets controllers to."""
        self.drawn_sound = lane.heard_by if lane.heard_by.ranges else None
        self._frame = frame
        self._tunings: dict[int, list[Line]] = {}
        self._lines = [Line(Control(number=kind.sets), lane.channel, lane.id,
                            partial(self._set, read), frame, stands=False,
                            silent=self.never_sounds)
                       for kind, read in self.sets if kind.sets is not None]

    @property
    def lines(self) -> Sequence[Line]:
        return self._lines

    def _set(self, read: Read, start: float, end: float) -> list[Knot]:
        """What a strand sets with each hit that sounds, where the first of its notes begins."""
        return [Knot(begins, int(read(each.hit)))
                for each in self.soundings(start, end) if each.hit is not None and each.sounds
                and start <= (begins := min(note.start for note in each.notes)) < end]

    def tunings(self, reach: int) -> Sequence[Line]:
        """How the tuning of its strokes leaves, with pitch bend reaching so many semitones."""
        known = self._tunings.get(reach)
        if known is None:
            lane = self.lane
            known = self._tunings[reach] = [
                Line(Control(number=number), lane.channel, lane.id,
                     partial(self._tuned, reach, place), self._frame, stands=False,
                     silent=self.never_sounds, tuning=True)
                for place, number in enumerate(SET_BY_TUNING)]
        return known

    def _tuned(self, reach: int, place: int, start: float, end: float) -> list[Knot]:
        """What is set before each stroke, of all that tunes it the one at this place."""
        return [Knot(note.start, tuned_by(note.tune, reach)[place][1])
                for each in self.soundings(start, end) if each.sounds
                for note in each.notes if start <= note.start < end]

    def soundings(self, start: float, end: float) -> list[Sounding]:
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
            if stretch.fate.comes_off:
                notes = self._rolled_stretch(stretch)
                if notes:
                    found.append(Sounding(None, None, notes[0], notes))
                yield stretch.start, stretch.end

    def _rolled_stretch(self, stretch: RolledStretch) -> list[Note]:
        roll, at = stretch.roll, stretch.start
        hit, notes = self._over_stretch(at, stretch.end)
        gate = self.lengths.gate(hit) if hit else self.lane.gate
        limit = (stretch.passing + 1) * self.times.frame + self.time.shift
        assert roll.start is not None
        # The place in the frame, told apart from any cell's number.
        address = (stretch.passing, -1 - (roll.start.numerator << 20) - roll.start.denominator)
        return list(self._strokes(roll, stretch.number, at, stretch.end - at, notes, gate, 0.0,
                                  limit, address, hit, None))

    def _over_stretch(self, begin: int, end: int) -> tuple[Hit | None, Tones]:
        """The first hit in a stretch of ticks, and the notes that its strokes play."""
        hit = next(iter(self.hits.between(begin, end)), None)
        if hit is not None:
            return hit, self._notes_of(hit)
        return None, lambda interval: [(pitch, float(self.lane.velocity)) for pitch in
                                       self.pitches.without_hit(begin, interval)]

    def _notes_of(self, hit: Hit) -> Tones:
        velocity, of = self.loudness.of_hit(hit), self.pitches.of
        return lambda interval: [(pitch, velocity) for pitch in of(hit, interval)]

    def _sounding(self, hit: Hit, fate: Fate, following: Hit | None) -> Sounding:
        rolled = self.rolls.of(hit)
        if rolled is not None:
            notes = self._rolled(hit, fate, rolled, self._notes_of(hit))
        else:
            velocity, lasts = self.loudness.of_hit(hit), self.lasts(hit, following)
            notes = self._together(hit, [(pitch, velocity) for pitch in self.pitches.of(hit)],
                                   lasts, Cause(hit, fate))
        return Sounding(hit, fate, notes[0], notes)

    def _rolled(self, hit: Hit, fate: Fate, rolled: tuple[int, Roll], notes: Tones) -> list[
            Note]:
        number, roll = rolled
        return list(self._strokes(
            roll, number, hit.start, hit.length, notes, self.lengths.gate(hit),
            self.nudge(hit) / 100 * (hit.length / self.times.grain), self._limit(hit),
            (hit.run.number, hit.cell), hit, fate))

    def _limit(self, hit: Hit) -> int | None:
        """The restart, in ticks, past which a hit does not sound."""
        return hit.run.limit + self.time.shift if hit.run.limit is not None else None

    def lasts(self, hit: Hit, following: Hit | None) -> float:
        """The beats that a hit lasts on the grid; `following` is the next hit if it is known."""
        grain = self.times.grain
        if self.lengths.tie is not None and self.lengths.tie(hit):
            following = following or self._following(hit)
            if following is not None:
                return (following.start - hit.start) / grain
        return hit.length / grain * self.lengths.gate(hit) / 100

    def _following(self, hit: Hit) -> Hit | None:
        return self.hits.following(hit)

    def _together(self, hit: Hit, notes: Sequence[tuple[float, float]], lasts: float,
                  cause: Cause, first: int = 0) -> list[Note]:
        """The notes of a hit, as pitches and velocities, that begin together but for their strum;
        their draws are numbered from `first`."""
        grain, limit = self.times.grain, self._limit(hit)
        cell_beats = hit.length / grain
        nudge = self.nudge(hit) / 100 * cell_beats
        strums = self._strums(len(notes), cell_beats)
        return [self._note(hit.start / grain, lasts, (hit.start, grain), limit, nudge + strums[i],
                           velocity, pitch, (hit.run.number, hit.cell, 0, first + i), cell_beats,
                           hit.cell, cause)
                for i, (pitch, velocity) in enumerate(notes)]

    def _strums(self, count: int, cell_beats: float) -> list[float] | tuple[float, ...]:
        """How much later each of the notes of a chord step begins, in beats."""
        strum = self.lane.strum
        if count == 1 or not strum or not self.lane.chord_steps:
            return (0.0,) * count
        spread = [abs(strum) / 100 * cell_beats * i / (count - 1) for i in range(count)]
        return spread if strum > 0 else spread[::-1]

    def _strokes(self, roll: Roll, number: int, start: int, length: int, notes: Tones,
                 gate: float, nudge: float, limit: int | None, address: Address, hit: Hit | None,
                 fate: Fate | None) -> Iterator[Note]:
        """The notes of a roll, one stroke at least: where it begins, its lane still plays."""
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
            interval = roll.interval(i)
            together, tune = (notes(0), interval) if self.lane.tunable else (notes(interval), 0)
            strums = self._strums(len(together), cell_beats)
            for j, (pitch, velocity) in enumerate(together):
                yield self._note(begins[i], lasts, place, limit, nudge + strums[j],
                                 velocity * roll.loudness(i), pitch, (*address, i, j), cell_beats,
                                 hit.cell if hit else 0, cause, tune)

    def _note(self, at: float, lasts: float, place: tuple[int, int], limit: int | None,
              later: float, velocity: float, pitch: float, address: tuple[int, int, int, int],
              cell_beats: float, cell: int, cause: Cause, tune: float = 0) -> Note:
        """One note at `at` on the grid, for `lasts` beats, moved `later` after swing, tuned by so
        many semitones; `place` is `at` exactly. It ends at `limit` (ticks) at the latest, wherever
        it is moved to."""
        warp = self.warp
        if warp is straight:
            begins, length = at, lasts  # exactly
        else:
            begins = warp(at)
            length = warp(at + lasts) - begins
        begins += later
        if self.loose:
            begins += self.given_or_taken(cell_beats, *address)
        if limit is not None:
            length = min(length, warp(limit / self.times.grain) - begins)
        return Note(begins if begins > 0 else 0.0, self.lane.channel, self.lane.id, cell, place,
                    (cause,), length if length > TICK else TICK,
                    pitch if type(pitch) is int and 0 <= pitch < 128 else folded(pitch),
                    self.loudness.of_stroke(velocity, address), tune,
                    self.drawn_sound.drawn(self.draws, *address[:2]) if self.drawn_sound else None)
