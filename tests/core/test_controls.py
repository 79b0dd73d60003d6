"""Controllers that lanes of notes set: with which hits, in words, in clips and in files."""

from fractions import Fraction
from io import BytesIO
from itertools import groupby, pairwise
from typing import Any

import mido
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.clip.taken import Segment, take_clip
from lattice.edits.strands import SetStrand
from lattice.edits.words import AddClause, RemoveClause, SetSlot
from lattice.midi.write import to_midi
from lattice.play import Performance, play
from lattice.recipe import Recipe, read
from lattice.results.view import pictures
from lattice.results.why import why
from lattice.sentence import lane_sentence

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, facts, hand, recipe

FERN = {"id": "fern", "name": "Fern", "kind": "pitched", "step": "1/4", "steps": 4,
        "rule": hand(0, 2, 3)}


def fern(*values: Any, number: str = "74", by: str = "hit", **lane: Any) -> Recipe:
    return recipe(FERN | {"controls": {number: {"values": list(values), "by": by}}} | lane)


def told(found: Recipe, end: float = 8) -> list[tuple[float, int | str, int]]:
    return [(each.time, each.number, each.value)
            for each in Performance(found).changes(0, end)]


def said(found: Recipe) -> list[str]:
    return ["".join(part if isinstance(part, str) else part.text for part in clause.parts)
            for clause in lane_sentence(found.lane("fern"), found).clauses
            if clause.id.startswith("controls")]


def turned(found: Recipe, slot: str, value: Any) -> Recipe:
    return SetSlot(do="set", lane="fern", slot=slot, value=value).apply(found)


def test_each_hit_sets_its_value_and_none_is_said_twice() -> None:
    assert told(fern(20, 90)) == [(0, 74, 20), (2, 74, 90), (3, 74, 20), (4, 74, 90), (6, 74, 20),
                                  (7, 74, 90)]
    assert told(fern(20, 30, 40, 50, by="step")) == [
        (0, 74, 20), (2, 74, 40), (3, 74, 50), (4, 74, 20), (6, 74, 40), (7, 74, 50)]
    assert told(fern(64)) == [(0, 74, 64)] and told(fern(-8192, number="bend"), 4) == [
        (0, "bend", -8192)]
    assert told(fern(64, mute=True)) == told(fern(64, probability=0)) == []
    rolled = fern(20, 90, rolls=[{"step": 2, "strokes": 4}])
    assert told(rolled, 4) == told(fern(20, 90), 4), "strokes share what their hit has set"
    strummed = fern(9, strum=-20, strands={"degree": {"values": [{"all": [0, 2, 4]}]}})
    assert told(strummed) == [(0, 74, 9)], "before the highest, which begins"


def test_ranges_are_drawn_for_each_hit_anew() -> None:
    values = [value for _, _, value in told(fern([20, 110]), 400)]
    assert 20 <= min(values) < 30 and 100 < max(values) <= 110
    words = why(fern([20, 110]), "fern", 0)
    assert f"brightness (74) {values[0]}, drawn from 20 to 110 → sounds" in words


@settings(max_examples=40, deadline=None)
@given(melodic(documents()), st.integers(1, 15))
def test_any_range_can_be_asked_for_by_itself(document: dict[str, Any], cut: int) -> None:
    for lane in document["lanes"]:
        lane["controls"] = {"74": {"values": [3, [10, 60], 44], "by": "hit"},
                            "bend": {"values": [[-99, 99], 7]}}
    playing = Performance(read(document))
    whole = playing.changes(0, 16)
    assert playing.changes(0, cut) + playing.changes(cut, 16) == whole
    onsets = {(note.lane, note.start) for note in playing._begun(playing.recipe.lanes, 0, 16)}
    assert {(each.lane, each.time) for each in whole} <= onsets
    forced = {(each.lane, each.number): each.value for each in playing.in_force(cut)}
    by_line = sorted(whole, key=lambda each: (each.lane, str(each.number)))
    for line, changes in groupby(by_line, lambda each: (each.lane, each.number)):
        values = [(each.time, each.value) for each in changes]
        assert all(a[1] != b[1] for a, b in pairwise(values))
        before = [value for time, value in values if time < cut]
        assert forced.get(line) == (before[-1] if before else None)


def test_words_add_turn_and_take_away() -> None:
    found = AddClause(do="add", lane="fern", clause="controls").apply(recipe(FERN))
    assert said(found) == ["Each hit sets brightness (74) between 20 and 110."]
    found = turned(turned(found, "controls.0.low", 60), "controls.0.way", "strand")
    assert said(found) == ["Each hit sets brightness (74) from its strand of 4, read by step."]
    found = turned(turned(found, "controls.0.way", "to"), "controls.0.value", 100)
    assert said(turned(found, "controls.0.way", "between")) == [
        "Each hit sets brightness (74) between 68 and 127."]
    found = AddClause(do="add", lane="fern", clause="controls").apply(found)
    assert said(found) == ["Each hit sets brightness (74) to 100.",
                           "Each hit sets pan (10) between 20 and 110."]
    with pytest.raises(RecipeError, match="Controller takes one of modulation"):
        turned(found, "controls.1.number", 74)
    with pytest.raises(RecipeError, match="already"):
        turned(turned(found, "controls.1.number", "other"), "controls.1.other", 74)
    bent = turned(found, "controls.0.number", "bend")
    assert said(bent)[0] == f"Each hit sets pitch bend to {round(100 / 127 * 16383 - 8192)}."
    assert list(bent.lane("fern").controls) == ["bend", 10], "it keeps its place"
    fewer = RemoveClause(do="remove", lane="fern", clause="controls.0").apply(found)
    assert said(fewer) == ["Each hit sets pan (10) between 20 and 110."]
    assert read(to_json(fewer)) == fewer
    none = SetStrand(do="strand", lane="fern", kind="control 10", strand=None).apply(fewer)
    assert none == recipe(FERN) and "controls" not in to_json(none)["lanes"][0]


