"""The order: where blocks lie, what they play, their sentences, and the whole as a file."""

from fractions import Fraction
from io import BytesIO
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.words import Slot
from lattice.clip.document import Clip, ClipMark
from lattice.midi.read import read_midi, song_clip
from lattice.midi.write import exact_ticks, to_midi
from lattice.order.document import Block, Order
from lattice.order.edits import AnyOrderEdit, change_order
from lattice.order.played import laid_out, order_clip
from lattice.order.words import NamedRecipe, block_sentence, block_summary
from lattice.play import play
from lattice.tools import lay_in
from lattice.tools.stretch import Stretch
from lattice.tools.trim import TrimNotes
from mido import MidiFile
from pydantic import TypeAdapter

from tests.core.recipes import euclid, recipe

FERN: dict[str, Any] = {"id": "fern", "kind": "pitched", "rule": euclid(5), "degree": 2,
                        "gate": 80, "steps": 12}
PUMP: dict[str, Any] = {"id": "pump", "name": "Pump", "rule": euclid(4), "probability": 60,
                        "vary": {"velocity": [-9, 9]}}
BUD = recipe(PUMP, FERN, key={"root": 2, "scale": "dorian"}, tempo=118)
OPEN = recipe({"id": "pump", "rule": euclid(7), "steps": 7, "step": "1/8"}, meter=[7, 8], bars=2,
              tempo=90)
PATTERNS = {1: NamedRecipe("Bud", BUD), 2: NamedRecipe("Open", OPEN)}
RECIPES = {number: each.recipe for number, each in PATTERNS.items()}
EDITS: TypeAdapter[list[AnyOrderEdit]] = TypeAdapter(list[AnyOrderEdit])


def edited(order: Order, *edits: dict[str, Any]) -> Order:
    return change_order(order, EDITS.validate_python(list(edits)), PATTERNS)


def whole(*blocks: dict[str, Any]) -> Clip:
    order = Order.model_validate({"blocks": list(blocks)})
    return order_clip("All", laid_out(order, RECIPES), {1: "Bud", 2: "Open"})


def test_blocks_follow_one_another_in_true_time() -> None:
    order = Order.model_validate({"blocks": [
        {"pattern": 1, "count": 2}, {"pattern": 2, "speed": "1/2"},
        {"pattern": 1, "count": 3, "unit": "steps", "step": "1/12"},
        {"pattern": 2, "count": 1, "unit": "bars", "first": 1, "speed": "3/2"}]})
    laid = laid_out(order, RECIPES)
    assert [(each.at, each.beats) for each in laid] == [
        (0, 8), (8, 14), (22, 1), (23, Fraction(7, 3))]
    assert (laid[3].start, laid[3].end) == (7, Fraction(21, 2))
    assert laid[1].seconds == pytest.approx(14 * 60 / 90)
    with pytest.raises(RecipeError, match="pattern of block 1 is not in this piece any more"):
        laid_out(Order(blocks=(Block(pattern=9),)), RECIPES)
    with pytest.raises(RecipeError, match="no block in the order yet"):
        order_clip("Nothing", [], {})


@settings(max_examples=25)
@given(st.integers(1, 2), st.integers(0, 5), st.sampled_from(["1/2", "1", "2/3", "2"]))
def test_a_block_plays_what_its_pattern_plays_there(
        pattern: int, first: int, speed: str) -> None:
    taken = whole({"pattern": pattern, "first": first, "speed": speed})
    of, ratio = RECIPES[pattern], float(Fraction(speed))
    start = first * float(of.frame_beats)
    own = play(of, start, start + float(of.frame_beats))
    assert [(note.start, note.length, note.pitch, note.velocity) for note in taken.notes] == [
        (pytest.approx((note.start - start) / ratio), pytest.approx(note.length / ratio),
         note.pitch, note.velocity) for note in own]


def test_a_block_moves_pitches_changes_the_key_and_leaves_lanes_out() -> None:
    plain = whole({"pattern": 1})
    melody = [note.pitch for note in plain.notes if note.lane == "fern"]
    assert set(melody) == {65}  # the third of D dorian
    up = whole({"pattern": 1, "degrees": 3, "semitones": 12})
    assert {note.pitch for note in up.notes if note.lane == "fern"} == {83}
    assert [note for note in up.notes if note.lane == "pump"] == [
        note for note in plain.notes if note.lane == "pump"], "drums stay"
    bright = whole({"pattern": 1, "key": {"root": 2, "scale": "major"}, "without": ["pump"]})
    assert {(note.lane, note.pitch) for note in bright.notes} == {("fern", 66)}
    assert bright.key.scale == "major"
    with pytest.raises(RecipeError, match="moved further than a lane can be"):
        laid_out(Order(blocks=(Block(pattern=1, semitones=48),)), {
            1: recipe(FERN | {"transpose": {"semitones": 12}})})


