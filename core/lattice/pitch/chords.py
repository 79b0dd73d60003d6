"""Chords as people write them: Roman numerals counted from a key's root, or names.

The grammar: [b or #] numeral, or a name with b or # and `m`; then one ending; then `/` and what
lies in the bass, or the degree that the numeral is applied to.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass

from lattice.base.errors import RecipeError

MAJOR = (0, 2, 4, 5, 7, 9, 11)
NUMERALS = ("I", "II", "III", "IV", "V", "VI", "VII")
FROM_ROOT = ("I", "bII", "II", "bIII", "III", "IV", "bV", "V", "bVI", "VI", "bVII", "VII")
"""The numeral of each semitone above a key's root."""
LETTERS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}

Roles = dict[int, tuple[int, ...]]
"""A chord's tones by what they are (1 the root, 3 the third …), in semitones above the root."""

_SEVENTHS = {"7": 10, "maj7": 11, "9": 10, "maj9": 11, "11": 10, "13": 10}
_MORE: dict[str, Roles] = {
    "6": {6: (9,)}, "6/9": {6: (9,), 9: (14,)}, "9": {9: (14,)}, "maj9": {9: (14,)},
    "add9": {9: (14,)}, "11": {9: (14,), 11: (17,)}, "13": {9: (14,), 13: (21,)}}
_WHOLE: dict[str, Roles] = {
    "5": {1: (0,), 5: (7,)},
    "sus2": {1: (0,), 2: (2,), 5: (7,)},
    "sus4": {1: (0,), 4: (5,), 5: (7,)},
    "7sus4": {1: (0,), 4: (5,), 5: (7,), 7: (10,)},
    "7sus2": {1: (0,), 2: (2,), 5: (7,), 7: (10,)},
    "dim": {1: (0,), 3: (3,), 5: (6,)},
    "dim7": {1: (0,), 3: (3,), 5: (6,), 7: (9,)},
    "m7b5": {1: (0,), 3: (3,), 5: (6,), 7: (10,)},
    "aug": {1: (0,), 3: (4,), 5: (8,)},
    "aug7": {1: (0,), 3: (4,), 5: (8,), 7: (10,)},
}
"""Endings that say all of the chord, in either case."""
_SAME = {"sus": "sus4", "o": "dim", "°": "dim", "o7": "dim7", "°7": "dim7", "ø": "m7b5",
         "ø7": "m7b5", "+": "aug", "+7": "aug7"}
_ALTERED = {"b5": (5, 6), "#5": (5, 8), "b9": (9, 13), "#9": (9, 15), "#11": (11, 18),
            "b13": (13, 20)}
"""What an alteration puts in the place of a plain tone."""
_AFTER_M = {"", "5", "6", "7", "maj7", "9", "maj9", "add9", "11", "7b5"}

_ENDINGS = sorted({"", "6", *_SEVENTHS, *_MORE, *_WHOLE, *_SAME}, key=len, reverse=True)
_ENDING = "|".join(map(re.escape, _ENDINGS))
_WORD = re.compile(
    rf"(?:(?P<shift>[b#]?)(?P<numeral>VII|VI|V|IV|III|II|I|vii|vi|v|iv|iii|ii|i)"
    rf"|(?P<name>[A-G][b#]?)(?P<minor>m(?!aj))?)"
    rf"(?P<ending>{_ENDING})(?P<altered>(?:b5|\#5|b9|\#9|\#11|b13)*)(?P<slashes>(?:/[^/]+)*)")
BELOW = "3", "5", "7"
"""What may lie in the bass by its number."""
_NOTE = re.compile(r"[A-G][b#]?")
_NAMED = re.compile(rf"(?:^|(?<=/)){_NOTE.pattern}")
"""The root of a chord that is written by its name, and a note in its bass."""
_DEGREE = re.compile(r"([b#]?)(VII|VI|V|IV|III|II|I|vii|vi|v|iv|iii|ii|i)")


@dataclass(frozen=True, slots=True)
class Chord:
    """A chord that sounds: its root and bass as pitch classes, and its tones in semitones above
    the root, as they are spelled. `word` is how it was written, `quality` what follows the root in
    its name."""

    word: str
    quality: str
    root: int
    bass: int
    tones: tuple[int, ...]

    @property
    def classes(self) -> tuple[int, ...]:
        """Its pitch classes in semitones above the bass, ascending from 0."""
        return tuple(sorted({(self.root + tone - self.bass) % 12 for tone in self.tones} | {0}))

    @property
    def spelled(self) -> tuple[int, ...]:
        """Every tone as spelled upward from the bass, in semitones above it: ninths above the
        octave; with another bass, each tone where it is spelled if that lies above the bass, else
        octaves higher."""
        under = (self.bass - self.root) % 12
        if under == 0:
            return tuple(sorted(set(self.tones)))
        above = {tone - under if tone > under else tone - under + 12
                 for tone in self.tones if (tone - under) % 12}
        return (0, *sorted(above))

    def holds(self, pitch: int) -> bool:
        """Whether a pitch belongs to the chord."""
        return (pitch - self.bass) % 12 in self.classes

    def nearest(self, pitch: int) -> int:
        """The nearest pitch that belongs to the chord; of two equally near, the lower."""
        return next(pitch + way * distance for distance in range(12) for way in (-1, 1)
                    if self.holds(pitch + way * distance))


