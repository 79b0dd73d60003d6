"""Clips changed by hand and by tools: known answers, and what holds for every tool."""

import itertools
import json
from collections import Counter
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.base.words import Slot
from lattice.clip.difference import clip_difference, made_different, said_anew
from lattice.clip.document import Clip
from lattice.clip.grid import Grid
from lattice.clip_edits import AnyClipEdit, change_clip
from lattice.midi.read import read_midi
from lattice.midi.write import to_midi
from lattice.tools import TOOLS
from pydantic import TypeAdapter

EDIT: TypeAdapter[Any] = TypeAdapter(AnyClipEdit)
LANES = [{"id": "pump", "name": "Pump", "kind": "drum"},
         {"id": "bells", "name": "Bells", "kind": "pitched"},
         {"id": "glow", "name": "Glow", "kind": "control"}]


def note(start: float, pitch: int = 36, velocity: int = 90, length: float = 0.25,
         lane: str = "pump") -> dict[str, Any]:
    return {"start": start, "length": length, "pitch": pitch, "velocity": velocity,
            "channel": 10 if lane == "pump" else 1, "lane": lane}


def told_again(before: Clip, after: Clip) -> Clip:
    """The later state, from what is kept of it."""
    return made_different(before, json.loads(json.dumps(clip_difference(before, after))))


def clip(*notes: dict[str, Any], beats: str = "4", **more: Any) -> Clip:
    made = Clip.model_validate({
        "name": "Lid", "tempo": 120, "meter": [4, 4], "beats": beats, "lanes": LANES,
        "notes": [], "key": {"root": 2, "scale": "dorian"}, "changes": [
            {"time": 0, "number": 74, "value": 40, "channel": 1, "lane": "glow"},
            {"time": 2, "number": 74, "value": 90, "channel": 1, "lane": "glow"}]} | more)
    return made.with_notes(Clip.model_validate(to_json(made) | {"notes": notes}).notes)


def done(of: Clip, *edits: dict[str, Any]) -> Clip:
    return change_clip(of, [EDIT.validate_python(edit) for edit in edits]).clip


def tool(name: str, places: list[int] | None = None, **fields: Any) -> dict[str, Any]:
    return {"do": "lay_in", "tool": {"tool": name} | fields, "notes": places}


def starts(of: Clip) -> list[float]:
    return [round(each.start, 6) for each in of.notes]


def test_the_grid_swings_and_has_triplets() -> None:
    grid = Grid.of(Fraction(1, 16), 66)
    assert [round(grid.place(n), 4) for n in range(4)] == [0, 0.33, 0.5, 0.83]
    assert grid.nearest(0.3) == pytest.approx(0.33) and grid.nearest(0.45) == 0.5
    assert Grid(1 / 3).nearest(0.6) == pytest.approx(2 / 3)


FOUR = clip(note(0), note(1.05), note(2), note(2.9))
ROLLED = clip(*(note(at) for at in (0.05, 1.02, 1.105, 1.19, 2.02, 2.355, 2.69, 3.03)))
"""A note off the grid, a roll of three, a triplet, and another note."""
RIFF = clip(*(note(i / 2, pitch, lane="bells") for i, pitch in enumerate([62, 65, 69, 72, 69])))


