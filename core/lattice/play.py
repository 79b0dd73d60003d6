"""The one pipeline: a recipe and a range of time become notes.

Preview, playing, the Trail, Keep, export and the command line all come through here. Nothing is
remembered between calls: any range can be asked for by itself.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING

from lattice.chance import Chance, Fate
from lattice.draws import Draws, purposes
from lattice.feel import Loudness, Swing, swung
from lattice.hits import Hit, LaneHits
from lattice.rolls import CURVES, Roll, RollFate, strand_roll
from lattice.strands import reader
from lattice.time import Timeline, timeline
from lattice.values import half_up

if TYPE_CHECKING:
    from lattice.recipe import Lane, Recipe

TICK = 1 / 960
"""Nothing is shorter than this, in beats."""
TOGETHER = 1e-9
"""Notes no further apart than this, in beats, begin together: floating point set them apart."""


@dataclass(slots=True)
class Cause:
    """What made a note: its hit and the hit's fate, or a stretch rolled, and which stroke."""

    hit: Hit | None
    fate: Fate | None
    roll: int | None = None
    """The number of the roll in the lane's list; -1 for the roll strand."""
    stroke: int = 0
    strokes: int = 1


@dataclass(slots=True)
class Note:
    """One note. start and length in beats, after swing, nudge and give or take.

    place: its exact place on the grid before those, as (ticks, ticks in a beat).
    """

    start: float
    length: float
    pitch: int
    velocity: int
    channel: int
    lane: str
    cell: int
    place: tuple[int, int]
    causes: tuple[Cause, ...]

    @property
    def grid(self) -> Fraction:
        """The exact place in beats."""
        return Fraction(*self.place)


def folded(pitch: float) -> int:
    """A pitch brought into 0..127 by octaves."""
    note = half_up(pitch)
    while note < 0:
        note += 12
    while note > 127:
        note -= 12
    return note


def may_sound(lane: Lane, channel: int, pitch: int) -> bool:
    """Whether a lane can have a note on this channel and pitch."""
    return lane.channel == channel and (lane.note == pitch or wanders_in_pitch(lane))


def wanders_in_pitch(lane: Lane) -> bool:
    """Whether a lane has other pitches than its note."""
    return lane.strands.octave is not None or any(roll.pitch != (0, 0) for roll in lane.rolls)


def groups(recipe: Recipe) -> list[list[Lane]]:
    """The lanes in groups that may sound on the same channel and pitch, and so cut each other."""
    by_key: dict[tuple[int, int | None], list[Lane]] = {}
    wide = {lane.channel for lane in recipe.lanes if wanders_in_pitch(lane)}
    for lane in recipe.lanes:
        key = (lane.channel, None if lane.channel in wide else lane.note)
        by_key.setdefault(key, []).append(lane)
    return list(by_key.values())


