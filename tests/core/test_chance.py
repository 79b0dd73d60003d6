"""Chance, strands and loudness: draws by address, links, turns, accents."""

from collections import Counter
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.draws import Draws
from lattice.play import play

from tests.core.recipes import euclid, hand, recipe, starts


def test_draw_vectors() -> None:
    """These hold for ever: a piece made today must sound the same in every later version."""
    draws = Draws(7, 0, "drip")
    assert [draws("chance", *index) for index in ((0, 0), (0, 1), (3, 200), (0, -1))] == VECTORS
    assert draws("chance", 3, 200, 1, 1) == 0.9354525152328117
    assert draws("chance", 3, 200, 1, 0) == draws("chance", 3, 200, 1) == 0.5194290842670134


VECTORS = [0.642748107515685, 0.0814994333014698, 0.04503356992818219, 0.4697259063165291]


def test_draws_are_even_and_independent() -> None:
    draws = Draws(1, 2, "fern")
    buckets = Counter(int(draws("chance", 0, i) * 10) for i in range(20_000))
    assert all(abs(count - 2000) < 200 for count in buckets.values())
    pairs = Counter((draws("a", 0, i) < 0.5, draws("a", 0, i + 1) < 0.5) for i in range(20_000))
    assert all(abs(count - 5000) < 300 for count in pairs.values())


@given(st.integers(0, 99), st.integers(0, 99))
def test_raising_a_probability_only_adds_hits(one: int, other: int) -> None:
    low, high = sorted((one, other))
    quiet, loud = (set(starts(recipe({"rule": euclid(16), "probability": p}, seed=3), 4))
                   for p in (low, high))
    assert quiet <= loud
    assert starts(recipe({"rule": euclid(16), "probability": 0})) == []


def test_scales_multiply_and_are_clamped_once() -> None:
    def count(**more: Any) -> int:
        pattern = {"probability_scale": more.pop("pattern", 100)}
        return len(starts(recipe({"rule": euclid(16), "probability": 50} | more, **pattern), 16))

    assert count(probability_scale=200) == 256 == count(pattern=200)
    assert count(probability_scale=200, pattern=50) == count()
    assert count(probability_scale=0) == 0


def test_linked_steps_share_their_fate() -> None:
    together = [{"steps": [0, 4, 8], "mode": "together", "probability": 50}]
    heard = starts(recipe({"rule": hand(0, 4, 8), "links": together}, seed=1), 64)
    bars = Counter(int(start // 4) for start in heard)
    assert set(bars.values()) == {3} and 20 < len(bars) < 44
    one = [{"steps": [0, 4, 8, 9], "mode": "one"}]
    heard = starts(recipe({"rule": hand(0, 4, 8), "links": one}, seed=1), 64)
    assert Counter(int(start // 4) for start in heard) == dict.fromkeys(range(64), 1)
    assert {start % 4 for start in heard} == {0, 1, 2}


def test_turns() -> None:
    assert starts(recipe({"rule": hand(0, 8), "turns": {"8": [2, 3]}}), 6) == [
        0, 4, 6, 8, 12, 16, 18, 20]


def test_strands_by_step_cell_and_hit() -> None:
    def velocities(by: str) -> list[int]:
        lane = {"steps": 4, "step": "1/4", "rule": hand(0, 1, 3),
                "strands": {"velocity": {"values": [10, 20, 30], "by": by}}}
        return [note.velocity for note in play(recipe(lane), 0, 8)]

    assert velocities("step") == [10, 20, 10, 10, 20, 10]  # step 3 reads value 0 again
    assert velocities("cell") == [10, 20, 10, 20, 30, 20]
    assert velocities("hit") == [10, 20, 30, 10, 20, 30]


def test_loudness_in_its_order() -> None:
    lane = {"steps": 4, "step": "1/4", "rule": euclid(4), "velocity": 80,
            "contour": {"amount": 50, "shape": [1, 0.5]}, "accent": {"every": 4, "add": 30},
            "squeeze": 50}
    # 80 + 30 squeezed half-way to 80 is 95; 80 x (1 + 0.5 x (0.5 - 1)) = 60, squeezed 70.
    assert [note.velocity for note in play(recipe(lane), 0, 4)] == [95, 70, 80, 70]
    # 70 x .45 is 31.5, and a half goes up whatever floating point makes of it.
    half = {"rule": euclid(2), "velocity": 70, "contour": {"amount": 100}}
    assert [note.velocity for note in play(recipe(half), 0, 4)] == [70, 32]
    loud = lane | {"accent": {"every": 1, "set": 127}, "vary": {"velocity": [5, 9]}, "squeeze": 0}
    assert {note.velocity for note in play(recipe(loud), 0, 4)} == {127}


def test_rolls_split_a_hit_or_a_stretch() -> None:
    step = {"step": 4, "strokes": 3, "velocity": [100, 50], "pitch": [0, 4]}
    heard = play(recipe({"rule": hand(4), "velocity": 100, "rolls": [step]}), 0, 4)
    assert [(float(n.grid), n.velocity, n.pitch, n.tune) for n in heard] == [
        (1.0, 100, 36, 0), (13 / 12, 75, 36, 2), (7 / 6, 50, 36, 4)]
    stretch = {"start": "3", "beats": "1", "strokes": 4, "curve": "gathering", "turns": [2, 2]}
    places = starts(recipe({"rule": euclid(16), "rolls": [stretch]}), 2)
    assert places[:16] == [i / 4 for i in range(16)]
    rolled = [place for place in places if place >= 7]
    assert rolled[0] == 7 and len(rolled) == 4
    gaps = [b - a for a, b in pairwise(rolled)]
    assert gaps == sorted(gaps, reverse=True)
    assert starts(recipe({"rule": hand(), "rolls": [step]})) == []  # on a rest it does nothing


def test_rolls_on_one_step_take_turns_and_keep_their_draws() -> None:
    rolls = [{"step": 0, "strokes": 3, "turns": [1, 2]}, {"step": 0, "strokes": 2}]
    assert len(starts(recipe({"rule": hand(0), "rolls": rolls}), 4)) == 3 + 2 + 3 + 2
    chancy = {"step": 4, "strokes": 3, "probability": 50}
    linked = {"steps": [8, 12], "mode": "together", "probability": 50}
    alone, among = (set(starts(recipe({"rule": euclid(4), "rolls": [*more, chancy],
                                       "links": [*other, linked]}, seed=2), 16))
                    for more, other in (([], []), (rolls[:1], [{"steps": [0], "mode": "one"}])))
    assert {at for at in alone if at % 4} == {at for at in among if at % 4 >= 1}


def test_links_without_a_period_draw_anew_in_every_frame() -> None:
    lane = {"rule": euclid(16), "direction": "random", "restart_bars": 8,
            "links": [{"steps": list(range(16)), "mode": "together", "probability": 50}]}
    bars = Counter(int(start // 4) for start in starts(recipe(lane, seed=1), 64))
    assert set(bars.values()) == {16} and 20 < len(bars) < 44


def test_ties_last_until_the_next_hit() -> None:
    far = {"steps": 32, "rule": hand(0), "strands": {"tie": {"values": [1]}}}
    assert [note.length for note in play(recipe(far), 0, 8)] == [8], "beyond the frame"
    assert [note.length for note in play(recipe(far | {"restart_bars": 1}), 0, 8)] == [4, 4]
    lane = {"rule": hand(0, 6), "strands": {"tie": {"values": [1, 0], "by": "hit"}}}
    assert [note.length for note in play(recipe(lane), 0, 4)] == pytest.approx([1.5, 0.225])
