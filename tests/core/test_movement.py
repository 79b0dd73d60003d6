"""Slow movement: what a word that follows a path is in each bar, and what plays there."""

from itertools import pairwise
from math import cos, pi
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.words import Slot
from lattice.edits import apply_all
from lattice.edits.adapt import Adapt
from lattice.edits.melody import Move
from lattice.edits.movement import FollowPath
from lattice.edits.steps import Put
from lattice.edits.words import AddClause, RemoveClause, SetSlot
from lattice.pitch.fields import Transpose
from lattice.play import Performance, play
from lattice.recipe import Recipe, read
from lattice.results.meeting import meeting_point
from lattice.results.view import pictures
from lattice.results.why import why
from lattice.results.work import work
from lattice.sentence import lane_sentence, pattern_sentence

from tests.core.recipes import documents, euclid, facts, recipe


def moving(shape: str, **path: Any) -> Recipe:
    """A lane of so many hits in 16, as its path says."""
    return recipe({"rule": euclid(4), "paths": [
        {"word": "rule.pulses", "shape": shape, "from": 2, "to": 10} | path]})


def hits(found: Recipe, bars: int) -> list[int]:
    """How many hits there are in each of the first bars."""
    return [len(play(found, 4.0 * bar, 4.0 * bar + 4)) for bar in range(bars)]


def test_a_value_for_each_bar() -> None:
    assert hits(moving("line", bars=5), 7) == [2, 4, 6, 8, 10, 2, 4]
    assert hits(moving("line", bars=1), 2) == [2, 2]
    assert hits(moving("steps", bars=6, steps=3), 7) == [2, 2, 6, 6, 10, 10, 2]
    wave = [2 + 8 * (1 - cos(2 * pi * bar / 8)) / 2 for bar in range(8)]
    assert hits(moving("wave"), 9) == [int(each + 0.5) for each in wave] + [2]
    assert hits(moving("drawn", points=[3, 16, 0]), 4) == [3, 16, 0, 3]
    assert hits(moving("drawn", points=[99, -5]), 2) == [16, 0], "within the word's bounds"
    assert hits(recipe({"rule": euclid(4), "paths": [
        {"word": "rule.amount", "from": 0, "to": 100}]}), 2) == [4, 4], "a word that is not said"


def test_wandering_goes_from_draw_to_draw() -> None:
    found = hits(moving("wander", bars=4), 40)
    assert set(found) <= set(range(2, 11)) and len(set(found)) > 4
    assert max(abs(a - b) for a, b in pairwise(found)) <= 3
    assert found == hits(moving("wander", bars=4), 40)
    other = moving("wander", bars=4).model_copy(update={"seed": 1})
    assert hits(other, 40) != found


@given(documents(), st.integers(0, 6))
def test_each_bar_plays_what_the_words_say_there(document: dict[str, Any], bar: int) -> None:
    """The same as with the words set by hand; lengths aside, which the next bar may cut."""
    for lane in document["lanes"]:
        for path in lane.get("paths", ()):  # those whose formula is one line
            path["shape"] = "drawn" if path["shape"] in ("wander", "wave", "steps") else "line"
    found = read(document)
    by_hand = read(document | {"lanes": [{name: value for name, value in lane.items()
                                          if name != "paths"} for lane in document["lanes"]]})
    for lane in document["lanes"]:
        # The number of steps first: it bounds what rules can say of them.
        for path in sorted(lane.get("paths", ()), key=lambda path: path["word"] != "steps"):
            slots = {part.slot: part for clause in lane_sentence(
                by_hand.lane(lane["id"]), by_hand).clauses for part in clause.parts
                if not isinstance(part, str)}
            if slot := slots.get(path["word"]):
                way = path["to"] - path["from"]
                value = path["points"][bar % 2] if path["shape"] == "drawn" else \
                    path["from"] + way * (bar % path["bars"]) / max(1, path["bars"] - 1)
                low, high = slot.bounds
                by_hand = SetSlot(do="set", lane=lane["id"], slot=path["word"],
                                  value=min(high, max(low, int(value + 0.5)))).apply(by_hand)
    length = float(found.bar_beats)
    start, end = bar * length, (bar + 1) * length

    def heard(of: Recipe) -> list[tuple[Any, ...]]:
        return [each[:1] + each[2:] for each in facts(play(of, start, end))]

    assert heard(found) == heard(by_hand)


