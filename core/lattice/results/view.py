"""What the lattice shows and the ear hears over a range of time, lane by lane."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import groupby
from math import ceil, floor

from lattice.base.controllers import Number, controller_name, value_bounds
from lattice.base.words import listed, ordinal, written
from lattice.control.line import corners
from lattice.features.gusts import PatternGust
from lattice.features.own_sound import OwnSound
from lattice.features.tuning import tuned_by
from lattice.pitch.fields import PitchFields
from lattice.pitch.names import chord_name
from lattice.play import ControlVoice, Note, NoteVoice, Performance, Voice, WalkingVoice
from lattice.play.events import TOGETHER
from lattice.recipe import Lane, Recipe
from lattice.sentence import lane_summary

MOST_CHORDS_SHOWN = 512


@dataclass(frozen=True, slots=True)
class ShownChord:
    """A chord over beats [start, end): its place in the progression from 0, how it is written, its
    name, how many beats it lasts each time round, and its pitch classes from the bass up."""

    number: int
    word: str
    name: str
    start: float
    end: float
    beats: str
    classes: tuple[int, ...]


def first_chord(performance: Performance, lane_id: str) -> tuple[int, ...]:
    """The chord at time 0 as degrees of a lane, if one of its steps sounds every tone of it: where
    such a step is drawn."""
    lane = performance.recipe.lane(lane_id)
    if not (isinstance(lane, PitchFields) and lane.whole_chords):
        return ()
    voice = performance.voice(lane_id)
    return voice.pitches.chord_at(0) if isinstance(voice, NoteVoice) else ()


def shown_chords(performance: Performance, start: float, end: float) -> list[ShownChord]:
    """The chords that sound in [start, end) beats; none without a progression."""
    progression, recipe = performance.progression, performance.recipe
    if progression is None or recipe.chords is None:
        return []
    lengths = recipe.chords.lengths(recipe.bar_beats)
    words, grain = recipe.chords.words, performance.times.grain
    found: list[ShownChord] = []
    at = performance.times.ticks(Fraction(start))
    while at < end * grain and len(found) < MOST_CHORDS_SHOWN:
        force = progression.at(at)
        chord, length = force.chord, lengths[force.number]
        after = force.since + performance.times.ticks(length)
        found.append(ShownChord(
            force.number, words[force.number], chord_name(chord, recipe.key), force.since / grain,
            after / grain, str(length), tuple((chord.bass + each) % 12 for each in chord.classes)))
        at = after
    return found


@dataclass(frozen=True, slots=True)
class ShownPool:
    """What a lane walks over at first, in the row over which the places of an order count, from the
    lowest up; and what sounds for each."""

    row: tuple[int, ...]
    heard: tuple[int, ...]


def shown_pool(performance: Performance, lane_id: str) -> ShownPool | None:
    """What a lane walks over, if it walks."""
    if performance.recipe.lane(lane_id).walks is None:
        return None
    voice = performance.calm_at(0).voice(lane_id)
    assert isinstance(voice, WalkingVoice)
    row = tuple(note.pitch for note in voice.walk.pools.at(0).by_pitch)
    return ShownPool(row, tuple(map(voice.exchanged, row)))


@dataclass(frozen=True, slots=True)
class ShownGust:
    """How far away a gust blows, its throw, and over which lanes (null: all)."""

    away: float
    throw: int
    lanes: tuple[str, ...] | None


@dataclass(frozen=True, slots=True)
class ShownSpell:
    """Beats [start, end) in which something else plays by itself, a gust or a fill: what it is
    called on the ruler, and what it is, in words."""

    start: float
    end: float
    name: str
    words: str
    gust: ShownGust | None = None


def shown_spells(recipe: Recipe, start: float, end: float) -> list[ShownSpell]:
    """The gusts that blow and the fills that play in [start, end) beats, each over all of it."""
    frame = float(recipe.frame_beats)
    passes = range(floor(start / frame + TOGETHER), ceil(end / frame - TOGETHER)) \
        if recipe.gusts else ()
    return [ShownSpell(passing * frame, (passing + 1) * frame, "gust", _gust_words(gust, recipe),
                       ShownGust(gust.away, gust.thrown(passing), gust.lanes))
            for passing in passes for gust in recipe.gusts if gust.comes_in(passing)
            ] + _shown_fills(recipe, start, end)


def _shown_fills(recipe: Recipe, start: float, end: float) -> list[ShownSpell]:
    """The fills that begin or play in a range, each from its first bar in it to its last."""
    bar, found = float(recipe.bar_beats), list[ShownSpell]()
    bars = range(floor(start / bar + TOGETHER), ceil(end / bar - TOGETHER)) if recipe.fills else ()
    for fill, group in groupby(bars, recipe.fill_in):
        own = list(group)
        if fill is not None:
            words = f"A fill, “{fill.name}”, every {ordinal(fill.every)} pass"
            found.append(ShownSpell(own[0] * bar, (own[-1] + 1) * bar, fill.name, words))
    return found


def _gust_words(gust: PatternGust, recipe: Recipe) -> str:
    over = [lane.name for lane in recipe.lanes if gust.lanes and lane.id in gust.lanes]
    return f"A gust blows {written(gust.away)} away in this pass" + (
        f", over {listed(over)}" if over else "")


@dataclass(frozen=True, slots=True)
class ShownSound:
    """What a lane is heard by, and where its controls stand, in percent; own: the recording that it
    has instead; choked_by: the lane that cuts it short."""

    by: str
    set: dict[str, float]
    own: OwnSound | None
    choked_by: str | None


def shown_sound(lane: Lane) -> ShownSound:
    """What a lane is heard by as it stands."""
    return ShownSound(lane.heard_by.by, lane.heard_by.middles, lane.recording, lane.choked_by)


Stroke = tuple[float, float, int, int]
"""[start, length, velocity, pitch]"""


@dataclass(slots=True)
class ShownLine:
    """What a controller is set to over time: its number and name, its bounds, and the [time, value]
    corners of its line."""

    number: int | str
    name: str
    low: int
    high: int
    corners: list[tuple[float, float]]


@dataclass(slots=True)
class Picture:
    """A lane over a range of time: its cells and hits as drawn, and its notes as heard; in beats.

    cells, steps: where each cell begins and the step it plays, from the cell that the range begins
    in. lengths: one number, or one a cell in a rate path. cycles: where a cycle begins. hits:
    [cell's start, chance in percent, whether it sounds in this pass, strokes], of a controller
    one stroke whose pitch is the value. notes: [start,
    length, pitch, velocity, semitones by which a drum is tuned], merged and cut. lines: of each
    controller that it sets; changes: each [time, controller, value] that is set; tunings: those
    that tell a port how each stroke is tuned. pins: the steps that a hand has set.
    sounds: where words of its sound move or are drawn for each hit, what it is heard by from each
    time on; its own sound before the first of them.
    period: cells in one cycle. summary: the lane in a few words.
    """

    cells: list[float]
    steps: list[int]
    lengths: float | list[float]
    cycles: list[float]
    hits: list[tuple[float, float, bool, list[Stroke]]]
    notes: list[tuple[float, float, int, int, float]]
    lines: list[ShownLine]
    changes: list[tuple[float, int | str, int]]
    tunings: list[tuple[float, int | str, int]]
    pins: list[int]
    sounds: list[tuple[float, ShownSound]]
    period: int
    summary: str


def pictures(performance: Performance, lanes: list[Lane], start: float, end: float) -> dict[
        str, Picture]:
    """The picture over [start, end) beats of each lane of a group, by its id."""
    drawn: dict[str, Picture] = {}
    heard: list[Note] = []
    for lane in lanes:
        audible, picture = performance.audible(lane), None
        for voice, begin, stop in performance.playing(lane.id, start, end):
            if picture is None:
                calm = performance.calm_at(begin).voice(lane.id)
                hits = None if calm.hits.followed else calm.hits.count
                words = lane_summary(calm.lane, performance.recipe, hits)
                picture = drawn[lane.id] = _cells(voice, words, begin, stop)
            else:
                _continued(picture, _cells(voice, picture.summary, begin, stop), begin)
            if lane.paths:
                _heard_by(picture, lane, voice.lane, begin)
            if isinstance(voice, ControlVoice):
                _set_by_hits(voice, picture, begin, stop)
            for line in voice.lines:
                drawn_line = _line(picture, line.control.number)
                drawn_line.corners += corners(line.control, line.knots(begin, stop), begin, stop)
            for sounding in voice.soundings(begin, stop):
                fate, main, sounds = sounding.fate, sounding.main, sounding.sounds
                if begin <= main.start < stop:
                    place = sounding.hit.start / voice.times.grain if sounding.hit else main.start
                    picture.hits.append((place, fate.probability if fate else 100, sounds, [
                        (note.start, note.length, note.velocity, note.pitch)
                        for note in sounding.notes]))
                if audible and sounds:
                    heard += [note for note in sounding.notes if begin <= note.start < stop]
        if picture and audible and picture.lines:
            picture.changes = [(change.time, change.number, change.value)
                               for change in performance.changes_of(lane.id, start, end)
                               if not change.tuning]
    reaches = {lane.id: performance.tuning_reach(lane.id) for lane in lanes}
    for note in performance.merged(lanes, heard, end):
        shown = drawn[note.lane]
        shown.notes.append((note.start, note.length, note.pitch, note.velocity, note.tune))
        if note.sound:
            shown.sounds.append((note.start, replace(
                shown_sound(performance.recipe.lane(note.lane)), set=note.sound)))
        if reach := reaches[note.lane]:
            shown.tunings += ((note.start, *each) for each in tuned_by(note.tune, reach))
    return drawn


def _continued(picture: Picture, more: Picture, at: float) -> None:
    """Draw on with the cells that begin from `at` on: other values are in force there."""
    first = next((i for i, cell in enumerate(more.cells) if cell >= at - TOGETHER), len(more.cells))
    if picture.lengths != more.lengths or isinstance(picture.lengths, list):
        picture.lengths = [*_each(picture), *_each(more)[first:]]
    picture.cells += more.cells[first:]
    picture.steps += more.steps[first:]
    picture.cycles += [cycle for cycle in more.cycles if cycle >= at - TOGETHER]


def _heard_by(picture: Picture, lane: Lane, moved: Lane, at: float) -> None:
    """Note what a lane is heard by from `at` on, as its words have moved it, where that is another
    sound than before."""
    before = picture.sounds[-1][1] if picture.sounds else shown_sound(lane)
    sound = shown_sound(moved)
    if sound != before:
        picture.sounds.append((at, sound))


def _each(picture: Picture) -> list[float]:
    """The length of each cell."""
    return picture.lengths if isinstance(picture.lengths, list) \
        else [picture.lengths] * len(picture.cells)


def _line(picture: Picture, number: Number) -> ShownLine:
    """The line of a controller in a picture, from its first part on."""
    found = next((line for line in picture.lines if line.number == number), None)
    if found is None:
        found = ShownLine(number, controller_name(number), *value_bounds(number), [])
        picture.lines.append(found)
    return found


def _set_by_hits(voice: ControlVoice, picture: Picture, start: float, end: float) -> None:
    """Draw a mark for each hit that sets a controller."""
    grain = voice.times.grain
    for hit, fate, knot in voice.hits_between(start, end):
        if start <= knot.time < end:
            picture.hits.append((hit.start / grain, fate.probability, fate.sounds,
                                 [(knot.time, 0.0, 0, knot.value)]))


def _cells(voice: Voice, words: str, start: float, end: float) -> Picture:
    """The cells of a picture, with neither hits nor notes yet."""
    time, grain = voice.time, voice.times.grain
    begin, stop = voice.times.ticks(Fraction(start)), voice.times.ticks(Fraction(end))
    longest = time.longest
    places: list[float] = []
    steps: list[int] = []
    lengths: list[float] = []
    cycles: list[float] = []
    for run in time.runs(begin - longest + 1 - time.shift, stop - time.shift):
        first, after = time.span(run, begin - longest + 1 - time.shift, stop - time.shift)
        if first >= after:
            continue
        starts = [time.start(run, cell) + time.shift for cell in range(first, after)]
        places += [at / grain for at in starts]
        steps += time.steps(run, after)[first - run.begin :] if not time.round else \
            [time.step(run, cell) for cell in range(first, after)]
        if time.path:
            lengths += [time.length(cell) / grain for cell in range(first, after)]
        period = time.period
        cycles += [at / grain for at, cell in zip(starts, range(first, after), strict=True)
                   if (cell % period == 0 if time.round else cell == run.begin)]
    return Picture(places, steps, lengths or longest / grain, cycles, [], [], [], [], [],
                   sorted(voice.lane.pins), [], time.period, words)
