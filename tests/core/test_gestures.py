"""What hands do on the lattice and the strands: wedges, strands, copies, rolls, rate paths."""

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.edits import AnyEdit, apply_all
from lattice.play import play
from lattice.recipe import Recipe
from lattice.results.why import why
from lattice.sentence import lane_sentence
from lattice.strands.kinds import KINDS
from pydantic import TypeAdapter

from tests.core.recipes import documents, euclid, hand, recipe

EDITS: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[AnyEdit])
FOUR = recipe({"id": "pump", "name": "Pump", "rule": euclid(4), "steps": 16},
              {"id": "drip", "name": "Drip", "rule": euclid(8), "steps": 16, "velocity": 80})


def done(start: Recipe, *edits: dict[str, Any]) -> Recipe:
    return apply_all(start, EDITS.validate_python(list(edits)))


def loud(found: Recipe, lane: str = "pump") -> list[int]:
    return [note.velocity for note in play(found, 0, 4) if note.lane == lane]


def strand(found: Recipe, kind: str, lane: str = "pump") -> tuple[Any, ...]:
    return tuple(getattr(found.lane(lane).strands, kind).values)


def test_a_wedge_taken_by_its_tip_changes_the_value_that_it_reads() -> None:
    one = {"do": "touch", "lane": "pump", "places": [{"at": 1, "louder": 20, "later": 25}]}
    touched = done(FOUR, one)
    assert loud(touched) == [100, 120, 100, 100]
    assert [n.start for n in play(touched, 0, 4) if n.lane == "pump"] == [0, 1.0625, 2, 3]
    by_hit = done(FOUR, {"do": "strand", "lane": "pump", "kind": "velocity",
                         "strand": {"values": [90, 50], "by": "hit"}},
                  {"do": "touch", "lane": "pump", "places": [{"at": 3, "louder": 100}]})
    assert strand(by_hit, "velocity") == (90, 127), "up to the bound"
    assert loud(by_hit) == [90, 127, 90, 127]
    with pytest.raises(RecipeError, match="Pump has no hit there"):
        done(FOUR, {"do": "touch", "lane": "pump", "places": [{"at": 0.25, "louder": 5}]})


def test_values_are_shaped_together() -> None:
    def shape(how: str, start: Recipe = FOUR, **more: Any) -> Recipe:
        return done(start, {"do": "shape", "lane": "pump", "kind": "velocity", "how": how} | more)

    ramp = done(FOUR, {"do": "strand", "lane": "pump", "kind": "velocity",
                       "strand": {"values": [10, 20, [30, 40]], "by": "cell"}})
    assert strand(shape("raise", ramp, amount=100), "velocity") == (110, 120, (127, 127))
    assert strand(shape("rotate", ramp, amount=1), "velocity") == ((30, 40), 10, 20)
    assert strand(shape("reverse", ramp), "velocity") == ((30, 40), 20, 10)
    assert strand(shape("length", ramp, amount=4), "velocity") == (10, 20, (30, 40), 10)
    assert shape("reverse", ramp).lane("pump").strands.velocity.by == "cell"
    some = shape("set", ramp, amount=99, steps=[0, 4])
    # The other steps keep what they read before: steps 8 and 12 of a strand of three.
    assert strand(some, "velocity")[:5] == (99, 20, (30, 40), 10, 99)
    assert some.lane("pump").strands.velocity.by == "step" and loud(some)[:2] == [99, 99]
    wild = shape("randomise", low=60, high=70, share=50)
    changed = [value for value in strand(wild, "velocity") if value != 100]
    assert 0 < len(changed) < 16 and all(60 <= value <= 70 for value in changed)
    assert shape("randomise") == shape("randomise") != shape("randomise", shape("randomise"))
    for wrong in ({"how": "length", "amount": 300}, {"how": "set", "amount": 128},
                  {"how": "randomise", "low": 80, "high": 20}):
        with pytest.raises(RecipeError):
            shape(**wrong)
    copied = done(ramp, {"do": "copy_strand", "lane": "drip", "kind": "velocity",
                         "source": "pump"})
    assert copied.lane("drip").strands == ramp.lane("pump").strands


@given(documents(), st.sampled_from(sorted(KINDS)),
       st.sampled_from(["raise", "rotate", "reverse", "randomise"]), st.integers(-60, 60))
