"""Edits: what they change, what they leave alone, and how they refuse."""

from collections.abc import Callable
from typing import Any

import hypothesis.strategies as st
import pytest
from hypothesis import assume, given
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.edits.copied import PasteLanes
from lattice.edits.lanes import AddLane, DuplicateLane, MoveLane, RemoveLane, Reroll
from lattice.edits.steps import Put, RollStep
from lattice.edits.strands import SetStrand, ShapeStrand
from lattice.edits.words import AddClause, RemoveClause, SetSlot
from lattice.library.beginnings import BEGINNINGS
from lattice.play import play
from lattice.recipe import Lane, Recipe, edited, read, refusing
from lattice.rules import RULES, STANDING
from lattice.sentence import lane_sentence

from tests.core.recipes import documents, euclid, facts, hand, recipe, starts

BASE = recipe({"id": "pump", "name": "Pump", "rule": euclid(4)},
              {"id": "drip", "name": "Drip", "steps": 12, "rule": euclid(7)})


def set_slot(found: Recipe, slot: str, value: Any, lane: str | None = "drip") -> Recipe:
    return SetSlot(do="set", lane=lane, slot=slot, value=value).apply(found)


@pytest.mark.parametrize(("slot", "value", "says"), [
    ("rule.pulses", 13, "Hits takes a whole number from 0 to 12."),
    ("rule.pulses", 1.5, "Hits takes a whole number from 0 to 12."),
    ("rule.pulses", "many", "Hits takes a whole number from 0 to 12."),
    ("rule.pulses", True, "Hits takes a whole number from 0 to 12."),
    ("velocity", 0, "Velocity takes a whole number from 1 to 127."),
    ("steps", 1e99, "Steps takes a whole number from 1 to 128."),
    ("step", "1/0", "A fraction cannot be divided by zero."),
    ("step", "17", "Step length takes a fraction from 1/1024 to 16."),
    ("step", "fast", "Write a fraction such as 1/16, 1/12 or 3/16."),
    ("direction", "up", "Direction takes one of forward, backward,"),
    ("pump", 3, "That word is no longer in the sentence."),
])
def test_what_is_out_of_range_is_refused_with_the_range(slot: str, value: Any, says: str) -> None:
    with pytest.raises(RecipeError, match="^" + says.replace(".", r"\.")):
        set_slot(BASE, slot, value)


def test_an_edit_leaves_the_other_lanes_as_the_very_same_objects() -> None:
    edited = set_slot(BASE, "rule.rotation", 3)
    assert edited.lanes[0] is BASE.lanes[0] and edited.lanes[1] is not BASE.lanes[1]
    assert set_slot(edited, "bars", 4, lane=None).lanes[0] is BASE.lanes[0]


@given(documents(), documents(), st.sampled_from([1, -5, [9, 2], "1/0", {"kind": "hand"}]))
def test_a_field_is_changed_as_if_the_lane_were_read_anew(
        one: dict[str, Any], other: dict[str, Any], odd: Any) -> None:
    lane = read(one).lanes[0]

    def told(change: Callable[[dict[str, Any]], Lane], fields: dict[str, Any]) -> Any:
        try:
            with refusing():
                return to_json(change(fields))
        except RecipeError as problem:
            return str(problem)

    for word, document in {**other["lanes"][0], "drift": 3}.items():
        for fields in ({word: document}, {word: odd}):
            assert told(lambda fields: edited(lane, fields), fields) == told(
                lambda fields: Lane.model_validate(to_json(lane) | fields), fields), fields


def test_steps_take_the_rule_along_only_where_they_must() -> None:
    assert set_slot(BASE, "steps", 9).lanes[1].rule.model_dump()["pulses"] == 7
    assert set_slot(BASE, "steps", 5).lanes[1].rule.model_dump()["pulses"] == 5


def test_every_rule_can_be_reached_from_every_other() -> None:
    for first in RULES:
        for second in RULES:
            there = set_slot(set_slot(BASE, "rule.kind", first), "rule.kind", second)
            assert there.lanes[1].rule.kind == second
    for kind in ("hand", "nth"):  # these take over the hits that were there
        assert starts(set_slot(BASE, "rule.kind", kind)) == starts(BASE)


def test_every_clause_can_be_added_and_taken_away() -> None:
    for offer in lane_sentence(BASE.lanes[1], BASE).offers:
        there = AddClause(do="add", lane="drip", clause=offer.id).apply(BASE)
        words = lane_sentence(there.lanes[1], there)
        stood = [clause.id for clause in lane_sentence(BASE.lanes[1], BASE).clauses]
        added = [each.id for each in words.clauses if each.id not in stood]
        assert there != BASE and added
        gone = added[0]
        assert RemoveClause(do="remove", lane="drip", clause=gone).apply(there) == BASE


