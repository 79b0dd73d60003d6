"""Chords that a key offers, and progressions in common use."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from lattice.pitch.chords import FROM_ROOT, NUMERALS, Chord, read_chord
from lattice.pitch.key import Key
from lattice.pitch.names import chord_name

_ENDINGS = ("", "7", "maj7", "dim", "m7b5", "aug", "sus4", "sus2", "6", "add9", "9", "maj9")

PROGRESSIONS: dict[str, str] = {
    "I V vi IV": "four chords, bright", "vi IV I V": "four chords, dark",
    "I vi IV V": "doo-wop turn", "I IV V IV": "three chords",
    "ii7 V7 Imaj7 %": "home by the fifth", "Imaj7 vi7 ii7 V7": "turnaround",
    "iii7 vi7 ii7 V7": "longer way home", "i bVI bIII bVII": "minor, four chords",
    "i bVII bVI V": "descending minor", "i bVII bVI bVII": "minor, there and back",
    "i iv bVII bIII": "minor by fifths", "i7 IV7": "dorian vamp", "I bVII IV I": "mixolydian",
    "I II": "lydian vamp", "i bII": "phrygian vamp",
    "I7 % % % IV7 % I7 % V7 IV7 I7 V7": "twelve bars",
    "I V vi iii IV I IV V": "canon", "Imaj7 bIIImaj7 bVImaj7 bIImaj7": "down by thirds",
    "i V7/V V7 i": "by the fifth's fifth", "I I/3 IV iv": "bass that climbs, then minor",
}
"""Progressions by what is written, and what they are like."""


@dataclass(frozen=True, slots=True)
class OfferedChord:
    """A chord as it is to be written, and what it is called else."""

    word: str
    name: str


@dataclass(frozen=True, slots=True)
class OfferedProgression:
    """A progression as it is to be written, what it is like, and whether it is of the key's kind:
    minor where that is minor."""

    text: str
    about: str
    fits: bool


def _fits(chord: Chord, key: Key) -> bool:
    return all((chord.root + tone - key.root) % 12 in key.notes for tone in chord.tones)


@lru_cache(256)
def offered_chords(key: Key, *, named: bool) -> tuple[OfferedChord, ...]:
    """The chords that lie wholly in a key, triads first, written as numerals or by their names, as
    the others are."""
    found: list[OfferedChord] = []
    for ending in _ENDINGS:
        for root in FROM_ROOT:
            for word in (root + ending, _lower(root) + ending):
                chord = read_chord(word, 1, key.root)
                name = chord_name(chord, key)
                if _fits(chord, key) and all(each.name != name for each in found):
                    found.append(OfferedChord(word, name))
    return tuple(OfferedChord(each.name, each.word) for each in found) if named else tuple(found)


@lru_cache(256)
def offered_progressions(key: Key) -> tuple[OfferedProgression, ...]:
    """Progressions in common use, those of the key's kind first: where its chord on the root is
    minor, those with a minor one."""
    minor = 3 in key.triad
    told = [OfferedProgression(text, about, minor == _is_minor(text))
            for text, about in PROGRESSIONS.items()]
    return tuple(sorted(told, key=lambda each: not each.fits))


def _is_minor(text: str) -> bool:
    return any(read_chord(word, 1, 0).root == 0 and word[0] == "i"
               for word in text.split() if word != "%")


def _lower(root: str) -> str:
    numeral = root.lstrip("b")
    assert numeral in NUMERALS
    return root.replace(numeral, numeral.lower())
