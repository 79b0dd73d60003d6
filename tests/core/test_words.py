"""Sentences and reasons: known answers, and that every word does what it says."""

from typing import Any

import pytest
from hypothesis import given, settings
from lattice.base.errors import RecipeError
from lattice.base.words import GROUPS, Slot, ordinal
from lattice.edits import apply_all
from lattice.edits.lanes import SetLane
from lattice.edits.steps import Put, RollStep, RollStretch
from lattice.edits.words import AddClause, RemoveClause, SetSlot, TurnSlot
from lattice.pitch.key import Key
from lattice.play import Performance
from lattice.recipe import Recipe
from lattice.results.meeting import meeting_point
from lattice.results.period import period
from lattice.results.why import why
from lattice.rules import RULES
from lattice.sentence import CLAUSES, lane_sentence, lane_summary, pattern_sentence

from tests.core.recipes import documents, euclid, hand, recipe

DRIP: dict[str, Any] = {
    "id": "drip", "name": "Drip", "steps": 12, "rule": euclid(7), "velocity": 96,
    "keep": {"every": 3}, "vary": {"velocity": [-9, 9]}, "probability": 55}


def slots(found: Recipe, lane: str) -> list[Slot]:
    """The changeable words of a lane."""
    return [part for clause in lane_sentence(found.lane(lane), found).clauses
            for part in clause.parts if isinstance(part, Slot)]


def turned(found: Recipe, lane: str, slot: Slot, value: Any) -> Recipe:
    return SetSlot(do="set", lane=lane, slot=slot.slot, value=value).apply(found)


def test_the_sentence_of_a_lane() -> None:
    found = recipe(DRIP)
    assert lane_sentence(found.lanes[0], found).text() == (
        "Spread 7 hits over 12 steps of 1/16, turned 0. Cycle freely, forward. "
        "Keep every 3rd hit from the 1st on, counted on. "
        "Velocity 96. Give or take in velocity: -9 to +9. Each lasts 90 % of its step. "
        "Each hit sounds 55 % of the time.")
    assert [offer.label for offer in lane_sentence(found.lanes[0], found).offers][:4] == [
        "roll", "arpeggio", "accent", "reverse"]
    assert [ordinal(n) for n in (1, 2, 3, 4, 11, 12, 13, 21, 102, 111)] == [
        "1st", "2nd", "3rd", "4th", "11th", "12th", "13th", "21st", "102nd", "111th"]


@pytest.mark.parametrize(("lane", "words"), [
    ({"rule": {"kind": "nth", "pulses": 8, "index": "812"}},
     "pattern 813 of 12,870 with 8 hits in 16 steps of 1/16"),
    ({"rule": hand(0, 3, 6)}, "steps 1 4 7 by hand, of 16 steps of 1/16"),
    ({"rule": {"kind": "density", "amount": 40, "pull": -30}},
     "40 % of 16 steps of 1/16, pulled -30 to the beat"),
    ({"span": "fit", "rule": euclid(5), "steps": 7, "fit_bars": 2}, "Fit evenly into 2 bars"),
    ({"span": "fit", "rule": euclid(5), "steps": 7}, "Fit evenly into the frame"),
    ({"rule": {"kind": "density", "amount": 100 / 3}}, "Fill 33.33 % of 16 steps"),
    ({"span": "once", "offset": 3, "rule": euclid(5)}, "Once in each pass, from step 4"),
    ({"window": [2, 9], "rule": euclid(5)}, "Only steps 3 to 10"),
    ({"links": [{"steps": [0, 2], "mode": "one"}]}, "Of steps 1 3 only one sounds"),
    ({"turns": {"4": [2, 3]}}, "Step 5 only in the 2nd of every 3 passes"),
    ({"rate_path": [{"start": "1/2", "beats": "2", "step": "1/24", "human": 40}]},
     "From beat 1 + 1/2 for 2 beats in steps of 1/24, 40 % human"),
    ({"rate_path": [{"start": "1/2", "beats": "2", "step": "1/24", "contour": 60}]},
     "in steps of 1/24, contour 60 %, 0 % human"),
    ({"rolls": [{"start": "3", "beats": "1", "strokes": 6, "turns": [2, 4]}]},
     "From beat 4 for 1 beat rolls 6 times (strokes of 1/24)"),
    ({"swing": "straight"}, "Straight, whatever the pattern's swing"),
    ({"accent": {"every": 3, "from": 2, "set": 120}}, "120"),
])
def test_words_for_everything(lane: dict[str, Any], words: str) -> None:
    found = recipe(lane)
    assert words in lane_sentence(found.lanes[0], found).text()


