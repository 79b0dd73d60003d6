"""Slow movement and throws at the API: drawn, kept and taken back; bad input is a sentence."""

from typing import Any

import pytest

from tests.api.conftest import Musician

WAVE = {"do": "path", "lane": "pump", "word": "rule.pulses", "shape": "drawn",
        "points": [4, 16, 2]}


def hits(state: dict[str, Any], lane: int, bars: int) -> list[int]:
    """How many hits each bar of a lane has, as it is drawn."""
    starts = [hit[0] for hit in state["view"]["lanes"][lane]["drawn"]["hits"]]
    return [sum(4 * bar <= start < 4 * bar + 4 for start in starts) for bar in range(bars)]


def test_what_moves_is_drawn_kept_and_taken_back(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    fern.edit(pattern, {"do": "add_lane", "name": "Mist", "after": "pump", "follow": "gaps"})
    state = fern.edit(pattern, WAVE, end=16)
    assert hits(state, 0, 4) == [4, 16, 2, 4] and hits(state, 1, 4) == [12, 0, 14, 12]
    assert state["view"]["meeting"]["bars"] == 3
    follower = state["view"]["lanes"][1]["drawn"]["stamp"]
    # The picture of a lane that follows changes with the path of the one that it follows.
    state = fern.edit(pattern, WAVE | {"points": [4, 16, 3]}, end=16)
    assert state["view"]["lanes"][1]["drawn"]["stamp"] != follower
    assert hits(state, 1, 3) == [12, 0, 13]
    word = next(part for clause in state["view"]["chosen"]["sentence"]["clauses"]
                for part in clause["parts"]
                if not isinstance(part, str) and part["slot"] == "rule.pulses")
    assert word["path"]["values"] == [4, 16, 3] and word["text"] == "3 … 16"
    kept = fern.good("post", f"patterns/{pattern}/keep", {"bars": 3})
    clip = fern.good("get", f"clips/{kept['id']}/state")["view"]
    assert len([note for note in clip["notes"] if note[2] == 36]) == 4 + 16 + 3
    why = fern.good("post", f"patterns/{pattern}/why", {
        "revision": state["revision"], "lane": "pump", "at": 4.25})
    assert "16 hits spread over 16" in why["words"]
    undone = fern.good("post", f"patterns/{pattern}/undo", {"revision": state["revision"],
                                                            "end": 16})
    assert hits(undone, 0, 3) == [4, 16, 2]


def test_a_controller_that_follows_is_drawn_anew_with_the_velocity_it_reads(
        fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    state = fern.edit(pattern, {"do": "add_lane", "name": "Glow", "after": "pump",
                                "begin": "controller", "follow": "where"}, end=16)
    glow = state["view"]["lanes"][1]["drawn"]["stamp"]
    state = fern.edit(pattern, {"do": "set", "lane": "pump", "slot": "velocity", "value": 64},
                      end=16)
    assert state["view"]["lanes"][1]["drawn"]["stamp"] != glow


def test_the_trim_of_an_own_sound_moves(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    file = "ab" * 32
    state = fern.edit(pattern, {"do": "own_sound", "lane": "pump", "file": file, "name": "Bucket"},
                      {"do": "path", "lane": "pump", "word": "own_sound.start", "shape": "drawn",
                       "points": [0, 40]}, end=12)
    moved = state["view"]["lanes"][0]["drawn"]["sounds"]
    assert [(at, sound["own"]["start"], sound["own"]["file"]) for at, sound in moved] == [
        (4, 40, file), (8, 0, file)], "its own before"


def test_what_is_tried_out_is_kept_as_it_is_heard(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    revision = fern.state(pattern)["revision"]
    kept = fern.good("post", f"patterns/{pattern}/keep", {
        "bars": 1, "revision": revision,
        "edits": [{"do": "plant", "lane": "pump", "hits": [0, 1, 2]}]})
    notes = fern.good("get", f"clips/{kept['id']}/state")["view"]["notes"]
    assert [note[0] for note in notes] == [0, 0.25, 0.5]
    assert fern.state(pattern)["revision"] == revision, "nothing of it is stored in the pattern"
    status, answer = fern.call("post", f"patterns/{pattern}/keep", {
        "bars": 1, "edits": [{"do": "plant", "lane": "pump", "hits": [99]}]})
    assert status == 422 and "no step 100" in answer["detail"]


@pytest.mark.parametrize(("edit", "words"), [
    ({"word": "nothing"}, "cannot follow a path"), ({"word": "steps", "points": [0.5]}, "1 to 128"),
    ({"shape": "zigzag"}, "shape"), ({"points": [1] * 65}, "64"), ({"points": ["a"]}, "number"),
    ({"points": [1e300]}, "whole number from 0 to 16"), ({"lane": "nobody"}, "no lane"),
    ({"lane": None, "word": "bars", "points": None}, "cannot follow a path"),
    ({"points": []}, "at least 1")])
def test_a_path_that_cannot_be_is_refused_in_a_sentence(fern: Musician, edit: dict[str, Any],
                                                       words: str) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    state = fern.state(pattern)
    status, answer = fern.call("post", f"patterns/{pattern}/edits", {
        "revision": state["revision"], "edits": [WAVE | edit], "end": 4})
    assert status == 422 and words in answer["detail"], answer
    assert fern.state(pattern)["revision"] == state["revision"]


def test_throws_are_offered_worded_and_thrown(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4}, {"rule.pulses": 3})
    over = {"pattern": pattern}
    offered = fern.good("post", "throws", over)
    assert [each["edit"]["do"] for each in offered] == [
        "throw_hits", "throw_values", "throw_drums", "throw_sounds", "throw_scale"]
    stored = [each["edit"] for each in offered]
    turned = fern.good("post", "throws", over | {
        "throws": stored, "of": "throw_values", "slot": "kind", "value": "roll"})
    assert turned[1]["edit"]["high"] == 3 and turned[0] == offered[0]
    for body, words in (
            ({"of": "throw_hits", "slot": "stray", "value": 2}, "from 0 to 1"),
            ({"of": "throw_hits", "slot": "nothing", "value": 2}, "no word"),
            ({"throws": [{"do": "throw_dice"}]}, "throw_hits"),
            ({"throws": [{"do": "throw_hits", "low": 90, "high": 10}]}, "up to the upper one"),
            ({"throws": [stored[0]] * 6}, "5 items")):
        status, answer = fern.call("post", "throws", over | body)
        assert status == 422 and words in answer["detail"], answer
    assert fern.call("post", "throws", {"pattern": pattern + 1000})[0] == 404
    fitting = {each["edit"]["do"]: each["fits"] for each in offered}
    assert fitting["throw_drums"] == ["pump", "valve"]
    fern.edit(pattern, {"do": "kind", "lane": "pump", "kind": "pitched"})
    assert fern.good("post", "throws", over)[2]["fits"] == ["valve"]
    before = fern.state(pattern)
    thrown = fern.edit(pattern, turned[1]["edit"] | {"throw": 7, "lanes": ["valve"]})
    assert thrown["history"]["undo"] == "Valve: values thrown"
    stamps = [[lane["drawn"]["stamp"] for lane in state["view"]["lanes"]]
              for state in (before, thrown)]
    assert stamps[0][0] == stamps[1][0] and stamps[0][1] != stamps[1][1]
    status, answer = fern.call("post", f"patterns/{pattern}/edits", {
        "revision": thrown["revision"], "end": 4, "edits": [stored[0] | {"lanes": ["nobody"]}]})
    assert status == 422 and "no lane" in answer["detail"]
