"""Degrees scattered, notes played in and held, lanes turned into others, starting recipes taken."""

from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.percussion import note_name
from lattice.base.values import to_json
from lattice.edits import AnyEdit, apply_all
from lattice.library.listed import LIBRARY
from lattice.play import play
from lattice.recipe import Recipe, read
from lattice.results.why import why
from lattice.rules.hand import Hand
from lattice.sentence import lane_sentence
from pydantic import TypeAdapter

from tests.core.recipes import euclid, facts, hand, recipe

EDITS: TypeAdapter[Any] = TypeAdapter(list[AnyEdit])
MELODY = {"id": "bells", "kind": "pitched", "rule": hand(*range(16))}


def edited(found: Recipe, *edits: dict[str, Any]) -> Recipe:
    return apply_all(found, EDITS.validate_python(list(edits)))


def degrees(found: Recipe) -> list[Any]:
    return list(found.lane("bells").strands.degree.values)


@given(st.integers(-9, 0), st.integers(0, 12), st.integers(1, 6), st.integers(0, 99))
def test_scatter_keeps_to_its_bounds(low: int, high: int, leap: int, seed: int) -> None:
    throw = {"do": "scatter", "lane": "bells", "low": low, "high": high, "leap": leap}
    first = edited(recipe(MELODY, seed=seed), throw)
    again = edited(first, throw)
    for values in (degrees(first), degrees(again)):
        assert all(low <= value <= high for value in values)
        assert all(abs(a - b) <= leap for a, b in pairwise(values))
    if high - low > 3:
        assert degrees(first) != degrees(again)


def test_scatter_prefers_chord_tones_on_strong_places_and_a_share_stays() -> None:
    found = edited(recipe(MELODY), {"do": "scatter", "lane": "bells", "chord": 100, "leap": 8})
    pitches = [note.pitch % 12 for note in play(found, 0, 4)]
    assert {pitches[step] for step in (0, 4, 8, 12)} <= {0, 4, 7}
    some = edited(recipe(MELODY), {"do": "scatter", "lane": "bells", "share": 40, "low": 1})
    assert 4 <= degrees(some).count(0) < 16
    with pytest.raises(RecipeError, match="make it a melody"):
        edited(recipe({"id": "bells"}), {"do": "scatter", "lane": "bells"})


@given(st.integers(36, 84), st.floats(0, 15.9), st.integers(1, 127), st.sampled_from(
    ["key", "chord", "chord-root", "bend"]))
def test_what_is_played_in_is_what_sounds_there(pitch: int, at: float, velocity: int,
                                                reads: str) -> None:
    lane = {"id": "bells", "kind": "pitched", "rule": hand(), "reads": reads}
    found = edited(recipe(lane, chords={"text": "I IV/3 bVII", "beats": 4}), {
        "do": "play_in", "lane": "bells",
        "notes": [{"pitch": pitch, "velocity": velocity, "at": at, "length": 0.5}]})
    heard = [note for note in play(found, 0, 20) if abs(note.start - at) < 0.126
             and note.velocity == velocity and abs(note.length - 0.5) < 0.002]
    furthest = 2 if reads in ("key", "chord-root") else 4
    assert any(abs(note.pitch - pitch) <= furthest for note in heard)


def test_steps_are_filled_one_by_one_with_chords_rests_and_ties() -> None:
    step = {"do": "play_step", "lane": "bells"}
    found = edited(
        recipe(MELODY | {"rule": hand(3)}),
        step | {"step": 0, "notes": [{"pitch": 60}, {"pitch": 64}, {"pitch": 67}]},
        step | {"step": 1, "tie": True}, step | {"step": 3},
        step | {"step": 4, "notes": [{"pitch": 72, "velocity": 40}]})
    notes = [(n.start, n.pitch, n.velocity, round(n.length, 6)) for n in play(found, 0, 4)]
    assert notes == [(0, p, 100, 1) for p in (60, 64, 67)] + [(1, 72, 40, 0.225)]


def test_steps_are_filled_from_nothing_or_on_top_of_what_is_there() -> None:
    lane = MELODY | {"rule": euclid(4), "keep": {"every": 2}, "flip": True, "pins": {"3": True},
                     "paths": [{"word": "rule.pulses", "shape": "line", "from": 4, "to": 8,
                                "bars": 2}]}
    step = {"do": "play_step", "lane": "bells", "step": 2, "notes": [{"pitch": 64}]}
    for begin, kept in ((True, set[int]()), (False, hits(recipe(lane)))):
        found = edited(recipe(lane), step | {"begin": begin})
        bells = found.lane("bells")
        assert isinstance(bells.rule, Hand)
        assert hits(found) == {2, *kept}, "and so in every cycle"
        again = edited(found, step | {"step": 5, "notes": []})
        assert hits(again) == {2, *kept} - {5}


