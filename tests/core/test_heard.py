"""What was heard, stretch by stretch, in which lanes, and the warp of time that swing is."""

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.frame import Swing
from lattice.clip.lanes import HeardLanes
from lattice.clip.taken import Segment, heard, take_clip
from lattice.edits import AnyEdit, apply_all
from lattice.features.timing import swung
from lattice.play import Performance, play
from lattice.recipe import Recipe, read
from lattice.time.grain import Timeline
from pydantic import TypeAdapter

from tests.core.recipes import documents, euclid, facts, hand, recipe

EDITS: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[AnyEdit])
CHANGES = st.sampled_from([
    {"do": "set", "lane": "l0", "slot": "velocity", "value": 33},
    {"do": "set", "lane": "l0", "slot": "step", "value": "1/20"},
    {"do": "put", "lane": "l0", "steps": [0], "on": False},
    {"do": "lane", "lane": "l0", "field": "mute", "value": True},
    {"do": "reroll"}, {"do": "reroll", "lane": "l0"},
    {"do": "pattern", "field": "tempo", "value": 90},
    {"do": "add", "lane": None, "clause": "chance-scale"}])


def changed(before: Recipe, edit: dict[str, Any]) -> Recipe:
    try:
        return apply_all(before, EDITS.validate_python([edit]))
    except RecipeError:
        return before


@settings(max_examples=60, suppress_health_check=[HealthCheck.too_slow])
@given(documents(), st.lists(CHANGES, min_size=1, max_size=4))
def test_a_performance_that_goes_on_from_another_is_no_other(
        document: dict[str, Any], edits: list[dict[str, Any]]) -> None:
    """Lanes that an edit left alone keep what was worked out for them; nothing sounds different."""
    now = read(document)
    performance = Performance(now)
    performance.notes(0, 8)
    for edit in edits:
        now = changed(now, edit)
        performance = Performance(now, performance)
        assert facts(performance.notes(8, 16)) == facts(play(now, 8, 16)), edit


@settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow])
@given(documents(), CHANGES, st.floats(0.5, 7.5))
def test_an_edit_takes_over_where_it_was_heard(
        document: dict[str, Any], edit: dict[str, Any], at: float) -> None:
    before = read(document)
    after = changed(before, edit)
    notes = heard([Segment(before, 0, 0, at), Segment(after, at, at, 12)], HeardLanes(()))
    old = [note for note in facts(notes) if note[0] < at]
    assert [fact[:1] + fact[2:] for fact in old] == [
        fact[:1] + fact[2:] for fact in facts(play(before, 0, at))], "starts stay as they were"
    assert [note for note in facts(notes) if note[0] >= at] == facts(play(after, at, 12))
    sounding: dict[tuple[int, int], float] = {}
    for start, length, pitch, _, channel, _ in facts(notes):
        assert sounding.get((channel, pitch), 0) <= start + 1 / 960 + 1e-9
        sounding[channel, pitch] = start + length


def test_a_clip_is_cut_out_on_the_listener_s_time_line() -> None:
    four = recipe({"rule": euclid(4), "velocity": 90})
    # The pass from beat 8 on was heard from beat 2 of the time line on.
    taken = take_clip("Dew", [Segment(four, 2, 8, 12)], 2, Fraction(3))
    assert [(note.start, note.velocity) for note in taken.notes] == [(0, 90), (1, 90), (2, 90)]
    assert (taken.beats, taken.tempo, [lane.name for lane in taken.lanes]) == (3, 120, ["Lane 0"])