@given(documents())
@settings(max_examples=25)
def test_every_word_says_what_it_holds_and_keeps_to_its_range(document: dict[str, Any]) -> None:
    found = recipe(*document.pop("lanes"), **document)
    for lane in found.lanes:
        for slot in slots(found, lane.id):
            assert slot.label and (slot.text or slot.kind == "list")
            assert turned(found, lane.id, slot, slot.value) == found, slot
            if slot.kind in ("number", "index"):
                beyond = str(int(slot.high or 0) + 1) if slot.kind == "index" \
                    else float(slot.high or 0) + 1
                with pytest.raises(RecipeError, match=f"(?i)^{slot.label}"):
                    turned(found, lane.id, slot, beyond)
            for wrong in ({}, None, "§", [[]]):
                with pytest.raises(RecipeError):
                    turned(found, lane.id, slot, wrong)


@given(documents())
@settings(max_examples=25)
def test_every_clause_on_offer_can_be_added_to_any_lane(document: dict[str, Any]) -> None:
    found = recipe(*document.pop("lanes"), **document)
    lane = found.lanes[-1]
    for offer in lane_sentence(lane, found).offers:
        added = AddClause(do="add", lane=lane.id, clause=offer.id).apply(found)
        assert len(slots(added, lane.id)) >= len(slots(found, lane.id))
        assert added.lanes[:-1] == found.lanes[:-1]
    for clause in lane_sentence(lane, found).clauses:
        if clause.removable:
            fewer = RemoveClause(do="remove", lane=lane.id, clause=clause.id).apply(found)
            before, after = (len(lane_sentence(each.lane(lane.id), each).clauses)
                             for each in (found, fewer))
            moving = [part.path.clause for part in clause.parts
                      if isinstance(part, Slot) and part.path and part.path.clause]
            assert after == before - 1 - len(moving), "the paths of its words go with it"


def test_the_pattern_has_words_too() -> None:
    found = recipe(DRIP, bars=2, swing={"grid": "1/16", "percent": 58}, probability_scale=80)
    assert pattern_sentence(found).text() == \
        "A frame of 2 bars. In C major. Swing 58 % on 1/16. All chances at 80 %."
    for clause in ("swing", "chance-scale"):
        found = RemoveClause(do="remove", lane=None, clause=clause).apply(found)
    assert [offer.id for offer in pattern_sentence(found).offers] == [
        "chords", "swing", "chance-scale", "gusts"], "no number is there that may move"
    assert all(len({kind.id for kind in kinds}) == len(kinds) for kinds in CLAUSES.values())


