"""A look at a pattern: its sentences, its lanes as drawn, and its notes as heard.

Lanes that cannot sound on the same channel and pitch are worked out in groups of their own, and a
group's result is kept at hand: while one word is dragged, the other lanes need no work. The memory
changes no answer; the core stays a pure function.
"""

from collections.abc import Hashable
from dataclasses import dataclass
from typing import Any

from lattice import (
    Lane,
    LaneKind,
    OfferedChord,
    OfferedProgression,
    Performance,
    Picture,
    Recipe,
    Sentence,
    ShownChord,
    ShownPool,
    ShownScale,
    ShownSound,
    ShownSpell,
    ShownStrand,
    Slot,
    controller_name,
    first_chord,
    lane_frames,
    lane_sentence,
    lanes_in_groups,
    meeting,
    note_name,
    offered_chords,
    offered_progressions,
    pattern_sentence,
    pictures,
    shown_chords,
    shown_pool,
    shown_scale,
    shown_sound,
    shown_spells,
    shown_strands,
    tempo_word,
    to_json,
)

from studio.limits import fitting_end
from studio.worked_out.memory import Memory
from studio.worked_out.written import Divided


@dataclass
class DrawnLane(Picture):
    """A lane as drawn and heard. One with the same `stamp` as another is the same in everything."""

    stamp: str


@dataclass(slots=True)
class ShownProgression:
    """The chords as they are written, by names or not, and how many beats each lasts; the root of
    the key that they stand in."""

    words: list[str]
    beats: list[str]
    named: bool
    root: int


@dataclass(slots=True)
class ShownLane:
    """A lane of the lattice. scale: of a pitched lane; walks: whether it has an arpeggio; bounds:
    of a controller, number: its number in a name."""

    id: str
    name: str
    kind: LaneKind
    note: int
    note_name: str
    channel: int
    steps: int
    scale: ShownScale | None
    sound: ShownSound
    walks: bool
    controller: str | None
    number: int | str | None
    bounds: tuple[int, int] | None
    move: str | None
    mute: bool
    solo: bool
    audible: bool
    drawn: DrawnLane


@dataclass(slots=True)
class ShownMeeting:
    """The meeting point; bars is null beyond 9,999 frames."""

    words: str
    bars: int | None


@dataclass(slots=True)
class Chosen:
    """What is shown of the chosen lane only; `pins` says how many steps a hand has set, `arpeggio`
    is its document, to be saved and called up; `chord`: the degrees of the first chord, where a
    step sounds every tone of the chord; `pool`: what it walks over."""

    lane: str
    steps: int
    sentence: Sentence
    strands: list[ShownStrand]
    pins: int
    arpeggio: dict[str, Any] | None
    chord: tuple[int, ...]
    pool: ShownPool | None


@dataclass(slots=True)
class View:
    """A pattern over a range of beats; `shortened` if that is less than was asked for."""

    tempo: float
    tempo_word: Slot
    meter: tuple[int, int]
    bars: int
    seed: int
    bar_beats: float
    frame_beats: float
    sentence: Sentence
    start: float
    end: float
    shortened: bool
    meeting: ShownMeeting
    progression: ShownProgression | None
    chords: list[ShownChord]
    chords_offered: tuple[OfferedChord, ...]
    progressions_offered: tuple[OfferedProgression, ...]
    spells: list[ShownSpell]
    lanes: list[ShownLane]
    chosen: Chosen | None


@dataclass(frozen=True, slots=True)
class _Group:
    """The lanes of a group as they are sent; `lanes` keeps alive what the key names by identity."""

    lanes: tuple[Lane, ...]
    shown: dict[str, ShownLane]
    frames: dict[str, int | None]


_kept: Memory[Hashable, _Group] = Memory(96 * 2**20)
"""By weight in bytes."""
_words: Memory[Hashable, Sentence] = Memory(256)
"""Of the pattern, by all that it tells of."""


