"""Arpeggios: known answers, and what holds of every walk."""

from collections import Counter
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.residues import Residue, below
from lattice.play import play
from lattice.recipe import read
from lattice.results.meeting import meeting_point

from tests.core.melodies import ANCHORS, melodic
from tests.core.recipes import documents, euclid, facts, hand, recipe
from tests.core.test_naive import certain

ALL = hand(*range(16))
FOUR = [60, 62, 64, 65]


def walked(arpeggio: dict[str, Any], count: int, **lane: Any) -> list[int]:
    """The pitches of the first hits of a drum lane with a hit on every sixteenth."""
    found = recipe({"rule": ALL, "arpeggio": {"restart": "never"} | arpeggio} | lane)
    return [note.pitch for note in play(found, 0, count / 4)]


@pytest.mark.parametrize(("order", "places"), [
    ("up", [0, 1, 2, 3]), ("down", [3, 2, 1, 0]), ("up-down", [0, 1, 2, 3, 2, 1]),
    ("down-up", [3, 2, 1, 0, 1, 2]), ("up-down-twice", [0, 1, 2, 3, 3, 2, 1, 0]),
    ("outside-in", [0, 3, 1, 2]), ("inside-out", [2, 1, 3, 0]), ("as-played", [2, 0, 3, 1]),
    ([0, 2, 1, 3, 6], [0, 2, 1, 3, 2])])
def test_orders(order: Any, places: list[int]) -> None:
    pool = [64, 60, 65, 62]
    assert walked({"pool": pool, "order": order}, 2 * len(places)) == [
        FOUR[place] for place in places] * 2


@pytest.mark.parametrize(("order", "notes"), [
    ([0, "rest", 2], [(0, 1, 60), (2, 1, 64)]),
    ([0, "hold", "hold", 3], [(0, 3, 60), (3, 1, 65)]),
    ([0, "rest", "hold", 3], [(0, 3, 60), (3, 1, 65)]),
    (["hold", "hold", 1, [0, 6, 2]], [(2, 1, 62), (3, 3, 60), (3, 3, 64)])])
def test_an_order_of_ones_own_rests_holds_and_plays_several(order: Any, notes: Any) -> None:
    lane = {"rule": ALL, "gate": 100, "arpeggio": {"pool": FOUR, "order": order}}
    assert [(n.start * 4, n.length * 4, n.pitch) for n in play(recipe(lane), 0, 1)
            if n.start * 4 < len(order)] == notes
    turned = lane | {"turns": {"1": [2, 2]}, "arpeggio": {"pool": FOUR, "order": [0, "hold", 3]}}
    lasting = [round(n.length * 4, 9) for n in play(recipe(turned), 0, 8) if n.start % 4 == 0]
    assert lasting == [1, 2], "a hold that has no turn holds nothing on"


def test_the_first_hit_of_a_walk_plays_one_or_all_or_so_many_of_the_lowest() -> None:
    for first, pitches in (("one", [60]), ("all", FOUR), (2, [60, 62]), (64, FOUR)):
        assert walked({"pool": FOUR, "order": "down", "first": first}, 1) == (
            pitches if first != "one" else [65])
    assert walked({"pool": [64, 60], "octaves": 2, "first": 3}, 1) == [60, 64, 72]


def test_the_second_walk_has_rests_and_holds_too() -> None:
    second = {"step": "1/64", "order": [0, "hold", "rest", 1], "gate": 50}
    lane = {"rule": hand(0), "gate": 100, "arpeggio": {
        "pool": FOUR, "order": "all", "second": second}}
    assert [(n.start * 16, n.length * 16, n.pitch) for n in play(recipe(lane), 0, 4)] == [
        (0, 1.5, 60), (3, 0.5, 62)]
    held = lane | {"rule": hand(0, 2), "arpeggio": {
        "pool": FOUR, "order": [0, "hold"], "second": {"step": "1/16", "gate": 100}}}
    assert [n.start * 4 for n in play(recipe(held), 0, 4)] == [0, 1, 2], "as long as it is held"
    assert [n.start * 4 for n in play(recipe(held), 0.4, 4)] == [2]


