"""Clips as Standard MIDI Files 1.0 (the MIDI Association's RP-001). Meta events are mido's; texts,
in UTF-8, and notes and controllers, which may be very many, are written as the bytes that they
are."""

from __future__ import annotations

import struct
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import lcm
from operator import itemgetter
from typing import Any, Literal

from mido import MetaMessage, bpm2tempo

from lattice.base.errors import RecipeError
from lattice.base.values import half_up
from lattice.clip.document import Clip, ClipChange, ClipMark, ClipNote
from lattice.clip.tuning import clip_tunings
from lattice.midi.carried import carrying
from lattice.pitch.key import Key

TICKS_PER_BEAT = 960
FEWEST_TICKS, MOST_TICKS = 24, 32_767
"""What may be asked for in a quarter note."""
FINEST_PLACE = 960
_Event = tuple[int, int, bytes]
"""A tick, a rank among what happens at one tick, and a message's bytes."""
TRACK_NAME, MARKER = 0x03, 0x06
"""The kinds of meta events that are texts."""
NOTE_OFF, NOTE_ON, CONTROL, PRESSURE, BEND = 0x80, 0x90, 0xB0, 0xD0, 0xE0
"""The status bytes of messages, the channel (from 0) in their lower half."""
BEND_MIDDLE = 8192
LONGEST_DELTA = 0x0FFFFFFF
"""Ticks between two events: four bytes of seven bits."""

_MAJORS = ["C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"]
_MINORS = ["Cm", "C#m", "Dm", "Ebm", "Em", "Fm", "F#m", "Gm", "G#m", "Am", "Bbm", "Bm"]
_DEGREE_OF_MODE = {"major": 0, "ionian": 0, "dorian": 2, "phrygian": 4, "lydian": 5,
                   "mixolydian": 7, "locrian": 11}


def key_signature(key: Key) -> str:
    """The signature of a key: a mode has that of the major scale it shares its notes with; other
    scales that of the major or minor key with their third."""
    if isinstance(key.scale, str) and key.scale in _DEGREE_OF_MODE:
        return _MAJORS[(key.root - _DEGREE_OF_MODE[key.scale]) % 12]
    return (_MAJORS if 4 in key.notes and 3 not in key.notes else _MINORS)[key.root]


def to_midi(clip: Clip, ticks_per_beat: int = TICKS_PER_BEAT, *, format_: Literal[0, 1] = 1,
            merged: bool = False, recipe: dict[str, Any] | None = None) -> bytes:
    """A file of format 1: name, tempo, metre, key and markers first, then a track a lane, or one
    for all that is `merged`; or of format 0, with everything in one track. `recipe` is a document
    that travels along.

    The end of every track stands exactly at the clip's length, so that the file loops; a note that
    hangs over is cut there. RecipeError where a silence is longer than a file can tell.
    """
    end = max(1, half_up(float(clip.beats * ticks_per_beat)))
    first: list[_Event] = [(0, 0, _text(TRACK_NAME, clip.name))]
    if recipe is not None:
        first.append((0, 0, _meta("sequencer_specific", data=carrying(recipe))))
    start = ClipMark(time=0, tempo=clip.tempo, meter=clip.meter, key=clip.key)
    for mark in (start, *clip.marks):
        tick = min(half_up(mark.time * ticks_per_beat), end - 1)
        first += [(tick, 0, message) for message in _marking(mark)]
    tracks = _lane_tracks(clip, ticks_per_beat, end)
    if format_ == 0:
        first += [event for _, events in tracks for event in events]
    chunks = [_track(first, end)]
    if format_ == 1 and merged:
        tracks = [(clip.name, [event for _, events in tracks for event in events])]
    for name, events in tracks if format_ == 1 else ():
        chunks.append(_track([(0, 0, _text(TRACK_NAME, name)), *events], end))
    head = struct.pack(">4sIHHH", b"MThd", 6, format_, len(chunks), ticks_per_beat)
    return head + b"".join(chunks)


def _meta(kind: str, **said: Any) -> bytes:
    return bytes(MetaMessage(kind, **said).bytes())


def _text(kind: int, text: str) -> bytes:
    """A meta event with a text; what is half a character (from a file's name) becomes "?"."""
    data = text.encode("utf-8", "replace")
    return bytes((0xFF, kind)) + _length(len(data)) + data


def _length(number: int) -> bytes:
    """A number in as many bytes of seven bits as it needs."""
    if number < 0x80:
        return bytes((number,))
    return bytes(0x80 | number >> shift & 0x7F for shift in (21, 14, 7)
                 if number >> shift) + bytes((number & 0x7F,))


def _marking(mark: ClipMark) -> Iterator[bytes]:
    """What a file says of a marker, and of another metre, key or tempo."""
    if mark.name:
        yield _text(MARKER, mark.name)
    if mark.meter:
        yield _meta("time_signature", numerator=mark.meter[0], denominator=mark.meter[1])
    if mark.key:
        yield _meta("key_signature", key=key_signature(mark.key))
    if mark.tempo:
        yield _meta("set_tempo", tempo=bpm2tempo(mark.tempo))


