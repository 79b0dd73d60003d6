"""Clips as Standard MIDI Files 1.0 (the MIDI Association's RP-001), written with mido."""

from __future__ import annotations

from io import BytesIO

from mido import Message, MetaMessage, MidiFile, MidiTrack, bpm2tempo

from lattice.clip import Clip, ClipNote
from lattice.recipe import Key
from lattice.values import half_up

TICKS_PER_BEAT = 960

_MAJORS = ["C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"]
_MINORS = ["Cm", "C#m", "Dm", "Ebm", "Em", "Fm", "F#m", "Gm", "G#m", "Am", "Bbm", "Bm"]
_DEGREE_OF_MODE = {"major": 0, "ionian": 0, "dorian": 2, "phrygian": 4, "lydian": 5,
                   "mixolydian": 7, "locrian": 11}


def key_signature(key: Key) -> str:
    """The signature of a key: a mode has that of the major scale it shares its notes with."""
    if key.scale in _DEGREE_OF_MODE:
        return _MAJORS[(key.root - _DEGREE_OF_MODE[key.scale]) % 12]
    return _MINORS[key.root]


def to_midi(clip: Clip, ticks_per_beat: int = TICKS_PER_BEAT) -> bytes:
    """A format 1 file: tempo, metre, key and name first, then a track a lane.

    The end of every track stands exactly at the clip's length, so that the file loops; a note that
    hangs over is cut there.
    """
    end = half_up(float(clip.beats * ticks_per_beat))
    file = MidiFile(type=1, ticks_per_beat=ticks_per_beat, charset="utf-8")
    file.tracks.append(_track([
        (0, 0, MetaMessage("track_name", name=clip.name)),
        (0, 0, MetaMessage("time_signature", numerator=clip.meter[0], denominator=clip.meter[1])),
        (0, 0, MetaMessage("key_signature", key=key_signature(clip.key))),
        (0, 0, MetaMessage("set_tempo", tempo=bpm2tempo(clip.tempo))),
    ], end))
    for lane in clip.lanes:
        events: list[tuple[int, int, Message | MetaMessage]] = [
            (0, 0, MetaMessage("track_name", name=lane.name))]
        notes = [note for note in clip.notes if note.lane == lane.id]
        for on, off, note in _in_ticks(notes, ticks_per_beat, end):
            voice = {"channel": note.channel - 1, "note": note.pitch}
            events.append((on, 2, Message("note_on", velocity=note.velocity, **voice)))
            events.append((off, 1, Message("note_off", velocity=0, **voice)))
        file.tracks.append(_track(events, end))
    buffer = BytesIO()
    file.save(file=buffer)
    return buffer.getvalue()


def _in_ticks(notes: list[ClipNote], ticks_per_beat: int, end: int) -> list[
        tuple[int, int, ClipNote]]:
    """(on, off, note) in whole ticks: at least one tick long, never overlapping on one pitch."""
    sounding: dict[tuple[int, int], int] = {}
    result: list[tuple[int, int, ClipNote]] = []
    for note in notes:
        on = min(half_up(note.start * ticks_per_beat), end - 1)
        off = min(max(half_up((note.start + note.length) * ticks_per_beat), on + 1), end)
        before = sounding.get((note.channel, note.pitch))
        if before is not None:
            was_on, was_off, was = result[before]
            if was_on == on:  # apart by less than a tick: one note, as when they begin together
                louder = was if was.velocity >= note.velocity else note
                result[before] = (on, max(off, was_off), louder)
                continue
            result[before] = (was_on, min(was_off, on), was)
        sounding[note.channel, note.pitch] = len(result)
        result.append((on, off, note))
    return result


def _track(events: list[tuple[int, int, Message | MetaMessage]], end: int) -> MidiTrack:
    """A track of (tick, rank, message): note-offs (rank 1) before note-ons (2) at one tick."""
    track, at = MidiTrack(), 0
    for tick, _, message in sorted(events, key=lambda event: event[:2]):
        message.time = tick - at
        track.append(message)
        at = tick
    track.append(MetaMessage("end_of_track", time=end - at))
    return track