def test_steps_are_put_by_hand_or_pinned() -> None:
    by_hand = recipe({"id": "fan", "rule": hand(0)})
    there = Put(do="put", lane="fan", steps=[4, 5], on=True).apply(by_hand)
    assert there.lanes[0].rule.model_dump()["hits"] == (0, 4, 5) and not there.lanes[0].pins
    pinned = Put(do="put", lane="pump", steps=[0, 1], on=True).apply(BASE)
    assert pinned.lanes[0].pins == {1: True}  # step 0 is a hit already
    cleared = Put(do="put", lane="pump", steps=[0, 1], on=False).apply(pinned)
    assert cleared.lanes[0].pins == {0: False}
    with pytest.raises(RecipeError, match="Drip has 12 steps"):
        Put(do="put", lane="drip", steps=[12], on=True).apply(BASE)


def test_lanes_come_move_and_go() -> None:
    more = AddLane(do="add_lane", note=70, follow="gaps", after="drip").apply(BASE)
    assert [lane.name for lane in more.lanes] == ["Pump", "Drip", "Maracas"]
    with pytest.raises(RecipeError, match="Maracas follows Drip"):
        RemoveLane(do="remove_lane", lane="drip").apply(more)
    with pytest.raises(RecipeError, match="circle"):
        set_slot(set_slot(more, "rule.kind", "gaps", "pump"), "rule.of", "pump", "maracas")
        set_slot(set_slot(more, "rule.kind", "answer"), "rule.of", "maracas")
    copied = DuplicateLane(do="duplicate_lane", lane="drip").apply(BASE)
    assert [lane.id for lane in copied.lanes] == ["pump", "drip", "drip-2"]
    moved = MoveLane(do="move_lane", lane="drip", to=0).apply(BASE)
    assert [lane.id for lane in moved.lanes] == ["drip", "pump"]
    assert sorted(facts(play(moved, 0, 8))) == sorted(facts(play(BASE, 0, 8)))


def test_a_new_lane_begins_as_it_is_called() -> None:
    for name, beginning in BEGINNINGS.items():
        made = AddLane(do="add_lane", begin=name).apply(BASE).lanes[-1]
        assert (made.name, made.kind) == (beginning.title, beginning.fields["kind"])
        assert made.kind == "drum" or made.channel != 10
    hits = {kind: AddLane(do="add_lane", note=37, rule=kind).apply(BASE).lanes[-1].rule.kind
            for kind in STANDING}
    assert hits == {kind: kind for kind in STANDING}
    chords = AddLane(do="add_lane", begin="chords", rule="hand").apply(BASE).lanes[-1]
    assert (chords.steps, chords.rule.model_dump()["hits"]) == (2, (0,)), "its own steps"


def test_a_clause_begins_as_one_of_its_kind_stood_before() -> None:
    def added(clause: str, values: dict[str, Any]) -> str:
        there = AddClause(do="add", lane="drip", clause=clause, values=values).apply(BASE)
        known = {each.id for each in lane_sentence(BASE.lanes[1], BASE).clauses}
        return " ".join("".join(getattr(part, "text", part) for part in each.parts)
                        for each in lane_sentence(there.lanes[1], there).clauses
                        if each.id not in known)
    assert "every 5th hit" in added("accent", {"accent.every": 5, "accent.add": 9})
    assert added("accent", {"accent.every": 900, "velocity": 1, "no.such": []}) == \
        added("accent", {}), "what cannot be so is as it begins"
    rolls = added("rolls", {"rolls.3.strokes": 7, "rolls.3.steps": [9]})
    assert "7 times" in rolls and "Step 10" not in rolls, "a place is none of its values"


def test_reroll_changes_only_what_it_names() -> None:
    chancy = recipe({"id": "a", "rule": euclid(16), "probability": 50},
                    {"id": "b", "rule": euclid(16), "probability": 50})
    one = Reroll(do="reroll", lane="a").apply(chancy)
    before, after = play(chancy, 0, 16), play(one, 0, 16)
    assert facts(before, lane="a") != facts(after, lane="a")
    assert facts(before, lane="b") == facts(after, lane="b")
    assert Reroll(do="reroll", lane="a", back=True).apply(one) == chancy
    with pytest.raises(RecipeError, match="none before them"):
        Reroll(do="reroll", back=True).apply(chancy)