def _note_class(name: str) -> int:
    return (LETTERS[name[0]] + {"b": -1, "#": 1}.get(name[1:], 0)) % 12


def _above(shift: str, numeral: str) -> int:
    """A degree of the major scale, moved by b or #, in semitones."""
    return MAJOR[NUMERALS.index(numeral.upper())] + {"b": -1, "#": 1}.get(shift, 0)


def _tones(ending: str, altered: list[str], third: int) -> Roles:
    ending = _SAME.get(ending, ending)
    plain: Roles = {1: (0,), 3: (third,), 5: (7,)}
    roles = dict(_WHOLE[ending]) if ending in _WHOLE else plain | _MORE.get(ending, {})
    if ending in _SEVENTHS:
        roles[7] = (_SEVENTHS[ending],)
    for role in {_ALTERED[each][0] for each in altered}:
        roles[role] = tuple(_ALTERED[each][1] for each in altered if _ALTERED[each][0] == role)
    return roles


def read_chord(word: str, number: int, key_root: int) -> Chord:
    """The chord that a word means, numerals counted from the major scale of `key_root`.

    RecipeError with the word and its number (from 1) for what cannot be read.
    """
    plain = _plain(word)
    refusal = RecipeError(f"Chord {number}, “{word[:40]}”, cannot be read; chords are written as "
                          "in ii V7 I, or Dm7 G7 C.")
    found = _WORD.fullmatch(plain)
    if found is None:
        raise refusal
    ending, altered = found["ending"], re.findall(r"[b#]\d+", found["altered"])
    if altered and ending not in ("7", "9"):
        raise refusal
    if found["minor"] and ending + "".join(altered) not in _AFTER_M:
        raise refusal
    numeral = found["numeral"]
    third = 3 if found["minor"] or (numeral and numeral.islower()) else 4
    root = _note_class(found["name"]) if found["name"] else key_root + _above(
        found["shift"], numeral)
    roles = _tones(ending, altered, third)
    slashes = found["slashes"].split("/")[1:]
    if numeral and slashes and (applied := _DEGREE.fullmatch(slashes[0])):
        root += _above(applied[1], applied[2])
        slashes = slashes[1:]
    root %= 12
    tones = tuple(sorted({tone for each in roles.values() for tone in each}))
    bass = root
    if len(slashes) > 1:
        raise refusal
    if slashes:
        below = slashes[0]
        if below in BELOW:
            if int(below) not in roles:
                raise RecipeError(f"Chord {number}, “{word[:40]}”, has no {below} to put in the "
                                  "bass.")
            bass = (root + roles[int(below)][0]) % 12
        elif _NOTE.fullmatch(below):
            bass = _note_class(below)
        else:
            raise refusal
        if not any((root + tone - bass) % 12 == 0 for tone in tones):
            tones = tuple(sorted({*tones, (bass - root) % 12}))
    minor = "m" if third == 3 and _SAME.get(ending, ending) not in _WHOLE else ""
    return Chord(word, minor + ending + "".join(altered), root, bass, tones)


def is_name(word: str) -> bool:
    """Whether a chord is written by its name, and not as a numeral; that it can be read is
    known."""
    return word[:1] in LETTERS


def moved_name(word: str, by: int, names: Sequence[str]) -> str:
    """A chord that is written by its name, so many semitones higher, by these names of the pitch
    classes; numerals, and what repeats the chord before, stay."""
    if not is_name(word):
        return word
    return _NAMED.sub(lambda found: names[(_note_class(found[0]) + by) % 12], _plain(word))


def as_numeral(word: str, key_root: int) -> str:
    """A chord that is written by its name as a numeral in a key; what is one already stays."""
    found = _WORD.fullmatch(_plain(word))
    if found is None or not found["name"]:
        return word
    chord = read_chord(word, 1, key_root)
    numeral = FROM_ROOT[(chord.root - key_root) % 12]
    if 3 in chord.tones and 4 not in chord.tones:
        numeral = "b" * numeral.startswith("b") + numeral.lstrip("b").lower()
    plain = f"{numeral}{found['ending']}{found['altered']}"
    if found["slashes"]:
        for below in BELOW:  # so that the bass moves along
            with suppress(RecipeError):
                said = read_chord(f"{plain}/{below}", 1, key_root)
                if (said.bass, said.tones) == (chord.bass, chord.tones):
                    return said.word
    return plain + found["slashes"]


def _plain(word: str) -> str:
    return word.replace("♭", "b").replace("♯", "#")
