"""All lanes together: a recipe and a range of time become notes.

Preview, playing, the Trail, Keep, export and the command line all come through here. Nothing is
remembered between calls: any range can be asked for by itself.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator, Sequence

from lattice.base.controllers import Number
from lattice.base.lately import Lately
from lattice.features.gusts import PatternGust
from lattice.features.tuning import RANGES, SET_BY_TUNING, bend_range
from lattice.pitch.progression import Progression
from lattice.pitch.reading import Harmony
from lattice.play.controlling import ControlVoice
from lattice.play.events import TOGETHER, Change, Note, one_at_a_time
from lattice.play.lines import Line
from lattice.play.rhythm import stock_of
from lattice.play.voice import NoteVoice, Setting, Voice
from lattice.play.walking import WalkingVoice
from lattice.recipe import Lane, PatternFill, Recipe
from lattice.relatives.gust import gusted, may_blow
from lattice.relatives.stock import Stock
from lattice.sentence.by_bar import Values, by_bar
from lattice.time.grain import Timeline, timeline

MOST_BARS_KEPT = 256
"""Of a recipe whose words move, what plays in so many bars is kept at hand."""
MOST_PASSES_KEPT = 64
"""Of one over which gusts blow, what plays in so many passes."""
Thrown = tuple[tuple[str, float, int], ...]
"""Gusts over lanes: the lane's id, how far it is blown away, and the throw."""


def may_sound(lane: Lane, channel: int, pitch: int) -> bool:
    """Whether a lane can have a note on this channel and pitch."""
    return lane.kind != "control" and lane.channel == channel and (
        lane.note == pitch or lane.strays())


def lanes_in_groups(recipe: Recipe) -> list[list[Lane]]:
    """The lanes in groups that may sound on the same channel and pitch, and so cut each other; a
    lane without notes is by itself."""
    by_key: dict[Hashable, list[Lane]] = {}
    sounding = [lane for lane in recipe.lanes if lane.kind != "control"]
    wide = {lane.channel for lane in sounding if lane.strays()}
    for lane in recipe.lanes:
        key: Hashable = (lane.channel, None if lane.channel in wide else lane.note)
        by_key.setdefault(lane.id if lane.kind == "control" else key, []).append(lane)
    return list(by_key.values())


_gusted = Lately[Lane](4096)
"""Lanes as gusts have blown them."""


