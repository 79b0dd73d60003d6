"""A look at a clip: its lanes, its notes and controllers, as a page shows and sounds them."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from lattice import (
    FIRST_KIT,
    FIRST_VOICE,
    Clip,
    ClipChange,
    ClipLane,
    ClipMark,
    LaneKind,
    ShownScale,
    ShownSound,
    clip_tunings,
    note_name,
    shown_scale,
)


@dataclass(slots=True)
class ClipRow:
    """A lane of a clip. drums: the names of its notes, by their numbers, of a drum lane. sounds:
    what it is heard by at notes that were heard otherwise."""

    id: str
    name: str
    kind: LaneKind
    channel: int
    sound: ShownSound
    drums: dict[str, str]
    sounds: list[tuple[float, ShownSound]]


@dataclass(slots=True)
class ShownSection:
    """A stretch of a clip in one metre, in beats; bar: the number of its first one, from 1."""

    start: float
    end: float
    bar: int
    meter: tuple[int, int]
    bar_beats: float


@dataclass(slots=True)
class ClipView:
    """A clip. notes: [start, length, pitch, velocity, lane's place], in the order of time, each
    known by its place; its last number is the semitones by which a drum is tuned. changes: [time,
    controller, value, lane's place]; tunings: those that tell a port how drums are tuned; in beats.
    marks: markers,
    and other tempos and metres than it begins with. sections: its stretches in one metre each;
    bars: how many it lasts."""

    name: str
    tempo: float
    meter: tuple[int, int]
    bar_beats: float
    beats: float
    bars: float
    sections: list[ShownSection]
    scale: ShownScale
    lanes: list[ClipRow]
    notes: list[tuple[float, float, int, int, int, float]]
    changes: list[tuple[float, int | str, int, int]]
    tunings: list[tuple[float, int | str, int, int]]
    marks: list[ClipMark]


def look_at_clip(clip: Clip) -> ClipView:
    """Everything that a page shows of a clip."""
    places = {lane.id: place for place, lane in enumerate(clip.lanes)}
    pitches: dict[str, set[int]] = {lane.id: set() for lane in clip.lanes}
    for note in clip.notes:
        pitches[note.lane].add(note.pitch)

    rows = {lane.id: ClipRow(
        lane.id, lane.name, lane.kind, clip.channel_of(lane.id), _sound(lane),
        {str(pitch): note_name(pitch) for pitch in sorted(pitches[lane.id])}
        if lane.kind == "drum" else {}, []) for lane in clip.lanes}
    for note in clip.notes:
        if note.sound:
            row = rows[note.lane]
            row.sounds.append((note.start, replace(row.sound, set=row.sound.set | note.sound)))

    def shown(changes: Iterable[ClipChange]) -> list[tuple[float, int | str, int, int]]:
        return [(change.time, change.number, change.value, places[change.lane])
                for change in changes]

    return ClipView(
        clip.name, clip.tempo, clip.meter, float(clip.bar), float(clip.beats),
        float(clip.bars_long),
        [ShownSection(float(each.start), float(each.end), each.bar, each.meter,
                      float(each.bar_beats)) for each in clip.sections], shown_scale(clip.key),
        list(rows.values()),
        [(note.start, note.length, note.pitch, note.velocity, places[note.lane], note.tune)
         for note in clip.notes],
        shown(clip.changes), shown(clip_tunings(clip)), list(clip.marks))


def _sound(lane: ClipLane) -> ShownSound:
    sound = lane.sound or (FIRST_VOICE if lane.kind == "pitched" else FIRST_KIT)
    return ShownSound(sound.by, sound.middles, lane.own_sound, lane.choked_by)
