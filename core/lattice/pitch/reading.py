"""How degrees become pitches: in the key, over the chord, from its root, or bent toward it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from lattice.base.draws import Draws
from lattice.base.values import half_up, limits
from lattice.hits.found import Hit, LaneHits
from lattice.pitch.chords import Chord
from lattice.pitch.fields import PitchFields
from lattice.pitch.key import Key
from lattice.pitch.progression import InForce, Progression
from lattice.pitch.voicing import VOICINGS, Notes, distinct
from lattice.strands.kinds import DEGREE, OCTAVE, Degree, Together
from lattice.strands.reading import reader, step_reader


@dataclass(frozen=True, slots=True)
class Harmony:
    """What a lane's degrees are read against: its key, and the pattern's progression if it has
    one."""

    key: Key
    progression: Progression | None

    @property
    def own_chord(self) -> Chord:
        """The chord where there is no progression: the key's own."""
        return Chord("", "", self.key.root, self.key.root, self.key.triad)

    def at(self, tick: int) -> InForce | None:
        """The entry of the progression in force at a place; None without one."""
        return self.progression.at(tick) if self.progression else None

    def chord(self, tick: int) -> Chord:
        """The chord that sounds at a place."""
        return self.progression.at(tick).chord if self.progression else self.own_chord


def _in_key(lane: PitchFields, key: Key, chord: Chord, degree: int) -> int:
    return lane.base(key.root) + key.above_root(degree)


def _in_chord(lane: PitchFields, key: Key, chord: Chord, degree: int) -> int:
    classes = chord.classes
    octave, place = divmod(degree, len(classes))
    return lane.base(chord.bass) + 12 * octave + classes[place]


def _from_root(lane: PitchFields, key: Key, chord: Chord, degree: int) -> int:
    return key.from_note(lane.base(chord.root), degree)


def _bent(lane: PitchFields, key: Key, chord: Chord, degree: int) -> int:
    return chord.nearest(_in_key(lane, key, chord, degree))


FIFTH = 7
"""So many semitones lie between the roots of a lane that goes the near way and its first, either
way: every note has a place within, and some have two."""

READINGS: dict[str, Callable[[PitchFields, Key, Chord, int], int]] = {
    "key": _in_key, "chord": _in_chord, "chord-root": _from_root, "bend": _bent}
READING_WORDS = {
    "key": ("of the key", "the same whatever the chord"),
    "chord": ("of the chord", "counted through its tones, from the bass"),
    "chord-root": ("from the chord's root", "counted in the key"),
    "bend": ("bent to the chord", "in the key, then to the nearest chord tone"),
}


