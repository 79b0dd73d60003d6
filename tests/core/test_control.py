"""Control lanes: steps, glides, ranges with a lean, and what a clip and a file carry of them."""

from io import BytesIO
from itertools import pairwise
from typing import Any

import mido
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.values import half_up
from lattice.clip.taken import Segment, take_clip
from lattice.edits import AnyEdit, apply_all
from lattice.edits.strands import ShapeStrand, Touch, TouchPlace
from lattice.edits.words import SetSlot
from lattice.midi.write import to_midi
from lattice.play import Change, Performance
from lattice.recipe import Recipe, read
from lattice.results.why import why
from lattice.sentence import lane_sentence
from lattice.strands.shown import shown_strands
from pydantic import TypeAdapter

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, hand, recipe

GLOW = {"id": "glow", "name": "Glow", "kind": "control", "step": "1/4", "steps": 4,
        "rule": hand(0, 2), "control": {"number": 74}}


def glow(*values: Any, **lane: Any) -> Recipe:
    return recipe(GLOW | {"strands": {"value": {"values": list(values), "by": "hit"}}} | lane)


def apply(found: Recipe, *edits: dict[str, Any]) -> Recipe:
    return apply_all(found, TypeAdapter(list[AnyEdit]).validate_python(list(edits)))


def changes(found: Recipe, start: float, end: float) -> list[Change]:
    return Performance(found).changes(start, end)


def told(found: list[Change]) -> list[tuple[float, int]]:
    return [(change.time, change.value) for change in found]


def test_steps_set_a_value_and_never_repeat_it() -> None:
    assert told(changes(glow(30, 30, 90), 0, 8)) == [(0, 30), (4, 90), (6, 30)]
    assert told(changes(glow(30, 30, 90), 2, 4)) == []
    assert told(changes(recipe(GLOW), 0, 8)) == [(0, 64)]


def test_a_glide_moves_96_times_a_beat_and_stops_short_of_the_next() -> None:
    found = changes(glow(0, 127, control={"number": 1, "move": "glide"}), 0, 4)
    assert [c.value for c in found if c.time < 2] == list(range(127))
    assert all(abs(c.time * 96 - round(c.time * 96)) < 1e-6 for c in found)
    assert found[126].time <= 2 - 1 / 96 and found[127].value == 127


@pytest.mark.parametrize(("curve", "middle"), [("even", 50), ("early", 75), ("late", 25)])
def test_curves(curve: str, middle: int) -> None:
    found = changes(glow(0, 100, control={"number": 1, "move": "glide", "curve": curve}), 0, 2)
    assert max(c.value for c in found if c.time <= 1) == middle


def test_bend_has_its_own_range() -> None:
    found = glow(-8192, [0, 8191], control={"number": "bend"})
    assert changes(found, 0, 1)[0].value == -8192
    assert changes(recipe(GLOW | {"control": {"number": "bend"}}), 0, 1)[0].value == 0
    for wrong in ({"control": {"number": 74}, "value": 128}, {"control": None},
                  {"control": {"number": "pressure"}, "strands": {"value": {"values": [[-1, 9]]}}}):
        with pytest.raises(RecipeError):
            recipe(GLOW | wrong)


def test_another_controller_keeps_the_line_between_its_own_bounds() -> None:
    found = SetSlot(do="set", lane="glow", slot="control.number", value="bend").apply(
        glow(0, 127, [0, 127]))
    strand = found.lane("glow").strands.of
    assert found.lane("glow").strands.value.values == (-8192, 8191, (-8192, 8191)) and strand


@pytest.mark.parametrize(("lean", "share"), [("even", 0.5), ("low", 0.29), ("high", 0.71)])
def test_a_range_leans(lean: str, share: float) -> None:
    found = changes(glow([0, 127], rule=euclid(4), lean=lean), 0, 4000)
    below = sum(c.value < 64 for c in found) / len(found)
    assert abs(below - (1 - share)) < 0.03  # u x u is under a half for u under 0.71


def test_random_per_hit_of_another_lane() -> None:
    found = recipe({"id": "pump", "rule": euclid(5)}, GLOW | {
        "steps": 1, "rule": {"kind": "answer", "of": "pump", "place": "0"},
        "strands": {"value": {"values": [[0, 127]], "by": "hit"}}})
    set_to = changes(found, 0, 16)
    assert len({c.value for c in set_to}) > 12  # several hits in one cell draw each for itself
    assert {c.time * 4 % 16 for c in set_to} <= {0, 3, 6, 9, 12}