def test_a_path_is_two_actions_and_says_itself() -> None:
    still = recipe({"rule": {"kind": "density", "amount": 20}, "probability": 50})
    breathing = FollowPath(do="path", lane="lane-0", word="rule.amount", shape="wave").apply(still)
    words = lane_sentence(breathing.lane("lane-0"), breathing)
    assert words.text().startswith("Fill 20 … 60 % of 16 steps")
    assert words.text().endswith("Let the density move in a wave from 20 % to 60 % and back over "
                                 "8 bars.")
    slot = next(part for part in words.clauses[0].parts
                if not isinstance(part, str) and part.slot == "rule.amount")
    assert slot.path and slot.path.clause == "paths.0"
    assert list(slot.path.values) == [20, 26, 40, 54, 60, 54, 40, 26]

    def turned(slot: str, value: Any) -> str:
        changed = SetSlot(do="set", lane="lane-0", slot=slot, value=value).apply(breathing)
        return "".join(part if isinstance(part, str) else part.text
                       for part in lane_sentence(changed.lane("lane-0"), changed).clauses[-1].parts)

    assert turned("rule.amount", 30).startswith("Let the density move in a wave from 30 % to 70 %")
    assert turned("paths.0.word", "probability").startswith(
        "Let the chance move in a wave from 50 %")
    assert turned("paths.0.shape", "drawn") == \
        "Let the density move as drawn: 20 26 40 54 60 54 40 26, a bar each."
    assert turned("paths.0.shape", "steps").endswith("60 %, 4 of them, over 8 bars.")
    with pytest.raises(RecipeError, match="takes a whole number from 0 to 100"):
        turned("paths.0.to", 101)
    with pytest.raises(RecipeError, match="from 1 to 64"):
        turned("paths.0.bars", 65)
    assert RemoveClause(do="remove", lane="lane-0", clause="paths.0").apply(breathing) == still
    assert FollowPath(do="path", lane="lane-0", word="rule.amount", shape=None).apply(
        breathing) == still
    other_rule = SetSlot(do="set", lane="lane-0", slot="rule.kind", value="euclid").apply(breathing)
    assert other_rule.lane("lane-0").paths == (), "what is not said moves nothing"
    both = AddClause(do="add", lane="lane-0", clause="paths").apply(breathing)
    assert [path.word for path in both.lane("lane-0").paths] == ["rule.amount", "steps"]


def test_the_pattern_moves_too_and_what_cannot_is_refused() -> None:
    found = recipe({"rule": euclid(16), "step": "1/8", "probability": 50},
                   swing={"grid": "1/8", "percent": 50}, bars=2)
    swinging = FollowPath(do="path", lane=None, word="swing.percent", shape="drawn",
                          points=[50, 66]).apply(found)
    assert pattern_sentence(swinging).text().endswith("move as drawn: 50 66, a bar each.")
    certain = apply_all(swinging, [RemoveClause(do="remove", lane="lane-0", clause="probability")])
    assert [note.start for note in play(certain, 0, 8)][1::2] == [
        0.5, 1.5, 2.5, 3.5, 4.66, 5.66, 6.66, 7.66]
    for lane, word in ((None, "bars"), ("lane-0", "sound.tone"), ("lane-0", "velocity.0")):
        with pytest.raises(RecipeError, match="cannot follow a path"):
            FollowPath(do="path", lane=lane, word=word, shape="line").apply(found)
    with pytest.raises(RecipeError, match="from 50 to 75"):
        FollowPath(do="path", lane=None, word="swing.percent", shape="drawn", points=[80.0]).apply(
            found)
    with pytest.raises(RecipeError, match="one path at a time"):
        recipe({"paths": [{"word": "gate", "from": 1, "to": 2}] * 2})


def test_words_of_a_sound_move_and_change_no_note() -> None:
    own = {"file": "ab" * 32, "name": "Bucket", "start": 10, "end": 60}
    found = recipe(
        {"kind": "pitched", "sound": {"by": "bass"}, "paths": [
            {"word": "sound.bright", "shape": "line", "from": 20, "to": 80, "bars": 3}]},
        {"own_sound": own, "paths": [
            {"word": "own_sound.start", "shape": "drawn", "points": [10, 80, 10], "from": 0,
             "to": 1},
            {"word": "own_sound.end", "shape": "drawn", "points": [60, 60, 5], "from": 0,
             "to": 1}]})
    drawn = pictures(Performance(found), list(found.lanes), 0, 16)
    assert [(at, sound.set["bright"]) for at, sound in drawn["lane-0"].sounds] == [
        (0, 20), (4, 50), (8, 80), (12, 20)]
    trims = [(at, sound.own.start, sound.own.end) for at, sound in drawn["lane-1"].sounds
             if sound.own]
    assert trims == [(4, 59, 60), (8, 10, 11), (12, 10, 60)], "something is left"
    with pytest.raises(RecipeError, match="leaves nothing"):
        recipe({"own_sound": own | {"start": 60}})
    still = read({"lanes": [{name: value for name, value in lane.items() if name != "paths"}
                            for lane in found.model_dump(mode="json", by_alias=True)["lanes"]]})
    assert facts(play(found, 0, 16)) == facts(play(still, 0, 16))
    assert not any(each.sounds for each in
                   pictures(Performance(still), list(still.lanes), 0, 16).values())


