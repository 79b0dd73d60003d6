"""Clips as Standard MIDI Files 1.0 (the MIDI Association's RP-001), written with mido."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from io import BytesIO
from itertools import pairwise
from math import lcm
from typing import Any, Literal

from mido import Message, MetaMessage, MidiFile, MidiTrack, bpm2tempo

from lattice.base.errors import RecipeError
from lattice.base.values import half_up
from lattice.clip.document import Clip, ClipChange, ClipNote
from lattice.midi.carried import carrying
from lattice.pitch.key import Key

TICKS_PER_BEAT = 960
FEWEST_TICKS, MOST_TICKS = 24, 32_767
"""What may be asked for in a quarter note."""
FINEST_PLACE = 960
_Event = tuple[int, int, Message | MetaMessage]
"""A tick, a rank among what happens at one tick, and a message."""
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
    """A file of format 1: tempo, metre, key and name first, then a track a lane, or one for all
    that is `merged`; or of format 0, with everything in one track. `recipe` is a document that
    travels along.

    The end of every track stands exactly at the clip's length, so that the file loops; a note that
    hangs over is cut there. RecipeError where a silence is longer than a file can tell.
    """
    end = max(1, half_up(float(clip.beats * ticks_per_beat)))
    file = MidiFile(type=format_, ticks_per_beat=ticks_per_beat, charset="utf-8")
    first: list[_Event] = [
        (0, 0, MetaMessage("track_name", name=_written(clip.name))),
        (0, 0, MetaMessage("time_signature", numerator=clip.meter[0], denominator=clip.meter[1])),
        (0, 0, MetaMessage("key_signature", key=key_signature(clip.key))),
        (0, 0, MetaMessage("set_tempo", tempo=bpm2tempo(clip.tempo)))]
    if recipe is not None:
        first.append((0, 0, MetaMessage("sequencer_specific", data=carrying(recipe))))
    tracks = _lane_tracks(clip, ticks_per_beat, end)
    if format_ == 0:
        first += [event for _, events in tracks for event in events]
    file.tracks.append(_track(first, end))
    if format_ == 1 and merged:
        tracks = [(clip.name, [event for _, events in tracks for event in events])]
    for name, events in tracks if format_ == 1 else ():
        file.tracks.append(_track([
            (0, 0, MetaMessage("track_name", name=_written(name))), *events], end))
    buffer = BytesIO()
    file.save(file=buffer)
    return buffer.getvalue()


def exact_ticks(clip: Clip) -> int:
    """The fewest ticks in a quarter note with which no grid place of a clip is rounded: as it was
    kept; where notes have been moved since, with which no place is that is a fraction of a beat
    with a denominator of up to 960. RecipeError where more than 32,767 would be needed."""
    ticks = lcm(clip.beats.denominator, clip.grain or 1)
    if clip.grain is None:
        for note in clip.notes:
            place = Fraction(note.start).limit_denominator(FINEST_PLACE)
            if abs(place - Fraction(note.start)) < 1e-9:
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
        voice = {"channel": each.note.channel - 1, "note": each.note.pitch}
        if each.lane in by_lane:
            by_lane[each.lane] += [
                (each.on, 2, Message("note_on", velocity=each.velocity, **voice)),
                (each.off, 1, Message("note_off", velocity=0, **voice))]
    for change in clip.changes:
        if change.lane in by_lane:
            by_lane[change.lane].append((
                min(half_up(change.time * ticks_per_beat), end - 1), 1, _control(change)))
    return [(lane.name, by_lane[lane.id]) for lane in clip.lanes]


def _control(change: ClipChange) -> Message:
    """A controller set to a value, as a message."""
    channel = change.channel - 1
    if change.number == "bend":
        return Message("pitchwheel", channel=channel, pitch=change.value)
    if change.number == "pressure":
        return Message("aftertouch", channel=channel, value=change.value)
    return Message("control_change", channel=channel, control=change.number, value=change.value)


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


def _track(events: list[_Event], end: int) -> MidiTrack:
    """A track of (tick, rank, message): note-offs and controllers (rank 1) before note-ons (2) at
    one tick."""
    track, at = MidiTrack(), 0
    events.append((end, 3, MetaMessage("end_of_track")))
    for tick, _, message in sorted(events, key=lambda event: event[:2]):
        if tick - at > LONGEST_DELTA:
            raise RecipeError(f"A silence of {tick - at:,} ticks is longer than a MIDI file can "
                              f"tell ({LONGEST_DELTA:,}); take fewer bars, or fewer ticks.")
        message.time = tick - at
        track.append(message)
        at = tick
    return track


def _written(name: str) -> str:
    """A name as a file can hold it: what is half a character (from a file's name) becomes "?"."""
    return name.encode("utf-8", "replace").decode()
