"""What sentences and reasons say of pitches, walks and controllers, and what their words write."""

import json
from typing import Any

import pytest
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.base.words import Slot
from lattice.cli import main
from lattice.edits.words import AddClause, RemoveClause, SetSlot
from lattice.midi.write import key_signature
from lattice.play import play
from lattice.recipe import Recipe
from lattice.results.why import why
from lattice.sentence import lane_sentence, pattern_sentence

from tests.core.recipes import euclid, hand, recipe

MELODY = {"id": "bells", "name": "Bells", "kind": "pitched", "rule": euclid(4)}
WALK = {"id": "drip", "name": "Drip", "note": 42, "rule": euclid(8), "arpeggio": {"pool": "scale"}}
GLOW = {"id": "glow", "name": "Glow", "kind": "control", "rule": euclid(4),
        "control": {"number": 74, "move": "glide"}}


def said(found: Recipe, lane: str) -> str:
    return lane_sentence(found.lane(lane), found).text()


def turned(found: Recipe, lane: str | None, **words: Any) -> Recipe:
    for slot, value in words.items():
        found = SetSlot(do="set", lane=lane, slot=slot.replace("__", "."),
                        value=value).apply(found)
    return found


def test_a_pitched_lane_says_what_it_reads() -> None:
    found = recipe(MELODY | {"transpose": {"degrees": 2, "semitones": -12}})
    assert "Degree 0, of the key, from octave 4 up." in said(found, "bells")
    assert "Moved by +2 degrees and -12 semitones." in said(found, "bells")
    assert said(found, "bells").endswith("Heard as bell, strike 45 %, ring 60 %, hum 35 %.")
    found = turned(found, "bells", reads="chord-root", register="note", degree=-3)
    assert "Degree -3, from the chord's root, from note C4 up." in said(found, "bells")
    assert turned(found, "bells", register="octave").lane("bells").lowest is None
    own = AddClause(do="add", lane="bells", clause="own-key").apply(found)
    own = turned(own, "bells", key__root=2, key__scale="hirajoshi")
    assert "In a key of its own, D hirajoshi." in said(own, "bells")
    own = turned(own, "bells", key__scale="own", key__notes=[0, 1, 6])
    assert own.lane("bells").key.notes == (0, 1, 6)  # type: ignore[union-attr]
    with pytest.raises(RecipeError, match="beginning with 0"):
        turned(own, "bells", key__notes=[1, 6])


def test_a_chord_lane_says_how_its_notes_lie() -> None:
    chords = {"strands": {"degree": {"values": [{"all": "chord"}, 4], "by": "hit"}}}
    found = turned(recipe(MELODY | chords), "bells", voicing="smooth", strum=15)
    assert "Degrees from their strand of 2" in said(found, "bells")
    assert "Chords lie smooth, strummed over 15 % of the step." in said(found, "bells")
    assert "voicing" not in {clause.id for clause in lane_sentence(
        recipe(MELODY).lanes[0], recipe(MELODY)).clauses}


def test_an_arpeggio_says_its_walk_anchor_and_second_walk() -> None:
    found = recipe(WALK)
    assert ("Walk up over the scale through 1 octave, one note a hit, "
            "beginning again in every pass.") in said(found, "drip")
    found = turned(found, "drip", arpeggio__order="inside-out", arpeggio__octaves=3,
                   arpeggio__extend="both", arpeggio__restart="hits",
                   arpeggio__restart_hits=5, arpeggio__first="all")
    assert ("Walk inside out over the scale through 3 octaves up and down, all of them on the "
            "first, beginning again every so many hits, 5.") in said(found, "drip")
    found = turned(found, "drip", arpeggio__pool="own", arpeggio__pool_notes=[36, 42, 46],
                   arpeggio__order="own", arpeggio__order_places="3, rest 1 + 2")
    assert "Walk in its own order 3, rest, 1 with 2 over notes" in said(found, "drip")
    # All of the pool first, then the lowest: 36 two octaves down.
    assert [note.pitch for note in play(found, 0, 1.5)] == [36, 42, 46, 12, 18]
    for wrong, says in (("0", "places from 1 to 256"), ("1 hold with 2", "Before “with” stands"),
                        ("2 with", "from 1 to 64 entries"), ("1, trill", "“trill” is no entry"),
                        ("1 with " * 17 + "1", "Up to 16 places")):
        with pytest.raises(RecipeError, match=says):
            turned(found, "drip", arpeggio__order_places=wrong)
    for clause, words in (("anchor", "Every 1 beat note Closed hi-hat sounds as well, the walk "),
                          ("second", "All that sounds is walked again every 1/48 up")):
        found = AddClause(do="add", lane="drip", clause=clause).apply(found)
        assert words in said(found, "drip")
    found = turned(found, "drip", arpeggio__anchor__mode="instead",
                   arpeggio__anchor__walk="waits", arpeggio__anchor__unit="steps")
    assert "Every 4 steps note" in said(found, "drip"), "where it was in time"
    assert "Every 1 beat note" in said(turned(found, "drip", arpeggio__anchor__unit="beats"),
                                       "drip")
    found = turned(found, "drip", arpeggio__anchor__mode="as-well")
    assert found.lane("drip").arpeggio.anchor.walk == "on"  # type: ignore[union-attr]
    gone = RemoveClause(do="remove", lane="drip", clause="arpeggio").apply(found)
    assert gone.lane("drip").arpeggio is None and len(play(gone, 0, 4)) == 8