@pytest.mark.parametrize(("lane", "at", "words"), [
    ({"rule": euclid(4)}, 0,
     "Step 1 at 1.1: 4 hits spread over 16 steps put it here · certain → sounds"),
    ({"rule": euclid(4)}, 0.3, "Step 2 at 1.1 + 1/4: 4 hits spread over 16 steps leave it empty."),
    ({"rule": euclid(4), "flip": True}, 0.3, "flipped, it plays"),
    ({"rule": euclid(4), "pins": {"1": True}}, 0.3, "pinned on by hand"),
    ({"rule": euclid(4), "pins": {"0": False}}, 0.1, "pinned off by hand."),
    ({"rule": euclid(4), "keep": {"every": 2}}, 1, "keeping every 2nd hit takes it away."),
    ({"rule": euclid(4), "keep": {"every": 2, "drop": True}}, 0,
     "dropping every 2nd hit takes it away."),
    ({"rule": euclid(4), "probability": 0}, 0, "chance 0 %, drew"),
    ({"rule": euclid(4), "turns": {"0": [2, 2]}}, 0,
     "its turn is the 2nd of every 2 passes, not now"),
    ({"rule": euclid(4), "links": [{"steps": [0, 4], "mode": "together", "probability": 0}]}, 1,
     "linked (together)"),
    ({"rule": euclid(4), "rolls": [{"step": 0, "strokes": 3}]}, 0,
     "its roll of 3 comes off → sounds"),
    ({"rule": euclid(4), "rolls": [{"step": 0, "strokes": 3, "probability": 0, "turns": [2, 2]}]},
     0, "its roll of 3 stays away (chance 0 %, drew"),
    ({"rule": euclid(4), "flip": True, "keep": {"every": 3, "from": 2}}, 0.5,
     "flipped, it plays; keeping every 3rd hit from the 2nd on leaves it"),
    ({"rule": euclid(16), "rolls": [{"start": "1", "beats": "1", "strokes": 6}]}, 1.3,
     "the roll of 6 comes off over this stretch and takes its place."),
    ({"rule": euclid(4), "mute": True}, 0, "(muted)"),
    ({"rule": hand(0), "span": "once", "steps": 4}, 2, "plays once and waits for the next pass"),
])
def test_why(lane: dict[str, Any], at: float, words: str) -> None:
    assert words in why(recipe({"id": "fern", "name": "Fern"} | lane), "fern", at)


def test_why_names_the_lane_that_is_followed() -> None:
    found = recipe({"id": "pump", "name": "Pump", "rule": hand(0, 4)},
                   {"id": "gap", "rule": {"kind": "gaps", "of": "pump"}},
                   {"id": "reply", "rule": {"kind": "answer", "of": "pump", "place": "1/2"}})
    assert why(found, "gap", 0) == "Step 1 at 1.1: Pump plays here."
    assert "Pump is silent here · certain → sounds" in why(found, "gap", 0.5)
    assert "Pump" in why(found, "reply", 0.5) and "sounds" in why(found, "reply", 0.5)


def test_what_a_hand_did_is_said_and_taken_back_as_a_clause() -> None:
    """A lane whose hits were clicked away says so, and every clause says what it does."""
    spread = recipe({"id": "a", "name": "A", "rule": {"kind": "euclid", "pulses": 4}})
    silent = Put(do="put", lane="a", steps=[0, 4, 8, 12], on=False).apply(spread)
    found = apply_all(silent, [Put(do="put", lane="a", steps=[2], on=None)])
    words = lane_sentence(found.lanes[0], found)
    assert "Step 3 plays by hand. Steps 1 5 9 13 are silent by hand." in words.text()
    clause = next(clause for clause in words.clauses if clause.id == "pins")
    assert (clause.label, clause.removable) == ("steps by hand", True)
    hits = Performance(found).voice("a").hits
    assert lane_summary(found.lanes[0], found, hits.count) == "1 of 16, 5 by hand"
    assert RemoveClause(do="remove", lane="a", clause="pins").apply(found) == spread
    offers = lane_sentence(spread.lanes[0], spread).offers
    assert "pins" not in [offer.id for offer in offers]
    assert all(offer.about and offer.group in GROUPS for offer in offers)
    assert offers == sorted(offers, key=lambda offer: (not offer.often, GROUPS.index(offer.group)))
    assert [offer.label for offer in offers[:4]] == [
        "keep every nth", "roll", "arpeggio", "give or take"], "what is used most is offered first"
    assert all(rule.about for rule in RULES.values())


