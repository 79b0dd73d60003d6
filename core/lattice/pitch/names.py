"""What notes are called: "A3", "B♭4", with the degree that they are in a key."""

from __future__ import annotations

from functools import cache

from lattice.base.notes import FLATS, SHARPS, named, note_names
from lattice.base.words import ordinal
from lattice.pitch.chords import Chord
from lattice.pitch.key import Key
from lattice.pitch.scales import scale_words

ROOTS = ("C", "D♭", "D", "E♭", "E", "F", "F♯", "G", "A♭", "A", "B♭", "B")
"""What the twelve roots are called."""


def spelling(key: Key) -> tuple[str, ...]:
    """The names of the twelve pitch classes in a key: with flats where its major scale, or with a
    minor third its minor scale, has them."""
    minor = 3 in key.notes and 4 not in key.notes
    relative = (key.root + 3) % 12 if minor else key.root
    return FLATS if relative in (1, 3, 5, 8, 10) else SHARPS


@cache
def names_in(key: Key) -> tuple[str, ...]:
    """What all notes, 0 to 127, are called in a key."""
    return note_names(spelling(key))


def key_name(key: Key) -> str:
    """A key as it reads, as "D dorian"."""
    return f"{ROOTS[key.root]} {scale_words(key.scale)}"


def pitch_name(pitch: int, key: Key) -> str:
    """A note as it is called in a key, 60 being C4."""
    return named(pitch, spelling(key))


def chord_name(chord: Chord, key: Key) -> str:
    """A chord by its name, as "Dm7" or "C/E"."""
    names = spelling(key)
    below = f"/{names[chord.bass]}" if chord.bass != chord.root else ""
    return f"{names[chord.root]}{chord.quality}{below}"


def degree_name(degree: int) -> str:
    """A degree, from 0, as it is called: "root", "2nd" …"""
    return "root" if degree == 0 else ordinal(degree + 1)


def told_note(pitch: int, key: Key) -> str:
    """A note with its degree, as in "A3, 5th"; or that it is out of key."""
    degree = key.degree_of(pitch)
    name = pitch_name(pitch, key)
    if degree is None:
        return f"{name}, out of key"
    return f"{name}, {degree_name(degree)}"
