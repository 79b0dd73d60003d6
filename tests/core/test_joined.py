"""Clips joined end to end."""

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.clip.document import Clip
from lattice.clip.joined import joined_clip
from lattice.clip.taken import Segment, take_clip
from lattice.midi.read import read_midi
from lattice.midi.write import to_midi
from lattice.recipe import read

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, recipe


def clip_of(called: str, beats: int = 4, **lane: Any) -> Clip:
    found = recipe({"id": "hat", "name": "Hat", "rule": euclid(4)} | lane, tempo=len(called) * 20)
    return take_clip(called, [Segment(found, 0.0, 0.0, float(beats))], 0.0, Fraction(beats))


def test_one_after_another_with_a_mark_where_each_begins() -> None:
    both = joined_clip([clip_of("Bud12"), clip_of("Bloom1", 3), clip_of("Bud12")], "Bud and more")
    assert (both.name, both.beats, both.tempo) == ("Bud and more", 11, 100)
    assert [note.start for note in both.notes] == [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10]
    assert [(mark.time, mark.name, mark.tempo) for mark in both.marks] == [
        (0, "Bud12", None), (4, "Bloom1", 120), (7, "Bud12", 100)]
    assert len(both.lanes) == 1 and both.grain == 1
    song = read_midi(to_midi(both))
    assert len(song.parts[0].notes) == 11


def test_lanes_are_one_where_they_are_alike() -> None:
    bud = clip_of("Bud")
    other = joined_clip([bud, clip_of("Bud", channel=4), clip_of("Bud", name="Lid")], "x")
    assert [lane.id for lane in other.lanes] == ["hat", "hat-2", "hat-3"]
    assert [note.lane for note in other.notes[::4]] == ["hat", "hat-2", "hat-3"]
    ringing = clip_of("Bud", rule=euclid(1), gate=800, steps=4, step="1/4")
    assert [note.length for note in joined_clip([ringing] * 2, "x").notes] == [4, 4]
    for wrong in ([ringing], [ringing] * 5000):
        with pytest.raises(RecipeError, match=r"Choose two|up to 16,384 beats"):
            joined_clip(wrong, "x")


@settings(max_examples=30, deadline=None)
@given(st.lists(melodic(documents()), min_size=2, max_size=4))
def test_every_note_and_controller_is_there_in_its_time(patterns: list[Any]) -> None:
    clips = [take_clip(f"Bud {i}", [Segment(read(document), 0.0, 0.0, 5.0)], 0.0, Fraction(5))
             for i, document in enumerate(patterns)]
    whole = joined_clip(clips, "Bud")
    assert Clip.model_validate(whole.model_dump(mode="json", by_alias=True)).beats == 5 * len(clips)
    for i, clip in enumerate(clips):
        part = whole.stretch(Fraction(5 * i), Fraction(5 * i + 5))
        assert sorted((round(n.start, 6), n.pitch, n.velocity, n.channel, n.tune)
                      for n in part.notes) == sorted(
            (round(n.start, 6), n.pitch, n.velocity, n.channel, n.tune) for n in clip.notes)
        named = {lane.id: lane.name for lane in whole.lanes}
        assert {named[n.lane] for n in part.notes} == {
            lane.name for lane in clip.lanes if any(n.lane == lane.id for n in clip.notes)}
    assert len({lane.id for lane in whole.lanes}) == len(whole.lanes)
