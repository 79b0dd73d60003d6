"""Fills: a clip, or the last bar stirred, now and then in place of what plays."""

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.clip.document import Clip, clip_part
from lattice.clip.taken import Segment, take_clip
from lattice.edits.adapt import Adapt
from lattice.edits.fills import MakeFill, clip_fill
from lattice.edits.lanes import RemoveLane
from lattice.edits.words import RemoveClause, SetSlot
from lattice.play import Performance
from lattice.recipe import Recipe, read
from lattice.results.meeting import meeting_point
from lattice.results.view import pictures, shown_spells
from lattice.results.why import why
from lattice.sentence import pattern_sentence
from lattice.telling.fill import fill_lanes

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, hand, recipe

HATS = {"id": "drip", "name": "Drip", "note": 42, "rule": euclid(7), "steps": 12}
PUMP = {"id": "pump", "name": "Pump", "rule": euclid(4)}


def heard(notes: Any, at: float = 0) -> list[tuple[Any, ...]]:
    return sorted((round(note.start - at, 6), note.pitch, note.channel, note.velocity)
                  for note in notes)


def kept(found: Recipe, start: float, beats: Fraction) -> Clip:
    return take_clip("Hail", [Segment(found, 0, 0, start + float(beats))], start, beats)


def filled(found: Recipe, clip: Clip, **how: Any) -> Recipe:
    return clip_fill(clip, found).model_copy(update=how).apply(found)


@settings(max_examples=60, deadline=None, suppress_health_check=[
    HealthCheck.too_slow, HealthCheck.filter_too_much])
@given(melodic(documents()), melodic(documents()), st.integers(1, 3), st.integers(1, 5),
       st.data())
def test_a_fill_plays_its_clip_in_its_bars_and_the_rest_is_as_before(
        document: dict[str, Any], other: dict[str, Any], bars: int, every: int,
        data: st.DataObject) -> None:
    found = read(document)
    source = read(other | {"meter": document.get("meter", [4, 4])})
    clip = kept(source, 0, bars * source.bar_beats)
    turn = data.draw(st.integers(1, every))
    try:
        after = filled(found, clip, every=every, turn=turn)
    except RecipeError:
        assume(False)
    bar, frame = float(found.bar_beats), float(found.frame_beats)
    performance, before = Performance(after), Performance(found)
    for round_ in range(3):
        end = (round_ * every + turn) * frame
        start = end - bars * bar
        within = performance.notes(start, end)
        # What is begun twice at one place is one note, as in a pattern.
        assert heard(within, start) == heard(clip.notes)
        then = (round_ + 1) * every * frame - bars * bar if turn == every else end + frame
        assert heard(performance.notes(end, then)) == heard(before.notes(end, then))


def test_a_fill_is_a_clause_and_is_told_where_it_plays() -> None:
    found = recipe(PUMP, HATS)
    snare = kept(recipe({"id": "valve", "name": "Valve", "note": 38, "rule": hand(8, 10, 12)},
                        PUMP | {"rule": hand(0, 3), "note": 36}), 0, Fraction(4))
    after = filled(found, snare)
    assert [lane.id for lane in after.lanes] == ["pump", "drip", "valve"]
    assert Performance(after).notes(0, 12) == Performance(found).notes(0, 12)
    assert pattern_sentence(after).text().endswith(
        "In the 4th of every 4 passes “Hail” in the last bar, and the others rest.")
    heard_now = Performance(after).notes(12, 16)
    assert {note.lane for note in heard_now} == {"pump", "valve"}
    playing = SetSlot(do="set", lane=None, slot="fills.0.others", value="play").apply(after)
    assert {note.lane for note in Performance(playing).notes(12, 16)} == {"pump", "drip", "valve"}
    assert "a fill, “Hail”, plays here every 4th pass" in why(after, "valve", 14)
    assert "Hail" not in why(after, "valve", 10) + why(playing, "drip", 12)
    [spell] = shown_spells(after, 0, 20)
    assert (spell.start, spell.end, spell.name) == (12, 16, "Hail")
    drawn = pictures(Performance(after), list(after.lanes), 8, 16)
    assert [hit[0] for hit in drawn["valve"].hits] == [14, 14.5, 15]
    assert not [hit for hit in drawn["drip"].hits if hit[0] >= 12]
    assert meeting_point(after).frames == 12  # the hats of 12 steps, and 4 passes
    lifted = Adapt(do="adapt", without=("valve",)).apply(after)
    assert {note.lane for note in Performance(lifted).notes(12, 16)} == {"pump"}
    gone = RemoveLane(do="remove_lane", lane="valve").apply(after)
    assert [lane.id for lane in gone.fills[0].lanes] == ["pump"]
    assert read(to_json(after)) == after
    left = RemoveClause(do="remove", lane=None, clause="fills.0").apply(after)
    assert left.fills == () and SetSlot(
        do="set", lane=None, slot="fills.0.every", value=9).apply(after).fills[0].every == 9


def test_a_fill_is_made_of_what_plays_and_made_again_in_its_place() -> None:
    found = recipe(PUMP, HATS, bars=2)
    one = MakeFill(do="make_fill", every=2, throw=3).apply(found)
    before, after = Performance(found), Performance(one)
    assert heard(after.notes(0, 12)) == heard(before.notes(0, 12))
    assert heard(after.notes(12, 16)) != heard(before.notes(12, 16))
    assert heard(after.notes(28, 32), 28) == heard(after.notes(12, 16), 12)
    other = MakeFill(do="make_fill", every=2, throw=4).apply(one)
    assert len(other.fills) == 1 and other.fills[0].throw == 4
    assert MakeFill(do="make_fill", every=2, throw=3).apply(other) == one
    assert pattern_sentence(one).text().endswith(
        "In the 2nd of every 2 passes the last bar stirred by throw 3, and the others rest.")


def test_what_is_no_fill_is_refused() -> None:
    found = recipe(PUMP)
    waltz = kept(recipe(PUMP, meter=[3, 4]), 0, Fraction(3))
    with pytest.raises(RecipeError, match="metre, 4/4"):
        fill_lanes(waltz, found)
    with pytest.raises(RecipeError, match="no note"):
        MakeFill(do="make_fill").apply(recipe(PUMP | {"mute": True}))
    two = kept(recipe(PUMP, HATS, bars=2), 0, Fraction(8))
    with pytest.raises(RecipeError, match="later pass"):
        filled(found, two, every=3, turn=1)
    assert clip_part(two, 0, 1).bars == filled(found, clip_part(two, 0, 1)).fills[0].bars == 1
    with pytest.raises(RecipeError, match="up to 8 fills"):
        for _ in range(9):
            found = filled(found, clip_part(two, 0, 1))
    with pytest.raises(RecipeError, match="from 4 to 128"):
        SetSlot(do="set", lane=None, slot="fills.0.every", value=3).apply(found)
    with pytest.raises(RecipeError, match="no 5th of them"):
        filled(recipe(PUMP), clip_part(two, 0, 1), every=4, turn=5)
