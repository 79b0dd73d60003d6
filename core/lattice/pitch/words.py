"""The words for a lane's pitches, and for the pattern's key and chords."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from lattice.base.clauses import ClauseKind, Fields, Names, Part
from lattice.base.errors import RecipeError
from lattice.base.values import limits, to_beats, to_fraction
from lattice.base.words import Fold, Slot, choice, note, notes, number, percent, typed
from lattice.pitch.fields import PitchFields, Register, Semitones, Strum
from lattice.pitch.key import Key
from lattice.pitch.names import ROOTS, names_in, spelling
from lattice.pitch.offered import offered_progressions
from lattice.pitch.progression import Chords, Harmonised
from lattice.pitch.reading import READING_WORDS
from lattice.pitch.scales import SCALES, scale_words
from lattice.pitch.voicing import VOICING_WORDS
from lattice.strands.kinds import DEGREE, Degree
from lattice.strands.words import strand_forms, strand_words, written

OWN = "own"
"""What the word for a scale says of one of the musician's own."""


def key_words(key: Key) -> list[Slot]:
    """The words of a key: root, scale, and the notes of a scale of the musician's own."""
    roots = dict(enumerate(ROOTS))
    scales = {name: (scale_words(name), " ".join(map(str, notes)))
              for name, notes in SCALES.items()} | {OWN: ("own scale", "notes of your own")}
    words = [choice("key.root", "key", key.root, roots),
             choice("key.scale", "scale", key.scale if isinstance(key.scale, str) else OWN, scales)]
    if not isinstance(key.scale, str):
        called = [spelling(key)[(key.root + i) % 12] for i in range(12)]
        words.append(notes("key.notes", "notes of the scale", key.scale, called))
    return words


def key_written(key: Key, slot: str, value: Any) -> Fields:
    """The fields that the new value of a key's word is written to."""
    if slot == "key.scale" and value == OWN:
        return {"key.scale": list(key.notes)}
    return {"key.scale" if slot == "key.notes" else slot: value}


def spaced(words: list[Slot]) -> list[Part]:
    """Words with blanks between."""
    return [part for word in words for part in (word, " ")][:-1]


PATTERN_KEY = ClauseKind[Harmonised](
    "key", "key", lambda frame: True, lambda frame, names: ["In ", *spaced(key_words(frame.key)),
                                                            "."],
    writes=lambda frame, slot, value: key_written(frame.key, slot, value))
OWN_KEY = ClauseKind[PitchFields](
    "own-key", "own key", lambda lane: lane.key is not None,
    lambda lane, names: ["In a key of its own, ", *spaced(key_words(lane.key or Key())), "."],
    starts={"key": {"root": 0, "scale": "major"}}, cleared=("key",),
    possible=lambda lane: lane.in_scale, about="another key than the pattern's",
    group="which notes",
    writes=lambda lane, slot, value: key_written(lane.key or Key(), slot, value))


def _beats_text(chords: Chords) -> str:
    if chords.beats is None:
        return "one bar each"
    lengths = chords.beats if isinstance(chords.beats, tuple) else (chords.beats,)
    return " ".join(map(str, lengths))


def _beats_read(text: str) -> list[str] | None:
    """Lengths as they are typed: fractions or numbers, or "one bar each"."""
    if text == "one bar each":
        return None
    try:
        lengths = text.replace(",", " ").removesuffix("s").removesuffix("beat").split()
        return [str(_length(word)) for word in lengths]
    except ValueError:
        raise RecipeError("The lengths of chords are numbers of beats, such as 4 2 2 or 3/2, or "
                          "“one bar each”.") from None


def _length(word: str) -> Fraction:
    return to_fraction(to_beats(float(word)) if "." in word else word)