def test_shaping_keeps_length_and_bounds(document: dict[str, Any], kind: str, how: str,
                                         amount: int) -> None:
    before = recipe(*document.pop("lanes"), **document)
    lane = before.lanes[0]
    after = done(before, {"do": "shape", "lane": lane.id, "kind": kind, "how": how,
                          "amount": amount})
    held = getattr(lane.strands, kind)
    values = getattr(after.lanes[0].strands, kind).values
    assert len(values) == (len(held.values) if held else lane.steps)
    low, high = KINDS[kind].low, KINDS[kind].high
    assert all(low <= end <= high for value in values
               for end in (value if isinstance(value, tuple) else (value, value)))
    assert after.lanes[1:] == before.lanes[1:]


def test_steps_are_copied_with_all_that_belongs_to_them() -> None:
    source = done(FOUR, {"do": "roll", "lane": "pump", "steps": [4], "strokes": 3},
                  {"do": "touch", "lane": "pump", "places": [{"at": 1, "louder": 15}]},
                  {"do": "turns", "lane": "pump", "steps": [4], "turns": [1, 2]})
    pasted = done(source, {"do": "paste", "source": "pump", "first": 4, "last": 7,
                           "lane": "drip", "at": 10, "lift": 5})
    drip = pasted.lane("drip")
    assert [drip.pins.get(step) for step in range(10, 14)] == [None, None, False, None]
    assert strand(pasted, "velocity", "drip")[9:12] == (80, 115, 100)
    assert drip.turns == {10: (1, 2)} and drip.rolls[0].step == 10
    assert [n.tune for n in play(pasted, 2.5, 2.75) if n.lane == "drip"] == [5, 5, 5]
    at_the_end = done(source, {"do": "paste", "source": "pump", "first": 0, "last": 7,
                               "lane": "pump", "at": 15})
    assert at_the_end.lane("pump").pins == {15: True}, "what lies past the end is left out"
    with pytest.raises(RecipeError, match="copy and paste within them"):
        done(source, {"do": "paste", "source": "pump", "first": 4, "last": 16, "lane": "drip",
                      "at": 0})


def test_a_hat_part_with_a_triplet_roll_and_a_falling_one() -> None:
    two_bars = recipe({"id": "hat", "name": "Hat", "rule": euclid(16), "note": 42}, bars=2)
    rolled = done(two_bars,
                  {"do": "roll_stretch", "lane": "hat", "start": "3", "beats": "1"},
                  {"do": "set", "lane": "hat", "slot": "rolls.0.stroke_length", "value": "1/24"},
                  {"do": "roll_stretch", "lane": "hat", "start": "7", "beats": "1", "strokes": 6},
                  {"do": "set", "lane": "hat", "slot": "rolls.1.velocity.1", "value": 40},
                  {"do": "set", "lane": "hat", "slot": "rolls.1.pitch.1", "value": -12},
                  {"do": "set", "lane": "hat", "slot": "rolls.1.every", "value": 2})
    notes = [n for n in play(rolled, 0, 8) if n.start >= 3]
    assert [n.grid - 3 for n in notes if n.start < 4] == [Fraction(i, 6) for i in range(6)]
    falling = [n for n in notes if n.start >= 7]
    assert [(n.pitch, n.tune) for n in falling] == [
        (42, tune) for tune in (0, -2.4, -4.8, -7.2, -9.6, -12)]
    as_notes = done(rolled, {"do": "set", "lane": "hat", "slot": "tuned", "value": "notes"})
    assert [n.pitch for n in play(as_notes, 7, 8)] == [42, 40, 37, 35, 32, 30]
    assert falling[0].velocity > falling[-1].velocity == 40
    assert len(play(rolled, 15, 16)) == 4, "the plain hits sound where the roll has no turn"
    assert "comes off over this stretch and takes its place" in why(rolled, "hat", 3.3)
    with pytest.raises(RecipeError, match="whole number of times"):
        done(rolled, {"do": "set", "lane": "hat", "slot": "rolls.0.stroke_length",
                      "value": "3/16"})
    words = lane_sentence(rolled.lanes[0], rolled)
    assert [clause.id for clause in words.clauses if "rolls" in clause.id] == ["rolls.0", "rolls.1"]
    fewer = done(rolled, {"do": "remove", "lane": "hat", "clause": "rolls.0"})
    assert [float(roll.start or 0) for roll in fewer.lanes[0].rolls] == [7]