def look(recipe: Recipe, start: float, end: float, chosen: str | None) -> View:
    """Everything that a page shows of a recipe over [start, end) beats; `chosen` is the lane whose
    sentence is wanted, the first where it is not there. What would be too much is shown for fewer
    bars, and says so. Drawn lanes are written already, for orjson."""
    wanted, end = end, fitting_end(recipe, start, end)
    performance, setting = Performance(recipe), recipe.setting
    told_of = (setting, tuple((lane.id, lane.name) for lane in recipe.lanes if recipe.gusts))
    found = [_write(performance, group, setting, start, end) for group in lanes_in_groups(recipe)]
    frames = {lane_id: count for group in found for lane_id, count in group.frames.items()}
    shown = {lane_id: lane for group in found for lane_id, lane in group.shown.items()}
    met = meeting(recipe, frames)
    return View(
        tempo=recipe.tempo, tempo_word=tempo_word(recipe), meter=recipe.meter,
        bars=recipe.bars, seed=recipe.seed,
        bar_beats=float(recipe.bar_beats), frame_beats=float(recipe.frame_beats),
        sentence=_words.get(told_of) or _words.put(told_of, pattern_sentence(recipe)),
        start=start, end=end, shortened=end < wanted,
        meeting=ShownMeeting(met.words(), met.bars),
        progression=_progression(recipe),
        chords=shown_chords(performance, start, end),
        chords_offered=offered_chords(recipe.key, named=recipe.chords.named)
        if recipe.chords else (),
        progressions_offered=offered_progressions(recipe.key) if recipe.chords else (),
        spells=shown_spells(recipe, start, end),
        lanes=[shown[lane.id] for lane in recipe.lanes],
        chosen=_chosen(performance, chosen))


def _progression(recipe: Recipe) -> ShownProgression | None:
    chords = recipe.chords
    if not chords:
        return None
    return ShownProgression(chords.words, list(map(str, chords.lengths(recipe.bar_beats))),
                            chords.named, recipe.key.root)


def _shown(lane: Lane, recipe: Recipe, audible: bool, body: Any) -> ShownLane:
    control = lane.control if lane.kind == "control" else None
    return ShownLane(
        lane.id, lane.name, lane.kind, lane.note, note_name(lane.note), lane.channel,
        lane.steps,
        shown_scale(lane.key or recipe.key) if lane.pitched else None,
        shown_sound(lane),
        lane.walks is not None,
        controller_name(control.number) if control else None,
        control.number if control else None, control.bounds if control else None,
        control.move if control else None, lane.mute, lane.solo, audible, body)


def _chosen(performance: Performance, wanted: str | None) -> Chosen | None:
    recipe = performance.recipe
    first = recipe.lanes[0] if recipe.lanes else None
    lane = next((lane for lane in recipe.lanes if lane.id == wanted), first)
    if lane is None:
        return None
    arpeggio = to_json(lane.arpeggio) if lane.arpeggio else None
    return Chosen(lane.id, lane.steps, lane_sentence(lane, recipe),
                  shown_strands(lane, lane.kinds()), len(lane.pins), arpeggio,
                  first_chord(performance, lane.id), shown_pool(performance, lane.id))


def _leaders(lanes: list[Lane], recipe: Recipe) -> tuple[Hashable, ...]:
    """What the lanes see of all that they follow, directly or not: where hits lie, or all of it."""
    return tuple(id(leader) if lane.sets_by_velocity else (leader.grid, leader.paths)
                 for lane in lanes for leader in recipe.leaders(lane))


def _write(performance: Performance, lanes: list[Lane], setting: Hashable, start: float,
           end: float) -> _Group:
    recipe = performance.recipe
    key = (tuple(id(lane) for lane in lanes), tuple(map(performance.audible, lanes)),
           tuple(performance.tuning_reach(lane.id) for lane in lanes), _leaders(lanes, recipe),
           setting, start, end)
    known = _kept.get(key)
    if known is not None:
        return known
    shown, weight = {}, 1000
    drawn = pictures(performance, lanes, start, end)
    for lane in lanes:
        # While a word is turned, its cells mostly stay what they are.
        written = Divided(drawn[lane.id], "cells", "steps", "lengths", "cycles")
        shown[lane.id] = _shown(lane, recipe, performance.audible(lane), written)
        weight += 2 * len(written.text)
    frames = {lane.id: lane_frames(performance, lane.id) for lane in lanes}
    named = [*lanes, *(leader for lane in lanes for leader in recipe.leaders(lane))]
    return _kept.put(key, _Group(tuple(named), shown, frames), weight)
