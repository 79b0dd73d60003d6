"""Keys, chords, readings and voicings: the known answers."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.edits.chords import RewriteChords
from lattice.edits.words import AddClause
from lattice.pitch.chords import as_numeral, is_name, moved_name, read_chord
from lattice.pitch.key import Key
from lattice.pitch.names import spelling, told_note
from lattice.pitch.offered import offered_chords, offered_progressions
from lattice.pitch.scales import SCALES
from lattice.play import Performance, play
from lattice.recipe import read
from lattice.results.view import first_chord

from tests.core.recipes import hand, recipe

ALL = hand(*range(16))


def pitches(lane: dict[str, Any], beats: float = 4, **pattern: Any) -> list[int]:
    """What a pitched lane plays with a hit on every step."""
    return [note.pitch for note in play(recipe({"kind": "pitched", "rule": ALL} | lane, **pattern),
                                        0, beats)]


def degrees(*values: Any, **lane: Any) -> dict[str, Any]:
    return {"strands": {"degree": {"values": list(values), "by": "hit"}}} | lane


def chord(text: str, root: int = 0) -> list[int]:
    """The pitch classes of a chord from its bass up."""
    found = read_chord(text, 1, root)
    return [(found.bass + above) % 12 for above in found.classes]


WORDS = st.builds("{}{}{}".format, st.sampled_from(["C", "F#", "Bb", "E"]), st.sampled_from(
    ["", "m", "7", "m7", "maj7", "m7b5", "dim7", "sus4", "6", "9", "mmaj7", "7b9", "aug"]),
    st.sampled_from(["", "", "/3", "/5", "/G", "/B"]))


@given(WORDS, st.integers(0, 11), st.integers(0, 11))
def test_names_move_with_a_key_and_become_numerals(word: str, root: int, other: int) -> None:
    found = read_chord(word, 1, root)
    assert is_name(word)
    numeral = as_numeral(word, root)
    assert not is_name(numeral) and as_numeral(numeral, root) == numeral
    same = read_chord(numeral, 1, root)
    assert (same.root, same.bass, same.tones) == (found.root, found.bass, found.tones)
    moved = read_chord(moved_name(word, other, spelling(Key(root=other))), 1, root)
    by = {(moved.root - found.root) % 12, (moved.bass - found.bass) % 12}
    assert by == {other} and moved.tones == found.tones and moved_name(numeral, 5, ()) == numeral


def test_what_is_offered_is_written_as_the_others_are() -> None:
    for key in (Key(), Key(root=9, scale="minor"), Key(root=3, scale="dorian")):
        plain, named = offered_chords(key, named=False), offered_chords(key, named=True)
        assert [(each.name, each.word) for each in plain] == [(e.word, e.name) for e in named]
        assert all(is_name(each.word) and chord(each.word) == chord(each.name, key.root)
                   for each in named)
        first = offered_progressions(key)[0]
        begun = AddClause(do="add", lane=None, clause="chords").apply(recipe(key=to_json(key)))
        assert begun.chords and begun.chords.text == first.text
        assert first.fits and first.text.startswith("i " if 3 in key.triad else "I ")
    found = recipe(chords={"text": "Dm7 G7/3 % C"}, key={"root": 0, "scale": "major"})
    assert found.chords and found.chords.named
    assert not recipe(chords={"text": "Dm7 V % C"}).chords.named  # type: ignore[union-attr]
    later = read(to_json(found) | {"key": {"root": 3, "scale": "major"}})
    for how, text in (("move", "Fm7 B♭7/3 % E♭"), ("numerals", "ii7 V7/3 % I")):
        edit = RewriteChords(do="rewrite_chords", root=0, how=how)
        assert edit.apply(later).chords.text == text


def test_degrees_of_a_key() -> None:
    assert pitches(degrees(*range(8)), 2) == [60, 62, 64, 65, 67, 69, 71, 72]
    assert pitches({"degree": -1}, 0.25) == [59]
    assert pitches(degrees(*range(8), key={"root": 2, "scale": "dorian"}), 2) == [
        62, 64, 65, 67, 69, 71, 72, 74]
    assert pitches({"key": {"root": 11, "scale": [0, 5]}, "from": 55}, 0.25) == [59]
    assert pitches({"octave": 3, "transpose": {"degrees": 2, "semitones": 1}}, 0.25) == [53]


@pytest.mark.parametrize(("text", "notes"), [
    ("ii", [2, 5, 9]), ("V", [7, 11, 2]), ("I", [0, 4, 7]), ("V7/V", [2, 6, 9, 0]),
    ("V7/V/3", [6, 9, 0, 2]), ("Cm7b5", [0, 3, 6, 10]), ("viiø", [11, 2, 5, 9]),
    ("♭VII6/9", [10, 0, 2, 5, 7]), ("C/F♯", [6, 7, 0, 4]), ("Dmmaj7", [2, 5, 9, 1]),
    ("G7#5b9", [7, 8, 11, 3, 5]), ("Asus", [9, 2, 4]), ("IVmaj7/7", [4, 5, 9, 0]),
    ("bIIIaug", [3, 7, 11]), ("E7sus2", [4, 6, 11, 2])])
def test_chords_are_read(text: str, notes: list[int]) -> None:
    assert chord(text) == notes


def test_a_chord_step_is_drawn_as_the_degrees_of_the_first_chord() -> None:
    whole = {"values": [0, {"all": "chord"}], "by": "hit"}
    lane = {"id": "fern", "name": "Fern", "kind": "pitched", "strands": {"degree": whole}}

    def drawn(chords: str | None = None, **more: Any) -> tuple[int, ...]:
        found = recipe(lane | more) if chords is None else recipe(lane | more,
                                                                  chords={"text": chords})
        return first_chord(Performance(found), "fern")

    assert drawn() == (0, 2, 4) and drawn("ii7 V7 I") == (1, 3, 5, 7)
    assert drawn("IV9") == (3, 5, 7, 8, 11) and drawn("IV9", reads="chord") == (0, 2, 3, 4, 6)
    assert drawn("ii7", reads="chord-root") == (0, 2, 4, 6)
    assert drawn(strands={"degree": {"values": [0, {"all": [0, 2]}]}}) == ()


def test_numerals_count_the_major_scale_of_the_root() -> None:
    assert chord("bVII", 2) == [0, 4, 7]


@pytest.mark.parametrize(("text", "refusal"), [
    ("I Hm V", "Chord 2, “Hm”"), ("Csus4/3", "has no 3"), ("% I", "repeats the chord before"),
    ("Dm13", "cannot be read"), ("V6b9", "cannot be read"), ("C/V", "cannot be read"),
    ("I/3/5", "cannot be read"), ("ii7/V/V", "cannot be read"), (" | , ", "1 to 256 chords")])
def test_what_is_no_chord_is_refused_with_its_number(text: str, refusal: str) -> None:
    with pytest.raises(RecipeError, match=refusal):
        read({"chords": {"text": text}})


def test_as_many_lengths_as_chords_or_one() -> None:
    for beats in ([4, 2, 2], [1.5], "3/2", 0.25, None):
        read({"chords": {"text": "I | ii, V", "beats": beats}})
    for wrong in ([4, 2], [], 0, 0.3, "x", [4, 2, 2, 2]):
        with pytest.raises(RecipeError):
            read({"chords": {"text": "I ii V", "beats": wrong}})


def test_degrees_over_chords() -> None:
    over = {"chords": {"text": "IV"}}
    assert pitches({"degree": 1, "reads": "bend"}, 0.25, **over) == [60]
    near = {"reads": "chord-root", "octave": 2, "rule": hand(0)}
    walk = {"chords": {"text": "C Bb F G"}, "bars": 4}
    assert pitches(near, 16, **walk) == [36, 46, 41, 43]
    assert pitches(near | {"near": True}, 32, **walk) == [36, 34, 29, 31] * 2
    first = {"chords": {"text": "I/3"}}
    assert pitches(degrees(0, 1, 2, 3, reads="chord"), 1, **first) == [64, 67, 72, 76]
    flat = {"chords": {"text": "bVII"}}
    assert pitches(degrees(0, 1, -1, reads="chord-root", octave=3), 0.75, **flat) == [58, 59, 57]
    tall = {"chords": {"text": "C9"}}
    assert pitches(degrees({"all": "chord"}), 0.25, **tall) == [60, 64, 67, 70, 74]


@pytest.mark.parametrize(("key", "notes"), [
    ((0, "major"), [60, 64, 67]), ((9, "minor"), [69, 72, 76]), ((11, "locrian"), [71, 74, 77]),
    ((0, "whole-tone"), [60, 64, 68]), ((0, "in-sen"), [60, 65, 70]), ((0, (0, 6)), [60, 66])])
def test_without_a_progression_the_chord_is_the_keys(key: Any, notes: list[int]) -> None:
    assert pitches(degrees({"all": "chord"}), 0.25,
                   key={"root": key[0], "scale": key[1]}) == notes


def test_a_progression_goes_round_from_time_0() -> None:
    lane = {"reads": "chord", "step": "1/4", "steps": 1, "rule": hand(0)}
    found = pitches(lane, 14, chords={"text": "I % V", "beats": [2, 1, 2]})
    assert found == [60, 60, 60, 67, 67] * 2 + [60, 60, 60, 67]


def test_voicings() -> None:
    def voiced(voicing: str, *steps: Any, text: str = "I") -> list[int]:
        lane = degrees(*steps, voicing=voicing, step="1/4", steps=4, rule=hand(0, 1, 2, 3))
        return pitches(lane, len(steps), chords={"text": text, "beats": 1})

    four = {"all": [0, 2, 4, 6]}
    assert voiced("close", four) == [60, 64, 67, 71]
    assert voiced("open", four) == [60, 67, 76, 83]
    assert voiced("drop-2", four) == [55, 60, 64, 71]
    every = {"all": "chord"}
    # F over C E G moves least as C F A; single notes between are passed over.
    assert voiced("smooth", every, 0, every, text="I IV IV") == [60, 64, 67, 60, 60, 65, 69]
    assert voiced("smooth", *[every] * 6, text="I IV V")[9:12] == [60, 64, 67]  # anew


def test_a_strum_spreads_a_chord_step() -> None:
    for strum, later in ((50, [0, 0.0625, 0.125]), (-50, [0.125, 0.0625, 0])):
        lane = degrees({"all": [0, 2, 4]}, kind="pitched", strum=strum, rule=hand(0))
        found = sorted(play(recipe(lane), 0, 1), key=lambda note: note.pitch)
        assert [note.start for note in found] == later
        assert len({note.length for note in found}) == 1


def test_a_roll_in_key_moves_by_degrees() -> None:
    lane = {"kind": "pitched", "rule": hand(0),
            "rolls": [{"step": 0, "strokes": 4, "pitch": [0, 7]}]}
    assert [note.pitch for note in play(recipe(lane), 0, 1)] == [60, 64, 69, 72]


@pytest.mark.parametrize("scale", SCALES)
def test_lanes_in_key_stay_in_it_and_its_size_is_an_octave(scale: str) -> None:
    key = {"root": 7, "scale": scale}
    size = len(SCALES[scale])
    lane = degrees(*range(-9, 7), [-9, 20], {"all": [0, 3, 9]})
    low = pitches(lane, 16, key=key, seed=3)
    assert all((pitch - 7) % 12 in SCALES[scale] for pitch in low)
    high = pitches(lane | {"transpose": {"degrees": size}}, 16, key=key, seed=3)
    assert high == [pitch + 12 for pitch in low]


def test_a_lane_keeps_what_other_kinds_say() -> None:
    document = {"id": "a", "name": "A", "octave": 2, "arpeggio": {"order": [0, 2, 1]},
                "control": {"number": "bend"}, "value": -8192, "note": 50,
                "strands": {"degree": {"values": [{"all": "chord"}, [1, 3]]}}}
    for kind, channel in (("drum", 10), ("pitched", 1), ("control", 1)):
        lane = read({"lanes": [document | {"kind": kind}]}).lanes[0]
        assert lane.channel == channel
        assert lane.control is not None and lane.octave == 2 and lane.note == 50


def test_notes_have_names() -> None:
    assert told_note(57, Key(root=2, scale="dorian")) == "A3, 5th"
    assert told_note(58, Key(root=5)) == "B♭3, 4th"
    assert told_note(61, Key()) == "C♯4, out of key"