def test_one_roll_over_chosen_cells() -> None:
    fitted = recipe({"id": "fan", "name": "Fan", "steps": 5, "span": "fit", "rule": euclid(5),
                     "shift": "1/16"})
    rolled = done(fitted, {"do": "roll_cells", "lane": "fan", "at": 0.25 + 1.6, "until": 3.45,
                           "strokes": 8})
    (roll,) = rolled.lane("fan").rolls
    assert (roll.start, roll.beats) == (Fraction(8, 5), Fraction(8, 5))
    assert [n.start for n in play(rolled, 0, 4)] == pytest.approx(
        [0.25, 1.05, *(1.85 + i / 5 for i in range(8)), 3.45])
    with pytest.raises(RecipeError, match="Fan has no steps there"):
        done(fitted, {"do": "roll_cells", "lane": "fan", "at": 0.4, "until": 0.9, "strokes": 2})


def test_a_ride_is_laid_over_the_path_that_is_there() -> None:
    def lay(start: Recipe, *path: tuple[str, str, str]) -> Recipe:
        return done(start, {"do": "lay_path", "lane": "drip", "path": [
            {"start": a, "beats": b, "step": step, "contour": 30} for a, b, step in path]})

    first = lay(FOUR, ("0", "3", "1/32"))
    second = lay(first, ("1", "1", "1/24"), ("7/2", "1/2", "1/64"))
    assert [(str(s.start), str(s.beats), str(s.step)) for s in second.lane("drip").rate_path] == [
        ("0", "1", "1/32"), ("1", "1", "1/24"), ("2", "1", "1/32"), ("7/2", "1/2", "1/64")]
    assert lay(second) == FOUR
    again = done(second, {"do": "remove", "lane": "drip", "clause": "rate-path.1"})
    assert len(again.lane("drip").rate_path) == 3


def test_a_contour_of_the_musician_s_own() -> None:
    shaped = done(FOUR, {"do": "add", "lane": "pump", "clause": "contour"},
                  {"do": "set", "lane": "pump", "slot": "contour.amount", "value": 100},
                  {"do": "set", "lane": "pump", "slot": "contour.shape", "value": [1, 0.5, 0.25]})
    assert loud(shaped) == [100, 50, 25, 100]
    with pytest.raises(RecipeError, match="Contour shape takes numbers from 0 to 2"):
        done(shaped, {"do": "set", "lane": "pump", "slot": "contour.shape", "value": [1, 3]})


def test_links_and_turns_for_chosen_steps() -> None:
    linked = done(FOUR, {"do": "link", "lane": "pump", "steps": [0, 4, 8], "mode": "one"},
                  {"do": "link", "lane": "pump", "steps": [8, 12], "mode": "together"})
    assert [link.steps for link in linked.lane("pump").links] == [(0, 4), (8, 12)]
    parted = done(linked, {"do": "link", "lane": "pump", "steps": [0, 4, 8, 12], "mode": None})
    assert parted == FOUR
    turns = {"do": "turns", "lane": "pump", "steps": [0, 4], "turns": [2, 2]}
    assert [n.start for n in play(done(FOUR, turns), 0, 8) if n.lane == "pump"] == [
        2, 3, 4, 5, 6, 7]


def test_several_lanes_change_together_where_they_can() -> None:
    mixed = recipe({"id": "a", "rule": euclid(4)}, {"id": "b", "rule": hand(0, 3)},
                   {"id": "c", "rule": euclid(3), "steps": 5})
    muted = done(mixed, {"do": "lane", "lane": "a", "field": "mute", "value": True, "also": ["c"]})
    assert [lane.mute for lane in muted.lanes] == [True, False, True]
    read = done(mixed, *({"do": "read_strand", "lane": each, "kind": "velocity", "by": "hit"}
                         for each in "ab"))
    assert [len(strand(read, "velocity", each)) for each in "ab"] == [16, 16]
    assert read.lane("b").strands.velocity.by == "hit" and read.lane("c") == mixed.lane("c")
    changed = done(mixed, {"do": "set", "lane": "a", "slot": "rule.pulses", "value": 7,
                           "also": ["b", "c"]},
                   {"do": "add", "lane": "a", "clause": "chance-scale", "also": ["b", "c"]},
                   {"do": "set", "lane": "a", "slot": "probability_scale", "value": 50,
                    "also": ["b", "c"]})
    assert [to_json(lane.rule).get("pulses") for lane in changed.lanes] == [7, None, 3]
    assert [lane.probability_scale for lane in changed.lanes] == [50, 50, 50]