def test_the_whole_has_a_marker_a_block_and_tempo_metre_and_key_where_they_change() -> None:
    taken = whole({"pattern": 1}, {"pattern": 1, "first": 1}, {"pattern": 2}, {"pattern": 1})
    assert taken.marks == (
        ClipMark(time=0, name="Bud"), ClipMark(time=4, name="Bud"),
        ClipMark(time=8, name="Open", tempo=90, meter=(7, 8), key=OPEN.key),
        ClipMark(time=15, name="Bud", tempo=118, meter=(4, 4), key=BUD.key))
    data = to_midi(taken)
    first = [(message.type, message.dict()) for message in MidiFile(file=BytesIO(data)).tracks[0]]
    assert [fields["text"] for kind, fields in first if kind == "marker"] == [
        "Bud", "Bud", "Open", "Bud"]
    assert [fields["key"] for kind, fields in first if kind == "key_signature"] == ["C", "C", "C"]
    again = song_clip(read_midi(data), "All")
    assert [(mark.time, mark.name, mark.tempo, mark.meter) for mark in again.marks] == [
        (0, "Bud", None, None), (4, "Bud", None, None), (8, "Open", pytest.approx(90), (7, 8)),
        (15, "Bud", 118, (4, 4))]
    # Thirds of a beat come in with the speed, and the exact resolution knows them.
    assert exact_ticks(whole({"pattern": 1}, {"pattern": 1, "speed": "3/2"})) % 3 == 0


def test_marks_go_along_when_a_clip_is_cut_stretched_or_gone_round() -> None:
    taken = whole({"pattern": 1}, {"pattern": 2}, {"pattern": 1})
    cut = taken.stretch(Fraction(5), Fraction(12))
    assert (cut.tempo, cut.meter) == (90, (7, 8))
    assert cut.marks == (ClipMark(time=6, name="Bud", tempo=118, meter=(4, 4), key=BUD.key),)
    round_again = cut.gone_round(2)
    assert [(mark.time, mark.tempo) for mark in round_again.marks] == [(6, 118), (7, 90), (13, 118)]
    assert [mark.time for mark in lay_in(cut, Stretch(), None).clip.marks] == [12]
    trimmed = lay_in(taken, TrimNotes(start=Fraction(4), end=Fraction(8)), None).clip
    assert trimmed.tempo == 90 and trimmed.marks == ()


def test_a_block_is_a_sentence_whose_words_can_be_changed() -> None:
    order = edited(Order(), {"do": "add_block", "pattern": 1},
                   {"do": "say_block", "block": 0, "slot": "count", "value": 2},
                   {"do": "say_block", "block": 0, "slot": "unit", "value": "bars"})
    assert block_sentence(order.blocks[0], PATTERNS).text() == \
        "Bud plays 2 bars, then the next begins."
    clauses = [offer.id for offer in block_sentence(order.blocks[0], PATTERNS).offers]
    for clause in clauses:
        order = edited(order, {"do": "add_to_block", "block": 0, "clause": clause})
    assert block_sentence(order.blocks[0], PATTERNS).text() == (
        "Bud plays 2 bars, then the next begins. Moved by +3 degrees. Moved by +5 semitones. "
        "In D dorian. At 1/2 of its speed. Begins with pass 2. Without Pump.")
    assert block_summary(order.blocks[0]) == (
        "2 bars, moved by +3 degrees, moved by +5 semitones, in D dorian, without 1 lane, "
        "half speed")
    order = edited(order, {"do": "say_block", "block": 0, "slot": "key.scale", "value": "own"},
                   {"do": "say_block", "block": 0, "slot": "key.notes", "value": [0, 4, 7]},
                   {"do": "say_block", "block": 0, "slot": "without.0", "value": ""})
    assert order.blocks[0].key and order.blocks[0].key.scale == (0, 4, 7)
    assert order.blocks[0].without == ()
    for clause in clauses:
        order = edited(order, {"do": "take_from_block", "block": 0, "clause": clause})
    assert order.blocks[0] == Block(pattern=1, count=2, unit="bars")
    for bad, told in (({"slot": "count", "value": 0}, "a whole number from 1 to 512"),
                      ({"slot": "speed", "value": "2"}, "no longer in the sentence"),
                      ({"slot": "pattern", "value": 5}, "one of Bud, Open")):
        with pytest.raises(RecipeError, match=told):
            edited(order, {"do": "say_block", "block": 0} | bad)


