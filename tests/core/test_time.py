"""Where cells lie: spans, directions, restarts, shift, swing, and the meeting point."""

from fractions import Fraction
from itertools import pairwise

import pytest
from lattice.play import play
from lattice.results.meeting import meeting_point

from tests.core.recipes import euclid, hand, recipe, starts

LEFT_TO_RIGHT = {"steps": 4, "step": "1/4"}


@pytest.mark.parametrize(("direction", "steps"), [
    ("forward", "01230123"), ("backward", "32103210"), ("bounce", "01232101"),
    ("bounce-twice", "01233210")])
def test_directions(direction: str, steps: str) -> None:
    lane = LEFT_TO_RIGHT | {"rule": euclid(4), "direction": direction,
                            "strands": {"velocity": {"values": [10, 20, 30, 40], "by": "step"}}}
    heard = play(recipe(lane), 0, 8)
    assert "".join(str(note.velocity // 10 - 1) for note in heard) == steps


def test_wander_begins_each_frame_at_the_first_step() -> None:
    lane = LEFT_TO_RIGHT | {"rule": euclid(4), "direction": "wander", "window": [1, 3],
                            "strands": {"velocity": {"values": [10, 20, 30, 40]}}}
    steps = [note.velocity // 10 - 1 for note in play(recipe(lane, seed=3), 0, 400)]
    assert set(steps) == {1, 2, 3}
    assert all(steps[i] == 1 for i in range(0, 400, 4))
    inside = [(a, b) for i, (a, b) in enumerate(pairwise(steps)) if i % 4 != 3]
    assert all(abs(a - b) <= 1 for a, b in inside)


def test_fit_once_and_restart() -> None:
    assert starts(recipe({"steps": 5, "span": "fit", "rule": euclid(5)})) == [0, .8, 1.6, 2.4, 3.2]
    once = {"steps": 4, "step": "1/8", "span": "once", "offset": 2, "rule": hand(2, 3)}
    assert starts(recipe(once), 2) == [0, 0.5, 4, 4.5]
    restarted = {"steps": 3, "step": "1/4", "rule": hand(0), "restart_bars": 1}
    assert starts(recipe(restarted), 2) == [0, 3, 4, 7]
    # The cell at beat 3 of 1 1/2 beats is cut by the restart, and so is its note.
    cut = recipe({"steps": 1, "step": "3/8", "rule": hand(0), "restart_bars": 1, "gate": 100})
    assert [(note.start, note.length) for note in play(cut, 0, 4)] == [
        (0, 1.5), (1.5, 1.5), (3, 1)]


def test_no_note_sounds_on_past_its_restart() -> None:
    late = {"steps": 4, "step": "1/4", "rule": euclid(4), "restart_bars": 1, "gate": 200,
            "strands": {"nudge": {"values": [50]}}}
    ends = [note.start + note.length for note in play(recipe(late), 0, 8)]
    assert ends == [1.5, 2.5, 3.5, 4, 5.5, 6.5, 7.5, 8]


def test_shift_leaves_out_what_would_start_before_time() -> None:
    lane = {"steps": 4, "step": "1/4", "rule": euclid(4), "shift": "-1/16"}
    assert starts(recipe(lane)) == [0.75, 1.75, 2.75, 3.75]


def test_rate_path_lays_stretches_into_the_frame() -> None:
    lane = {"steps": 1, "step": "1/4", "rule": hand(0),
            "rate_path": [{"start": "1", "beats": "1", "step": "1/12"}]}
    third = 1 / 3
    assert starts(recipe(lane)) == pytest.approx([0, 1, 1 + third, 1 + 2 * third, 2, 3])


def test_what_is_human_is_earlier_or_later_louder_or_softer_by_chance() -> None:
    lane = {"steps": 16, "rule": euclid(16), "velocity": 80, "rate_path": [
        {"start": "1", "beats": "2", "step": "1/16", "human": 50}]}
    found = recipe(lane)
    passes = [[(round(note.start - 4 * k - float(note.grid) % 4, 9), note.velocity)
               for note in play(found, 4.0 * k, 4.0 * k + 4)] for k in range(20)]
    heard = [note for notes in passes for note in notes[4:12]]
    assert all(note == (0, 80) for notes in passes for note in notes[:4] + notes[12:])
    # Half of 12 % of a cell of 1/4, and half of 40 % of 80, either way; evenly.
    assert all(abs(late) <= 0.015 and 64 <= velocity <= 96 for late, velocity in heard)
    lates, velocities = ([each[i] for each in heard] for i in (0, 1))
    assert min(lates) < -0.012 and max(lates) > 0.012 and abs(sum(lates)) < 0.015 * 40
    assert len(set(velocities)) > 25 and len({tuple(notes) for notes in passes}) == 20


def test_a_rate_path_of_a_fitted_lane_keeps_the_lane_s_own_step_exact() -> None:
    lane = {"steps": 5, "step": "1/12", "span": "fit", "rule": euclid(5),
            "rate_path": [{"start": "1", "beats": "1", "step": "1/16"}]}
    grids = [note.grid for note in play(recipe(lane), 0, 4)]
    assert grids[:5] == [0, Fraction(1, 3), Fraction(2, 3), 1, Fraction(5, 4)]


def test_swing_is_a_warp_of_time() -> None:
    sixteenths = {"rule": euclid(16)}
    heard = starts(recipe(sixteenths, swing={"grid": "1/16", "percent": 66.7}))
    assert heard[1] == pytest.approx(0.3335) and heard[2] == pytest.approx(0.5)
    tuplets = starts(recipe({"steps": 12, "step": "1/12", "rule": euclid(12)},
                            swing={"grid": "1/8", "percent": 75}))
    assert tuplets == sorted(tuplets) and len(set(tuplets)) == 12
    # In 7/8 a pair of quarters does not fill the bar: its last eighth stays straight.
    odd = starts(recipe({"steps": 7, "step": "1/8", "rule": euclid(7)}, meter=[7, 8],
                        swing={"grid": "1/8", "percent": 60}))
    assert odd[6] == 3.0 and odd[5] == pytest.approx(2.6)


def sixteenths(*lengths: int) -> list[dict[str, object]]:
    return [{"steps": steps, "rule": euclid(1)} for steps in lengths]


@pytest.mark.parametrize(("lanes", "bars"), [
    (sixteenths(16, 12, 9), 9),
    ([*sixteenths(16, 12, 9), {"steps": 5, "span": "fit", "rule": euclid(3)}], 9),
    (sixteenths(5, 7), 35),
    (sixteenths(127, 126, 125, 121), None),
    ([{"steps": 16, "rule": euclid(4), "turns": {"0": [1, 3]}}], 3),
    ([{"steps": 16, "rule": euclid(4), "accent": {"every": 3, "add": 9}}], 3),
    ([{"steps": 16, "rule": euclid(5), "keep": {"every": 3}}], 3),
    ([{"steps": 12, "rule": euclid(7),
       "strands": {"velocity": {"values": [96, 58, 74], "by": "hit"}}}], 9),
])
def test_meeting_point(lanes: list[dict[str, object]], bars: int | None) -> None:
    assert meeting_point(recipe(*lanes)).bars == bars


def test_meeting_point_names_what_it_leaves_out() -> None:
    found = meeting_point(recipe(
        {"steps": 12, "rule": euclid(3)},
        {"name": "Fern", "id": "fern", "rule": euclid(3), "direction": "random"},
        {"name": "Mist", "rule": {"kind": "gaps", "of": "fern"}}))
    assert found.bars == 3 and found.left_out == ["Fern", "Mist"]
    assert found.words() == "every lane meets again at bar 4 (without Fern, Mist)"


def test_positions_stay_exact() -> None:
    lane = {"steps": 7, "step": "1/20", "rule": hand(0)}
    far = 10_000 * 4
    for note in play(recipe(lane), far, far + 8):
        assert (note.grid / Fraction(7, 5)).denominator == 1
        assert note.start == float(note.grid)