@pytest.mark.parametrize(("of", "edit", "found"), [
    (FOUR, tool("pull"), [0, 1, 2, 3]),
    (FOUR, tool("pull", share=50), [0, 1.025, 2, 2.95]),
    (FOUR, tool("pull", [1]), [0, 1, 2, 2.9]),
    (ROLLED, tool("pull"), [0, 1.02, 1.105, 1.19, 2.02, 2.355, 2.69, 3.03]),
    (ROLLED, tool("pull", [0, 1, 2, 7]), [0, 1, 1, 1.19, 2.02, 2.355, 2.69, 3]),
    (ROLLED, tool("pull", runs="pulled"), [0, 1, 1, 1.25, 2, 2.25, 2.75, 3]),
    (FOUR, tool("rotate", by=2), [0.5, 1.55, 2.5, 3.4]),
    (FOUR, tool("rotate", by=-1, step="1/4"), [0.05, 1, 1.9, 3]),
    (FOUR, tool("turn_round"), [0, 0.9, 1.85, 2.9]),
    (FOUR, tool("stretch", times="1/2"), [0, 0.525, 1, 1.45]),
    (FOUR, tool("trim", start="1", end="3"), [0.05, 1, 1.9]),
    (FOUR, tool("split", [0], strokes=2), [0, 0.125, 1.05, 2, 2.9]),
    (FOUR, tool("fill", rounds=2, stir=0, split=0), [0, 1.05, 2, 2.9, 4, 5.05, 6, 6.9]),
    (FOUR, {"do": "remove_notes", "notes": [0, 3]}, [1.05, 2]),
    (FOUR, {"do": "move_notes", "notes": [0, 1], "later": 9}, [2, 2.9, 2.949, 3.999]),
    (FOUR, {"do": "move_notes", "notes": [0], "later": 0.5, "copy_them": True},
     [0, 0.5, 1.05, 2, 2.9]),
    (FOUR, {"do": "add_notes", "notes": [{"start": 3.5, "length": 0.25, "pitch": 36,
                                          "velocity": 80, "lane": "pump"}]},
     [0, 1.05, 2, 2.9, 3.5])])
def test_where_notes_go(of: Clip, edit: dict[str, Any], found: list[float]) -> None:
    assert [round(start, 3) for start in starts(done(of, edit))] == found


@pytest.mark.parametrize(("edit", "found"), [
    (tool("transpose", by=2), [65, 69, 72, 76, 72]),
    (tool("transpose", by=-3, unit="semitones"), [59, 62, 66, 69, 66]),
    (tool("mirror"), [62, 59, 55, 52, 55]),
    (tool("mirror", unit="semitones", around="middle"), [72, 69, 65, 62, 65]),
    ({"do": "move_notes", "notes": [0], "degrees": 7}, [74, 65, 69, 72, 69])])
def test_which_pitches_they_have(edit: dict[str, Any], found: list[int]) -> None:
    assert [each.pitch for each in done(RIFF, edit).notes] == found


@pytest.mark.parametrize(("edit", "found"), [
    (tool("louder", scale=50, add=5), [50, 50, 50, 50]), (tool("louder", add=100), [127] * 4),
    (tool("squeeze", share=50, to=100), [95] * 4),
    (tool("accent", every=2, add=20), [110, 90, 110, 90]),
    (tool("accent", every=3, first=2, add=-30), [90, 60, 90, 90]),
    ({"do": "louden_notes", "notes": [1], "to": 1}, [90, 1, 90, 90])])
def test_how_loud_they_are(edit: dict[str, Any], found: list[int]) -> None:
    assert [each.velocity for each in done(FOUR, edit).notes] == found


def test_lengths_controllers_and_the_clip_s_own_length() -> None:
    legato = done(FOUR, tool("lengthen", share=100, of="next"))
    assert [round(each.length, 4) for each in legato.notes] == [1.05, 0.95, 0.9, 1.1]
    double = done(FOUR, tool("stretch", times="2"))
    assert double.beats == 8 and [each.time for each in double.changes] == [0, 4]
    assert done(FOUR, tool("stretch", [0], times="2")).beats == 4
    later = done(FOUR, tool("trim", start="3", end="12"))
    assert later.beats == 9 and [(c.time, c.value) for c in later.changes] == [(0, 90)]
    drawn = done(FOUR, {"do": "draw_changes", "lane": "glow", "number": 74, "start": 1, "end": 3,
                        "changes": [[1.5, 10]]})
    assert [(c.time, c.value) for c in drawn.changes] == [(0, 40), (1.5, 10)]


REFUSED = [
    (tool("pull", [9]), "The clip has 4 notes"), (tool("trim", start="4", end="4"), "ends after"),
    (tool("stretch", times="1/99"), "1/16 to 16"), (tool("split", strokes=99), "strokes"),
    ({"do": "add_notes", "notes": [{"start": 4, "length": 1, "pitch": 1, "velocity": 1,
                                    "lane": "pump"}]}, "lasts 4 beats"),
    ({"do": "add_notes", "notes": [{"start": 0, "length": 1, "pitch": 1, "velocity": 1,
                                    "lane": "fan"}]}, 'no lane "fan"'),
    ({"do": "draw_changes", "lane": "glow", "number": 74, "start": 0, "end": 1,
      "changes": [[0, 128]]}, "0 to 127")]


