"""Reading Standard MIDI Files 1.0 (the MIDI Association's RP-001) with mido: formats 0, 1 and 2,
any division."""

from __future__ import annotations

import struct
from collections import deque
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from io import BytesIO
from itertools import pairwise
from typing import Any

from mido import MidiFile
from mido.midifiles.meta import KeySignatureError
from pydantic import TypeAdapter

from lattice.base.errors import RecipeError
from lattice.base.values import DRUM_CHANNEL, LaneKind
from lattice.base.words import many
from lattice.clip.changed import MOST_NOTES
from lattice.clip.document import MOST_BEATS, Clip, ClipChange, ClipLane, ClipMark, ClipNote
from lattice.clip.lanes import controller_lane
from lattice.midi.carried import carried
from lattice.pitch.key import Key

MOST_MIDI_BYTES = 8 * 2**20
MOST_READS = 300_000
"""A file's messages are read by so many small reads at the most, some four each."""
MOST_MARKS = 4096
"""Markers, and changes of tempo, metre and key, that are taken of a file."""
MICROSECONDS_A_BEAT = 500_000
HAIR = 0.02
"""Of a beat: what ends so little after a bar line ends on it."""
SMPTE_RATES = {24: Fraction(24), 25: Fraction(25), 29: Fraction(30_000, 1001), 30: Fraction(30)}
"""Frames a second, as a division names them."""
_NOTES = TypeAdapter(list[ClipNote])
"""Many notes are read faster together than one by one."""
_ROOTS = {name: place for place, names in enumerate((
    "C B#", "C# Db", "D", "D# Eb", "E Fb", "F E#", "F# Gb", "G", "G# Ab", "A", "A# Bb", "B Cb"))
    for name in names.split()}


@dataclass(slots=True)
class Part:
    """What one track plays on one channel: its notes as (start, length, pitch, velocity) and its
    controllers as (time, number, value), in beats."""

    track: int
    channel: int
    name: str
    notes: list[tuple[float, float, int, int]] = field(default_factory=list)
    changes: list[tuple[float, int | str, int]] = field(default_factory=list)

    @property
    def kind(self) -> LaneKind:
        """What kind of lane it would be."""
        return "drum" if self.channel == DRUM_CHANNEL else "pitched"


@dataclass(slots=True)
class Song:
    """What a file holds: its parts in the order of tracks and channels, its first tempo, metre and
    key (None: it names none), its marks (markers, and later tempos, metres and keys), and its
    length in beats; tick: its smallest stretch of
    time, in beats; remarks: what was read otherwise than it stands, a sentence each; recipe: the
    document of the recipe that it carries."""

    parts: list[Part]
    tempo: float
    meter: tuple[int, int]
    key: Key | None
    beats: Fraction
    marks: list[ClipMark]
    tick: float
    remarks: list[str]
    recipe: dict[str, Any] | None = None


def read_midi(data: bytes) -> Song:
    """What is in a file; RecipeError with one sentence, and the byte's place, where it is
    damaged."""
    if len(data) > MOST_MIDI_BYTES:
        raise RecipeError(f"A MIDI file takes up to {MOST_MIDI_BYTES // 2**20} MB; this one has "
                          f"{len(data) / 2**20:.1f}.")
    file = _parsed(data)
    reading = _Reading(_beats_a_tick(data), smpte=data[12] >= 0x80)
    for number, track in enumerate(file.tracks):
        reading.take(number, track)
    return reading.song(file.type)


def _parsed(data: bytes) -> MidiFile:
    """The file's messages. Texts may be in UTF-8, or in any other encoding of single bytes."""
    for charset in ("utf-8", "latin1"):
        stream = _Bounded(data) if len(data) > MOST_READS else BytesIO(data)
        try:
            return MidiFile(file=stream, charset=charset)
        except UnicodeDecodeError:
            continue
        except RecipeError:
            raise
        except (OSError, EOFError, ValueError, LookupError, TypeError, OverflowError,
                struct.error, KeySignatureError) as problem:
            raise RecipeError(f"This MIDI file is damaged at byte {stream.tell():,}: "
                              f"{_said(problem)}.") from None
    raise RecipeError("This MIDI file has texts that cannot be read.")


class _Bounded(BytesIO):
    """A file of so many messages at the most, told while it is read."""

    reads = 0

    def read(self, size: int | None = -1, /) -> bytes:
        """The next bytes; RecipeError where it was read from too often."""
        self.reads += 1
        if self.reads > MOST_READS:
            raise RecipeError("This file holds more notes and controllers than can be read at "
                              "once; take it apart first.")
        return super().read(size)


def _said(problem: Exception) -> str:
    if isinstance(problem, EOFError):
        return "it ends in the middle"
    text = str(problem).split("\n")[0].strip().rstrip(".")
    return (text or "something there cannot be")[:120]


