"""The chords that notes sound together, as a progression."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from functools import cache
from math import ceil

from lattice.clip.document import ClipNote
from lattice.pitch.chords import read_chord
from lattice.pitch.key import Key
from lattice.pitch.names import spelling
from lattice.pitch.progression import MOST_CHORDS, Chords

ENDINGS = ("", "m", "7", "m7", "maj7", "dim", "m7b5", "dim7", "aug", "sus4", "sus2", "6", "m6",
           "9", "m9", "maj9", "add9", "madd9", "7sus4", "mmaj7")
"""What a chord is called by after its root; of two for the same notes the earlier."""
STRUM = 0.25
"""The notes of a chord begin within this share of a beat."""
OVERLAP = 0.25
"""What still sounds for less than this share belongs to the chord before."""
LEAST = 3
"""So many different notes are a chord."""

Called = tuple[int, str]
"""A chord: its root as a pitch class, and its ending."""


def found_progression(lanes: Sequence[Sequence[ClipNote]], key: Key, beat: Fraction, bar: Fraction,
                      bars: int) -> Chords | None:
    """The progression that pitched lanes play, written by names, a `beat` of the metre being the
    shortest that a chord lasts: of the lanes that sound three notes at once. As short as it repeats
    in whole bars. None where they play chords for less than half of the time.
    """
    count = int(bars * bar / beat)
    heard = [_sounding(notes, float(beat), count) for notes in lanes]
    called = [_called(_lowest(pitch for part in parts for pitch in part.values()))
              for parts in zip(*heard, strict=True)]
    known = [each for each in called if each is not None]
    if not known or 2 * len(known) < count:
        return None
    last = known[0]
    row = [last := each or last for each in called]
    a_bar = int(bar / beat)
    period = next(n * a_bar for n in range(1, bars + 1) if bars % n == 0
                  and all(row[i] == row[i % (n * a_bar)] for i in range(count)))
    return _written(row[:period], key, beat, bar)


def _sounding(notes: Sequence[ClipNote], beat: float, count: int) -> list[dict[int, int]]:
    """The chord that sounds in each beat: its pitch classes, each with its lowest pitch."""
    held: list[list[ClipNote]] = [[] for _ in range(count)]
    for note in notes:
        for i in range(max(0, int(note.start / beat)), min(count, ceil(note.end / beat))):
            held[i].append(note)
    return [_together(near, i * beat, beat) for i, near in enumerate(held)]


def _together(notes: Sequence[ClipNote], begin: float, beat: float) -> dict[int, int]:
    """The most notes that begin together; else those that sound as the beat begins."""
    begun = [note for note in notes if note.start > begin - STRUM * beat]
    first = 0
    most: dict[int, int] = {}
    for last, note in enumerate(begun):
        while begun[first].start < note.start - STRUM * beat:
            first += 1
        if last + 1 - first > len(most):
            most = max(most, _lowest(each.pitch for each in begun[first : last + 1]), key=len)
    if len(most) < LEAST:
        most = _lowest(note.pitch for note in notes if note.start <= begin + 1e-6
                       and note.end >= begin + OVERLAP * beat)
    return most if len(most) >= LEAST else {}


def _lowest(pitches: Iterable[int]) -> dict[int, int]:
    """Each pitch class with its lowest pitch."""
    found: dict[int, int] = {}
    for pitch in pitches:
        found[pitch % 12] = min(pitch, found.get(pitch % 12, pitch))
    return found


def _called(lies: dict[int, int]) -> Called | None:
    """What notes are called that sound together, from the lowest as the root if there is such a
    chord, or from another; None where they are none."""
    roots = sorted(lies, key=lambda each: lies[each])
    for root in roots:
        ending = _shapes().get(frozenset((each - root) % 12 for each in lies))
        if ending is not None:
            return root, ending
    return None


@cache
def _shapes() -> dict[frozenset[int], str]:
    """Each chord by its tones above the root."""
    shapes: dict[frozenset[int], str] = {}
    for ending in ENDINGS:
        tones = read_chord(f"C{ending}", 1, 0).tones
        shapes.setdefault(frozenset(tone % 12 for tone in tones), ending)
    return shapes


def _written(row: Sequence[Called], key: Key, beat: Fraction, bar: Fraction) -> Chords | None:
    names = [name.replace("♭", "b").replace("♯", "#") for name in spelling(key)]
    words: list[str] = []
    lasts: list[Fraction] = []
    for i, (root, ending) in enumerate(row):
        if i and row[i - 1] == row[i]:
            lasts[-1] += beat
        else:
            words.append(f"{names[root]}{ending}")
            lasts.append(beat)
    if len(words) > MOST_CHORDS:
        return None
    return Chords(text=" ".join(words),
                  beats=None if all(each == bar for each in lasts) else tuple(lasts))
