"""Gusts that come by themselves, against the same gusts planted by hand."""

import json
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.cli import main
from lattice.clip.taken import Segment, take_clip
from lattice.edits.lanes import RemoveLane
from lattice.edits.plant import AddGust, Gust
from lattice.edits.words import AddClause, RemoveClause, SetSlot
from lattice.play import Performance, play
from lattice.recipe import Recipe, read
from lattice.results.meeting import meeting_point
from lattice.results.period import period
from lattice.results.view import pictures
from lattice.results.why import why
from lattice.sentence import pattern_sentence

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, facts, recipe

HATS = {"id": "drip", "name": "Drip", "note": 42, "rule": euclid(7), "steps": 12}
FERN = {"id": "fern", "name": "Fern", "rule": euclid(5)}
MIST = {"id": "mist", "name": "Mist", "rule": {"kind": "gaps", "of": "drip"}}


def by_hand(found: Recipe, passing: int) -> Recipe:
    """The recipe of one pass: its gusts planted, each over the lanes that none before it took."""
    taken: set[str] = set()
    calm = found.model_copy(update={"gusts": ()})
    playing = calm
    for gust in found.gusts:
        if passing % gust.every == gust.turn - 1:
            lanes = [lane.id for lane in found.lanes if lane.id not in taken and (
                gust.lanes is None or lane.id in gust.lanes)]
            taken |= set(lanes)
            blown = Gust(do="gust", away=gust.away, lanes=lanes,
                         throw=passing if gust.throw is None else gust.throw).apply(calm)
            playing = playing.model_copy(update={"lanes": tuple(
                blown.lane(lane.id) if lane.id in lanes else lane for lane in playing.lanes)})
    return playing


def begun(found: Recipe, start: float, end: float) -> list[Any]:
    """What lanes begin in a stretch, each by itself: what it cuts is another matter."""
    performance = Performance(found)
    return sorted((sounding.main.start, sounding.main.lane, sounding.main.pitch, sounding.sounds)
                  for lane in found.lanes if lane.kind != "control"
                  for voice, begin, stop in performance.playing(lane.id, start, end)
                  for sounding in voice.soundings(begin, stop)
                  if begin <= sounding.main.start < stop)


@settings(max_examples=60, suppress_health_check=[HealthCheck.too_slow])
@given(documents() | melodic(documents()))
def test_each_pass_plays_what_it_would_with_its_gusts_planted(document: dict[str, Any]) -> None:
    document["gusts"] = document["gusts"] or [{"every": 2, "from": 1}]
    found = read(document)
    frame = float(found.frame_beats)
    for passing in (0, 1, 2, 5, 400):
        stretch = (passing * frame, (passing + 1) * frame)
        assert begun(found, *stretch) == begun(by_hand(found, passing), *stretch)
    assert facts(play(found, frame, 2 * frame)) == [
        fact for fact in facts(play(found, 0, 4 * frame)) if frame <= fact[0] < 2 * frame]


def test_a_gust_is_a_clause_with_its_words() -> None:
    found = recipe(HATS, FERN, MIST)
    blown = AddClause(do="add", lane=None, clause="gusts").apply(found)
    assert pattern_sentence(blown).text().endswith(
        "In the 8th of every 8 passes a gust blows 0.4 away over all lanes, another each time.")
    for slot, value in (("lanes.0", "fern"), ("lanes.1", "drip"), ("from", 2), ("every", 4),
                        ("away", 0.6), ("same", True), ("throw", 23)):
        blown = SetSlot(do="set", lane=None, slot=f"gusts.0.{slot}", value=value).apply(blown)
    assert pattern_sentence(blown).text().endswith(
        "In the 2nd of every 4 passes a gust blows 0.6 away over Fern, Drip and no other lane, "
        "the same each time by throw 23.")
    assert to_json(blown)["gusts"] == [
        {"every": 4, "from": 2, "away": 0.6, "lanes": ["fern", "drip"], "throw": 23}]
    assert AddGust(do="add_gust", every=4, turn=2, away=0.6, lanes=["fern", "drip"],
                   throw=23).apply(found) == blown
    for slot, value in (("same", False), ("lanes.0", ""), ("lanes.0", "")):
        blown = SetSlot(do="set", lane=None, slot=f"gusts.0.{slot}", value=value).apply(blown)
    assert to_json(blown)["gusts"] == [{"every": 4, "from": 2, "away": 0.6}]
    assert RemoveClause(do="remove", lane=None, clause="gusts.0").apply(blown) == found
    with pytest.raises(RecipeError, match="in one of 4 passes"):
        AddGust(do="add_gust", every=4, turn=5).apply(found)
    with pytest.raises(RecipeError, match="Up to 8 gusts"):
        read(to_json(found))
        for _ in range(9):
            found = AddGust(do="add_gust").apply(found)


def test_lanes_that_go_and_lanes_that_follow() -> None:
    found = recipe(HATS, FERN, MIST, gusts=[{"every": 2, "from": 2, "lanes": ["drip"]},
                                            {"every": 2, "from": 2, "lanes": ["drip", "fern"]}])
    assert Performance(found).blown == {"drip", "fern", "mist"}
    followed = recipe(HATS, FERN, gusts=to_json(found)["gusts"])
    left = RemoveLane(do="remove_lane", lane="drip").apply(followed)
    assert to_json(left)["gusts"] == [{"every": 2, "from": 2, "lanes": ["fern"]}]
    drip, mist = (
        {hit[0] for hit in pictures(Performance(found), list(found.lanes), 4, 8)[lane].hits}
        for lane in ("drip", "mist"))
    assert drip and mist and not drip & mist


def test_gusts_are_told_and_heard_everywhere(tmp_path: Any, capsys: Any) -> None:
    found = recipe(HATS, FERN, gusts=[{"every": 3, "from": 2, "lanes": ["drip"]}])
    assert "a gust blows 0.4 away in this pass, by throw 1" in why(found, "drip", 4)
    assert "gust" not in why(found, "drip", 8) + why(found, "fern", 4)
    assert meeting_point(found).left_out == ["Drip"]
    everywhere = recipe(HATS, FERN, gusts=[{"every": 3, "from": 2}])
    assert meeting_point(everywhere).words().startswith("no lane comes round")
    assert period(everywhere).words.endswith("3 bars. Drip and Fern never come round.")
    always = recipe(HATS, FERN, gusts=[{"every": 4, "from": 2, "throw": 5}])
    assert meeting_point(always).frames == 12
    assert period(always).words.endswith("in 3 bars. With the gusts it takes 12 bars.")
    clip = take_clip("Blown", [Segment(found, 0, 0, 12)], 0, found.frame_beats * 3)
    assert [(note.start, note.pitch) for note in clip.notes] == [
        (note.start, note.pitch) for note in play(found, 0, 12)]
    path = tmp_path / "blown.json"
    path.write_text(json.dumps(to_json(found)))
    assert main(["play", str(path), "--bars", "1:2"]) == 0
    events = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert {each["why"].get("gust", {}).get("throw") for each in events
            if each["lane"] == "drip"} == {1}