def test_keys_turn_from_where_the_word_will_stand() -> None:
    found = recipe({"id": "a", "name": "A", "rule": {"kind": "euclid", "pulses": 4}})
    longer = TurnSlot(do="turn", lane="a", slot="steps", by=1)
    assert apply_all(found, [longer] * 6).lanes[0].steps == 22
    assert apply_all(found, [TurnSlot(do="turn", lane="a", slot="steps", by=500)]
                     ).lanes[0].steps == 128, "as far as its bounds"
    mute = SetLane(do="lane", lane="a", field="mute", value=None)
    assert apply_all(found, [mute, mute]) == found != apply_all(found, [mute])
    put = Put(do="put", lane="a", steps=[1], on=None)
    assert apply_all(found, [put, put]) == found != apply_all(found, [put])


def test_what_is_counted_from_0_is_said_and_typed_from_1() -> None:
    found = recipe({"id": "a", "rule": {"kind": "nth", "pulses": 3, "index": "34"}, "steps": 7,
                    "rolls": [{"start": "11/4", "beats": "1", "strokes": 1}]})
    told = lane_sentence(found.lanes[0], found).text()
    assert "Take pattern 35 of 35 with 3 hits" in told
    assert "From beat 3 + 3/4 for 1 beat rolls 1 time" in told
    words = {slot.slot: slot for slot in slots(found, "a")}
    first = turned(found, "a", words["rule.index"], "1")
    assert first.lanes[0].rule.index == "0"
    for typed, start in (("3 + 1/2", "5/2"), ("2", "1"), ("9/4", "5/4")):
        placed = turned(found, "a", words["rolls.0.start"], typed)
        assert str(placed.lanes[0].rolls[0].start) == start
    with pytest.raises(RecipeError, match="from 1 to 35"):
        turned(found, "a", words["rule.index"], "0")


@pytest.mark.parametrize(("lane", "slot", "text", "typed", "held"), [
    ({"kind": "pitched", "key": {"root": 5, "scale": "major"}, "from": 58}, "from", "B♭3",
     {"F#3": 54, "Gb3": 54, "g♭3": 54, "c4": 60, "60": 60}, lambda lane: lane.lowest),
    ({"arpeggio": {"pool": [42, 46]}}, "arpeggio.pool_notes", "Closed hi-hat, Open hi-hat",
     {"ride bell, C4, 36": (53, 60, 36), "36 42": (36, 42)}, lambda lane: lane.arpeggio.pool),
    ({"kind": "pitched", "arpeggio": {"pool": [60, 64, 67]}}, "arpeggio.pool_notes", "C4 E4 G4",
     {"C4 Eb4 67": (60, 63, 67), "A#3, 64": (58, 64)}, lambda lane: lane.arpeggio.pool),
    ({"kind": "pitched", "key": {"root": 2, "scale": [0, 4, 7]}}, "key.notes", "D F♯ A",
     {"D Gb B": (0, 4, 9), "0 4 7": (0, 4, 7)}, lambda lane: lane.key.scale)])
def test_notes_are_said_and_typed_by_name(lane: dict[str, Any], slot: str, text: str,
                                          typed: dict[str, Any], held: Any) -> None:
    found = recipe({"id": "a", "name": "Fern"} | lane)
    word = next(each for each in slots(found, "a") if each.slot == slot)
    assert word.text == text
    for words, value in typed.items():
        assert held(turned(found, "a", word, words).lanes[0]) == value, words
    for wrong in ("H4", "C4 X", "C99"):
        with pytest.raises(RecipeError, match=r"notes? from"):
            turned(found, "a", word, wrong)


def test_a_change_is_told_as_its_word_reads() -> None:
    found = recipe({"id": "a", "name": "Fern", "arpeggio": {"pool": "scale"}})
    for lane, slot, value, told in (
            (None, "key.root", 0, "key: A to C"),
            ("a", "arpeggio.order", "own", "Fern: order of the walk up to in its own order"),
            ("a", "gate", 33, "Fern: gate 90 % to 33 %"),
            ("a", "rule.kind", "nth", "Fern: rule Play to Take")):
        edit = SetSlot(do="set", lane=lane, slot=slot, value=value)
        before = found.model_copy(update={"key": Key(root=9)}) if lane is None else found
        assert edit.describe(before) == told