def _beats_a_tick(data: bytes) -> Fraction:
    """The length of a tick. Ticks of a SMPTE division are a part of a second; 120 beats a minute
    make beats of them."""
    division: int = struct.unpack(">h", data[12:14])[0]
    if division > 0:
        return Fraction(1, division)
    rate, ticks = SMPTE_RATES.get(-(division >> 8)), division & 0xFF
    if rate is None or ticks == 0:
        raise RecipeError("This MIDI file is damaged at byte 12: its ticks have no length.")
    return Fraction(2) / (rate * ticks)


def _tempo(microseconds: int) -> float:
    """Beats a minute, in as few decimals as lie within a microsecond a beat of it."""
    exact = 60e6 / max(1, microseconds)
    return next((short for short in (round(exact, digits) for digits in range(4))
                 if short and abs(60e6 / short - microseconds) < 1), exact)


class _Reading:
    """Gathers the tracks of a file."""

    def __init__(self, beats_a_tick: Fraction, smpte: bool) -> None:
        self.beat = float(beats_a_tick)
        self.smpte = smpte
        self.parts: dict[tuple[int, int], Part] = {}
        self.tempos: list[tuple[float, int]] = []
        self.meters: list[tuple[float, tuple[int, int]]] = []
        self.keys: list[tuple[float, str]] = []
        self.markers: list[tuple[float, str]] = []
        self.recipe: dict[str, Any] | None = None
        self.end = 0.0
        self.unended = self.count = 0

    def take(self, number: int, track: Iterable[Any]) -> None:
        """Read a track."""
        tick, beat, name = 0, self.beat, ""
        sounding: dict[tuple[int, int], deque[tuple[int, int]]] = {}
        for message in track:
            tick += message.time
            at, kind = tick * beat, message.type
            if kind == "note_on" and message.velocity:
                self.count += 1
                if self.count > MOST_NOTES:
                    raise RecipeError(f"A file of more than {MOST_NOTES:,} notes is too much at "
                                      "once; take it apart first.")
                sounding.setdefault((message.channel, message.note), deque()).append(
                    (tick, message.velocity))
            elif kind in ("note_off", "note_on"):
                begun = sounding.get((message.channel, message.note))
                if begun:
                    self._note(number, message.channel, message.note, *begun.popleft(), tick)
            elif kind == "control_change":
                self._change(number, message.channel, at, message.control, message.value)
            elif kind == "pitchwheel":
                self._change(number, message.channel, at, "bend", message.pitch)
            elif kind == "aftertouch":
                self._change(number, message.channel, at, "pressure", message.value)
            elif message.is_meta:
                name = self._meta(message, at) or name
        self.end = max(self.end, tick * beat)
        for (channel, pitch), begun in sounding.items():
            for start, velocity in begun:
                self.unended += 1
                self._note(number, channel, pitch, start, velocity, tick)
        for part in self.parts.values():
            if part.track == number:
                part.notes.sort()
                part.name = name

    def _part(self, track: int, channel: int) -> Part:
        part = self.parts.get((track, channel))
        if part is None:
            part = self.parts[track, channel] = Part(track, channel + 1, "")
        return part

    def _note(self, track: int, channel: int, pitch: int, start: int, velocity: int,
              end: int) -> None:
        """A note from one tick to another; notes of as many ticks are of one length exactly."""
        self._part(track, channel).notes.append((
            start * self.beat, max(end - start, 1) * self.beat, pitch, velocity))

    def _change(self, track: int, channel: int, at: float, number: int | str, value: int) -> None:
        self._part(track, channel).changes.append((at, number, value))

    def _meta(self, message: Any, at: float) -> str | None:
        """Note what a meta event says of the whole file; the track's name where it gives one."""
        kind = message.type
        if kind == "set_tempo":
            self.tempos.append((at, message.tempo))
        elif kind == "time_signature":
            self.meters.append((at, (message.numerator, message.denominator)))
        elif kind == "key_signature":
            self.keys.append((at, message.key))
        elif kind in ("marker", "cue_marker"):
            self.markers.append((at, message.text))
        elif kind == "track_name":
            return str(message.name)
        elif kind == "sequencer_specific" and self.recipe is None:
            self.recipe = carried(bytes(message.data))
        return None

    def song(self, format_: int) -> Song:
        """All that was read."""
        remarks = []
        tempo = _tempo(min(self.tempos)[1] if self.tempos else MICROSECONDS_A_BEAT)
        bounded = _bounded(tempo)
        if bounded != tempo:
            remarks.append(f"Its tempo of {tempo:.1f} is beyond 20 to 400; {bounded:g} is taken.")
        if self.smpte:
            remarks.append("It counts time in frames; beats are those of 120 a minute.")
        if format_ == 2:
            remarks.append("Its tracks are patterns of their own; all begin at the start here.")
        if self.unended:
            remarks.append(f"{self.unended} of its notes never end; they last to the end of their "
                           "track.")
        meter = self._meter(remarks)
        bar = Fraction(meter[0] * 4, meter[1])
        parts = [part for _, part in sorted(self.parts.items())]
        last = max((note[0] for part in parts for note in part.notes), default=0.0)
        if last >= MOST_BEATS:
            raise RecipeError(f"Its notes go on for more than {MOST_BEATS:,} beats; take it apart "
                              "first.")
        # Whole bars: up to the end of the file, a hair over it not counted, and over every note.
        bars = max(1, -(-(min(self.end, MOST_BEATS) - HAIR) // float(bar)),
                   last // float(bar) + 1)
        if bars > 1 and self._ends_late((bars - 1) * float(bar), float(bar)):
            bars -= 1
            remarks.append("It ends within a bar that holds nothing, which is left out.")
        beats = int(bars) * bar
        return Song(parts, bounded, meter, self._key(), beats, self._marks(float(beats)),
                    self.beat, remarks, self.recipe)

    def _ends_late(self, begin: float, bar: float) -> bool:
        """Whether the file ends within a last bar in which nothing begins, nor rings on."""
        if self.end > begin + bar - HAIR:
            return False
        return all(start + length < begin + HAIR for part in self.parts.values()
                   for start, length, _, _ in part.notes) and all(
            at < begin for part in self.parts.values() for at, _, _ in part.changes)

    def _marks(self, end: float) -> list[ClipMark]:
        """Markers, and what the tempo, metre and key become after those that come first."""
        marks: dict[float, dict[str, Any]] = {}
        for at, text in self.markers:
            marks.setdefault(at, {})["name"] = _printable(text)[:200]
        said: list[tuple[str, list[tuple[float, Any]]]] = [
            ("tempo", [(at, _bounded(_tempo(tempo))) for at, tempo in self.tempos]),
            ("meter", [(at, meter) for at, meter in self.meters if _known(meter)]),
            ("key", [(at, _key(name)) for at, name in self.keys])]
        for name, changes in said:
            in_order = sorted(changes, key=lambda change: change[0])
            for (_, before), (at, value) in pairwise(in_order):
                if value != before:
                    marks.setdefault(at, {})[name] = value
        return [ClipMark(time=at, **fields) for at, fields in sorted(marks.items())[:MOST_MARKS]
                if at < end]

    def _meter(self, remarks: list[str]) -> tuple[int, int]:
        meter = min(self.meters)[1] if self.meters else (4, 4)
        if not _known(meter):
            remarks.append(f"Its metre of {meter[0]}/{meter[1]} is read as 4/4.")
            return 4, 4
        return meter

    def _key(self) -> Key | None:
        return _key(min(self.keys)[1]) if self.keys else None


def _bounded(tempo: float) -> float:
    return min(400.0, max(20.0, tempo))


def _known(meter: tuple[int, int]) -> bool:
    """Whether it is a metre that a clip can have."""
    return 1 <= meter[0] <= 32 and meter[1] in (1, 2, 4, 8, 16, 32)


def _key(name: str) -> Key:
    """The key of a signature's name."""
    return Key(root=_ROOTS.get(name.rstrip("m"), 0),
               scale="minor" if name.endswith("m") else "major")


def song_clip(song: Song, name: str, wanted: Iterable[int] | None = None) -> Clip:
    """The parts of a file with these places, or all, as a clip: a lane for the notes of each, and
    one for each of its controllers. RecipeError where there is no note and no controller."""
    lanes: list[ClipLane] = []
    notes: list[dict[str, Any]] = []
    changes: list[ClipChange] = []
    end = float(song.beats)
    chosen = range(len(song.parts)) if wanted is None else sorted(set(wanted))
    for place in chosen:
        if not 0 <= place < len(song.parts):
            raise RecipeError(f"The file has {many(len(song.parts), 'parts')}; choose among them.")
        part = song.parts[place]
        title = _title(part, place)
        if part.notes:
            lane = ClipLane(id=f"p{place}", name=title, kind=part.kind)
            lanes.append(lane)
            notes += [{"start": start, "length": length, "pitch": pitch, "velocity": velocity,
                       "channel": part.channel, "lane": lane.id}
                      for start, length, pitch, velocity in part.notes]
        for lane, made in _controllers(part, place, title, end):
            lanes.append(lane)
            changes += made
    if not lanes:
        raise RecipeError("There is nothing in this file that could be heard.")
    changes.sort(key=lambda change: change.time)
    return Clip(name=name, tempo=song.tempo, meter=song.meter, beats=song.beats,
                key=song.key or Key(),
                lanes=tuple(lanes), notes=(), changes=tuple(changes),
                marks=tuple(song.marks)).with_notes(_NOTES.validate_python(notes))


def _title(part: Part, place: int) -> str:
    return _printable(part.name)[:60] or \
        f"{'Drums' if part.kind == 'drum' else 'Part'} {place + 1}"


def _printable(text: str) -> str:
    return "".join(letter for letter in text if letter.isprintable()).strip()


def _controllers(part: Part, place: int, title: str, end: float) -> Iterator[
        tuple[ClipLane, list[ClipChange]]]:
    """Each controller of a part as a lane of its own."""
    # Some programs begin every track with a bend of nothing.
    moved = {number for _, number, value in part.changes if number != "bend" or value}
    for number in sorted(moved, key=str):
        lane = controller_lane(f"p{place}", title, number)
        yield lane, [ClipChange(time=time, number=number, value=value, channel=part.channel,
                                lane=lane.id)
                     for time, each, value in part.changes if each == number and time < end]
