"""What notes are called, 60 being C4, and how such names are read."""

from __future__ import annotations

import re
from collections.abc import Sequence

SHARPS = ("C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B")
FLATS = ("C", "D♭", "D", "E♭", "E", "F", "G♭", "G", "A♭", "A", "B♭", "B")
NATURAL = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
RAISED = {"": 0, "#": 1, "♯": 1, "b": -1, "♭": -1}
NOTES = 128


def named(pitch: int, spelling: Sequence[str] = SHARPS) -> str:
    """A note by its name, as "F♯3"."""
    return f"{spelling[pitch % 12]}{pitch // 12 - 1}"


def note_names(spelling: Sequence[str] = SHARPS) -> tuple[str, ...]:
    """The names of all notes, 0 to 127."""
    return tuple(named(pitch, spelling) for pitch in range(NOTES))


def note_called(text: str) -> int | None:
    """The note that a name such as "C4", "F#3" or "Bb-1" stands for; without an octave ("Eb") its
    pitch class, 0 to 11. None where it is no name of one."""
    found = re.fullmatch(r"([A-Ga-g])([#♯b♭]?)(-?\d{1,2})?", text.strip())
    if not found:
        return None
    letter, raised, octave = found.groups()
    place = NATURAL[letter.upper()] + RAISED[raised]
    return place % 12 if octave is None else place + 12 * (int(octave) + 1)
