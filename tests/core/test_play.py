"""The pipeline as a whole: what must hold for any pattern."""

import json
import os
import subprocess
import sys
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from lattice.base.values import to_json
from lattice.base.words import Slot
from lattice.edits.lanes import SetLane
from lattice.play import Performance, lanes_in_groups, play
from lattice.recipe import Recipe, read
from lattice.results.view import pictures
from lattice.results.why import why
from lattice.sentence import CLAUSES, lane_sentence

from tests.core.recipes import documents, euclid, facts, recipe

many = settings(max_examples=50, deadline=None,
                suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])


@many
@given(documents(), st.floats(0, 14), st.floats(0, 14))
def test_any_range_is_cut_from_a_longer_one(document: dict[str, Any], a: float, b: float) -> None:
    found, (start, end) = read(document), sorted((a, b))
    whole = facts(play(found, 0, 20))
    assert facts(play(found, start, end)) == [fact for fact in whole if start <= fact[0] < end]


@many
@given(documents())
def test_events_are_well_formed(document: dict[str, Any]) -> None:
    notes = play(read(document), 0, 16)
    places = [(note.start, note.lane) for note in notes]
    assert [start for start, _ in places] == sorted(start for start, _ in places)
    sounding: dict[tuple[int, int], float] = {}
    for note in notes:
        assert 0 <= note.pitch <= 127 and 1 <= note.velocity <= 127
        assert note.length >= 1 / 960 and note.start >= 0
        key = (note.channel, note.pitch)
        assert sounding.get(key, 0) <= note.start + 1 / 960 + 1e-9
        sounding[key] = note.start + note.length


@many
@given(documents(), st.data())
def test_one_lane_changes_no_other(document: dict[str, Any], data: st.DataObject) -> None:
    """Before the merging of equal notes: so the lanes are given channels of their own."""
    for i, lane in enumerate(document["lanes"]):
        lane["channel"] = i + 1
    before = read(document)
    changed = data.draw(st.sampled_from(document["lanes"]))
    kept = [lane.id for lane in before.lanes
            if lane.id != changed["id"] and not _follows(before, lane.id, changed["id"])]
    changed |= {"name": "Another", "velocity": 33, "rule": euclid(1), "direction": "forward",
                "step": "1/28", "seed": 99}
    document["lanes"].reverse()
    after = read(document)
    for lane_id in kept:
        assert facts(play(before, 0, 12), lane=lane_id) == facts(play(after, 0, 12), lane=lane_id)


def _follows(found: Recipe, lane_id: str, other: str) -> bool:
    leader = found.lane(lane_id).follows
    return leader is not None and (leader == other or _follows(found, leader, other))


@many
@given(documents())
def test_documents_come_back_as_they_went(document: dict[str, Any]) -> None:
    found = read(document)
    assert read(json.loads(json.dumps(to_json(found)))) == found


@many
@given(documents(), st.integers(0, 30))
def test_the_picture_shows_what_is_heard(document: dict[str, Any], start: int) -> None:
    found = read(document)
    performance = Performance(found)
    heard = {lane.id: [(n.start, n.length, n.pitch, n.velocity, n.tune)
                       for n in play(found, start, start + 8) if n.lane == lane.id]
             for lane in found.lanes}
    for group in lanes_in_groups(found):
        for lane_id, drawn in pictures(performance, group, start, start + 8).items():
            assert drawn.notes == heard[lane_id]
            assert len(drawn.cells) == len(drawn.steps)
            assert drawn.cells == sorted(drawn.cells)


@many
@given(documents())
def test_every_lane_has_words(document: dict[str, Any]) -> None:
    found = read(document)
    for lane in found.lanes:
        words = lane_sentence(lane, found)
        for clause in words.clauses:
            for part in clause.parts:
                if isinstance(part, Slot):
                    value = part.accept(part.value)  # what is shown is within its own bounds
                    assert value is not None and part.label
        assert {kind.id for kind in CLAUSES[lane.kind]} >= {offer.id for offer in words.offers}
        for beat in range(4):
            assert why(found, lane.id, beat + 0.3).startswith(("Step", lane.name))


def test_mute_and_solo() -> None:
    lanes: list[dict[str, Any]] = [{"rule": euclid(1)}, {"rule": euclid(1)}, {"rule": euclid(1)}]
    found = recipe(*lanes)
    muted = SetLane(do="lane", lane="lane-0", field="mute", value=True).apply(found)
    assert [n.lane for n in play(muted, 0, 4)] == ["lane-1", "lane-2"]
    solo = SetLane(do="lane", lane="lane-2", field="solo", value=True).apply(muted)
    assert [n.lane for n in play(solo, 0, 4)] == ["lane-2"]


def test_notes_that_meet_are_merged_or_cut() -> None:
    both = recipe({"note": 36, "rule": euclid(1), "velocity": 60, "gate": 50},
                  {"note": 36, "rule": euclid(1), "velocity": 90, "gate": 400},
                  {"note": 36, "rule": euclid(1), "shift": "1/8"})
    first, second = play(both, 0, 4)
    assert (first.start, first.length, first.velocity) == (0, 0.5, 90)
    assert second.start == 0.5 and len(first.causes) == 2


def test_the_same_in_another_process() -> None:
    document = {"seed": 4, "lanes": [{"id": "mist", "name": "Mist", "rule": euclid(13),
                                      "probability": 50, "vary": {"velocity": [-20, 20]}}]}
    script = ("import sys, json; from lattice.recipe import read; from lattice.play import play;"
              "print([(n.start, n.velocity) for n in play(read(json.load(sys.stdin)), 0, 64)])")
    outputs = [subprocess.run([sys.executable, "-c", script], input=json.dumps(document), text=True,
                              capture_output=True, check=True,
                              env=os.environ | {"PYTHONHASHSEED": seed}).stdout
               for seed in ("0", "4711")]
    here = [(n.start, n.velocity) for n in play(read(document), 0, 64)]
    assert outputs == [f"{here}\n"] * 2