def test_a_controller_is_set_where_a_lane_plays_by_its_velocity() -> None:
    pump = {"id": "pump", "rule": hand(0, 4, 9), "strands": {"velocity": {
        "values": [127, 1, 64], "by": "hit"}, "nudge": {"values": [0, 20, 0], "by": "hit"}}}
    made = apply(recipe(pump), {"do": "add_lane", "begin": "controller", "follow": "where",
                                "after": "pump", "name": "Glow"})
    lane = made.lanes[-1]
    assert (lane.rule.kind, lane.channel, lane.by_velocity) == ("where", 10, (0, 127))
    assert lane_sentence(lane, made).text().startswith(
        "Play where Lane 0 plays, on 16 steps of 1/16.")
    assert "Value from Lane 0’s velocity, from 0 to 127." in lane_sentence(lane, made).text()
    assert told(changes(made, 0, 4)) == [(0, 127), (1.05, 0), (2.25, 64)]
    turned = SetSlot(do="set", lane=lane.id, slot="by_velocity.0", value=100).apply(made)
    turned = SetSlot(do="set", lane=lane.id, slot="by_velocity.1", value=20).apply(turned)
    assert [value for _, value in told(changes(turned, 0, 4))] == [20, 100, 60]
    own = SetSlot(do="set", lane=lane.id, slot="by_velocity", value="own").apply(turned)
    assert told(changes(own, 0, 4)) == [(0, 64)]
    with pytest.raises(RecipeError, match="from 0 to 127"):
        SetSlot(do="set", lane=lane.id, slot="by_velocity.0", value=128).apply(made)


@given(melodic(documents()), st.sampled_from(["where", "gaps", "answer"]), st.integers(1, 15))
def test_what_goes_by_velocity_is_set_with_the_notes_and_for_any_range(
        document: dict[str, Any], rule: str, cut: int) -> None:
    document["gusts"] = []
    for lane in document["lanes"]:
        lane.pop("paths", None)
    leader = document["lanes"][-1]
    document["lanes"].append(GLOW | {
        "rule": {"kind": rule, "of": leader["id"]}, "by_velocity": [0, 127], "channel": 16,
        "step": "1/16", "steps": 16})
    performance = Performance(read(document))
    whole = performance.changes_of("glow", 0, 16)
    assert performance.changes_of("glow", 0, cut) + performance.changes_of("glow", cut, 16) == whole
    if rule == "where":
        sounding = [each for each in performance.voice(leader["id"]).soundings(-1, 17)
                    if each.sounds and each.hit]
        loudest = {min(note.start for note in each.notes): max(note.velocity for note in each.notes)
                   for each in sounding}
        assert all(change.value == half_up((loudest[change.time] - 1) * 127 / 126)
                   for change in whole)


@settings(max_examples=25, deadline=None)
@given(melodic(documents()), st.sampled_from(["step", "glide"]), st.integers(1, 15))
def test_any_range_of_a_line_can_be_asked_for_by_itself(document: dict[str, Any], move: str,
                                                        cut: int) -> None:
    for lane in document["lanes"]:
        lane |= {"kind": "control", "control": {"number": 74, "move": move}}
        lane["strands"] = lane.get("strands", {}) | {
            "value": {"values": [3, 90, [10, 60], 44], "by": "hit"}}
    found = read(document)
    whole = changes(found, 0, 16)
    assert changes(found, 0, cut) + changes(found, cut, 16) == whole
    for lane in found.lanes:
        line = [c for c in whole if c.lane == lane.id]
        assert all(a.value != b.value and a.time < b.time for a, b in pairwise(line))
        forced = [c.value for c in Performance(found).in_force(cut) if c.lane == lane.id]
        assert forced == [c.value for c in line if c.time < cut][-1:]


def test_a_clip_begins_with_the_value_in_force_and_a_file_has_the_messages() -> None:
    found = recipe(
        *(GLOW | {"id": f"c{i}", "control": {"number": number}, "value": value}
          for i, (number, value) in enumerate([(74, 9), ("bend", -8192), ("pressure", 127)])))
    taken = take_clip("Glow", [Segment(found, 0, 0, 8)], 4, found.frame_beats)
    assert [(c.time, c.value) for c in taken.changes] == [(0, 9), (0, -8192), (0, 127)]
    file = mido.MidiFile(file=BytesIO(to_midi(taken)))
    assert [message.dict() for track in file.tracks for message in track
            if not message.is_meta] == [
        mido.Message("control_change", control=74, value=9).dict(),
        mido.Message("pitchwheel", pitch=-8192).dict(),
        mido.Message("aftertouch", value=127).dict()]


def test_muted_lanes_set_nothing_and_why_tells_the_value() -> None:
    assert changes(glow(1, 2, mute=True), 0, 4) == []
    assert why(glow([5, 5], 2), "glow", 0).endswith("certain → set to 5.")


def test_values_are_changed_within_the_bounds_of_the_controller() -> None:
    for number, low, high in ((74, 0, 127), ("bend", -8192, 8191)):
        found = recipe(GLOW | {"control": {"number": number}})
        lane = found.lane("glow")
        shown = next(each for each in shown_strands(lane, lane.kinds()) if each.kind == "value")
        assert (shown.low, shown.top) == (low, high) and low <= shown.thrown[0]
        up = ShapeStrand(do="shape", lane="glow", kind="value", how="raise", amount=9000)
        assert set(up.apply(found).lane("glow").strands.value.values) == {high}
        taken = Touch(do="touch", lane="glow", places=[TouchPlace(at=0, higher=-9999)])
        assert taken.apply(found).lane("glow").strands.value.values[0] == low
        by_chance = ShapeStrand(do="shape", lane="glow", kind="value", how="randomise")
        assert by_chance.apply(found).lane("glow").strands.value
