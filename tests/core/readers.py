"""MIDI files as readers that are not ours find them."""

import subprocess
from pathlib import Path

import mido
import pretty_midi

Found = list[tuple[int, ...]]
"""Notes as (channel from 0, pitch, velocity, start and end in ticks), sorted."""


def by_mido(path: Path) -> Found:
    """The notes that mido finds."""
    found: Found = []
    for track in mido.MidiFile(path).tracks:
        at, begun = 0, {}
        for message in track:
            at += message.time
            if message.type == "note_on" and message.velocity:
                begun[message.channel, message.note] = at, message.velocity
            elif message.type in ("note_on", "note_off"):
                start, velocity = begun.pop((message.channel, message.note))
                found.append((message.channel, message.note, velocity, start, at))
    return sorted(found)


def by_midicsv(path: Path) -> Found:
    """The notes that midicsv finds."""
    text = subprocess.run(["midicsv", str(path)], check=True, capture_output=True,
                          encoding="latin-1").stdout
    found: Found = []
    begun: dict[tuple[str, int, int], tuple[int, int]] = {}
    for line in text.splitlines():
        track, at, kind, *fields = (field.strip() for field in line.split(","))
        if kind not in ("Note_on_c", "Note_off_c"):
            continue
        channel, pitch, velocity = map(int, fields[:3])
        if kind == "Note_on_c" and velocity:
            begun[track, channel, pitch] = int(at), velocity
        else:
            start, loud = begun.pop((track, channel, pitch))
            found.append((channel, pitch, loud, start, int(at)))
    return sorted(found)


def by_pretty_midi(path: Path, tempo: float) -> Found:
    """The notes that pretty_midi finds, which tells no channels and counts in seconds."""
    file = pretty_midi.PrettyMIDI(str(path))
    ticks = tempo / 60 * file.resolution
    return sorted((note.pitch, note.velocity, round(note.start * ticks), round(note.end * ticks))
                  for instrument in file.instruments for note in instrument.notes)
