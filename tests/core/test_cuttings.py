"""Cuttings: seeded, within their bounds, keeping what stays, and laid out so that neighbours are
alike; and the search, against looking at every rhythm."""

import json
from itertools import combinations, pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.words import Slot
from lattice.cli import main
from lattice.cuttings.families import FAMILIES, family_weights
from lattice.cuttings.grown import grown, stock_of
from lattice.cuttings.gusts import Gusts
from lattice.cuttings.search import SAMPLE, searched
from lattice.cuttings.strip import Strip, mark_strip
from lattice.cuttings.wish import ALONG, SEARCHED, SOURCES, Wish
from lattice.edits.plant import AddAnswering, Gust, Plant
from lattice.measures import MEASURES
from lattice.measures.distance import DISTANCES
from lattice.measures.rhythms import Ground, Rhythms
from lattice.play import Performance, play
from lattice.play.rhythm import ground_of
from lattice.recipe import Recipe
from lattice.relatives.roles import ROLES, likes, role_of
from lattice.results.measured import lane_rhythm

from tests.core.recipes import euclid, hand, recipe

SON = {"id": "son", "name": "Son", "note": 38, "rule": hand(0, 3, 6, 10, 12), "steps": 16}


def grow(found: Recipe, lane: str, **wish: Any) -> Strip:
    return mark_strip(Performance(found), lane, Wish(**wish))


def steps_played(found: Recipe, lane: str) -> list[int]:
    rhythm = lane_rhythm(Performance(found), lane)
    return [step + rhythm.first for step, hit in enumerate(rhythm.hits) if hit]


@given(st.data())
def test_bounds_hold_what_stays_stays_and_a_seed_says_all(data: st.DataObject) -> None:
    steps = data.draw(st.integers(3, 40))
    on, off = data.draw(st.tuples(st.integers(0, steps - 1), st.integers(0, steps - 1)))
    found = recipe({"id": "drip", "name": "Drip", "steps": steps, "step": data.draw(st.sampled_from(
        ["1/16", "1/12", "1/8"])), "rule": euclid(data.draw(st.integers(0, steps))),
        "pins": {str(on): True, str(off): False}})
    low = data.draw(st.integers(0, 100))
    wish = {"low": low, "high": data.draw(st.integers(low, 100)), "count": 40,
            "source": data.draw(st.sampled_from(["now", "role", "family"])),
            "stays": data.draw(st.sampled_from(["pins", "beats", "hits"])),
            "stray": data.draw(st.floats(0, 1)), "throw": data.draw(st.integers(-9, 9)),
            "along": data.draw(st.sampled_from(sorted(ALONG)))}
    try:
        made = grow(found, "drip", **wish)
    except RecipeError as refused:
        assert "Drip" in str(refused)
        return
    assert made == grow(found, "drip", **wish)
    now = set(steps_played(found, "drip"))
    weights = ground_of(found.lane("drip"), found).weights
    stay = {"pins": set(), "beats": {step for step in now if weights[step] >= -2},
            "hits": now}[wish["stays"]]
    assert made.marks and len({tuple(mark.hits) for mark in made.marks}) == len(made.marks) <= 40
    for mark in made.marks:
        assert low - 1e-6 <= 100 * len(mark.hits) / steps <= wish["high"] + 1e-6
        assert (on in mark.hits or on == off) and (off not in mark.hits)
        assert stay - {off} <= set(mark.hits)
    places = [mark.at for mark in made.marks]
    groups = [mark.group for mark in made.marks]
    assert all(0 <= place <= 1 for place in places) and groups == sorted(groups)
    planted = Plant(do="plant", lane="drip", hits=made.marks[-1].hits).apply(found)
    assert steps_played(planted, "drip") == made.marks[-1].hits
    assert planted.lane("drip").pins == found.lane("drip").pins


