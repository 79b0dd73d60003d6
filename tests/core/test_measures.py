"""Measures against known answers and plain definitions."""

from fractions import Fraction
from itertools import combinations, pairwise
from math import log2, pi, sin

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.draws import Draws
from lattice.measures import MEASURES, measured
from lattice.measures.distance import DISTANCES
from lattice.measures.intervals import ioi_histogram
from lattice.measures.rhythms import Ground, Rhythms
from lattice.play import Performance
from lattice.results.measured import lane_rhythm, measure_words, pattern_measures

from tests.core.recipes import euclid, hand, recipe

BAR = Ground(16, Fraction(1, 4), (4, 4))
SUBSETS = st.sets(st.integers(0, 15), max_size=16).map(sorted)


def told(*hits: int) -> dict[str, float]:
    return measured(Rhythms(BAR, BAR.hits([hits])))[0]


@pytest.mark.parametrize(("hits", "wnbd", "off", "lhl"), [
    ((0, 4, 6, 10, 12), 1.2, 0, 2), ((0, 3, 6, 10, 12), 2.8, 1, 4), ((0, 3, 7, 10, 12), 3.6, 2, 5),
    ((0, 3, 6, 10, 11), 3.6, 2, 6), ((0, 3, 6, 10, 13), 4.0, 2, 6), ((0, 3, 6, 10, 14), 3.6, 1, 5),
    ((), 0, 0, 0), ((0, 4, 8, 12), 0, 0, 0)])
def test_known_answers(hits: tuple[int, ...], wnbd: float, off: int, lhl: int) -> None:
    found = told(*hits)
    assert (found["wnbd"], found["offbeatness"], found["lhl"]) == (wnbd, off, lhl)
    assert found["onsets"] == len(hits) and found["density"] == round(len(hits) / 16, 4)


def test_entropy_and_evenness_of_what_is_known() -> None:
    assert told(0, 3, 6, 10, 12)["ioi_entropy"] == 1.5219
    assert told(0, 4, 8, 12)["ioi_entropy"] == 0 and told(0, 4, 8, 12)["evenness"] == 1
    assert told(0, 8)["evenness"] == 1 and told(0, 1)["evenness"] < 0.2
    rows = ioi_histogram(Rhythms(BAR, BAR.hits([(0, 3, 6, 10, 12), (5,), ()])))
    assert {step: count for step, count in enumerate(rows[0]) if count} == {2: 1, 3: 2, 4: 2}
    assert rows[1][16] == 1 and rows[2].sum() == 0


@given(SUBSETS)
def test_sums_over_pairs_are_the_plain_definitions(hits: list[int]) -> None:
    weights = [0, -4, -3, -4, -2, -4, -3, -4, -1, -4, -3, -4, -2, -4, -3, -4]
    syncopation, distance = 0, 0.0
    for place, hit in enumerate(hits):
        after = hits[(place + 1) % len(hits)] + (16 if place + 1 == len(hits) else 0)
        rests = [weights[step % 16] for step in range(hit + 1, after)]
        if rests and max(rests) > weights[hit]:
            syncopation += max(rests) - weights[hit]
        if hit % 4:
            beat = hit // 4 + 1
            away = min(hit % 4, 4 - hit % 4) / 4
            distance += (2 if beat * 4 < after < beat * 4 + 4 else 1) / away
    apart = sum(2 * abs(sin(pi * (a - b) / 16)) for a in hits for b in hits if a < b)
    count = len(hits)
    best = sum(2 * abs(sin(pi * (a - b) / count)) for a in range(count) for b in range(a))
    gaps = [(b - a - 1) % 16 + 1 for a, b in zip(hits, [*hits[1:], *hits[:1]], strict=True)]
    shares = [gaps.count(gap) / count for gap in set(gaps)]
    found = told(*hits)
    assert found["lhl"] == syncopation
    assert found["wnbd"] == pytest.approx(distance / max(count, 1), abs=1e-4)
    assert found["evenness"] == pytest.approx(apart / best if best else 1, abs=1e-4)
    assert found["ioi_entropy"] == pytest.approx(-sum(p * log2(p) for p in shares), abs=1e-4)


