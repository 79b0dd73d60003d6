"""A clip as lanes: its notes as living sentences, each note on its place, with its velocity and its
length."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import reduce
from math import ceil, lcm
from typing import Any

from lattice.base.controllers import Number
from lattice.base.errors import RecipeError
from lattice.base.frame import Bars, Swing
from lattice.base.group import MAX_LANES
from lattice.base.percussion import note_name
from lattice.base.values import DRUM_CHANNEL, limits, to_json
from lattice.clip.document import Clip, ClipChange, ClipLane, ClipNote
from lattice.clip.lanes import controller_lane
from lattice.midi.read import Song
from lattice.pitch.key import Key
from lattice.pitch.progression import Chords
from lattice.play.events import TICK
from lattice.recipe import Recipe, read, with_lane
from lattice.strands.kinds import Degree
from lattice.telling.grids import Grid, proposed, told
from lattice.telling.harmony import found_progression
from lattice.telling.shorter import proposals
from lattice.telling.voices import Placing, Voice
from lattice.time.fields import StepCount
from lattice.time.grain import timeline

MOST_BARS = limits(Bars)[1]
MOST_STEPS = limits(StepCount)[1]
CHANGES = {"tempo": "tempo", "meter": "metre", "key": "key"}
HIGHEST = limits(Degree)[1]
FITTED = "major", "minor", "dorian", "mixolydian", "phrygian", "lydian"
"""The scales that are tried where no key is named."""
SHORTENED = 64
"""Lanes of more steps than this are left as they are, hit by hit."""
MOST_SHORTENED = 512
"""So many steps of all lanes together are said shorter; what is beyond can be, lane by lane."""
LEAST_SHORTENED, NOTES_A_STEP = 64, 50
"""So many at least; one fewer for each so many notes, which take their time themselves."""


@dataclass(frozen=True, slots=True)
class Lanes:
    """The lanes of a clip, and what was recognised, a sentence each."""

    recipe: Recipe
    remarks: list[str]


def clip_lanes(clip: Clip, *, rounded: float = 0.0, keyed: bool = True,
               plainly: bool = False) -> Lanes:
    """A recipe that plays what a clip has, pass after pass.

    rounded: how far, in beats, a file may have rounded its times. keyed: whether the clip's key was
    named, and not only supposed. plainly: every hit by hand, where a shorter sentence is not
    looked for. RecipeError where it would be more than 64 lanes, or more than 16 bars that do not
    repeat.
    """
    telling = _Telling(clip, rounded, keyed)
    recipe = telling.recipe()
    most = max(LEAST_SHORTENED, MOST_SHORTENED - len(clip.notes) // NOTES_A_STEP)
    return Lanes(recipe if plainly else shortened(recipe, most), telling.remarks)


def song_lanes(song: Song, taken: Clip, *, plainly: bool = False) -> Lanes:
    """The lanes of what was taken of a file, as `clip_lanes` makes them."""
    told = clip_lanes(taken, rounded=song.tick / 2, keyed=song.key is not None, plainly=plainly)
    return Lanes(told.recipe, [*song.remarks, *told.remarks])


def shortened(recipe: Recipe, most: int) -> Recipe:
    """The recipe with its lanes said in the shortest way that plays the same, as far as they have
    no more than `most` steps together."""
    steps = 0
    for lane in recipe.lanes:
        if lane.steps <= SHORTENED and not lane.rate_path and \
                steps + lane.steps <= most:
            steps += lane.steps
            recipe = with_lane(recipe, proposals(recipe, lane.id, 1)[0].lane)
    return recipe


@dataclass(slots=True)
class _Part:
    """A lane of the clip with the notes that one or more lanes are to play."""

    lane: ClipLane
    notes: list[ClipNote]
    grid: Grid
    told: str
    """What was recognised, in a sentence."""


class _Telling:
    def __init__(self, clip: Clip, rounded: float, keyed: bool) -> None:
        self.clip, self.rounded = clip, rounded
        self.remarks = [f"Its {CHANGES[name]} changes; the first one is taken."
                        for name in clip.changing]
        # A recipe has one metre: bars are counted by the one that the clip begins with.
        self.bar, self.bars = clip.bar, max(1, ceil(clip.beats / clip.bar))
        self.beats = self.bars * self.bar
        self.parts = list(self._parts())
        swings = {part.grid.swing for part in self.parts}
        self.swing = next(iter(swings)) if len(swings) == 1 else None
        pitched = clip.pitched
        notes = [note.pitch for note in clip.notes if note.lane in pitched]
        self.key = fitting(notes, clip.key, keyed)

    def _parts(self) -> Iterator[_Part]:
        found = [(lane, notes) for lane in self.clip.lanes if (
            notes := cut(note for note in self.clip.notes if note.lane == lane.id))]
        grids = proposed([[note.start for note in notes] for _, notes in found], float(self.bar),
                         self.rounded)
        for (lane, notes), grid in zip(found, grids, strict=True):
            yield _Part(lane, notes, _editable(grid, self.beats),
                        told(lane.name, grid, self.clip.tempo, [note.start for note in notes],
                             float(self.bar), self.rounded))

    def recipe(self) -> Recipe:
        """The whole."""
        found: list[tuple[dict[str, Any], int]] = []
        for part in self.parts:
            made = list(self._lanes(part))
            repeats = {bars for _, bars in made}
            if len(repeats) == 1 and (bars := repeats.pop()) < self.bars:
                part.told += f" It repeats every {'bar' if bars == 1 else f'{bars} bars'}."
            self.remarks.append(part.told)
            found += made
        for lane in self.clip.lanes:
            moved: dict[tuple[Number, int], list[ClipChange]] = {}
            for change in self.clip.changes:
                if change.lane == lane.id:
                    moved.setdefault((change.number, change.channel), []).append(change)
            for (number, _), changes in moved.items():
                found += self._control(
                    lane if len(moved) == 1 and lane.kind == "control"
                    else controller_lane(lane.id, lane.name, number), changes)
        if len(found) > MAX_LANES:
            raise RecipeError(f"This would be {len(found)} lanes, and a pattern has up to "
                              f"{MAX_LANES}; choose fewer parts, or take it as a clip.")
        chords = self._chords()
        frame = reduce(lcm, (bars for _, bars in found), 1)
        if frame > MOST_BARS:
            frame = max(n for n in range(1, MOST_BARS + 1) if self.bars % n == 0)
        document: dict[str, Any] = {
            "tempo": self.clip.tempo, "meter": list(self.clip.meter), "bars": frame,
            "key": to_json(self.key), "lanes": []}
        if chords is not None:
            document["chords"] = to_json(chords)
            self.remarks.append(f"Its chords: {chords.text}.")
        if self.swing:
            document["swing"] = to_json(self.swing)
        taken: list[dict[str, Any]] = document["lanes"]
        for fields, _ in found:
            taken.append(fields | {"id": _free(fields["id"], taken)})
        return read(document)

    def _chords(self) -> Chords | None:
        """What its pitched lanes play together, as the progression."""
        pitched = [part.notes for part in self.parts if part.lane.kind == "pitched"]
        beat = Fraction(4, self.clip.meter[1])
        return found_progression(pitched, self.key, beat, self.bar, self.bars) if pitched else None

    def _lanes(self, part: _Part) -> Iterator[tuple[dict[str, Any], int]]:
        """The lanes that a part needs, and after how many bars each comes round."""
        frame = Recipe(meter=self.clip.meter, bars=1)
        placing = Placing(part.grid, self.beats, timeline(frame, ()), self.rounded)
        drum = part.lane.kind == "drum"
        pitches = sorted({note.pitch for note in part.notes})
        for rows in ([pitch] for pitch in pitches) if drum else (pitches,):
            notes = [note for note in part.notes if note.pitch in rows]
            name = part.lane.name if not drum or (
                len(pitches) == 1 and part.lane.name) else note_name(rows[0])
            base = self._base(part, notes, name)
            voices = placing.voices(notes, together=not drum)
            for number, voice in enumerate(voices):
                named = base | ({"name": f"{name[:56]} {number + 1}"} if number else {})
                yield from self._sections(named, voice, part.grid.swing)

    def _base(self, part: _Part, notes: Sequence[ClipNote], name: str) -> dict[str, Any]:
        lane, channel = part.lane, notes[0].channel
        base: dict[str, Any] = {"id": lane.id if name == lane.name else "", "name": name,
                                "kind": lane.kind}
        if channel != (DRUM_CHANNEL if lane.kind == "drum" else 1):
            base["channel"] = channel
        for field in ("sound", "own_sound"):
            value = getattr(lane, field)
            if value is not None:
                base[field] = to_json(value)
        if lane.kind == "drum":
            return base | {"note": notes[0].pitch}
        if any(self.key.degree_of(note.pitch) is None for note in notes):
            base["key"] = {"root": self.key.root, "scale": "chromatic"}
        return base

    def _sections(self, base: dict[str, Any], voice: Voice, swing: Swing | None) -> Iterator[
            tuple[dict[str, Any], int]]:
        """A voice as a lane that comes round after as few bars as it may; or, where it is too long
        for one lane, as several that play one after another."""
        cells = int(self.beats / (4 * voice.lying.step))
        each = Fraction(cells, self.bars)
        bars = next(n for n in range(1, self.bars + 1) if self.bars % n == 0
                    and (n * each).denominator == 1 and voice.around(cells, int(n * each)))
        count = int(bars * each)
        voice = voice.part(0, count)
        if count > MOST_STEPS:
            voice, count = voice.coarser(count, MOST_STEPS)
        lying = voice.lying
        fields = dict(base)
        if lying.shift:
            fields["shift"] = str(lying.shift)
        if lying.straight:
            if self.swing:
                fields["swing"] = "straight"
        elif swing and swing != self.swing:
            fields["swing"] = to_json(swing)
        if count <= MOST_STEPS:
            yield self._lane(fields, voice, count), bars
            return
        if bars > MOST_BARS or lying.shift:
            raise RecipeError(f"“{base['name']}” goes on for {bars} bars without repeating, and "
                              f"lanes hold {MOST_BARS}; choose up to {MOST_BARS} bars of it, or "
                              "take it as a clip.")
        yield from ((lane, bars) for lane in self._one_after_another(fields, voice, count, bars))

    def _one_after_another(self, fields: dict[str, Any], voice: Voice, count: int,
                           bars: int) -> Iterator[dict[str, Any]]:
        """A long voice in sections of whole bars, each silent before and after: one cell as long
        as what comes before, and one as long as what comes after."""
        a_bar = count // bars
        wide = (MOST_STEPS - 1) // a_bar
        if wide < 1 or count % bars:
            raise RecipeError(f"“{fields['name']}” has more than {MOST_STEPS - 1} places in a bar; "
                              "take it as a clip.")
        for begin in range(0, bars, wide):
            end = min(begin + wide, bars)
            before, after = begin * self.bar, (bars - end) * self.bar
            path = [{"start": str(start), "beats": str(beats), "step": str(beats / 4)}
                    for start, beats in ((Fraction(0), before), (end * self.bar, after)) if beats]
            section = voice.part(begin * a_bar, end * a_bar)
            first = 1 if before else 0
            section.hits = {cell + first: hit for cell, hit in section.hits.items()}
            steps = first + (end - begin) * a_bar + (0 if before else 1)
            if section.hits:
                yield self._lane(fields | {
                    "rate_path": path, "name": f"{fields['name'][:44]} {begin + 1}-{end}"},
                    section, steps)

    def _lane(self, fields: dict[str, Any], voice: Voice, steps: int) -> dict[str, Any]:
        """A lane of hits by hand, with a strand for each kind of value that differs."""
        cells = sorted(voice.hits)
        hits = [voice.hits[cell] for cell in cells]
        lane = fields | {"step": str(voice.lying.step), "steps": steps,
                         "rule": {"kind": "hand", "hits": cells}}
        rows: dict[str, list[Any]] = {"velocity": [hit.velocity for hit in hits],
                                      "gate": [hit.gate for hit in hits]}
        if any(hit.nudge for hit in hits):
            rows["nudge"] = [hit.nudge for hit in hits]
        if lane["kind"] == "pitched":
            key = Key.model_validate(lane["key"]) if "key" in lane else self.key
            octave = _register(voice, key, lane["name"])
            lane["octave"] = octave
            rows["degree"] = [_degrees(hit.pitches, key, octave) for hit in hits]
        strands = {}
        for kind, row in rows.items():
            if kind != "nudge" and all(value == row[0] for value in row) and \
                    not isinstance(row[0], dict):
                lane[kind] = row[0]
            else:
                strands[kind] = {"values": _by_step(cells, row, steps)}
        return lane | ({"strands": strands} if strands else {})

    def _control(self, lane: ClipLane, changes: Sequence[ClipChange]) -> Iterator[
            tuple[dict[str, Any], int]]:
        """The values of one controller, one a cell; none where they move too finely for cells."""
        for step in (Fraction(1, parts) for parts in (4, 8, 16, 32, 64)):
            cells = self.beats / (4 * step)
            size = float(4 * step)
            taken: dict[int, tuple[float, int]] = {}
            for change in changes:
                cell = round(change.time / size)
                if cell in taken or cell >= cells:
                    break
                off = 100 * (change.time - cell * size) / size
                taken[cell] = (0.0 if abs(off) < 1e-7 else off, change.value)
            else:
                if cells <= MOST_STEPS and cells.denominator == 1:
                    order = sorted(taken)
                    strands: dict[str, list[float]] = {
                        "value": [taken[cell][1] for cell in order]}
                    if any(taken[cell][0] for cell in order):
                        strands["nudge"] = [taken[cell][0] for cell in order]
                    yield {"id": lane.id, "name": lane.name, "kind": "control",
                           "channel": changes[0].channel, "step": str(step), "steps": int(cells),
                           "control": {"number": changes[0].number},
                           "rule": {"kind": "hand", "hits": order},
                           "strands": {kind: {"values": _by_step(order, row, int(cells))}
                                       for kind, row in strands.items()}}, self.bars
                    return
        self.remarks.append(f"{lane.name} moves too finely to be a lane; it is left out.")


def cut(notes: Iterable[ClipNote]) -> list[ClipNote]:
    """Notes as they sound: one at a time on each channel and pitch."""
    found: list[ClipNote] = []
    latest: dict[tuple[int, int], int] = {}
    for note in notes:
        key = (note.channel, note.pitch)
        before = found[latest[key]] if key in latest else None
        if before is not None and note.start - before.start < 1e-9:
            found[latest[key]] = before.model_copy(update={
                "velocity": max(note.velocity, before.velocity),
                "length": max(note.length, before.length)})
            continue
        if before is not None and before.end > note.start:
            length = max(note.start - before.start, TICK)
            found[latest[key]] = before.model_copy(update={"length": length})
        latest[key] = len(found)
        found.append(note)
    return found


def _editable(grid: Grid, beats: Fraction) -> Grid:
    """A grid as it is worked on: halved down to sixteenths where its steps are twos, and parted
    where so many beats are no whole number of them, as 7/8 is none of triplets."""
    step = grid.step
    while step > Fraction(1, 16) and step.denominator % 3 and step.denominator % 5:
        step /= 2
    return replace(grid, step=step / (beats / (4 * step)).denominator)


def fitting(pitches: Sequence[int], key: Key, named: bool) -> Key:
    """The key that notes are told in: the one that is named where all of them lie in it; else of
    all major and minor keys, and the modes, the first with the fewest notes outside and the
    strongest root."""
    if not pitches or (named and all(key.degree_of(pitch) is not None for pitch in pitches)):
        return key
    weight = [sum(pitch % 12 == place for pitch in pitches) for place in range(12)]

    def strangeness(each: Key) -> tuple[int, int, int]:
        inside = {(each.root + above) % 12 for above in each.notes}
        return (sum(count for place, count in enumerate(weight) if place not in inside),
                0 if each == key else 1,
                -2 * weight[each.root] - weight[(each.root + 7) % 12])
    return min((Key(root=root, scale=scale) for scale in FITTED for root in range(12)),
               key=strangeness)


def _register(voice: Voice, key: Key, name: str) -> int:
    """The octave from which a voice's degrees are counted: that of its lowest note, or, where its
    highest is too far above, the next from which all can be counted; RecipeError if there is
    none."""
    first = min(9, max(-1, (voice.lowest - key.root) // 12 - 1))
    for octave in range(first, 10):
        reached = _degrees([voice.lowest, voice.highest], key, octave)
        if all(abs(each) <= HIGHEST for each in reached["all"]):
            return octave
    raise RecipeError(f"{name} goes further up and down than a lane's degrees do; leave it out, or "
                      "take it as a clip.")


def _degrees(pitches: Sequence[int], key: Key, octave: int) -> Any:
    base = key.root + 12 * (octave + 1)
    degrees = []
    for pitch in pitches:
        above, place = divmod(pitch - base, 12)
        degrees.append(above * len(key.notes) + key.notes.index(place))
    return degrees[0] if len(degrees) == 1 else {"all": degrees}


def _by_step(cells: Sequence[int], row: Sequence[Any], steps: int) -> list[Any]:
    """Values for all steps: those between hits go on with the one before."""
    values, at = [], row[0]
    named = dict(zip(cells, row, strict=True))
    for step in range(steps):
        at = named.get(step, at)
        values.append(at)
    return values


def _free(wanted: str, taken: Sequence[dict[str, Any]]) -> str:
    """An id that no lane has yet."""
    ids = {lane["id"] for lane in taken}
    if wanted and wanted not in ids:
        return wanted
    return next(name for n in range(1, MAX_LANES + 2) if (name := f"lane-{n}") not in ids)

