"""All lanes together: a recipe and a range of time become notes.

Preview, playing, the Trail, Keep, export and the command line all come through here. Nothing is
remembered between calls: any range can be asked for by itself.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator, Sequence

from lattice.pitch.progression import Progression
from lattice.pitch.reading import Harmony
from lattice.play.controlling import ControlVoice
from lattice.play.events import Change, Note, one_at_a_time
from lattice.play.voice import NoteVoice, Setting, Voice
from lattice.play.walking import WalkingVoice
from lattice.recipe import Lane, Recipe
from lattice.time.grain import timeline


def may_sound(lane: Lane, channel: int, pitch: int) -> bool:
    """Whether a lane can have a note on this channel and pitch."""
    return lane.kind != "control" and lane.channel == channel and (
        lane.note == pitch or lane.strays())


def groups(recipe: Recipe) -> list[list[Lane]]:
    """The lanes in groups that may sound on the same channel and pitch, and so cut each other; a
    lane without notes is by itself."""
    by_key: dict[Hashable, list[Lane]] = {}
    sounding = [lane for lane in recipe.lanes if lane.kind != "control"]
    wide = {lane.channel for lane in sounding if lane.strays()}
    for lane in recipe.lanes:
        key: Hashable = (lane.channel, None if lane.channel in wide else lane.note)
        by_key.setdefault(lane.id if lane.kind == "control" else key, []).append(lane)
    return list(by_key.values())


class Performance:
    """A recipe, ready to be played over any range.

    `before` is the performance of a recipe that this one was made from: lanes that are still the
    very same objects, in a pattern that is otherwise the same, go on with the voices they had.
    """

    def __init__(self, recipe: Recipe, before: Performance | None = None) -> None:
        self.recipe = recipe
        chords, bar = recipe.chords, recipe.bar_beats
        self.times = timeline(recipe, recipe.lanes, chords.lengths(bar) if chords else ())
        self.progression = Progression(chords, recipe.key.root, bar, self.times.grain) \
            if chords else None
        self.order = {lane.id: index for index, lane in enumerate(recipe.lanes)}
        self._voices: dict[str, Voice] = {}
        if before and before.times == self.times and before.recipe.setting == recipe.setting:
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
            voice = self._voices[lane_id] = self._made(lane, followed)
        return voice

    def _made(self, lane: Lane, followed: Voice | None) -> Voice:
        harmony = Harmony(lane.key or self.recipe.key, self.progression)
        setting = Setting(self.recipe, self.times, harmony)
        if lane.kind == "control":
            return ControlVoice(lane, setting, followed)
        if lane.arpeggio is not None:
            return WalkingVoice(lane, lane.arpeggio, setting, followed)
        return NoteVoice(lane, setting, followed)

    def audible(self, lane: Lane) -> bool:
        """Whether a lane is heard: not muted, and solo if any lane is."""
        if any(each.solo for each in self.recipe.lanes) and not lane.solo:
            return False
        return not lane.mute

    def notes(self, start: float, end: float) -> list[Note]:
        """The notes that begin in [start, end) beats, as they sound."""
        return self.merged(self.recipe.lanes, self._begun(self.recipe.lanes, start, end), end)

    def changes(self, start: float, end: float) -> list[Change]:
        """The controllers set in [start, end) beats, in the order of time and lanes."""
        found = [change for voice in self._controls() for change in voice.changes(start, end)]
        return sorted(found, key=lambda change: (change.time, self.order[change.lane]))

    def in_force(self, at: float) -> list[Change]:
        """What controllers are set to just before a time, lane by lane."""
        return [Change(at, voice.control.number, value, voice.lane.channel, voice.lane.id)
                for voice in self._controls() if (value := voice.in_force(at)) is not None]

    def _controls(self) -> Iterator[ControlVoice]:
        for lane in self.recipe.lanes:
            if lane.kind == "control" and self.audible(lane):
                voice = self.voice(lane.id)
                assert isinstance(voice, ControlVoice)
                yield voice

    def _begun(self, lanes: Iterable[Lane], start: float, end: float) -> list[Note]:
        """What lanes begin in [start, end), each by itself."""
        return [note for lane in lanes if self.audible(lane)
                for sounding in self.voice(lane.id).soundings(start, end) if sounding.sounds
                for note in sounding.notes if start <= note.start < end]

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


def play(recipe: Recipe, start: float, end: float) -> list[Note]:
    """The notes of a recipe that begin in [start, end) beats, sorted by time, lane and pitch."""
    return Performance(recipe).notes(start, end)