def apart(name: str, one: list[int], *others: list[int], ground: Ground = BAR) -> list[int]:
    rows = ground.hits([one, *others])
    return DISTANCES[name].of(rows[1:], rows[0]).tolist()


@given(SUBSETS, SUBSETS, SUBSETS)
def test_distances_are_distances(one: list[int], other: list[int], third: list[int]) -> None:
    assert apart("apart", one, one, other) == [0, len(set(one) ^ set(other))]
    for name in DISTANCES:
        assert apart(name, one, one, other) == [0, *apart(name, other, one)]
        assert (apart(name, one, other) == [0]) == (one == other)
    assert apart("edits", one, third)[0] <= apart("edits", one, other)[0] + \
        apart("edits", other, third)[0]


@given(st.sets(st.integers(0, 8)), st.sets(st.integers(0, 8)))
def test_swaps_are_the_least_way_that_reaches_every_hit(one: set[int], other: set[int]) -> None:
    richer, poorer = sorted((sorted(one), sorted(other)), key=len, reverse=True)
    least = min((sum(abs(hit - poorer[group]) for group, (a, b) in enumerate(
        pairwise([0, *cuts, len(richer)])) for hit in richer[a:b])
        for cuts in combinations(range(1, len(richer)), len(poorer) - 1)),
        default=0) if poorer else len(richer)
    ground = Ground(9, BAR.step, (4, 4))
    assert apart("swaps", sorted(one), sorted(other), ground=ground) == [least]


def test_swaps_and_edits_that_are_known() -> None:
    assert apart("swaps", [0, 3, 6, 10, 12], [0, 3, 7, 10, 12]) == [1]
    assert apart("swaps", [0, 3, 6], [0, 5], [2, 9], []) == [3, 2 + 1 + 3, 3]
    assert apart("edits", [0, 2, 4, 6], [1, 3, 5, 7], ground=Ground(8, BAR.step, (4, 4))) == [2]


def test_draws_in_a_table_are_the_draws_one_by_one() -> None:
    draws = Draws(-7, 2**40, "drip")
    table = draws.table("cutting", 5, 9)
    assert table.tolist() == [[draws("cutting", a, b) for b in range(9)] for a in range(5)]


def test_a_lane_is_measured_as_it_plays() -> None:
    found = recipe(
        {"id": "a", "rule": euclid(5), "reverse": True, "pins": {"3": True, "0": False}},
        {"id": "b", "rule": hand(0, 1, 2, 3, 9), "steps": 12, "window": [1, 4],
         "keep": {"every": 2}},
        {"id": "c", "rule": {"kind": "gaps", "of": "a"}, "steps": 16},
        {"id": "d", "rule": hand(2, 5), "direction": "wander", "steps": 8})
    performance = Performance(found)
    heard = {lane.id: lane_rhythm(performance, lane.id) for lane in found.lanes}
    played = {step for step, hit in enumerate(heard["a"].hits) if hit}
    assert 3 in played and 0 not in played
    assert {step for step, hit in enumerate(heard["c"].hits) if hit} == set(range(16)) - played
    assert heard["b"].first == 1 and heard["b"].hits == (True, False, True, False)
    assert np.flatnonzero(heard["d"].hits).tolist() == [2, 5]
    words = measure_words(heard["a"].measures)
    assert words.startswith(f"{len(played)} hits, ") and "syncopation" in words
    whole = pattern_measures(Performance(recipe(
        {"id": "a", "rule": hand(0, 4), "steps": 16}, {"id": "b", "rule": hand(0, 5),
                                                       "steps": 16})))
    assert whole == {"agreement": 0.5, "density": 0.125}
    assert set(told(0)) == set(MEASURES)