def test_lanes_of_two_patterns_are_one_where_they_are_alike() -> None:
    """By their ids alone they cannot be told apart: every first melody is called so."""
    pump = {"id": "pump", "name": "Pump", "note": 36, "rule": euclid(4)}
    bud = recipe(pump, {"id": "melody", "kind": "pitched", "rule": euclid(2), "channel": 2,
                        "sound": {"by": "bass"}})
    leaf = recipe({"id": "melody", "kind": "pitched", "rule": euclid(3), "channel": 2,
                   "choke": {"by": "pump"}, "sound": {"by": "bell"}}, pump)
    segments = [Segment(of, 4 * at, 0, 4, pattern=number)
                for at, (number, of) in enumerate([(1, bud), (2, leaf), (1, bud), (2, leaf)])]
    taken = take_clip("Order", segments, 0, Fraction(16))
    assert [(lane.id, lane.sound and lane.sound.by) for lane in taken.lanes] == [
        ("pump", None), ("melody", "bass"), ("melody-2", "bell")]
    for place, (lane, hits) in enumerate([("melody", 2), ("melody-2", 3)] * 2):
        assert [note.lane for note in taken.notes if 4 * place <= note.start < 4 * place + 4
                and note.lane != "pump"] == [lane] * hits
    # Turned while it plays, a lane stays one: as it was last.
    turned = [Segment(of, at, at, at + 4) for at, of in ((0, bud), (4, leaf))]
    lanes = take_clip("Take", turned, 0, Fraction(8)).lanes
    assert [(lane.id, lane.sound and lane.sound.by) for lane in lanes] == [
        ("pump", None), ("melody", "bell")]


def test_a_controller_that_is_given_another_number_while_it_plays_has_two_lanes() -> None:
    glow = {"id": "glow", "name": "Glow", "kind": "control", "rule": euclid(2)}
    parts = [recipe(glow | {"control": {"number": number}, "value": value})
             for number, value in ((74, 30), ("bend", -90), (74, 31))]
    taken = take_clip("Glow", [Segment(of, 4 * at, 0, 4) for at, of in enumerate(parts)], 0,
                 Fraction(12))
    assert [(lane.id, lane.name) for lane in taken.lanes] == [
        ("glow", "Glow"), ("glow-to-bend", "Glow: pitch bend")]
    assert [(each.lane, each.time, each.value) for each in taken.changes] == [
        ("glow", 0, 30), ("glow-to-bend", 4, -90), ("glow", 8, 31)]


@given(st.sampled_from(["1/4", "1/8", "1/16", "1/12"]), st.floats(50, 75),
       st.sampled_from([Fraction(4), Fraction(7, 2), Fraction(11, 4)]),
       st.lists(st.floats(0, 40), min_size=2, max_size=12))
def test_swing_keeps_order_pairs_and_bars(grid: str, percent: float, bar: Fraction,
                                          places: list[float]) -> None:
    warp = swung(Swing(grid=grid, percent=percent), Timeline(48, int(bar * 48), int(bar * 48)))
    pair = 8 * Fraction(grid)
    moved = [warp(place) for place in sorted(places)]
    assert moved == sorted(moved), "no lane overtakes itself or another"
    for number in range(3):
        assert warp(float(number * bar)) == pytest.approx(float(number * bar))
        for i in range(int(bar // pair)):
            start = float(number * bar + i * pair)
            half = warp(start + float(pair) / 2)
            assert warp(start) == pytest.approx(start)
            assert half == pytest.approx(start + float(pair) * percent / 100)
        left_over = number * bar + bar // pair * pair
        if left_over < (number + 1) * bar:
            middle = float(left_over + (number + 1) * bar) / 2
            assert warp(middle) == middle, "an incomplete pair stays straight"


@given(st.floats(0, 4000), st.integers(0, 400), st.floats(0, 1, exclude_max=True),
       st.lists(st.floats(0.01, 3), min_size=1, max_size=5))
def test_what_begins_where_a_pass_does_is_in_it(at: float, bar: int, off: float,
                                                lengths: list[float]) -> None:
    """However sums of floats come out; 2.0822139077853246 and 24 once lost a pass."""
    found = recipe({"rule": hand(0, 1, 2, 3), "steps": 4, "step": "1/16"},
                   {"id": "glow", "kind": "control", "control": {"number": 74}, "steps": 4,
                    "rule": hand(0, 2), "strands": {"value": {"values": [10, 90], "by": "hit"}}})
    for place, start in ((at, bar + round(off * 4) / 4), (2.0822139077853246, 24.0)):
        segments, first, begin = [], place, start
        for length in lengths:
            segments.append(Segment(found, place, start, start + length))
            place, start = place + length, start + length
        taken = take_clip("Dew", segments, first, Fraction(sum(lengths)).limit_denominator(1024))
        assert [taken.notes[0].start, taken.changes[0].time] == pytest.approx([0, 0], abs=1e-9)
        assert len(taken.notes) == pytest.approx(4 * (start - begin), abs=1)