@pytest.mark.parametrize(("controls", "sentence"), [
    ({"120": {"values": [1]}}, "from 0 to 119, bend or pressure"),
    ({"07": {"values": [1]}}, "from 0 to 119, bend or pressure"),
    ({"brightness": {"values": [1]}}, "from 0 to 119, bend or pressure"),
    ({"74": {"values": [128]}}, r"Brightness \(74\) values go from 0 to 127"),
    ({"74": {"values": [1.5]}}, "whole numbers"),
    ({"bend": {"values": [[5, 2]]}}, "from its lower to its higher end"),
    ({"74": {"values": [{"all": "chord"}]}}, "one number each"),
    ({str(n): {"values": [1]} for n in range(17)}, "up to 16 controllers"),
    ([], "valid dictionary"),
])
def test_what_cannot_be_is_said(controls: Any, sentence: str) -> None:
    with pytest.raises(RecipeError, match=sentence):
        recipe(FERN | {"controls": controls})
    with pytest.raises(RecipeError, match="from 0 to 119"):
        SetStrand(do="strand", lane="fern", kind="control 9999", strand={
            "values": [1]}).apply(recipe(FERN))


def test_a_clip_keeps_what_each_lane_sets_and_a_file_has_it_before_the_note() -> None:
    other = FERN | {"id": "moss", "name": "Moss", "octave": 2, "controls": {
        "74": {"values": [20, 90], "by": "hit"}}}
    both = recipe(FERN | {"controls": {"74": {"values": [20, 70], "by": "hit"}}}, other)
    taken = take_clip("Bud", [Segment(both, 0, 2, 8)], 2, Fraction(4))
    assert [(each.time, each.lane, each.value) for each in taken.changes if each.time < 1] == [
        (0, "fern", 20), (0, "moss", 20), (0, "fern", 70), (0, "moss", 90)]
    assert [lane.id for lane in taken.lanes] == ["fern", "moss"]
    track = mido.MidiFile(file=BytesIO(to_midi(taken))).tracks[1]
    kinds = [message.type for message in track if not message.is_meta]
    assert kinds[:3] == ["control_change", "control_change", "note_on"]
    assert len(play(both, 0, 4)) == 6 == len(play(recipe(FERN, other), 0, 4))
    walked = recipe({"id": "drip", "rule": euclid(3), "arpeggio": {"pool": "held", "held": []},
                     "controls": {"10": {"values": [1, 2], "by": "hit"}}})
    assert Performance(walked).changes(0, 8) == [], "nothing is held, so nothing sounds"


def test_the_sound_of_a_voice_is_drawn_for_each_hit_and_kept() -> None:
    bells = {"id": "bells", "name": "Bells", "kind": "pitched", "channel": 2, "rule": euclid(7),
             "sound": {"by": "bell", "set": {"ring": 30}}}
    found = recipe(bells)

    def turned(after: Recipe, slot: str, value: Any) -> Recipe:
        return SetSlot(do="set", lane="bells", slot=f"sound.{slot}", value=value).apply(after)

    added = AddClause(do="add", lane="bells", clause="sound-by-hit").apply(found)
    wide = turned(added, "ring.to", 70)
    assert lane_sentence(wide.lanes[0], wide).text().endswith(
        "Heard as bell, strike 25 % to 65 %, ring 10 % to 70 %, hum 15 % to 55 %. "
        "Its sound is drawn for each hit anew.")
    assert facts(play(wide, 0, 16)) == facts(play(found, 0, 16)), "notes stay as they are"
    rings = [note.sound["ring"] for note in play(wide, 0, 16) if note.sound]
    assert len(set(rings)) > 20 and min(rings) < 25 and max(rings) > 55
    assert all(10 <= ring <= 70 for ring in rings)
    assert [note.sound for note in play(wide, 8, 12)] == [
        note.sound for note in play(wide, 0, 16) if 8 <= note.start < 12]
    drawn = pictures(Performance(wide), list(wide.lanes), 0, 16)["bells"].sounds
    assert [sound.set["ring"] for _, sound in drawn] == rings
    clip = take_clip("Rung", [Segment(wide, 0, 0, 16)], 0, Fraction(16))
    assert [note.sound and note.sound["ring"] for note in clip.notes] == rings
    assert f"ring {rings[0]:g} %" in why(wide, "bells", 0)
    alike = RemoveClause(do="remove", lane="bells", clause="sound-by-hit").apply(
        turned(wide, "ring", 90))
    assert alike.lanes[0].heard_by.set == {"strike": 45, "ring": 90, "hum": 35}
    assert {note.sound and note.sound["ring"] for note in play(alike, 0, 4)} == {None}
    with pytest.raises(RecipeError, match="lower end"):
        recipe(bells | {"sound": {"by": "bell", "set": {"ring": [70, 20]}}})