class Voice:
    """One lane as it plays: every hit and what becomes of it, for any range of time."""

    def __init__(self, lane: Lane, recipe: Recipe, times: Timeline,
                 followed: Voice | None) -> None:
        self.lane, self.times = lane, times
        self.hits: LaneHits
        self.draws = Draws(recipe.seed, lane.seed, lane.id)
        self.hits = LaneHits(lane, recipe, times, self.draws,
                             followed.hits if followed else None)
        self.time = self.hits.time
        self.chance = Chance(lane, recipe.probability_scale, self.draws, self.hits)
        self.loudness = Loudness(lane, self.draws, self.time.path[2] if self.time.path else None)
        swing = {"follow": recipe.swing, "straight": None}.get(lane.swing) \
            if isinstance(lane.swing, str) else lane.swing
        self.swing: Swing | None = swing
        self.warp = swung(swing, times)
        self.gate, self.nudge = reader("gate", lane, self.draws), reader("nudge", lane, self.draws)
        self.roll, self.tie = reader("roll", lane, self.draws), reader("tie", lane, self.draws)
        self.octave = reader("octave", lane, self.draws)
        self.tied = lane.strands.tie is not None
        self.loose = lane.vary.time != (0, 0)
        self.roll_purposes = purposes(roll.place for roll in lane.rolls)
        self.step_rolls: dict[int, list[tuple[int, Roll]]] = {}
        for i, roll in enumerate(lane.rolls):
            if roll.step is not None:
                self.step_rolls.setdefault(roll.step, []).append((i, roll))
        self.stretches = [(i, roll) for i, roll in enumerate(lane.rolls) if roll.step is None]

    @property
    def cell_beats(self) -> float:
        """The longest cell, in beats."""
        cell = max(self.time.path[1]) if self.time.path else self.time.cell
        return cell / self.times.grain

    def _margins(self) -> tuple[float, float]:
        """How far, in beats, a note may begin after its hit's place, and before it."""
        loose = self.cell_beats * max(map(abs, self.lane.vary.time)) / 100
        if self.lane.strands.nudge:
            loose += self.cell_beats / 2
        late = loose + (2 * float(self.swing.grid) if self.swing else 0)
        if self.step_rolls or self.lane.strands.roll:
            late += self.cell_beats
        return late, loose

    def sounds(self, start: float, end: float) -> list[tuple[Hit | None, Fate | None, list[Note]]]:
        """Hits whose notes may begin in [start, end) beats: each hit, its fate, and the notes that
        it has or would have had."""
        late, early = self._margins()
        begin, stop = self.times.around(start - late, end + early)
        hits = self.hits.between(begin, stop)
        found: list[tuple[Hit | None, Fate | None, list[Note]]] = []
        covered = list(self._stretched(begin, stop, found)) if self.stretches else []
        chance, notes = self.chance, self._notes
        for index, hit in enumerate(hits):
            fate = chance.fate(hit)
            if covered and any(a <= hit.start < b for a, b in covered):
                fate.sounds, fate.covered = False, True
            following = hits[index + 1] if index + 1 < len(hits) else None
            found.append((hit, fate, notes(hit, fate, following)))
        return found

    def rolled_stretches(self, begin: int, stop: int) -> Iterator[
            tuple[int, Roll, int, int, int, RollFate]]:
        """The stretches that may roll in [begin, stop): (number, roll, pass, start, end, fate)."""
        frame, shift = self.times.frame, self.time.shift
        for number, roll in self.stretches:
            assert roll.start is not None and roll.beats is not None
            offset = self.times.ticks(roll.start)
            length = min(self.times.ticks(roll.beats), frame - offset)
            if length <= 0:
                continue
            first = max(0, (begin - offset - shift - length) // frame)
            for k in range(first, -(-(stop - offset - shift) // frame)):
                at = k * frame + offset + shift
                if at >= 0:
                    fate = roll.fate(self.roll_purposes[number], k, self.draws, k)
                    yield number, roll, k, at, at + length, fate

    def _stretched(self, begin: int, stop: int, found: list[
            tuple[Hit | None, Fate | None, list[Note]]]) -> Iterator[tuple[int, int]]:
        """Play the stretches of beats that roll; yields the ticks that each covers."""
        for number, roll, k, at, end, fate in self.rolled_stretches(begin, stop):
            if not fate.comes_off:
                continue
            hit = next(iter(self.hits.between(at, end)), None)
            velocity = self.loudness.of_hit(hit) if hit else float(self.lane.velocity)
            gate = self.gate(hit) if hit else self.lane.gate
            pitch = self._pitch(hit) if hit else self.lane.note
            limit = (k + 1) * self.times.frame + self.time.shift
            assert roll.start is not None
            # The place in the frame, told apart from any cell's number.
            address = (k, -1 - (roll.start.numerator << 20) - roll.start.denominator)
            found.append((None, None, list(self._strokes(
                roll, number, at, end - at, velocity, gate, pitch, 0.0, limit, address, hit,
                None))))
            yield at, end

    def _pitch(self, hit: Hit) -> float:
        return self.lane.note + 12 * self.octave(hit) if self.lane.strands.octave \
            else self.lane.note

    def _notes(self, hit: Hit, fate: Fate, following: Hit | None) -> list[Note]:
        velocity = self.loudness.of_hit(hit)
        pitch = self._pitch(hit)
        limit = hit.run.limit + self.time.shift if hit.run.limit is not None else None
        grain = self.times.grain
        cell_beats = hit.length / grain
        nudge = self.nudge(hit) / 100 * cell_beats
        rolled = self._roll_of(hit)
        if rolled is not None:
            return list(self._strokes(rolled[1], rolled[0], hit.start, hit.length, velocity,
                                      self.gate(hit), pitch, nudge, limit,
                                      (hit.run.number, hit.cell), hit, fate))
        lasts = cell_beats * self.gate(hit) / 100
        if self.tied and self.tie(hit):
            following = following or self.hits.following(hit)
            if following is not None:
                lasts = (following.start - hit.start) / grain
        return [self._note(hit.start / grain, lasts, (hit.start, grain), limit, nudge, velocity,
                           pitch, (hit.run.number, hit.cell, 0), cell_beats, hit.cell,
                           Cause(hit, fate))]

    def _roll_of(self, hit: Hit) -> tuple[int, Roll] | None:
        for number, roll, fate in self.listed_rolls(hit):
            if fate.comes_off:
                return number, roll
        if self.lane.strands.roll is None:
            return None
        strokes = int(self.roll(hit))
        return (-1, strand_roll(strokes)) if strokes > 1 else None

    def listed_rolls(self, hit: Hit) -> Iterator[tuple[int, Roll, RollFate]]:
        """The rolls in the lane's list for this hit's step, and what becomes of each; the first
        that comes off is the one that sounds."""
        passing = hit.start // self.times.frame
        for number, roll in self.step_rolls.get(hit.step, ()):
            yield number, roll, roll.fate(self.roll_purposes[number], passing, self.draws,
                                          hit.run.number, hit.cell)

    def _strokes(self, roll: Roll, number: int, start: int, length: int, velocity: float,
                 gate: float, pitch: float, nudge: float, limit: int | None,
                 address: tuple[int, int], hit: Hit | None, fate: Fate | None) -> Iterator[Note]:
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
            yield self._note(begins[i], lasts, place, limit, nudge, velocity * roll.loudness(i),
                             pitch + roll.interval(i), (*address, i), cell_beats,
                             hit.cell if hit else 0, Cause(hit, fate, number, i, count))

    def _note(self, at: float, lasts: float, place: tuple[int, int], limit: int | None,
              nudge: float, velocity: float, pitch: float, address: tuple[int, int, int],
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
        return Note(begins if begins > 0 else 0.0, length if length > TICK else TICK,
                    pitch if type(pitch) is int and 0 <= pitch < 128 else folded(pitch),
                    self.loudness.of_stroke(velocity, *address), self.lane.channel, self.lane.id,
                    cell, place, (cause,))


class Performance:
    """A recipe, ready to be played over any range.

    `before` is the performance of a recipe that this one was made from: lanes that are still the
    very same objects, in a pattern that is otherwise the same, go on with the voices they had.
    """

    def __init__(self, recipe: Recipe, before: Performance | None = None) -> None:
        self.recipe = recipe
        self.times = timeline(recipe)
        self.order = {lane.id: index for index, lane in enumerate(recipe.lanes)}
        self._voices: dict[str, Voice] = {}
        bare: dict[str, object] = {"lanes": ()}
        if before and before.times == self.times and \
                before.recipe.model_copy(update=bare) == recipe.model_copy(update=bare):
            for lane in recipe.playing_order():
                voice = before._voices.get(lane.id)
                if voice and voice.lane is lane and (
                        lane.follows is None or lane.follows in self._voices):
                    self._voices[lane.id] = voice

    def voice(self, lane_id: str) -> Voice:
        """One lane as it plays; made when it is first asked for."""
        voice = self._voices.get(lane_id)
        if voice is None:
            lane = self.recipe.lane(lane_id)
            followed = self.voice(lane.follows) if lane.follows else None
            voice = self._voices[lane_id] = Voice(lane, self.recipe, self.times, followed)
        return voice

    def audible(self, lane: Lane) -> bool:
        """Whether a lane is heard: not muted, and solo if any lane is."""
        if any(each.solo for each in self.recipe.lanes) and not lane.solo:
            return False
        return not lane.mute

    def notes(self, start: float, end: float) -> list[Note]:
        """The notes that begin in [start, end) beats, as they sound."""
        return self.merged(self.recipe.lanes, self._begun(self.recipe.lanes, start, end), end)

    def _begun(self, lanes: Iterable[Lane], start: float, end: float) -> list[Note]:
        """What lanes begin in [start, end), each by itself."""
        return [note for lane in lanes if self.audible(lane)
                for _, fate, notes in self.voice(lane.id).sounds(start, end)
                if fate is None or fate.sounds
                for note in notes if start <= note.start < end]

    def merged(self, lanes: Sequence[Lane], notes: list[Note], end: float) -> list[Note]:
        """The last step: one note at a time on each channel and pitch. `notes` are what these
        lanes begin before `end`; what begins later may still cut them."""
        later = self._cutting(lanes, notes, end)
        order = self.order
        everything = sorted(notes + later,
                            key=lambda note: (note.start, order[note.lane], note.pitch))
        return [note for note in one_at_a_time(everything) if note.start < end]


    def _cutting(self, lanes: Sequence[Lane], notes: list[Note], end: float) -> list[Note]:
        """What begins from `end` on and may cut notes that ring on past it: the first on each
        channel and pitch, looked for further and further ahead."""
        ringing: dict[tuple[int, int], float] = {}
        for note in notes:
            if note.start + note.length > end:
                key = (note.channel, note.pitch)
                ringing[key] = max(ringing.get(key, end), note.start + note.length)
        found: list[Note] = []
        begin, width = end, self.times.bar / self.times.grain
        while ringing and begin < (last := max(ringing.values())):
            stop = min(begin + width, last)
            near = [lane for lane in lanes if any(may_sound(lane, *key) for key in ringing)]
            cuts = [note for note in self._begun(near, begin, stop)
                    if (note.channel, note.pitch) in ringing]
            found += cuts
            for note in cuts:
                ringing.pop((note.channel, note.pitch), None)
            ringing = {key: until for key, until in ringing.items() if until > stop}
            begin, width = stop, 2 * width
        return found


def one_at_a_time(notes: Iterable[Note]) -> list[Note]:
    """On each channel and pitch, cut a note where the next begins; two that begin together become
    one, with the higher velocity, the greater length and both reasons. Notes come in order."""
    sounding: dict[tuple[int, int], Note] = {}
    result: list[Note] = []
    for note in notes:
        key = (note.channel, note.pitch)
        before = sounding.get(key)
        if before is not None and note.start - before.start < TOGETHER:
            before.velocity = max(before.velocity, note.velocity)
            before.length = max(before.length, note.length)
            before.causes += note.causes
            continue
        if before is not None and before.start + before.length > note.start:
            before.length = max(note.start - before.start, TICK)
        sounding[key] = note
        result.append(note)
    return result


def play(recipe: Recipe, start: float, end: float) -> list[Note]:
    """The notes of a recipe that begin in [start, end) beats, sorted by time, lane and pitch."""
    return Performance(recipe).notes(start, end)