def test_a_transposition_that_moves_is_moved_with_its_lane() -> None:
    found = recipe({"kind": "pitched", "rule": euclid(4), "transpose": {"degrees": 1}, "paths": [
        {"word": "transpose.degrees", "shape": "drawn", "points": [1, 3], "from": 1, "to": 3}]},
        key={"root": 0, "scale": "major"})

    def pitches(of: Recipe) -> list[int]:
        return [note.pitch for note in play(of, 0, 8)][::4]

    assert pitches(found) == [62, 65]
    assert pitches(Adapt(degrees=2).apply(found)) == [65, 69]
    assert pitches(Adapt(degrees=-1).apply(found)) == [60, 64]
    assert pitches(Adapt(semitones=-12).apply(found)) == [50, 53]
    assert pitches(Move(do="move_pitch", lane="lane-0", degrees=2).apply(found)) == [65, 69]
    unsaid = found.model_copy(update={"lanes": (found.lanes[0].model_copy(
        update={"transpose": Transpose()}),)})
    assert pitches(unsaid) == [60, 60]
    assert pitches(Adapt(degrees=1).apply(unsaid)) == [62, 62]
    for edit in (Adapt(semitones=48), Move(do="move_pitch", lane="lane-0", semitones=48)):
        with pytest.raises(RecipeError, match="further than a lane can be"):
            edit.apply(Adapt(semitones=1).apply(found))


def test_what_moves_comes_round_and_is_told() -> None:
    found = moving("drawn", points=[4, 16, 3])
    follower = {"id": "f", "name": "F", "note": 60, "rule": {"kind": "gaps", "of": "lane-0"}}
    both = read({"lanes": [found.lane("lane-0").model_dump(mode="json", by_alias=True), follower]})
    assert meeting_point(both).frames == 3
    assert [len([note for note in play(both, 4.0 * bar, 4.0 * bar + 4) if note.lane == "f"])
            for bar in range(3)] == [12, 0, 13]
    assert meeting_point(moving("wander")).left_out == ["Lane 0"]
    assert meeting_point(recipe({"rule": euclid(4), "steps": 16, "paths": [
        {"word": "steps", "shape": "drawn", "points": [16, 12], "from": 1, "to": 2}]})).frames == 6
    assert "Step 2 at 2.1 + 1/4: 16 hits spread over 16" in why(both, "lane-0", 4.25)
    assert "sounds" not in why(both, "lane-0", 0.25)
    shown = Put(do="put", lane="lane-0", steps=[1], on=None, shown=True).apply(both)
    assert shown.lane("lane-0").pins == {1: False}, "it rests where it was seen to play"


def test_any_pass_costs_what_the_first_costs() -> None:
    found = moving("wander", bars=3)
    assert round(work(found, 0, 16)) == round(work(found, 4e6, 4e6 + 16))
    far = Performance(found).notes(4e8, 4e8 + 4)
    assert far and far == [note for note in Performance(found).notes(4e8 - 8, 4e8 + 8)
                           if 4e8 <= note.start < 4e8 + 4]
    assert work(found, 0, 4e6) > 1e5 * work(found, 0, 4)


def test_a_word_is_held_within_the_bounds_of_its_bar() -> None:
    paths = [{"word": word, "shape": "drawn", "points": points, "from": 0, "to": 1}
             for word, points in (("rule.pulses", [12, 12, 6]), ("steps", [16, 8, 16]))]
    for order in (paths, paths[::-1]):
        found = recipe({"steps": 8, "rule": euclid(4), "paths": order, "span": "fit"})
        assert hits(found, 4) == [12, 8, 6, 12]


def turning(shape: str = "line", bars: int = 4, move: str = "step", **lane: Any) -> Recipe:
    return recipe({"kind": "control", "control": {"number": 74, "move": move}, "value": 10,
                   "rule": euclid(1), "paths": [{"word": "value", "shape": shape, "from": 0,
                                                 "to": 96, "bars": bars}]} | lane)