def hits(found: Recipe) -> set[int]:
    """The steps that play in the first bar."""
    return {round(note.start * 4) for note in play(found, 0, 4)}


def test_a_row_of_pitches_is_played_in_without_its_rhythm() -> None:
    found = recipe(MELODY | {"rule": euclid(4)})
    row = {"do": "play_pitch", "lane": "bells"}
    for place, pitches in enumerate(([62], [67], [60, 64])):
        found = edited(found, row | {"place": place, "begin": place == 0,
                                     "notes": [{"pitch": pitch} for pitch in pitches]})
    heard = [(note.start, note.pitch) for note in play(found, 0, 4)]
    assert heard == [(0, 62), (1, 67), (2, 60), (2, 64), (3, 62)]
    found = edited(found, row | {"place": 1, "notes": [{"pitch": 65}]})
    assert [note.pitch for note in play(found, 0, 2)] == [62, 65]
    with pytest.raises(RecipeError, match="a row of 3 pitches"):
        edited(found, row | {"place": 4, "notes": [{"pitch": 65}]})


def test_a_tie_goes_on_from_the_hit_before_it_round_the_cycle() -> None:
    def lasting(rule: dict[str, Any], tied: int, **lane: Any) -> list[tuple[float, float]]:
        found = edited(recipe(MELODY | {"rule": rule} | lane), {
            "do": "play_step", "lane": "bells", "step": tied, "tie": True})
        return [(note.start, round(note.length, 6)) for note in play(found, 4, 8)]
    assert lasting(hand(4, 12), 0) == [(5, 0.225), (7, 2)], "over the end of the cycle"
    pinned = lasting(euclid(2), 6, pins={"4": True, "8": False})
    assert pinned == [(4, 0.225), (5, 3)], "from a hit that was set by hand"


def test_lanes_that_walk_move_along_the_key() -> None:
    for pool, plain, lifted in (("chord", [60, 64, 67], [64, 67, 71]),
                                ("held", [61, 62, 67], [64, 65, 71]),
                                ([72, 60], [60, 72], [64, 76])):
        held = [{"note": note, "velocity": 90} for note in (62, 61, 67)]
        lane = {"id": "bells", "kind": "pitched", "rule": euclid(16),
                "arpeggio": {"pool": pool, "held": held}}
        found = recipe(lane)
        assert sorted({note.pitch for note in play(found, 0, 4)}) == plain
        moved = edited(found, {"do": "adapt", "degrees": 2})
        assert sorted({note.pitch for note in play(moved, 0, 4)}) == lifted


def test_held_notes_feed_an_arpeggio_and_add_up() -> None:
    hold = {"do": "hold", "lane": "drip"}
    found = edited(recipe({"id": "drip", "rule": euclid(8)}), hold | {
        "notes": [{"note": 42, "velocity": 60}, {"note": 44, "velocity": 110}]})
    assert facts(play(found, 0, 1))[0][2:4] == (42, 60)
    more = edited(found, hold | {"notes": [{"note": 46}], "adding": True})
    assert {note.pitch for note in play(more, 0, 4)} == {42, 44, 46}
    less = edited(more, hold | {"notes": [{"note": 46}]})
    assert {note.pitch for note in play(less, 0, 4)} == {46}


def test_a_lane_turned_into_others_and_back_is_what_it_was() -> None:
    lane = {"id": "bells", "rule": euclid(5), "arpeggio": {"pool": "scale", "order": "down"},
            "strands": {"degree": {"values": [0, {"all": "chord"}]}}}
    found = recipe(lane)
    there = edited(found, {"do": "kind", "lane": "bells", "kind": "pitched"},
                   {"do": "kind", "lane": "bells", "kind": "control"})
    assert there.lane("bells").control and play(there, 0, 4) == []
    back = edited(there, {"do": "kind", "lane": "bells", "kind": "drum"},
                  {"do": "lane", "lane": "bells", "field": "channel", "value": 10})
    assert facts(play(back, 0, 8)) == facts(play(found, 0, 8))
    assert back.lane("bells").strands == found.lane("bells").strands


def test_changing_one_chord_changes_what_follows_it_and_nothing_else() -> None:
    found = recipe(MELODY | {"reads": "chord"}, {"id": "pump", "rule": euclid(4)},
                   chords={"text": "I IV", "beats": 4})
    other = edited(found, {"do": "chords", "words": ["I", "V7"], "beats": [4, "4"]})
    before, after = play(found, 0, 8), play(other, 0, 8)
    assert facts(before, lane="pump") == facts(after, lane="pump")
    assert [f for f in facts(before) if f[0] < 4] == [f for f in facts(after) if f[0] < 4]
    assert facts(before, lane="bells") != facts(after, lane="bells")