class Pitches:
    """The pitches of a lane's hits. Strokes of a roll keep the chord of their hit."""

    def __init__(self, lane: PitchFields, harmony: Harmony, draws: Draws, hits: LaneHits) -> None:
        self.lane, self.harmony, self.hits = lane, harmony, hits
        self.degree = step_reader(DEGREE, lane, draws)
        self.octave = reader(OCTAVE, lane, draws) if lane.strands.of(OCTAVE) else None
        self._reading = READINGS[lane.reads]
        progression = harmony.progression
        self._near = _near(lane, progression) \
            if progression and lane.near and lane.counts_from_chord else ()
        self._voiced = VOICINGS[lane.voicing]
        self._smooth = _Smooth(self) if lane.smooth else None

    def of(self, hit: Hit, interval: float = 0) -> tuple[float, ...]:
        """The pitches of a hit, ascending, before they are folded into 0..127. interval: what a
        roll adds, in degrees; on drums whose tuning chooses notes in semitones."""
        if not self.lane.pitched:
            return (self.lane.note + self.octaves(hit) + interval,)
        degree = self.degree(hit)
        chord = self.harmony.chord(hit.start)
        moved = self.lane.transpose.degrees + (half_up(interval) if interval else 0)
        if isinstance(degree, Together):
            notes = self.read_together(degree, chord, moved)
            if self._smooth is not None:
                notes = self._voiced(notes, self._smooth.before(hit))
            else:
                notes = self._voiced(notes, None)
        else:
            notes = (self._read(hit.start, chord, int(degree) + moved),)
        by = self.lane.transpose.semitones + self.octaves(hit)
        return tuple(note + by for note in notes) if by else notes

    def pitch_of(self, tick: int, degree: int) -> int:
        """The pitch of one degree at a place, as the lane reads and transposes it."""
        moved = self.lane.transpose
        return self._read(tick, self.harmony.chord(tick), degree + moved.degrees) + moved.semitones

    def _read(self, tick: int, chord: Chord, degree: int) -> int:
        note = self._reading(self.lane, self.harmony.key, chord, degree)
        force = self.harmony.at(tick) if self._near else None
        return note + self._near[force.number] if force else note

    def degree_for(self, tick: int, pitch: int) -> int:
        """The degree whose pitch at a place is nearest to one; the lower of two equally near."""
        return self._degrees_for(tick, [pitch])[0]

    def _degrees_for(self, tick: int, pitches: Sequence[int]) -> list[int]:
        low, high = limits(Degree)
        known = [(self.pitch_of(tick, degree), abs(degree), degree)
                 for degree in range(low, high + 1)]
        return [min(known, key=lambda each: (abs(each[0] - pitch), *each))[2]
                for pitch in pitches]

    def chord_at(self, tick: int) -> tuple[int, ...]:
        """The chord that sounds at a place as degrees, ascending: for each of its tones the degree
        that the lane would sound nearest to it."""
        chord = self.harmony.chord(tick)
        bass = self.lane.base(chord.bass)
        return distinct(self._degrees_for(tick, [bass + above for above in chord.spelled]))

    def without_hit(self, tick: int, interval: float) -> tuple[float, ...]:
        """The pitch that holds at a place where the lane has no hit."""
        lane = self.lane
        if not lane.pitched:
            return (lane.note + interval,)
        return (self.pitch_of(tick, lane.degree + half_up(interval)),)

    def octaves(self, hit: Hit) -> int:
        """What the octave strand adds to a hit, in semitones."""
        return 12 * int(self.octave(hit)) if self.octave else 0

    def read_together(self, step: Together, chord: Chord, moved: int) -> Notes:
        """The close notes of a chord step, each once."""
        lane, key = self.lane, self.harmony.key
        if step.all == "chord":
            return tuple(lane.base(chord.bass) + above for above in chord.spelled)
        return distinct([self._reading(lane, key, chord, degree + moved) for degree in step.all])


def _near(lane: PitchFields, progression: Progression) -> tuple[int, ...]:
    """What brings each entry of a progression near the one before it, in semitones; of two places
    that are equally near, the lower."""
    found = [lane.base(chord.bass if lane.reads == "chord" else chord.root)
             for chord in progression.chords]
    lies = found[:1]
    for note in found[1:]:
        lies.append(min((note + 12 * octave for octave in (-1, 0, 1)
                         if abs(note + 12 * octave - found[0]) <= FIFTH),
                        key=lambda each: (abs(each - lies[-1]), each)))
    return tuple(near - note for near, note in zip(lies, found, strict=True))


class _Smooth:
    """The chord steps of a smooth lane, each moved from the one before since the progression (or,
    without one, the pass) began, or the lane."""

    def __init__(self, pitches: Pitches) -> None:
        self._pitches = pitches
        self._known: dict[int, list[tuple[int, Notes]]] = {}

    def before(self, hit: Hit) -> Notes | None:
        """The notes of the chord step before a hit; None where it is the first."""
        known = self._up_to(hit)
        return next((notes for start, notes in reversed(known) if start < hit.start), None)

    def _up_to(self, hit: Hit) -> list[tuple[int, Notes]]:
        pitches, hits = self._pitches, self._pitches.hits
        force = pitches.harmony.at(hit.start)
        frame = hits.times.frame
        begin = max(force.run if force else hit.start // frame * frame, hits.restarted(hit))
        if begin not in self._known and len(self._known) > 64:
            self._known.clear()
        known = self._known.setdefault(begin, [])
        after = known[-1][0] + 1 if known else begin
        for each in hits.between(after, hit.start):
            step = pitches.degree(each)
            if isinstance(step, Together):
                notes = pitches.read_together(step, pitches.harmony.chord(each.start),
                                              pitches.lane.transpose.degrees)
                known.append((each.start, VOICINGS["smooth"](
                    notes, known[-1][1] if known else None)))
        return known