def set_in(found: Recipe, start: float, end: float) -> list[tuple[float, int]]:
    return [(each.time, each.value) for each in Performance(found).changes(start, end)]


def test_a_controller_moves_on_along_its_path() -> None:
    opens = set_in(turning(), 0, 16)
    assert opens[:2] == [(0, 0), (0.0625, 1)] and opens[-1] == (11.9375, 96)
    assert max(after[1] - before[1] for before, after in pairwise(opens)) == 1, "without jumps"
    assert set_in(turning(), 12.1, 16) == [] and set_in(turning(), 16, 16.1)[0] == (16, 0)
    late = turning(shift="1/4")
    assert set_in(late, 0, 2)[0] == (1, 8), "from its first hit on, along the same path"
    assert set_in(turning(mute=True), 0, 16) == set_in(turning(probability=0), 0, 16) == []
    drawn = turning("drawn", paths=[{"word": "value", "shape": "drawn", "points": [10, 90],
                                     "from": 0, "to": 1}])
    assert set_in(drawn, 0, 12) == [(0, 10), (4, 90), (8, 10)], "a value of its own a bar"
    assert [each.value for at in (4, 8, 12)
            for each in Performance(drawn).in_force(at)] == [10, 90, 10]
    gliding = Performance(turning("wave", 2, "glide", rule=euclid(4)))
    assert [gliding.in_force(beat + 1e-6)[0].value for beat in range(8)] == [
        round(48 - 48 * cos(pi * beat / 4)) for beat in range(8)]
    assert meeting_point(turning(bars=3)).frames == 3
    assert meeting_point(turning("wander")).nobody


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(["wave", "line", "steps", "wander"]), st.integers(1, 5),
       st.floats(0.1, 39.9) | st.integers(1, 3839).map(lambda place: place / 96),
       st.sampled_from(["step", "glide"]))
def test_a_controller_moves_alike_from_anywhere_on(shape: str, bars: int, cut: float,
                                                   move: str) -> None:
    found = turning(shape, bars, move, probability=60, rule=euclid(3))
    assert set_in(found, 0, cut) + set_in(found, cut, 40) == set_in(found, 0, 40)
    assert all((at * 96) % 1 < 1e-6 or (at * 96) % 1 > 1 - 1e-6
               for at, _ in set_in(found, 0, 40)[1:]) or move == "glide"


def test_a_controller_goes_to_where_it_would_be_by_the_new_values() -> None:
    found = turning(paths=[{"word": "rule.pulses", "shape": "drawn", "points": [4, 0], "from": 0,
                            "to": 4}], strands={"value": {"values": [10, 20], "by": "hit"}})
    assert set_in(found, 0, 4) == [(0, 10), (1, 20), (2, 10), (3, 20)]
    rare = turning(steps=64, paths=[{"word": "rule.turned", "shape": "drawn", "points": [0, 0],
                                     "from": 0, "to": 1}])
    assert set_in(rare, 0, 32) == [(0, 10)]
    drawn = pictures(Performance(rare), list(rare.lanes), 0, 16)["lane-0"]
    assert drawn.changes == [(0, 74, 10)] and len(drawn.cells) == 64


def test_the_number_of_a_pattern_follows_a_path() -> None:
    found = recipe({"steps": 7, "rule": {"kind": "nth", "pulses": 3}}, meter=(7, 16))
    slot = next(slot for clause in lane_sentence(found.lanes[0], found).clauses
                for slot in clause.parts if isinstance(slot, Slot) and slot.slot == "rule.index")
    assert slot.path is not None
    walked = FollowPath(do="path", lane="lane-0", word="rule.index", shape="line").apply(found)
    assert walked.lanes[0].paths[0].model_dump()["last"] == 35 == walked.lanes[0].paths[0].bars
    bars = [tuple(n.start * 4 - 7 * bar for n in play(walked, 1.75 * bar, 1.75 * bar + 1.75))
            for bar in range(35)]
    assert bars == sorted(set(bars)) and len(bars) == 35, "all of them, one a bar"
    turned = SetSlot(do="set", lane="lane-0", slot="rule.index", value="3").apply(walked)
    assert (turned.lanes[0].paths[0].first, turned.lanes[0].paths[0].last) == (3, 35)
    many_more = recipe({"steps": 64, "rule": {"kind": "nth", "pulses": 30}})
    with pytest.raises(RecipeError, match="cannot follow"):
        FollowPath(do="path", lane="lane-0", word="rule.index", shape="line").apply(many_more)