def test_the_meeting_point_says_why() -> None:
    """Known answers: lengths alone, what counts through passes, and what never comes round."""
    pump = {"id": "pump", "name": "Pump", "rule": euclid(4)}
    drip = {"id": "drip", "name": "Drip", "steps": 15, "rule": euclid(7)}
    assert period(recipe(pump, drip, {"steps": 9})).words == \
        "16, 15 and 9 steps come round together in 45 bars."
    accented = recipe(pump, drip | {"accent": {"every": 5, "add": 20}})
    why_there = period(accented)
    assert why_there.words == ("16 and 15 steps come round together in 15 bars. With Drip’s accent "
                               "every 5th hit it takes 75 bars.")
    leaving, = why_there.leaving
    assert (leaving.title, leaving.bars) == ("Leave Drip’s accent every 5th hit out of it", 15)
    left = SetSlot.model_validate(leaving.edit).apply(accented)
    assert meeting_point(left).bars == 15 and not period(left).leaving
    more = period(recipe(pump | {"strands": {"velocity": {"values": [9, 8, 7], "by": "hit"}}},
                         drip | {"direction": "random"}, {"turns": {"0": [1, 2]}, "name": "Fan"}))
    assert more.words == ("16 steps come round in 1 bar. With Pump’s velocity strand of 3 and "
                          "Fan’s turns it takes 6 bars. Drip never comes round.")
    assert period(recipe({"span": "once"}, bars=2)).words == \
        "All lanes begin anew with the frame, in 2 bars."


def test_rolls_that_are_alike_are_one_clause_until_one_is_turned() -> None:
    spread = recipe({"id": "a", "name": "A", "rule": euclid(16)})
    found = apply_all(spread, [
        RollStep(do="roll", lane="a", steps=[2, 6], strokes=3),
        RollStretch(do="roll_stretch", lane="a", start="3", beats="1", strokes=5),
        RollStep(do="roll", lane="a", steps=[10], strokes=3)])
    words = {slot.slot: slot for slot in slots(found, "a")}
    assert "Steps 3 7 11 roll 3 times" in lane_sentence(found.lanes[0], found).text()
    assert "From beat 4 for 1 beat rolls 5 times" in lane_sentence(found.lanes[0], found).text()
    softer = turned(found, "a", words["rolls.0.velocity.1"], 40)
    assert [roll.velocity for roll in softer.lanes[0].rolls] == [(100, 40)] * 3 + [(100, 100)]
    fewer = turned(softer, "a", words["rolls.0.steps"], [3, 12])
    assert [roll.step for roll in fewer.lanes[0].rolls] == [2, 11, None]
    parted = RollStep(do="roll", lane="a", steps=[6], strokes=8).apply(found)
    assert "Steps 3 11 roll 3 times" in lane_sentence(parted.lanes[0], parted).text()
    assert "Step 7 rolls 8 times" in lane_sentence(parted.lanes[0], parted).text()
    gone = RemoveClause(do="remove", lane="a", clause="rolls.0").apply(found)
    assert [roll.step for roll in gone.lanes[0].rolls] == [None]
    # Of several on one step the first that comes off sounds: their order stays.
    twice = recipe({"rolls": [{"step": 1, "strokes": 2, "probability": 50}, {"step": 1, "strokes":
                    4}, {"step": 3, "strokes": 4}]})
    told = lane_sentence(twice.lanes[0], twice).text()
    assert told.index("Step 2 rolls 2 times") < told.index("Step 2 rolls 4 times")
    assert turned(twice, "lane-0", next(
        slot for slot in slots(twice, "lane-0") if slot.slot == "rolls.2.strokes"), 5
    ).lanes[0].rolls[:2] == twice.lanes[0].rolls[:2]