def test_what_is_held_is_told_and_keeps_its_velocities() -> None:
    found = recipe(WALK | {"arpeggio": {"pool": "held", "velocities": "held", "held": [
        {"note": 42, "velocity": 60}, {"note": 46, "velocity": 110}]}})
    assert "over what is held (Closed hi-hat, Open hi-hat)" in said(found, "drip")
    more = turned(found, "drip", arpeggio__held_notes=[46, 50])
    assert [(n.pitch, n.velocity) for n in play(more, 0, 1)] == [(46, 110), (50, 100)]
    empty = recipe(WALK | {"arpeggio": {"pool": "held"}})
    assert "(nothing yet)" in said(empty, "drip")
    assert "nothing is held, so it is silent" in why(empty, "drip", 0)


def test_a_control_lane_says_its_controller_and_values() -> None:
    found = recipe(GLOW)
    assert "Glide brightness (74) evenly. Value 64." in said(found, "glow")
    found = turned(found, "glow", control__curve="late", control__number="other",
                   control__other=21, value=90)
    assert "Glide controller 21 late. Value 90." in said(found, "glow")
    bend = turned(found, "glow", control__number="bend")
    assert bend.lane("glow").set_to == pytest.approx(-8192 + 90 / 127 * 16_383, abs=1)
    ranged = recipe(GLOW | {"lean": "low", "strands": {"value": {"values": [[1, 9], 4]}}})
    assert "Values from their strand of 2, ranges drawn mostly low." in said(ranged, "glow")
    assert {offer.id for offer in lane_sentence(ranged.lanes[0], ranged).offers}.isdisjoint(
        {"rolls", "accent", "arpeggio", "kit"})


def test_the_pattern_says_its_key_and_chords() -> None:
    found = AddClause(do="add", lane=None, clause="chords").apply(recipe(MELODY))
    assert pattern_sentence(found).text() == \
        "A frame of 1 bar. In C major. Chords I V vi IV for one bar each."
    found = turned(found, None, chords__text="ii7 | V7", chords__beats="3/2 2.5",
                   key__scale="dorian", key__root=9)
    assert pattern_sentence(found).text().endswith(
        "In A dorian. Chords ii7 | V7 for 3/2 5/2 beats.")
    assert to_json(found)["chords"]["beats"] == ["3/2", "5/2"]
    for slot, value in (("chords.text", "ii7 Hm"), ("chords.beats", "1 2 3"),
                        ("chords.beats", "soon"), ("chords.text", "")):
        with pytest.raises(RecipeError):
            SetSlot(do="set", lane=None, slot=slot, value=value).apply(found)
    assert (key_signature(found.key), key_signature(recipe(key={
        "root": 4, "scale": "phrygian-dominant"}).key)) == ("G", "E")


@pytest.mark.parametrize(("lane", "at", "words"), [
    (MELODY | {"degree": 4}, 0, "degree 4 of the key · G4, 5th → sounds"),
    (MELODY | {"reads": "chord"}, 4, "degree 0 of the chord (chord 2, V7/3) · B4, 7th"),
    (MELODY | {"transpose": {"semitones": 1}}, 0, "C♯4, out of key"),
    (MELODY | {"arpeggio": {"octaves": 2}}, 1, "the walk's 2nd hit, note 2 of 6 (chord 1, I)"),
    (WALK | {"arpeggio": {"anchor": {"note": 36}}}, 0, "its anchor"),
    (WALK, 0, "the walk's 1st hit, note 1 of 7 · Closed hi-hat"),
    (GLOW, 0, "certain → set to 64 and glides on to the next")])
def test_why_tells_of_pitch(lane: dict[str, Any], at: float, words: str) -> None:
    found = recipe(lane, chords={"text": "I V7/3", "beats": 4})
    assert words in why(found, lane["id"], at)


def test_the_command_line_prints_notes_and_controllers_in_order(
        tmp_path: Any, capsys: pytest.CaptureFixture[str]) -> None:
    found = recipe(MELODY | {"rule": hand(0, 4)}, GLOW | {"control": {"number": 74}},
                   WALK | {"rule": hand(0)}, chords={"text": "I IV", "beats": 4})
    file = tmp_path / "recipe.json"
    file.write_text(json.dumps(to_json(found)))
    assert main(["play", str(file), "--bars", "0:1"]) == 0
    events = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert events[0] == {"type": "control", "time": 0.0, "number": 74, "value": 64, "channel": 1,
                         "lane": "glow"}
    assert [event["type"] for event in events] == ["control", "note", "note", "note"]
    bells, drip = events[1]["why"], events[2]["why"]
    assert (bells["reads"], bells["degree"]) == ("key", 0)
    assert drip["walk"] == {"place": 0, "at": 0, "pool": "scale"}
    file.write_text(json.dumps({"chords": {"text": "I Hm"}}))
    assert main(["play", str(file)]) == 2 and "Chord 2" in capsys.readouterr().err


@pytest.mark.parametrize("lane", [MELODY, WALK, GLOW])
def test_every_melodic_word_takes_what_it_shows(lane: dict[str, Any]) -> None:
    found = recipe(lane)
    for clause in lane_sentence(found.lanes[0], found).clauses:
        for slot in clause.parts:
            if isinstance(slot, Slot):
                same = turned(found, lane["id"], **{slot.slot.replace(".", "__"): slot.value})
                assert play(same, 0, 4) == play(found, 0, 4), slot.slot
