"""Where hits fall: known answers and properties of each rule."""

import re
from math import comb

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.play import Performance
from lattice.rules.euclid import euclid as spread
from lattice.rules.euclid import rotated
from lattice.rules.nth import index_of, nth_pattern

from tests.core.recipes import euclid, hand, recipe, starts

# Published tables of traditional rhythms.
KNOWN = """E(2,5) x.x.. E(3,4) xxx. E(3,5) x.x.x E(3,7) x.x.x.. E(3,8) x..x..x. E(4,9) x.x.x.x..
E(4,11) x..x..x..x. E(5,7) x.xx.xx E(5,8) x.xx.xx. E(5,12) x..x.x..x.x. E(5,16) x..x..x..x..x...
E(7,12) x.xx.x.xx.x. E(7,16) x..x.x.x..x.x.x. E(9,16) x.xx.x.x.xx.x.x.
E(11,24) x..x.x.x.x.x..x.x.x.x.x."""


def drawn(hits: object) -> str:
    return "".join("x" if hit else "." for hit in hits)  # type: ignore[attr-defined]


@pytest.mark.parametrize(("pulses", "steps", "picture"),
                         re.findall(r"E\((\d+),(\d+)\) ([x.]+)", KNOWN))
def test_euclid_known_rhythms(pulses: str, steps: str, picture: str) -> None:
    assert drawn(spread(int(pulses), int(steps))) == picture


def test_euclid_is_even_everywhere() -> None:
    for steps in range(1, 129):
        for pulses in range(steps + 1):
            hits = spread(pulses, steps)
            places = [i for i, hit in enumerate(hits) if hit]
            assert len(hits) == steps and len(places) == pulses
            if places:
                assert places[0] == 0
                gaps = [b - a for a, b in zip(places, [*places[1:], places[0] + steps],
                                              strict=True)]
                assert max(gaps) - min(gaps) <= 1


@given(st.lists(st.booleans(), min_size=1, max_size=40), st.integers(-90, 90))
def test_rotation(hits: list[bool], turn: int) -> None:
    assert rotated(hits, len(hits)) == hits
    assert rotated(rotated(hits, turn), -turn) == hits
    assert rotated(hits, 1)[0] == hits[-1]


def test_nth_in_order() -> None:
    assert [drawn(nth_pattern(2, 4, i)) for i in range(6)] == [
        "xx..", "x.x.", "x..x", ".xx.", ".x.x", "..xx"]
    assert comb(16, 8) == 12870 and drawn(nth_pattern(8, 16, 12869)) == "." * 8 + "x" * 8


@given(st.data(), st.integers(1, 128))
def test_nth_finds_every_pattern(data: st.DataObject, steps: int) -> None:
    pulses = data.draw(st.integers(0, steps))
    index = data.draw(st.integers(0, comb(steps, pulses) - 1))
    hits = nth_pattern(pulses, steps, index)
    assert sum(hits) == pulses and len(hits) == steps
    assert index_of(hits) == index


def test_keep_counts_on_or_per_cycle() -> None:
    lane = {"rule": euclid(5, 2), "flip": True}
    assert len(starts(recipe(lane), 3)) == 33
    assert len(starts(recipe(lane | {"keep": {"every": 3}}), 3)) == 11
    assert len(starts(recipe(lane | {"keep": {"every": 3, "count": "cycle"}}), 3)) == 12
    assert len(starts(recipe(lane | {"keep": {"every": 3, "drop": True}}), 3)) == 22


def test_pins_stand_outside_keep() -> None:
    lane = {"rule": hand(0, 4, 8, 12), "pins": {"1": True, "8": False},
            "keep": {"every": 2}}
    # Hits left to keep: 0, 4, 12; it keeps 0 and 12. The pinned step plays whatever keep says.
    assert starts(recipe(lane)) == [0, 0.25, 3]


def test_density_only_adds_and_follows_the_beat() -> None:
    def hits(amount: int, pull: int = 0) -> set[float]:
        rule = {"kind": "density", "amount": amount, "pull": pull}
        return set(starts(recipe({"rule": rule}, seed=5)))

    for amount in range(0, 94, 6):
        assert hits(amount) <= hits(amount + 6)
    assert hits(25, 100) == {0, 1, 2, 3}
    assert hits(25, -100).isdisjoint({i / 2 for i in range(8)})


def test_an_answer_on_a_frame_s_beginning_is_its_first_hit() -> None:
    """Though it falls in a cell that began in the frame before: 7/8 is no whole number of fifths,
    nor of cells of two frames."""
    for step in ("1/20", "7/4"):
        found = recipe(
            {"id": "pump", "note": 36, "steps": 7, "step": "1/8", "rule": hand(0, 3, 5)},
            {"id": "drip", "step": step, "rule": {"kind": "answer", "of": "pump", "place": 0},
             "strands": {"velocity": {"values": [10, 20, 30, 40], "by": "hit"}}}, meter=[7, 8])
        heard = [note for note in Performance(found).notes(0, 14) if note.lane == "drip"]
        assert [note.start for note in heard] == [3.5 * k + at for k in range(4)
                                                  for at in (0, 1.5, 2.5)], step
        assert [note.velocity for note in heard] == 4 * [10, 20, 30]


def test_gaps_and_answers() -> None:
    leader = {"id": "pump", "rule": hand(0, 4, 6)}
    gaps = recipe(leader, {"steps": 8, "step": "1/8", "rule": {"kind": "gaps", "of": "pump"}})
    assert [n.start for n in Performance(gaps).notes(0, 4) if n.lane != "pump"] == [
        0.5, 2, 2.5, 3, 3.5]
    answer = recipe(leader, {"rule": {"kind": "answer", "of": "pump", "every": 3, "place": "1/2"}})
    # The third hit is at beat 1.5 and the next at beat 4: half-way is 2.75.
    assert [n.start for n in Performance(answer).notes(0, 4) if n.lane != "pump"] == [2.75]
    # Every bar the lane begins again: the cell that the bar line cuts answers only before it.
    cut = recipe(leader, {"steps": 2, "step": "3/4", "restart_bars": 1, "velocity": 50, "rule": {
        "kind": "answer", "of": "pump", "place": "1/2"}, "accent": {"every": 1, "set": 90,
        "count": "cycle", "from": 4}})
    assert [(n.start, n.velocity) for n in Performance(cut).notes(4, 8) if n.lane != "pump"] == [
        (4.5, 50), (5.25, 50), (6.75, 50)]
    doubled = recipe(leader, {"rule": {"kind": "answer", "of": "pump", "place": "0"}})
    assert [n.start for n in Performance(doubled).notes(0, 4) if n.lane != "pump"] == [0, 1, 1.5]