def exact_ticks(clip: Clip) -> int:
    """The fewest ticks in a quarter note with which no grid place of a clip is rounded, nor one of
    its marks: as it was kept; where notes have been moved since, with which no place is that is a
    fraction of a beat with a denominator of up to 960. RecipeError where more than 32,767 would be
    needed."""
    ticks = lcm(clip.beats.denominator, clip.grain or 1)
    places = [mark.time for mark in clip.marks]
    if clip.grain is None:
        places += [note.start for note in clip.notes]
    for beats in places:
        place = Fraction(beats).limit_denominator(FINEST_PLACE)
        if abs(place - Fraction(beats)) < 1e-9:
            ticks = lcm(ticks, place.denominator)
            if ticks > MOST_TICKS:
                break
    if ticks > MOST_TICKS:
        raise RecipeError(f"The places of “{clip.name}” are too many different fractions of a beat "
                          f"for up to {MOST_TICKS:,} ticks; name a number of ticks, such as 960.")
    return ticks


def _lane_tracks(clip: Clip, ticks_per_beat: int, end: int) -> list[tuple[str, list[_Event]]]:
    """The events of each lane."""
    by_lane: dict[str, list[_Event]] = {lane.id: [] for lane in clip.lanes}
    for each in _in_ticks(clip.notes, ticks_per_beat, end):
        channel, pitch = each.note.channel - 1, each.note.pitch
        if each.lane in by_lane:
            by_lane[each.lane] += [
                (each.on, 2, bytes((NOTE_ON | channel, pitch, each.velocity))),
                (each.off, 1, bytes((NOTE_OFF | channel, pitch, 0)))]
    for change in (*clip.changes, *clip_tunings(clip)):
        if change.lane in by_lane:
            by_lane[change.lane].append((
                min(half_up(change.time * ticks_per_beat), end - 1), 1, _control(change)))
    return [(lane.name, by_lane[lane.id]) for lane in clip.lanes]


def _control(change: ClipChange) -> bytes:
    """A controller set to a value, as a message."""
    channel = change.channel - 1
    if change.number == "bend":
        bend = change.value + BEND_MIDDLE
        return bytes((BEND | channel, bend & 0x7F, bend >> 7))
    if change.number == "pressure":
        return bytes((PRESSURE | channel, change.value))
    return bytes((CONTROL | channel, int(change.number), change.value))


@dataclass(slots=True)
class _Sounding:
    """A note in whole ticks, and the lane in whose track it stands."""

    on: int
    off: int
    velocity: int
    lane: str
    note: ClipNote


def _in_ticks(notes: Sequence[ClipNote], ticks_per_beat: int, end: int) -> list[_Sounding]:
    """The notes in whole ticks: at least one tick long, one at a time on each channel and pitch,
    and the same whatever order a player merges the tracks in."""
    by_voice: dict[tuple[int, int], list[_Sounding]] = {}
    for note in sorted(notes, key=lambda note: note.start):
        on = min(half_up(note.start * ticks_per_beat), end - 1)
        off = min(max(half_up((note.start + note.length) * ticks_per_beat), on + 1), end)
        row = by_voice.setdefault((note.channel, note.pitch), [])
        if row and row[-1].on == on:  # less than a tick apart: one, as when they begin together
            row[-1].off = max(off, row[-1].off)
            row[-1].velocity = max(note.velocity, row[-1].velocity)
        else:
            row.append(_Sounding(on, off, note.velocity, note.lane, note))
    for row in by_voice.values():
        for each, following in reversed(list(pairwise(row))):
            _end_before(each, following)
    return [each for row in by_voice.values() for each in row]


def _end_before(note: _Sounding, following: _Sounding) -> None:
    """Cut a note where the next begins. In another track its end could come after that beginning,
    and silence it: it ends a tick earlier, or, if it is only one tick long, moves to that track."""
    if note.off < following.on or note.lane == following.lane:
        note.off = min(note.off, following.on)
    elif following.on - 1 > note.on:
        note.off = following.on - 1
    else:
        note.off, note.lane = following.on, following.lane


def _track(events: list[_Event], end: int) -> bytes:
    """A track of (tick, rank, message): note-offs and controllers (rank 1) before note-ons (2) at
    one tick."""
    track, at = bytearray(), 0
    events.append((end, 3, _meta("end_of_track")))
    for tick, _, message in sorted(events, key=itemgetter(0, 1)):
        delta = tick - at
        if delta > LONGEST_DELTA:
            raise RecipeError(f"A silence of {delta:,} ticks is longer than a MIDI file can tell "
                              f"({LONGEST_DELTA:,}); take fewer bars, or fewer ticks.")
        track += _length(delta)
        track += message
        at = tick
    return struct.pack(">4sI", b"MTrk", len(track)) + track