def test_outside_in_over_five() -> None:
    assert walked({"pool": [0, 1, 2, 3, 4], "order": "outside-in"}, 5) == [0, 4, 1, 3, 2]


def test_a_scale_on_a_kit() -> None:
    found = recipe({"rule": ALL, "note": 36, "arpeggio": {"pool": "scale"}},
                   key={"root": 9, "scale": "blues"})
    assert [n.pitch for n in play(found, 0, 1.5)] == [36, 39, 41, 42, 43, 46]


def test_two_notes_held_are_a_hat_part() -> None:
    found = recipe({"rule": ALL, "arpeggio": {"pool": "held", "velocities": "held", "held": [
        {"note": 42, "velocity": 60}, {"note": 44, "velocity": 110}]}})
    assert [(n.pitch, n.velocity) for n in play(found, 0, 1)] == [(42, 60), (44, 110)] * 2


def test_nothing_held_is_silent_but_for_an_anchor_by_number() -> None:
    lane = {"rule": ALL, "arpeggio": {"pool": "held", "anchor": {"note": 36, "every": 4}}}
    assert [n.pitch for n in play(recipe(lane), 0, 4)] == [36] * 4
    lane["arpeggio"]["anchor"]["note"] = "root"  # type: ignore[index]
    assert play(recipe(lane), 0, 4) == []


def test_a_strand_of_7_degrees_over_5_hits_comes_round_after_35() -> None:
    lane = {"kind": "pitched", "rule": euclid(5), "strands": {"degree": {
        "values": [0, 1, 2, 3, 4, 5, 6], "by": "hit"}}}
    assert meeting_point(recipe(lane)).frames == 7


@pytest.mark.parametrize(("lane", "chords", "frames"), [
    ({"arpeggio": {"pool": [1, 2, 3], "restart": "never"}}, None, 3),
    ({"arpeggio": {"pool": [1, 2, 3]}}, None, 1),
    ({"arpeggio": {"restart": "chord"}}, {"text": "I V IV", "beats": 4}, 3),
    ({"arpeggio": {"pool": [1, 2, 3], "restart": 4}}, None, 4),
    ({"kind": "pitched", "reads": "bend"}, {"text": "I V", "beats": 5}, 5),
    ({"kind": "pitched"}, {"text": "I V", "beats": 5}, 1),
    ({"rule": euclid(5, 1), "accent": {"every": 3, "add": 9},  # the anchor on a rest counts too
      "arpeggio": {"pool": [1], "anchor": {"every": 16}, "restart": "never"}}, None, 1),
    ({"arpeggio": {"pool": [1, 2], "restart": "never", "anchor": {
        "every": 4, "mode": "instead", "walk": "waits"}}}, None, 2)])
def test_the_meeting_point_counts_walks_and_chords(lane: Any, chords: Any, frames: int) -> None:
    pattern = {"chords": chords} if chords else {}
    assert meeting_point(recipe({"rule": euclid(5)} | lane, **pattern)).frames == frames


@given(st.integers(1, 9), st.integers(0, 99))
def test_a_shuffle_plays_each_once_before_any_twice(m: int, seed: int) -> None:
    pool = list(range(40, 40 + m))
    heard = walked({"pool": pool, "order": "shuffle"}, 16, seed=seed)
    for begin in range(0, 16 - m + 1, m):
        assert sorted(heard[begin : begin + m]) == pool


@given(st.integers(1, 9), st.integers(0, 99))
def test_a_wander_goes_by_neighbours_from_the_lowest(m: int, seed: int) -> None:
    pool = list(range(40, 40 + m))
    heard = walked({"pool": pool, "order": "wander"}, 32, seed=seed)
    assert heard[0] == heard[16] == 40  # anew in every frame
    assert all(abs(a - b) <= 1 for a, b in pairwise(heard[:16]))