def test_straying_little_stays_near_and_walking_changes_little() -> None:
    found = recipe(SON)
    near = grow(found, "son", stray=0.2, along="apart")
    far = grow(found, "son", stray=0.9, along="apart")
    now = {0, 3, 6, 10, 12}
    alike = [mark for mark in near.marks if len(mark.hits) == 5]
    assert all(mark.value <= 2 * 3 for mark in alike)  # three of sixteen steps are let loose
    assert max(mark.value for mark in far.marks if len(mark.hits) == 5) > 6
    assert any(set(mark.hits) == now and mark.value == 0 for mark in near.marks)
    walk = grow(found, "son", count=400).marks
    changes = [len(set(a.hits) ^ set(b.hits)) for a, b in pairwise(walk)]
    between = [len(set(a.hits) ^ set(b.hits)) for a, b in combinations(walk[::9], 2)]
    assert sum(changes) / len(changes) < 3 < sum(between) / len(between)
    # From one number of hits to the next, one comes.
    rises = [each for each, (a, b) in zip(changes, pairwise(walk), strict=True)
             if len(a.hits) != len(b.hits)]
    assert sorted(rises)[len(rises) // 2] == 1


def test_roles_and_families_like_their_places() -> None:
    bar = Ground(16, ground_of(recipe(SON).lane("son"), recipe(SON)).step, (4, 4))
    assert role_of(recipe(SON).lane("son")) == "backbeat"
    best = {role: set(np.argsort(-likes(role, bar), kind="stable")[:2].tolist()) for role in ROLES}
    assert best["pulse"] == {0, 8} and best["backbeat"] == {4, 12}
    assert best["bass"] == {0, 2} and best["hats"] == {2, 6}
    for family in FAMILIES:
        for role in ROLES:
            weights = family_weights(family, role, bar)
            assert ((weights >= 0) & (weights <= 1)).all()
    crossing = np.argsort(-family_weights("crossing", "hats", bar), kind="stable")[:6]
    assert sorted(crossing.tolist()) == [0, 3, 6, 9, 12, 15]
    triplets = Ground(12, bar.step * 4 / 3, (4, 4))
    assert sorted(np.argsort(-family_weights("three against two", "bass", triplets))[:3]) == \
        [0, 4, 8]
    # In one family the lanes of a kit move through places that belong together.
    kit = recipe({"id": "pump", "note": 36, "steps": 16}, {"id": "valve", "note": 38, "steps": 16})
    two = [grow(kit, lane, source="family", stray=0, low=12, high=13) for lane in ("pump", "valve")]
    assert [each.marks[0].hits for each in two] == [[0, 8], [4, 12]]


@pytest.mark.parametrize("wish", [
    *({name: how} for name in SEARCHED for how in ("less", "as", "more")),
    {}, {"begins": "one", "lhl": "more"}, {"begins": "later", "wnbd": "less"},
    {"offbeatness": "more", "evenness": "less"}, {"turns": "once"},
    {"fewest": 0, "most": 9, "lhl": "as", "wnbd": "more"}, {"stays": "beats"},
    {"fewest": 0, "most": 9, "turns": "once", "lhl": "less"},
    *({"fewest": 3, "most": 7, "near": name, "within": within} for name in DISTANCES
      for within in (0, 2)), {"near": "swaps", "evenness": "less"}])
@pytest.mark.parametrize("steps", [9, 12])
def test_a_search_finds_every_rhythm(wish: dict[str, Any], steps: int) -> None:
    found = recipe({"id": "a", "rule": hand(0, 3, 4, 7, 8), "steps": steps, "step": "1/16",
                    "pins": {"5": False}})
    given_ = Wish(source="all", count=1000, **wish)
    stock = stock_of(Performance(found), "a", given_)
    every = [hits for count in range(given_.fewest, given_.most + 1)
             for hits in combinations(range(steps), count)]
    rows = Rhythms(stock.ground, stock.ground.hits(every))
    now = Rhythms(stock.ground, stock.ground.hits([(0, 3, 4, 7, 8)]))
    fit = ~rows.hits[:, 5]
    if given_.begins != "anywhere":
        fit &= rows.hits[:, 0] == (given_.begins == "one")
    if given_.stays == "beats":
        fit &= rows.hits[:, [0, 4, 8]].all(axis=1)
    for name in SEARCHED:
        values, here = MEASURES[name].of(rows), MEASURES[name].of(now)[0]
        how = getattr(given_, name)
        if how != "any":
            fit &= {"less": values < here - 1e-6, "more": values > here + 1e-6,
                    "as": np.abs(values - here) < 1e-6}[how]
    if given_.near != "any":
        fit &= DISTANCES[given_.near].of(rows.hits, stock.now) <= given_.within
    wanted = [hits for hits, fits in zip(every, fit, strict=True) if fits]
    sought = searched(stock, given_)
    shown = [tuple(stock.steps(row)) for row in sought.rhythms.hits]
    if given_.turns == "once":
        def turned(hits: tuple[int, ...]) -> tuple[tuple[int, ...], ...]:
            return tuple(sorted(tuple(sorted((hit + by) % steps for hit in hits))
                                for by in range(steps)))
        assert sought.fitting == len({turned(hits) for hits in wanted})
        assert len({turned(hits) for hits in shown}) == len(shown)
        assert set(shown) <= set(wanted)
    else:
        assert sought.fitting == len(wanted)
        assert sorted(shown) == sorted(wanted)[:1000]


def test_long_lanes_are_sampled_and_large_finds_thinned() -> None:
    found = recipe({"id": "a", "rule": euclid(5), "steps": 24},
                   {"id": "b", "rule": euclid(9), "steps": 64})
    large = grow(found, "a", source="all", fewest=10, most=14, along="lhl")
    assert large.fitting == 11618956 and len(large.marks) == 200  # all with 10 to 14 of 24
    sampled = grow(found, "b", source="all", fewest=9, most=11, evenness="less", count=50)
    assert sampled.looked_at == SAMPLE and len(sampled.marks) == 50
    assert all(9 <= len(mark.hits) <= 11 and mark.hits[-1] < 64 for mark in sampled.marks)
    near = grow(found, "b", source="all", fewest=8, most=10, near="swaps", within=2, along="swaps")
    assert [near.marks[0].words, near.marks[-1].words] == ["as it was", "2 moves away"]
    assert near.fitting > 20
    with pytest.raises(RecipeError, match="can have 0 to 24 hits, not 30 to 40"):
        grow(found, "a", source="all", fewest=30, most=40)


def test_an_answering_voice_plays_in_the_gaps_and_its_strip_is_how_many() -> None:
    found = AddAnswering(do="add_answering", lane="son").apply(recipe(SON))
    lane = found.lanes[1]
    assert lane.name == "Son answers"
    made = grow(found, lane.id, low=0, high=100)
    assert [len(mark.hits) for mark in made.marks] == list(range(12))
    for mark, after in pairwise(made.marks):
        assert set(mark.hits) < set(after.hits) and not set(after.hits) & {0, 3, 6, 10, 12}
    middle = made.marks[4]
    planted = Plant(do="plant", lane=lane.id, hits=middle.hits, amount=middle.amount).apply(found)
    assert steps_played(planted, lane.id) == middle.hits and planted.lanes[1].follows == "son"
    moved = Plant(do="plant", lane="son", hits=[1, 2]).apply(planted)
    assert not set(steps_played(moved, lane.id)) & {1, 2}


@given(st.integers(2, 32), st.floats(0.05, 1), st.integers(-99, 99))
def test_a_gust_is_another_rhythm_so_far_away_and_comes_again(
        steps: int, away: float, throw: int) -> None:
    found = recipe({"id": "drip", "name": "Drip", "steps": steps, "rule": euclid(steps // 2),
                    "pins": {"1": True}},
                   {"id": "mist", "name": "Mist", "rule": {"kind": "gaps", "of": "drip"}},
                   {"id": "fan", "name": "Fan", "rule": euclid(4), "strands": {
                       "velocity": {"values": [90, 50]}}})
    blown = Gust(do="gust", away=away, throw=throw).apply(found)
    assert blown == Gust(do="gust", away=away, throw=throw).apply(found)
    before, after = (set(steps_played(each, "drip")) for each in (found, blown))
    assert 1 in after and len(before ^ after) <= 3 * round(away * steps) + 2
    assert blown.lane("fan").strands == found.lane("fan").strands
    assert not set(steps_played(blown, "mist")) & after or steps != 16
    only = Gust(do="gust", away=away, throw=throw, lanes=["fan"]).apply(found)
    assert only.lane("drip") == found.lane("drip")
    assert only.lane("fan") == blown.lane("fan")  # whatever else is blown about


def test_gusts_are_mostly_another_rhythm() -> None:
    found = recipe(SON)
    heard = {tuple(steps_played(Gust(do="gust", throw=throw).apply(found), "son"))
             for throw in range(40)}
    assert len(heard) > 30 and (0, 3, 6, 10, 12) not in heard
    gusts = Gusts()
    assert gusts.worded("over", "moving").over == "moving"
    assert gusts.worded("away", 0.75).away == 0.75
    with pytest.raises(RecipeError, match="one of over all lanes"):
        gusts.worded("over", 1)


FERN: dict[str, Any] = {
    "id": "fern", "name": "Fern", "kind": "pitched", "rule": hand(0, 3, 4, 6, 8, 12), "steps": 16,
    "strands": {"degree": {"values": [0, 2, 4, 1, 1, 5], "by": "hit"}}}


@pytest.mark.parametrize("degrees", ["contour", "free"])
def test_a_melody_s_relatives_move_their_degrees(degrees: str) -> None:
    found = recipe(FERN, key={"root": 2, "scale": "dorian"})
    made = grow(found, "fern", degrees=degrees, stray=0.6, chord=100, count=60)
    assert made == grow(found, "fern", degrees=degrees, stray=0.6, chord=100, count=60)
    now = dict(zip([0, 3, 4, 6, 8, 12], [0, 2, 4, 1, 1, 5], strict=True))
    held = [now[max(step for step in now if step <= each)] for each in range(16)]
    moved = 0
    for mark in made.marks:
        assert mark.degrees is not None and len(mark.degrees) == len(mark.hits)
        moved += mark.degrees != [held[step] for step in mark.hits]
        pairs = list(pairwise(zip(mark.hits, mark.degrees, strict=True)))
        if degrees == "contour":
            assert all(np.sign(b[1] - a[1]) == np.sign(held[b[0]] - held[a[0]]) for a, b in pairs)
        else:  # every strong place has a tone of D minor
            assert all(degree % 7 in (0, 2, 4) for step, degree in zip(
                mark.hits, mark.degrees, strict=True) if step % 4 == 0)
    assert moved > 40
    mark = made.marks[7]
    planted = Plant(do="plant", lane="fern", hits=mark.hits, degrees=mark.degrees).apply(found)
    base = planted.lane("fern").base(2)
    key = planted.key
    assert [note.pitch for note in play(planted, 0, 4)] == [
        base + key.above_root(degree) for degree in mark.degrees or ()]
    with pytest.raises(RecipeError, match="one degree for each hit"):
        Plant(do="plant", lane="fern", hits=[1, 2], degrees=[3]).apply(found)


@pytest.mark.parametrize("source", sorted(SOURCES))
def test_every_word_of_the_sentence_can_be_turned(source: str) -> None:
    wish = Wish(source=source)
    words = [part for part in wish.parts() if isinstance(part, Slot)]
    for word in words:
        values = [option.value for option in word.options] or [word.low, word.high]
        for value in values:
            assert getattr(wish.worded(word.slot, value), word.slot) == value
    assert wish.sentence[0].parts == wish.parts()
    with pytest.raises(RecipeError, match="no word"):
        wish.worded("throw", 3)


def test_the_command_line_measures_and_grows(
        tmp_path: Any, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "son.json"
    file.write_text(json.dumps({"version": 1, "lanes": [SON]}))
    assert main(["measure", str(file), "--lane", "son"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert list(told) == list(MEASURES)
    assert told.items() >= {
        "onsets": 5, "density": 0.3125, "evenness": 0.9931, "lhl": 4, "wnbd": 2.8,
        "offbeatness": 1, "ioi_entropy": 1.5219}.items()
    asked = ["cuttings", str(file), "--lane", "son", "--count", "200", "--low", "20", "--high",
             "90", "--stray", "0.3", "--seed", "1"]
    assert main(asked) == 0
    lines = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert len(lines) == 200 and all(
        20 <= 100 * line["measures"]["density"] <= 90
        and line["measures"]["onsets"] == len(line["hits"]) for line in lines)
    assert main([*asked[:-1], "2"]) == 0
    assert [json.loads(line)["hits"] for line in capsys.readouterr().out.splitlines()] != \
        [line["hits"] for line in lines]
    for wrong in (["--count", "5"], ["--low", "95"], ["--role", "king"], ["--lane", "no"],
                  ["--stray", "much"], ["--source", "all", "--fewest", "9"]):
        assert main([*asked[:4], *wrong]) == 2
        assert capsys.readouterr().err.count("\n") == 1


def test_a_thousand_of_each_lane_are_different_and_measured() -> None:
    found = recipe(SON)
    stock = stock_of(Performance(found), "son", Wish())
    many = grown(stock, Wish(count=1000, low=0, high=100, stray=1))
    assert len({row.tobytes() for row in many.hits}) == 1000


def test_a_lane_of_one_step_is_searched_too() -> None:
    alone = recipe({"id": "a", "rule": hand(0), "steps": 1})
    for fewest, most, found in ((1, 1, [[0]]), (0, 1, [[], [0]]), (0, 0, [[]])):
        marks = grow(alone, "a", source="all", fewest=fewest, most=most).marks
        assert [mark.hits for mark in marks] == found
    assert len(grow(alone, "a", source="all", fewest=0, most=1, lhl="as", wnbd="as",
                    turns="once").marks) == 2