CHORDS = ClauseKind[Harmonised](
    "chords", "chords", lambda frame: frame.chords is not None,
    lambda frame, names: [
        "Chords ", typed("chords.text", "chords", frame.chords.text), " for ",
        typed("chords.beats", "lengths of the chords in beats", _beats_text(frame.chords)),
        "." if frame.chords.beats is None else " beats."] if frame.chords else [],
    starts=lambda frame: {"chords": {"text": offered_progressions(frame.key)[0].text}},
    cleared=("chords",),
    about="a progression that lanes may follow", group="which notes", often=True,
    writes=lambda frame, slot, value: {
        slot: _beats_read(value) if slot == "chords.beats" else value})


def register_words(lane: PitchFields) -> list[Part]:
    """From where on degrees are counted: an octave, or any note."""
    from_note = lane.lowest is not None
    parts: list[Part] = ["from ", choice("register", "register", "note" if from_note else "octave",
                                         {"octave": ("octave", ""), "note": ("note", "")}), " "]
    if lane.lowest is None:
        return [*parts, number("octave", "octave", lane.octave, *limits(Register)), " up"]
    return [*parts, note("from", "lowest note", lane.lowest, names_in(lane.key or Key())), " up"]


def register_written(lane: PitchFields, slot: str, value: Any) -> Fields:
    """A register that begins with a note has its `from`."""
    if slot != "register":
        return {slot: value}
    return {"from": 12 * (lane.octave + 1) if value == "note" else None}


def _degree_parts(lane: PitchFields, names: Names) -> list[Part]:
    reading = choice("reads", "way of reading degrees", lane.reads, READING_WORDS)
    strand = lane.strands.of(DEGREE)
    if strand is None:
        return ["Degree ", number("degree", "degree", lane.degree, *limits(Degree)), ", ", reading,
                ", ", *register_words(lane), "."]
    return [Fold(f"Degrees from their strand of {len(strand.values)}, ", ["Degrees "]), reading,
            ", ", *register_words(lane), Fold("", [", ", *strand_words(DEGREE, lane)]), "."]


def _degree_written(lane: PitchFields, slot: str, value: Any) -> Fields:
    return written(lane, slot, value) if slot.startswith("strands.") else \
        register_written(lane, slot, value)


DEGREES = ClauseKind[PitchFields](
    "degree", "degree", lambda lane: lane.reads_degrees, _degree_parts, writes=_degree_written,
    forms=lambda lane: strand_forms(DEGREE, lane))


def _signed(slot: str, label: str, value: int, bounds: tuple[int, int]) -> Slot:
    return number(slot, label, value, *bounds, text=f"{value:+d}")


def _transposed(lane: PitchFields, names: Names) -> list[Part]:
    parts: list[Part] = ["Moved by ", _signed("transpose.degrees", "degrees of transposition",
                                              lane.transpose.degrees, limits(Degree)), " degrees"]
    if lane.pitched:
        parts += [" and ", _signed("transpose.semitones", "semitones of transposition",
                                   lane.transpose.semitones, limits(Semitones)), " semitones"]
    return [*parts, "."]


TRANSPOSE = ClauseKind[PitchFields](
    "transpose", "transpose",
    lambda lane: lane.transpose.degrees != 0 or (
        lane.pitched and lane.transpose.semitones != 0),
    _transposed,
    starts={"transpose.degrees": 2}, cleared=("transpose",),
    possible=lambda lane: lane.in_scale, about="in key by degrees, or by semitones",
    group="which notes")


def _voicing_parts(lane: PitchFields, names: Names) -> list[Part]:
    return ["Chords lie ", choice("voicing", "voicing", lane.voicing, VOICING_WORDS),
            ", strummed over ", percent("strum", "strum", lane.strum, *limits(Strum)),
            " of the step."]


VOICING = ClauseKind[PitchFields](
    "voicing", "voicing", lambda lane: lane.chord_steps, _voicing_parts)

NEAR = ClauseKind[PitchFields](
    "near", "near way", lambda lane: lane.near,
    lambda lane, names: ["From chord to chord it goes the near way."],
    starts={"near": True}, cleared=("near",),
    possible=lambda lane: lane.counts_from_chord and not lane.chord_steps,
    about="no leaps up and down between roots", group="which notes")