def test_at_random_every_note_comes() -> None:
    counts = Counter(walked({"pool": FOUR, "order": "random"}, 160))
    assert set(counts) == set(FOUR) and min(counts.values()) > 20


@given(melodic(documents()), ANCHORS)
def test_an_anchor_never_shifts_the_walk_unless_told_to(document: dict[str, Any],
                                                        anchor: dict[str, Any]) -> None:
    for lane in certain(document)["lanes"]:
        lane["arpeggio"] = lane.get("arpeggio", {"pool": [50, 53, 55, 59, 60]}) | {
            "anchor": anchor | {"note": 1, "mode": "as-well", "walk": "on"}}
        for name in ("second", "rolls", "strands", "accent", "contour"):
            lane["arpeggio"].pop(name, None)
            lane.pop(name, None)
    with_anchor = read(document)
    for lane in document["lanes"]:
        del lane["arpeggio"]["anchor"]
    plain = facts(play(read(document), 0, 8))
    walk = [fact for fact in facts(play(with_anchor, 0, 8)) if fact[2] != 1]
    assert [fact[:1] + fact[2:] for fact in walk] == [fact[:1] + fact[2:] for fact in plain]


@given(melodic(documents()), st.integers(0, 5))
def test_any_range_can_be_asked_for_by_itself(document: dict[str, Any], cut: int) -> None:
    found = read(document)
    whole = facts(play(found, 0, 12))
    parts = facts(play(found, 0, 2 * cut + 1)) + facts(play(found, 2 * cut + 1, 12))
    assert parts == whole


@given(melodic(documents()))
def test_the_lattice_meets_where_it_says(document: dict[str, Any]) -> None:
    document = certain(document) | {"bars": 1, "meter": [2, 4]}
    document["gusts"] = [gust | {"throw": 7} for gust in document["gusts"]]
    for lane in document["lanes"]:
        lane["arpeggio"] = lane.get("arpeggio", {}) | {"held": []}
    found = read(document)
    frames = meeting_point(found).frames
    if frames and frames <= 24:
        late = 1000  # every hit that an answer or keep waits for has come
        first, again = (play(found, 2.0 * (late + k) * frames, 2.0 * (late + k + 1) * frames)
                        for k in (0, 1))
        assert [(n.pitch, n.velocity, n.lane, round(n.start % (2 * frames), 6)) for n in again] \
            [: len(first)] == [(n.pitch, n.velocity, n.lane, round(n.start % (2 * frames), 6))
                               for n in first][: len(again)]


@pytest.mark.parametrize(("arpeggio", "refusal"), [
    ({"anchor": {"walk": "waits"}}, "waits only"), ({"order": []}, "order"),
    ({"anchor": {"every": 1.5}}, "whole number"), ({"octaves": 5}, "octaves"),
    ({"anchor": {"every": "1/128", "unit": "beats"}}, "1/64 of a beat"), ({"pool": []}, "pool"),
    ({"held": [{"note": 1}, {"start": 0, "beats": 1, "notes": []}]}, "not of both")])
def test_what_is_no_arpeggio_is_refused(arpeggio: Any, refusal: str) -> None:
    with pytest.raises(RecipeError, match=refusal):
        recipe({"arpeggio": arpeggio})


@given(*[st.tuples(st.integers(0, 30), st.integers(1, 12), st.integers(0, 20))] * 2,
       st.integers(0, 200))
def test_numbers_in_two_classes_are_counted_in_closed_form(a: Any, b: Any, end: int) -> None:
    one, other = Residue(*a), Residue(*b)
    both = [n for n in range(end) if n >= max(a[2], b[2]) and (n - a[0]) % a[1] == 0
            and (n - b[0]) % b[1] == 0]
    met = one.meets(other)
    assert below([met] if met else [], end) == len(both)
    assert one.last_below(end) == max((n for n in range(a[2], end) if (n - a[0]) % a[1] == 0),
                                      default=None)