class Performance:
    """A recipe, ready to be played over any range.

    `before` is the performance of a recipe that this one was made from: lanes that are still the
    very same objects, in a pattern that is otherwise the same, go on with the voices they had.
    """

    def __init__(self, recipe: Recipe, before: Performance | None = None, *,
                 times: Timeline | None = None) -> None:
        self.recipe = recipe
        chords, bar = recipe.chords, recipe.bar_beats
        lanes = [*recipe.lanes, *(lane for fill in recipe.fills for lane in fill.lanes)]
        self.times = times or timeline(recipe, lanes, chords.lengths(bar) if chords else ())
        self.progression = Progression(chords, recipe.key.root, bar, self.times.grain) \
            if chords else None
        self.rank = {lane.id: index for index, lane in enumerate(recipe.lanes)}
        self.by_bar = by_bar(recipe)
        self.blown = _blown(recipe)
        """The lanes that gusts blow about."""
        self.filled = _filled(recipe)
        """The lanes that play something else in fills."""
        self._bars: dict[Values, Performance] = {}
        self._gusted: dict[Thrown, Performance] = {}
        self._fills: dict[tuple[int, int], Performance] = {}
        self._voices: dict[str, Voice] = {}
        if before and before.times == self.times and before.recipe.still == recipe.still:
            for lane in recipe.playing_order():
                voice = before._voices.get(lane.id)
                if voice and voice.lane is lane and (
                        lane.follows is None or lane.follows in self._voices):
                    self._voices[lane.id] = voice

    def at(self, beats: float) -> Performance:
        """What plays in the bar of a time: this, where no word moves, no gust blows and no fill
        comes."""
        return self._in_bar(self._bar(beats))

    def calm_at(self, beats: float) -> Performance:
        """The same, but for gusts and fills."""
        return self._by_values(self._bar(beats))

    def stock(self, lane_id: str) -> Stock:
        """A lane as its relatives are grown from it, with the values of the first bar; RecipeError
        where there is no such lane."""
        calm = self.calm_at(0)
        return stock_of(calm.voice(lane_id), calm.recipe)

    def _bar(self, beats: float) -> int:
        return max(0, int((beats + TOGETHER) * self.times.grain // self.times.bar))

    def _in_bar(self, bar: int) -> Performance:
        calm = self.in_pass(bar // self.recipe.bars)._by_values(bar)
        fill = self.recipe.fill_in(bar)
        return calm if fill is None else calm.with_fill(
            fill, bar - (bar % (fill.every * self.recipe.bars) - fill.begins(self.recipe.bars)))

    def with_fill(self, fill: PatternFill, first: int) -> Performance:
        """What plays while a fill comes whose first bar this is, counted from 0."""
        begin = first % fill.bars  # in rounds of the fill
        key = (self.recipe.fills.index(fill), begin)
        playing = self._fills.get(key)
        if playing is None:
            at = begin * self.recipe.bar_beats
            lanes = tuple(fill.instead(lane, at) for lane in self.recipe.lanes)
            for lane, instead in zip(self.recipe.lanes, lanes, strict=True):
                if lane is instead:  # so that what does not change is shared
                    self.voice(lane.id)
            playing = self._fills[key] = Performance(self.recipe.model_copy(update={
                "gusts": (), "paths": (), "fills": (), "lanes": lanes}), self, times=self.times)
        return playing

    def in_pass(self, passing: int) -> Performance:
        """What plays in a pass, counted from 0: this, where no gust blows."""
        if not any(gust.comes_in(passing) for gust in self.recipe.gusts):
            return self
        thrown = tuple((lane.id, gust.away, gust.thrown(passing)) for lane in self.recipe.lanes
                       if (gust := self._gust_over(lane, passing)))
        return self._with_gusts(thrown) if thrown else self

    def thrown_at(self, lane_id: str, beats: float) -> tuple[PatternGust, int] | None:
        """The gust that blows a lane about at a time, and its throw."""
        if self.filled_at(lane_id, beats):
            return None
        passing = self._bar(beats) // self.recipe.bars
        gust = self._gust_over(self.recipe.lane(lane_id), passing)
        return (gust, gust.thrown(passing)) if gust else None

    def filled_at(self, lane_id: str, beats: float) -> PatternFill | None:
        """The fill that plays in a lane's place at a time."""
        fill, lane = self.recipe.fill_in(self._bar(beats)), self.recipe.lane(lane_id)
        return fill if fill and fill.takes(lane) else None

    def _gust_over(self, lane: Lane, passing: int) -> PatternGust | None:
        return self.recipe.gust_over(lane.id, passing) if may_blow(lane) else None

    def _with_gusts(self, thrown: Thrown) -> Performance:
        """What plays while gusts blow."""
        playing = self._gusted.get(thrown)
        if playing is None:
            ground = (self.recipe.still, self.recipe.paths)
            lanes = {each[0]: self._gusted_lane(ground, *each) for each in thrown}
            for lane in self.recipe.lanes:  # so that what does not change is shared
                if lane.id not in self.blown:
                    self.voice(lane.id)
            if len(self._gusted) >= MOST_PASSES_KEPT:
                self._gusted.clear()
            playing = self._gusted[thrown] = Performance(self.recipe.model_copy(update={
                "gusts": (), "lanes": tuple(lanes.get(lane.id, lane)
                                            for lane in self.recipe.lanes)}), self)
        return playing

    def _gusted_lane(self, ground: Hashable, lane_id: str, away: float, throw: int) -> Lane:
        """A lane with a gust over it; ground: what decides besides the lane what it plays now."""
        return _gusted.of(self.recipe.lane(lane_id), also=(ground, away, throw),
                          make=lambda: gusted(self.stock(lane_id), away, throw))

    def _by_values(self, bar: int) -> Performance:
        """What plays in a bar by the values of the words that move."""
        if self.by_bar is None:
            return self
        values = self.by_bar.values(bar)
        playing = self._bars.get(values)
        if playing is None:
            for lane in self.recipe.lanes:  # so that what does not move is shared
                if lane.id not in self.by_bar.moved:
                    self.voice(lane.id)
            if len(self._bars) >= MOST_BARS_KEPT:
                self._bars.clear()
            playing = self._bars[values] = Performance(self.by_bar.recipe_with(values), self)
        return playing

    def playing(self, lane_id: str, start: float, end: float) -> Iterator[
            tuple[Voice, float, float]]:
        """The voices by which a lane plays over [start, end) beats, each with its part of them;
        only one unless words move, gusts blow or fills come."""
        if not self._varies(lane_id):
            yield self.voice(lane_id), start, end
            return
        bar, begin, voice = self._bar(start), start, None
        while begin < end:
            following = self._in_bar(bar).voice(lane_id)
            if voice is not None and following is not voice:
                yield voice, start, begin
                start = begin
            voice, bar = following, bar + 1
            begin = bar * self.times.bar / self.times.grain
        if voice is not None:
            yield voice, start, end

    def voice(self, lane_id: str) -> Voice:
        """One lane as it plays by its own values, whatever moves or blows; made when it is
        first asked for."""
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
        found = [change for lane in self._setting()
                 for change in self.changes_of(lane.id, start, end)]
        return sorted(found, key=lambda change: (change.time, self.rank[change.lane]))

    def changes_of(self, lane_id: str, start: float, end: float) -> list[Change]:
        """What one lane sets in [start, end) beats, heard or not, in the order of time."""
        found = [change for voice, begin, stop in self.playing(lane_id, start, end)
                 for line in self._lines(lane_id, voice)
                 for change in self._set_by(lane_id, line, begin, stop)]
        return sorted(found, key=lambda change: change.time)

    def _set_by(self, lane_id: str, line: Line, start: float, end: float) -> list[Change]:
        """What a line sets in a part of time with one voice. Where a bar begins, by other values
        than the one before, a line that stands goes to where it would be by its own."""
        if not self._varies(lane_id):
            return line.changes(start, end)
        found = line.changes(start, end) if line.stands else line.set_within(start, end)
        begins = self._bar(start - 2 * TOGETHER) < self._bar(start)
        if line.stands and begins and not (found and found[0].time - start < TOGETHER):
            now = line.in_force(start)
            found = [*([] if now is None else [line.change(start, now)]), *found]
        before = self._in_force(lane_id, line.control.number, start)
        if before and found and before.value == found[0].value:
            return found[1:]
        return found

    def unsent(self, lane: Lane) -> str | None:
        """Why the tuning of a drum lane does not leave by pitch bend, as a sentence goes on; None
        where it does."""
        if bend_range(lane.tuning) is None:
            return f"it goes further than {RANGES[-1]} semitones"
        for other in self.recipe.lanes:
            if other.channel != lane.channel or not self.audible(other):
                continue
            sets = set(other.controls) if other.kind != "control" else \
                {other.control.number} if other.control else set()
            if sets.intersection(SET_BY_TUNING) and other is lane:
                return "the lane bends its hits itself"
            if other is not lane and (other.kind != "control" or sets.intersection(SET_BY_TUNING)):
                return f"{other.name} has channel {lane.channel} too"
        return None

    def _lines(self, lane_id: str, voice: Voice) -> Sequence[Line]:
        """What a voice of a lane sets, its tuning included where it leaves by pitch bend."""
        reach = self.tuning_reach(lane_id)
        if reach is None or not isinstance(voice, NoteVoice):
            return voice.lines
        return [*voice.lines, *voice.tunings(reach)]

    def tuning_reach(self, lane_id: str) -> int | None:
        """How many semitones pitch bend reaches that tunes a lane; None where none does."""
        lane = self.recipe.lane(lane_id)
        bends = lane.tuned == "bend" and lane.tuning != 0 and not self.unsent(lane)
        return bend_range(lane.tuning) if bends else None

    def in_force(self, at: float) -> list[Change]:
        """What controllers are set to just before a time, lane by lane."""
        return [change for lane in self._setting()
                for line in self._lines(lane.id, self.voice(lane.id))
                if (change := self._in_force(lane.id, line.control.number, at)) is not None]

    def _in_force(self, lane_id: str, number: Number, at: float) -> Change | None:
        """What a lane has set before a time; in bars by whose values it sets nothing, what the bar
        before has left."""
        bar, until = self._bar(at - 2 * TOGETHER), at
        for _ in range(MOST_BARS_KEPT):
            lines = self._lines(lane_id, self._in_bar(bar).voice(lane_id))
            line = next((line for line in lines if line.control.number == number), None)
            begin = bar * self.times.bar / self.times.grain
            value = None
            if line and self._varies(lane_id) and not line.stands:
                value = next((each.value for each in reversed(line.set_within(begin, until))), None)
            elif line:
                value = line.in_force(until)
            if line and value is not None:
                return line.change(at, value)
            if bar == 0 or not self._varies(lane_id):
                break
            bar, until = bar - 1, begin
        return None

    def _varies(self, lane_id: str) -> bool:
        """Whether bars of a lane play by values of their own, since its words follow paths, gusts
        blow over it, or fills come."""
        return lane_id in self.blown or lane_id in self.filled or (
            self.by_bar is not None and lane_id in self.by_bar.moved)

    def _setting(self) -> list[Lane]:
        """The lanes that set controllers and are heard."""
        return [lane for lane in self.recipe.lanes
                if (lane.kind == "control" or lane.controls or lane.tuned == "bend")
                and self.audible(lane)]

    def _begun(self, lanes: Iterable[Lane], start: float, end: float) -> list[Note]:
        """What lanes begin in [start, end), each by itself."""
        return [note for lane in lanes if self.audible(lane)
                for voice, begin, stop in self.playing(lane.id, start, end)
                for sounding in voice.soundings(begin, stop) if sounding.sounds
                for note in sounding.notes if begin <= note.start < stop]

    def merged(self, lanes: Sequence[Lane], notes: list[Note], end: float) -> list[Note]:
        """The last step: one note at a time on each channel and pitch. `notes` are what these
        lanes begin before `end`; what begins later may still cut them."""
        later = self._cutting(lanes, notes, end)
        rank = self.rank
        everything = sorted(notes + later,
                            key=lambda note: (note.start, rank[note.lane], note.pitch))
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


def _blown(recipe: Recipe) -> frozenset[str]:
    """The lanes that some gust blows about, and those that follow them."""
    named = {lane_id for gust in recipe.gusts for lane_id in gust.lanes or
             (lane.id for lane in recipe.lanes)}
    return recipe.and_followers(
        lane.id for lane in recipe.lanes if lane.id in named and may_blow(lane))


def _filled(recipe: Recipe) -> frozenset[str]:
    """The lanes that fills take the place of, and those that follow them."""
    return recipe.and_followers(
        lane.id for fill in recipe.fills for lane in recipe.lanes if fill.takes(lane))


def play(recipe: Recipe, start: float, end: float) -> list[Note]:
    """The notes of a recipe that begin in [start, end) beats, sorted by time, lane and pitch."""
    return Performance(recipe).notes(start, end)