def test_brackets_keep_the_blocks_that_they_stand_around() -> None:
    order = edited(Order(), *[{"do": "add_block", "pattern": 1}] * 4,
                   {"do": "between", "blocks": [1, 2]})
    assert edited(order, {"do": "duplicate_block", "block": 0}).between == (2, 3)
    assert edited(order, {"do": "duplicate_block", "block": 1}).between == (1, 3)
    assert edited(order, {"do": "add_block", "pattern": 2}).between == (1, 2)
    once = edited(order, {"do": "remove_block", "block": 2})
    assert once.between == (1, 1)
    assert edited(once, {"do": "remove_block", "block": 1}).between is None
    moved = edited(order, {"do": "say_block", "block": 3, "slot": "pattern", "value": 2},
                   {"do": "move_block", "block": 3, "to": 0})
    assert [block.pattern for block in moved.blocks] == [2, 1, 1, 1]
    for bad in ({"do": "between", "blocks": [2, 1]}, {"do": "remove_block", "block": 4},
                {"do": "add_block", "pattern": 7}):
        with pytest.raises(RecipeError):
            edited(order, bad)


def _any_block() -> st.SearchStrategy[dict[str, Any]]:
    return st.fixed_dictionaries({"pattern": st.integers(1, 2)}, optional={
        "count": st.integers(1, 4), "unit": st.sampled_from(["passes", "bars", "steps"]),
        "degrees": st.integers(-5, 5), "semitones": st.integers(-12, 12),
        "speed": st.sampled_from(["1/2", "3/4", "2"]), "without": st.just(["pump"])})


@settings(max_examples=30)
@given(st.lists(_any_block(), min_size=1, max_size=4))
def test_any_word_of_any_block_can_be_said_again_and_changes_nothing(
        blocks: list[dict[str, Any]]) -> None:
    order = Order.model_validate({"blocks": blocks})
    for place, block in enumerate(order.blocks):
        for clause in block_sentence(block, PATTERNS).clauses:
            for part in clause.parts:
                if isinstance(part, Slot):
                    assert edited(order, {"do": "say_block", "block": place, "slot": part.slot,
                                          "value": part.value}) == order
    taken = whole(*blocks)
    assert all(0 <= note.start < taken.beats for note in taken.notes)
    assert len([mark for mark in taken.marks if mark.name]) == len(blocks)


@settings(max_examples=60)
@given(st.lists(st.tuples(
    st.sampled_from(["add_block", "duplicate_block", "remove_block", "move_block", "set_length"]),
    st.integers(0, 7), st.integers(0, 7)), max_size=14), st.data())
def test_however_blocks_are_changed_the_brackets_hold_those_that_they_held(
        changes: list[tuple[str, int, int]], data: st.DataObject) -> None:
    """Beside a plain list whose entries know whether they are held; lengths tell blocks apart."""
    order = edited(Order(), *[{"do": "add_block", "pattern": 1}] * 5,
                   *({"do": "set_length", "block": place, "count": 100 + place}
                     for place in range(5)))
    first = data.draw(st.integers(0, 4))
    order = edited(order, {"do": "between", "blocks": [first, data.draw(st.integers(first, 4))]})
    assert order.between
    held = [order.between[0] <= place <= order.between[1] for place in range(5)]
    lengths = [100 + place for place in range(5)]
    for number, (do, block, to) in enumerate(changes):
        edit = {"add_block": {"pattern": 1, "at": to}, "move_block": {"block": block, "to": to},
                "set_length": {"block": block, "count": 200 + number}}.get(do, {"block": block})
        if do != "add_block" and block >= len(lengths):
            with pytest.raises(RecipeError, match=f"has {len(lengths)} blocks"):
                edited(order, {"do": do} | edit)
            continue
        order = edited(order, {"do": do} | edit)
        if do == "remove_block":
            del lengths[block], held[block]
        elif do == "set_length":
            lengths[block] = 200 + number
        elif do == "move_block":  # the brackets stay at their places
            lengths.insert(to, lengths.pop(block))
        else:
            at = min(to, len(lengths)) if do == "add_block" else block + 1
            lengths.insert(at, 1 if do == "add_block" else lengths[block])
            held.insert(at, any(held[:at]) and any(held[at:]))
        assert [each.count for each in order.blocks] == lengths
        places = [place for place, inside in enumerate(held) if inside]
        assert order.between == ((places[0], places[-1]) if places else None)