def test_every_starting_recipe_can_be_taken_and_plays() -> None:
    assert len(LIBRARY) >= 60
    empty = read({})
    for start in LIBRARY:
        taken = edited(empty, {"do": "take", "start": to_json(start)})
        heard = play(taken, 0, 16)
        assert heard and all(note.lane == taken.lanes[0].id for note in heard), start.name
        assert why(taken, taken.lanes[0].id, 0.1).startswith("Step 1"), start.name
        over = edited(recipe({"id": "old", "name": "Old", "seed": 4}), {
            "do": "take", "lane": "old", "start": to_json(start)})
        assert (over.lanes[0].id, over.lanes[0].name, over.lanes[0].seed) == ("old", "Old", 4)
    sources = [start for start in LIBRARY if start.group == "traditional rhythms"]
    assert all(start.source for start in sources) and len(sources) > 20
    for wrong in ({"name": "x"}, {"name": "x", "lane": {"rule": {"kind": "gaps", "of": "a"}}},
                  {"name": "x", "lane": {"steps": 999}}):
        with pytest.raises(RecipeError):
            edited(empty, {"do": "take", "start": wrong})


def test_a_starting_recipe_brings_the_bars_that_it_takes_to_be_heard_whole() -> None:
    def bars(start: dict[str, Any], **frame: Any) -> tuple[int, str]:
        edit = EDITS.validate_python([{"do": "take", "start": {"name": "Mine"} | start}])
        found = read({"bars": 1} | frame)
        return apply_all(found, edit).bars, edit[0].describe(found)
    chords = {"text": "Am F C G E", "beats": [2, 2, 4, 4, 1]}
    assert bars({"chords": {"text": "i iv V i"}}) == (4, "+ Mine, over 4 bars")
    assert bars({"chords": chords}) == (4, "+ Mine, over 4 bars")
    assert bars({"chords": chords}, meter=[7, 8])[0] == 4 and bars({"chords": chords}, bars=6) == (
        6, "+ Mine")
    for lane, needed in (({"rolls": [{"start": "5", "beats": "3", "strokes": 4}]}, 2),
                         ({"rate_path": [{"start": "8", "beats": "1/2", "step": "1/32"}]}, 3),
                         ({"steps": 48}, 1), ({"restart_bars": 2}, 2)):
        assert bars({"lane": lane})[0] == needed


def test_an_order_is_written_by_what_is_played() -> None:
    walking = MELODY | {"arpeggio": {"pool": [60, 64, 67], "octaves": 2}}
    found = recipe(walking)

    def write(found: Recipe, *notes: int, **more: Any) -> Recipe:
        return edited(found, {"do": "write_order", "lane": "bells", "notes": notes} | more)
    made = write(write(write(write(found, 67), 76, 60), hold=True), 55)
    assert made.lane("bells").arpeggio.order == (2, (0, 4), "hold", 2), \
        "a note that is not there is the nearest of its name"
    assert write(found, 62, 70).lane("bells").arpeggio.order == ((0, 3),), "or the nearest"
    assert write(made, 60, begin=True).lane("bells").arpeggio.order == (0,)
    assert write(write(found)).lane("bells").arpeggio.order == ("rest", "rest")
    with pytest.raises(RecipeError, match="no arpeggio"):
        write(recipe(MELODY), 60)
    with pytest.raises(RecipeError, match="hold some notes"):
        write(recipe(MELODY | {"arpeggio": {"pool": "held"}}), 60)
    full = recipe(walking | {"arpeggio": {"pool": [60], "order": [0] * 64}})
    with pytest.raises(RecipeError, match="up to 64 entries"):
        write(full, 60)


def test_drums_of_a_walk_are_exchanged_and_scales_under_it() -> None:
    drums = {"id": "drip", "name": "Drip", "note": 42, "rule": hand(*range(8)), "steps": 8,
             "arpeggio": {"pool": "scale"}}
    found = recipe(drums, key={"root": 2, "scale": "dorian"})
    pitches = [note.pitch for note in play(found, 0, 2)]
    swapped = edited(found, {"do": "exchange", "lane": "drip", "note": pitches[2], "instead": 39})
    assert [note.pitch for note in play(swapped, 0, 2)] == [
        39 if pitch == pitches[2] else pitch for pitch in pitches]
    assert lane_sentence(swapped.lane("drip"), swapped).text().count(
        f", with Hand clap for {note_name(pitches[2])}.") == 1
    assert edited(swapped, {"do": "exchange", "lane": "drip", "note": pitches[2],
                            "instead": pitches[2]}) == found
    for throw in range(80):
        other = edited(found, {"do": "another_scale", "lane": "drip", "throw": throw})
        assert {(note.start, note.velocity) for note in play(other, 0, 2)} == {
            (note.start, note.velocity) for note in play(found, 0, 2)}
        assert other.lane("drip").key.root == 2 and other.lane("drip").key.notes != found.key.notes
    with pytest.raises(RecipeError, match="is not what Drip walks over"):
        edited(found, {"do": "exchange", "lane": "drip", "note": 99, "instead": 39})