@pytest.mark.parametrize(("edit", "words"), REFUSED)
def test_what_cannot_be_done_is_refused(edit: dict[str, Any], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        done(FOUR, edit)
    with pytest.raises(RecipeError, match="up to 20,000 notes"):
        done(FOUR, *[tool("split", strokes=16)] * 4)


NOTES = st.lists(st.builds(
    note, st.integers(0, 127).map(lambda n: n / 8 + (n % 5) / 100), st.integers(36, 84),
    st.integers(1, 127), st.sampled_from([0.1, 0.25, 1.5]), st.sampled_from(["pump", "bells"])),
    max_size=40)


@settings(max_examples=60)
@given(NOTES, st.data())
def test_whatever_a_tool_s_words_say_a_clip_comes_out(notes: list[dict[str, Any]],
                                                     data: st.DataObject) -> None:
    """Every tool, its words turned anywhere in their ranges, over any of the notes: a clip that
    can be written, the other notes untouched; the same throw the same, another throw another."""
    before = clip(*notes, beats="17")
    chosen = data.draw(st.none() | st.lists(st.integers(0, max(0, len(notes) - 1)), unique=True,
                                            max_size=len(notes)))
    kind = data.draw(st.sampled_from(TOOLS))
    made = kind()
    for word in [part for part in made.parts() if isinstance(part, Slot)]:
        value = data.draw(st.sampled_from([option.value for option in word.options])
                          if word.options else st.integers(*map(int, word.bounds)))
        try:
            made = made.worded(word.slot, value)
        except RecipeError:
            continue
    edit = tool(made.tool, chosen) | {"tool": made.model_dump(mode="json")}
    try:
        after = change_clip(before, [EDIT.validate_python(edit)])
    except RecipeError as refusal:
        assert str(refusal).endswith(".")
        return
    assert Clip.model_validate(to_json(after.clip)) == after.clip
    assert starts(after.clip) == sorted(starts(after.clip))
    assert all(0 <= each.start < after.clip.beats for each in after.clip.notes)
    assert len(to_midi(after.clip)) > 50
    if chosen is not None and len(chosen) < len(notes) and made.tool not in ("trim", "fill"):
        rest = Counter(map(repr, (each for i, each in enumerate(before.notes)
                                  if i not in chosen)))
        assert not rest - Counter(map(repr, after.clip.notes))
    assert change_clip(before, [EDIT.validate_python(edit)]) == after
    assert told_again(before, after.clip) == after.clip


PLACES = st.lists(st.integers(0, 44), max_size=6)
BEATS = st.sampled_from([0, 0.25, -0.3, 1 / 3, 16.5, -20_000, 20_000]) | st.floats(-18, 18)
HANDS = st.one_of(*(st.fixed_dictionaries({"do": st.just(do)} | fields) for do, fields in {
    "add_notes": {"notes": st.lists(st.fixed_dictionaries({
        "start": st.floats(0, 18), "length": st.sampled_from([0.0011, 0.5, 40]),
        "pitch": st.integers(0, 127), "velocity": st.integers(1, 127),
        "lane": st.sampled_from(["pump", "bells", "glow", "fan"])}), min_size=1, max_size=3)},
    "remove_notes": {"notes": PLACES},
    "move_notes": {"notes": PLACES, "later": BEATS, "semitones": st.integers(-40, 40),
                   "degrees": st.integers(-40, 40), "copy_them": st.booleans()},
    "lengthen_notes": {"notes": PLACES, "by": BEATS},
    "louden_notes": {"notes": PLACES, "by": st.integers(-126, 126),
                     "to": st.none() | st.integers(1, 127)},
    "draw_changes": {"lane": st.sampled_from(["glow", "bells"]), "start": st.floats(0, 18),
                     "number": st.sampled_from([1, 74, "bend", "pressure"]),
                     "end": st.floats(0.1, 20), "changes": st.lists(st.tuples(
                         st.floats(0, 18), st.integers(-8192, 8191)), max_size=3)},
}.items()))


@settings(max_examples=150)
@given(NOTES, st.lists(HANDS, min_size=1, max_size=4))
def test_whatever_hands_do_to_a_clip_it_is_one_or_they_are_told(
        notes: list[dict[str, Any]], hands: list[dict[str, Any]]) -> None:
    before = clip(*notes, beats="17")
    for hand in hands:
        edit = EDIT.validate_python(hand)
        try:
            after = edit.apply(before)
        except RecipeError as refusal:
            assert str(refusal).endswith(".")
            continue
        assert edit.describe(before)
        assert Clip.model_validate(to_json(after.clip)) == after.clip
        assert starts(after.clip) == sorted(starts(after.clip))
        assert all(0 <= each.start < after.clip.beats for each in after.clip.notes)
        heard = [*(each.end for each in after.clip.notes),
                 *(each.time for each in after.clip.changes), 0]
        bars = read_midi(to_midi(after.clip)).beats / 4
        assert bars == (5 if max(heard) > 16.03 else bars) and bars in (4, 5), "whole bars"
        more = len(after.chosen) if hand["do"] == "add_notes" or hand.get("copy_them") else \
            -len(set(hand["notes"])) if hand["do"] == "remove_notes" else 0
        assert len(after.clip.notes) == len(before.notes) + more
        assert told_again(before, after.clip) == after.clip
        said = said_anew(clip_difference(before, after.clip))
        assert said <= len(after.chosen) + (2 + len(hand["changes"]) if "changes" in hand else 0)
        before = after.clip


@given(NOTES, st.integers(0, 99), st.integers(1, 8))
def test_stir_stays_where_it_may_and_keeps_every_note(notes: list[dict[str, Any]], throw: int,
                                                     steps: int) -> None:
    before = clip(*notes, beats="17")
    chosen = list(range(len(notes) // 2))
    after = change_clip(before, [EDIT.validate_python(tool(
        "stir", chosen, share=100, steps=steps, degrees=2, throw=throw))]).clip
    assert len(after.notes) == len(before.notes)
    scale = {(2 + degree) % 12 for degree in (0, 2, 3, 5, 7, 9, 10)}
    untouched = Counter(map(repr, before.notes))
    moved = [each for each in after.notes if repr(each) not in untouched]
    if moved:
        end = max(before.notes[i].end for i in chosen)
        assert before.notes[0].start - 1e-6 <= min(each.start for each in moved)
        assert max(each.start for each in moved) < end
    drums = Counter(each.pitch for each in before.notes if each.lane == "pump")
    assert Counter(each.pitch for each in after.notes if each.lane == "pump") == drums
    in_key = all(each.pitch % 12 in scale for each in before.notes if each.lane == "bells")
    assert not in_key or all(each.pitch % 12 in scale for each in after.notes
                             if each.lane == "bells")


def test_what_hangs_over_the_end_stays_within_the_clip() -> None:
    over = clip(note(1), note(2), note(3.75, length=0.5))
    for by in range(-13, 14):
        turned = done(over, tool("rotate", [0, 1, 2][::2], by=by))
        assert len(turned.notes) == 3 and max(starts(turned)) < 4 and 2 in starts(turned)
    for throw in range(40):
        for places in (None, [2], [0, 2]):
            stirred = done(over, tool("stir", places, share=100, steps=4, step="1/16",
                                      throw=throw))
            assert len(set(starts(stirred))) == 3 and max(starts(stirred)) < 4


def test_another_throw_is_another_and_the_one_before_is_the_same() -> None:
    busy = clip(*(note(i / 2) for i in range(8)))
    for name, fields in (("stir", {}), ("loosen", {}), ("thin", {}), ("fill", {"rounds": 1})):
        throws = [starts(done(busy, tool(name, throw=n, **fields))) for n in (-1, 0, 1, 0, -1)]
        assert throws == throws[::-1], name
        assert len({tuple(each) for each in throws}) == 3, name
    for a, b in itertools.pairwise(sorted(starts(done(busy, tool("loosen", time=50))))):
        assert a <= b
    older = to_json(busy) | {"lanes": [{"id": lane["id"], "name": lane["name"]} for lane in LANES]}
    assert [lane.kind for lane in Clip.model_validate(older).lanes] == [
        "drum", "control", "control"]