def test_rolls_and_strands_are_set_and_taken_away() -> None:
    rolled = RollStep(do="roll", lane="pump", steps=[0], strokes=4).apply(BASE)
    assert len(starts(rolled)) - len(starts(BASE)) == 3
    assert RollStep(do="roll", lane="pump", steps=[0], strokes=1).apply(rolled) == BASE
    values: dict[str, Any] = {"values": [128]}
    with pytest.raises(RecipeError, match="Velocity values go from 1 to 127"):
        SetStrand(do="strand", lane="drip", kind="velocity", strand=values).apply(BASE)
    woven = SetStrand(do="strand", lane="drip", kind="gate", strand={"values": [20]}).apply(BASE)
    assert SetStrand(do="strand", lane="drip", kind="gate", strand=None).apply(woven) == BASE


def test_lanes_are_pasted_into_another_pattern_with_what_they_follow() -> None:
    mist = {"id": "mist", "name": "Mist", "rule": {"kind": "gaps", "of": "drip"},
            "choke": {"by": "pump"}}
    source = recipe(*BASE.model_dump(mode="json", by_alias=True)["lanes"], mist)
    other = recipe({"id": "drip", "name": "Drip", "rule": euclid(3)},
                   {"id": "root", "name": "Root", "rule": euclid(1)})

    def pasted(*ids: str, after: str | None = None) -> Recipe:
        return PasteLanes(do="paste_lanes", lanes=[source.lane(each) for each in ids],
                          after=after).apply(other)

    both = pasted("drip", "mist", after="drip")
    assert [lane.id for lane in both.lanes] == ["drip", "drip-2", "mist", "root"]
    assert both.lane("mist").follows == "drip-2" and both.lane("mist").choked_by == "pump"
    kept = [fact[:-1] for fact in facts(play(source, 0, 4), lane="mist")]
    assert [fact[:-1] for fact in facts(play(both, 0, 4), lane="mist")] == kept
    assert pasted("mist").lane("mist").follows == "drip", "the lane here with that id"
    gone = PasteLanes(do="paste_lanes", lanes=[source.lane("mist")])
    with pytest.raises(RecipeError, match="Mist follows another lane, which is not here"):
        gone.apply(recipe({"id": "root", "rule": euclid(1)}))


@given(documents(), st.lists(st.integers(1, 128), min_size=1, max_size=4), st.data())
def test_a_lane_that_is_shortened_and_lengthened_again_is_as_it_was(
        document: dict[str, Any], lengths: list[int], data: st.DataObject) -> None:
    before = read(document)
    lane = data.draw(st.sampled_from(before.lanes))
    assume(not lane.paths)  # a word on a path takes the path along
    found = before
    for steps in [*lengths, lane.steps]:
        found = set_slot(found, "steps", steps, lane.id)
        assert read(to_json(found)) == found, "what waits is stored"
    assert found == before


@given(st.lists(st.integers(1, 127) | st.tuples(st.integers(1, 60), st.integers(60, 127)),
                min_size=1, max_size=24), st.lists(st.integers(1, 256), max_size=4))
def test_a_strand_that_is_shortened_and_lengthened_again_has_its_values(
        values: list[Any], lengths: list[int]) -> None:
    found = SetStrand(do="strand", lane="drip", kind="velocity",
                      strand={"values": values}).apply(BASE)
    for amount in [*lengths, len(values)]:
        found = ShapeStrand(do="shape", lane="drip", kind="velocity", how="length",
                            amount=amount).apply(found)
        assert len(found.lane("drip").strands.velocity.values) == amount
    assert list(found.lane("drip").strands.velocity.values) == values


def test_what_was_said_meanwhile_holds_and_drawn_values_leave_those_that_wait() -> None:
    short = set_slot(BASE, "steps", 5)
    assert short.lane("drip").rule.pulses == 5
    assert set_slot(short, "steps", 12).lane("drip").rule.pulses == 7
    said = set_slot(set_slot(short, "rule.pulses", 3), "steps", 12)
    assert said.lane("drip").rule.pulses == 3
    four = SetStrand(do="strand", lane="drip", kind="gate", strand={"values": [10, 20, 30, 40]})

    def length(of: Recipe, amount: int) -> Recipe:
        return ShapeStrand(do="shape", lane="drip", kind="gate", how="length",
                           amount=amount).apply(of)

    drawn = SetStrand(do="strand", lane="drip", kind="gate", strand={"values": [5, 6]})
    assert length(drawn.apply(length(four.apply(BASE), 2)), 5).lane("drip").strands.gate.values \
        == (5, 6, 30, 40, 5)
