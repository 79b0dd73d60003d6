"""Throws: what is made random keeps to its bounds, to what hands have set, and to its number."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.percussion import PERCUSSION, kin
from lattice.edits import apply_all
from lattice.edits.throws import THROWS, ThrowEdit
from lattice.edits.throws.drums import ThrowDrums
from lattice.edits.throws.hits import ThrowHits
from lattice.edits.throws.scale import ThrowScale
from lattice.edits.throws.sounds import ThrowSounds
from lattice.edits.throws.values import ThrowValues
from lattice.pitch.scales import SCALES
from lattice.play import Performance
from lattice.recipe import Recipe, read, refusing
from lattice.strands.kinds import KINDS

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, hand, recipe


def kit(**lane: Any) -> Recipe:
    return recipe({"rule": euclid(4), "note": 36, "pins": {"3": True, "4": False}} | lane,
                  {"rule": euclid(7), "note": 42, "steps": 12},
                  {"id": "gap", "rule": {"kind": "gaps", "of": "lane-0"}, "note": 54},
                  {"id": "tune", "kind": "pitched", "channel": 2, "rule": hand(0, 3, 6)})


def hits(of: Recipe, lane: str) -> set[int]:
    """The steps of a lane that are hits in its first cycle."""
    voice = Performance(of).voice(lane)
    return {hit.step for hit in voice.hits.between(0, voice.time.period * voice.time.cell)}


@settings(max_examples=40)
@given(melodic(documents()), st.sampled_from(THROWS), st.integers(-9, 9))
def test_the_same_throw_is_the_same_and_a_lane_throws_by_itself(
        document: dict[str, Any], kind: type[ThrowEdit], number: int) -> None:
    found, throw = read(document), kind(throw=number)
    try:
        thrown = throw.apply(found)
    except RecipeError as refused:
        assert str(refused).endswith(".")
        return
    assert thrown == throw.apply(found) and read(thrown.model_dump(mode="json", by_alias=True))
    assert [lane.id for lane in thrown.lanes] == [lane.id for lane in found.lanes]
    one = found.lanes[0]
    if throw.over == "lanes" and kind is not ThrowDrums and throw.fits(one):
        alone = throw.model_copy(update={"lanes": [one.id]}).apply(found)
        assert alone.lanes[0] == thrown.lanes[0] and alone.lanes[1:] == found.lanes[1:]


@given(st.integers(0, 500), st.sampled_from([0.1, 0.4, 1.0]))
def test_hits_keep_to_their_densities_and_to_pins(number: int, stray: float) -> None:
    throw = ThrowHits(throw=number, stray=stray, low=25, high=50)
    thrown = throw.apply(kit())
    for lane in ("lane-0", "lane-1"):
        share = len(hits(thrown, lane)) / thrown.lane(lane).steps
        assert 0.25 <= share <= 0.5 and hits(thrown, lane) != hits(kit(), lane)
    assert 3 in hits(thrown, "lane-0") and 4 not in hits(thrown, "lane-0")
    assert thrown.lane("gap") == kit().lane("gap"), "it follows"
    assert throw.model_copy(update={"hand": "goes"}).apply(kit()).lane("lane-0").pins == {}


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_values_lie_between_their_bounds_and_hands_keep_theirs(kind: str) -> None:
    lane = {"kind": "control", "control": {"number": 7}} if kind == "value" else \
        {"kind": "pitched"}
    found = kit(**lane)
    throw = ThrowValues().worded("kind", kind).model_copy(update={"lanes": ["lane-0"]})
    before = ThrowValues(kind=kind, low=throw.low, high=throw.high, share=0, lanes=["lane-0"])
    plain = before.apply(found).lane("lane-0").strand(KINDS[kind]).values
    seen: set[Any] = set()
    for number in range(30):
        thrown = throw.model_copy(update={"throw": number}).apply(found).lane("lane-0")
        values = thrown.strand(KINDS[kind]).values
        assert len(values) == 16 and values[3:5] == plain[3:5], "these two were set by hand"
        others = [value for step, value in enumerate(values) if step not in (3, 4)]
        assert all(throw.low <= value <= throw.high for value in others)
        seen |= set(others)
    assert {throw.low, throw.high} <= seen or len(seen) > 50
    half = throw.model_copy(update={"share": 50.0, "hand": "goes"}).apply(found).lane("lane-0")
    same = sum(a == b for a, b in zip(half.strand(KINDS[kind]).values, plain, strict=True))
    assert same >= 3


def test_bounds_of_values_are_told() -> None:
    with pytest.raises(RecipeError, match="takes a whole number from 60 to 127"):
        ThrowValues().worded("high", 200)
    with pytest.raises(RecipeError, match="lower bound goes up to the upper one"), refusing():
        ThrowValues(low=90, high=80)
    with pytest.raises(RecipeError, match="bounds of velocity lie between 1 and 127"), refusing():
        ThrowValues(low=0, high=80)
    with pytest.raises(RecipeError, match="Fan has nothing"):
        ThrowValues(kind="degree", low=0, high=3, lanes=["f"]).apply(
            recipe({"id": "f", "name": "Fan"}))


def test_drums_stay_of_their_kind_and_no_two_are_alike() -> None:
    found = recipe(*({"note": note, "name": f"{note}"} for note in (36, 35, 38, 42, 49, 51)))
    for number in range(40):
        notes = [lane.note for lane in ThrowDrums(throw=number).apply(found).lanes]
        assert all(note in kin(lane.note) for note, lane in zip(notes, found.lanes, strict=True))
        assert len(set(notes)) == 6
        notes = [lane.note for lane in ThrowDrums(throw=number, among="any").apply(found).lanes]
        assert len(set(notes)) == 6 and set(notes) <= set(PERCUSSION)
    assert sorted(note for note in PERCUSSION if kin(note)) == sorted(PERCUSSION)


def test_sounds_and_scales_are_others() -> None:
    scales, voices = set(), set()
    for number in range(60):
        thrown = apply_all(kit(), [ThrowSounds(throw=number, low=30, high=40),
                                   ThrowScale(throw=number, low=5, high=6)])
        assert {lane.heard_by.by for lane in thrown.lanes if not lane.pitched} == {"tin"}
        voices.add(thrown.lane("tune").heard_by.by)
        assert all(30 <= value <= 40 for lane in thrown.lanes
                   for value in lane.heard_by.controls.values())
        scales.add(thrown.key.scale)
        assert thrown.key.root == 0 and 5 <= len(thrown.key.notes) <= 6
    assert len(voices) == 5 and scales == {
        name for name, notes in SCALES.items() if len(notes) in (5, 6)}
    assert len({ThrowScale(throw=n, root="moves").apply(kit()).key.root for n in range(99)}) == 12
    chromatic = kit().model_copy(update={"key": kit().key.model_copy(update={
        "scale": "chromatic"})})
    with pytest.raises(RecipeError, match="No other scale"):
        ThrowScale(low=12, high=12).apply(chromatic)


def test_each_says_itself() -> None:
    said = ["".join(part if isinstance(part, str) else part.text for part in kind().parts())
            for kind in THROWS]
    assert said[0] == "Other hits, straying by 0.4, 10 % to 70 % dense; what is set by hand stays."
    assert said[2:] == ["Another drum for each lane, of its own kind.",
                        "Another sound: kit and voices, with controls from 20 % to 80 %.",
                        "Another scale of 5 to 8 notes; its root stays."]
    assert ThrowHits(lanes=["gap", "tune"]).describe(kit()) == "2 lanes: hits thrown"
    assert ThrowScale().describe(kit()) == "scale thrown"
