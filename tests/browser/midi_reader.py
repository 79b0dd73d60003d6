"""Notes of a MIDI file as Debian's midicsv reads them, a reader that is not ours."""

import subprocess


def read(data: bytes) -> tuple[list[tuple[int, int, int, int]], int]:
    """(start, end, pitch, velocity) of each note in ticks, sorted, and the end of the tracks."""
    text = subprocess.run(["midicsv", "-", "-"], input=data, capture_output=True, check=True).stdout
    open_notes: dict[tuple[int, int, int], tuple[int, int]] = {}
    notes, end = [], 0
    for line in text.decode("latin-1").splitlines():
        track, tick, kind, *rest = (field.strip() for field in line.split(","))
        if kind in ("Note_on_c", "Note_off_c"):
            channel, pitch, velocity = map(int, rest)
            key = (int(track), channel, pitch)
            if kind == "Note_on_c" and velocity:
                open_notes[key] = (int(tick), velocity)
            else:
                start, loud = open_notes.pop(key)
                notes.append((start, int(tick), pitch, loud))
        elif kind == "End_track":
            end = max(end, int(tick))
    assert not open_notes, "every note ends"
    return sorted(notes), end
