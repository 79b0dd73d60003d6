"""Drums that are tuned: what is heard, and how it leaves by files and ports."""

from fractions import Fraction
from io import BytesIO
from typing import Any

import mido
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.clip.taken import Segment, take_clip
from lattice.edits.words import SetSlot
from lattice.midi.export import Export, Leaving, written
from lattice.midi.write import to_midi
from lattice.play import Performance, play
from lattice.recipe import Recipe, read
from lattice.results.why import why
from lattice.sentence import lane_summary

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, hand, recipe

HALVES = {"step": 4, "strokes": 3, "pitch": [0, -5]}


def hat(tuned: str = "bend", *others: dict[str, Any], **lane: Any) -> Recipe:
    return recipe({"id": "hat", "name": "Hat", "note": 42, "steps": 8, "rule": hand(0, 4),
                   "channel": 5, "tuned": tuned, "rolls": [HALVES]} | lane, *others)


def bends(found: Recipe, end: float = 4) -> list[tuple[float, int | str, int]]:
    return [(change.time, change.number, change.value)
            for change in Performance(found).changes(0, end) if change.tuning]


def in_file(data: bytes) -> list[tuple[int, str, int]]:
    """What a reader that is not ours finds: ticks and bends, controllers, notes."""
    found, at = list[tuple[int, str, int]](), 0
    for message in mido.MidiFile(file=BytesIO(data)).tracks[1]:
        at += message.time
        if message.type == "pitchwheel":
            found.append((at, "bend", message.pitch))
        elif message.type == "control_change":
            found.append((at, str(message.control), message.value))
        elif message.type == "note_on" and message.velocity:
            found.append((at, "note", message.note))
    return found


def clip(found: Recipe, beats: int = 4) -> Any:
    return take_clip("Bud", [Segment(found, 0.0, 0.0, float(beats))], 0.0, Fraction(beats))


def test_the_pitch_of_a_roll_tunes_a_drum_and_chooses_none() -> None:
    for tuned in ("unsent", "bend"):
        assert [(n.pitch, n.tune) for n in play(hat(tuned), 0, 2)] == [
            (42, 0), (42, 0), (42, -2.5), (42, -5)]
    assert [(n.pitch, n.tune) for n in play(hat("notes"), 0, 2)] == [
        (42, 0), (42, 0), (40, 0), (37, 0)]
    raised = hat(strands={"octave": {"values": [1], "by": "step"}})
    assert [n.pitch for n in play(raised, 0, 2)] == [54] * 4, "there the note is meant"
    walking = hat(arpeggio={"pool": [50, 60], "order": "up"})
    assert [(n.pitch, n.tune) for n in play(walking, 0, 2)] == [
        (50, 0), (60, 0), (58, 0), (55, 0)] and bends(walking) == []


def test_pitch_bend_reaches_as_far_as_it_has_to_and_goes_back() -> None:
    third, end = 1 + 1 / 6 / 2, 1 + 1 / 6
    assert bends(hat(), 3) == [(0, 101, 0), (0, 100, 0), (0, 6, 12), (0, "bend", 0),
                               (pytest.approx(third), "bend", -1707),
                               (pytest.approx(end), "bend", -3413), (2, "bend", 0)]
    for pitch, reach, lowest in ((-2, 2, -8192), (-2.5, 12, -1707), (-24, 24, -8192)):
        told = bends(hat(rolls=[HALVES | {"pitch": [0, pitch]}]))
        assert told[2] == (0, 6, reach) and min(
            value for _, number, value in told if number == "bend") == lowest
    assert bends(hat("unsent")) == bends(hat("notes")) == bends(hat(rolls=[])) == []
    high = bends(hat(rolls=[HALVES | {"pitch": [0, 12]}]))
    assert max(value for _, _, value in high) == 8191, "a bend upward ends one before its middle"


def test_only_a_lane_with_a_channel_to_itself_is_bent_and_why_says_so() -> None:
    pump = {"id": "pump", "name": "Pump", "channel": 5, "rule": euclid(4)}
    glow = {"id": "glow", "name": "Glow", "channel": 5, "kind": "control",
            "control": {"number": "bend"}}
    for found, reason in (
            (hat("bend", pump), "Pump has channel 5 too"), (hat("bend", glow), "Glow has channel"),
            (hat(controls={"bend": {"values": [5], "by": "hit"}}), "bends its hits itself"),
            (hat(rolls=[HALVES | {"pitch": [0, 30]}]), "further than 24 semitones")):
        assert bends(found) == [] and reason in why(found, "hat", 1)
    assert "tuned +0 to -5 by pitch bend" in why(hat(), "hat", 1)
    assert why(hat("unsent"), "hat", 1).endswith("tuned +0 to -5.")
    for free in (pump | {"mute": True}, pump | {"channel": 6},
                 glow | {"control": {"number": 74}}):
        assert bends(hat("bend", free)) == bends(hat())


def test_it_is_a_word_and_a_clip_takes_it_along() -> None:
    turned = SetSlot(do="set", lane="hat", slot="tuned", value="unsent").apply(hat())
    assert turned == hat("unsent") and lane_summary(turned.lane("hat"), turned, 2)
    bent = to_midi(clip(hat()))
    assert in_file(bent)[:8] == [
        (0, "101", 0), (0, "100", 0), (0, "6", 12), (0, "bend", 0), (0, "note", 42),
        (960, "note", 42), (1040, "bend", -1707), (1040, "note", 42)]
    assert {kind for _, kind, _ in in_file(to_midi(clip(hat("unsent"))))} == {"note"}
    both = clip(hat("bend", {"id": "pump", "name": "Pump", "channel": 5, "rule": hand(1)}))
    assert {kind for _, kind, _ in in_file(to_midi(both))} == {"note"}
    alone = dict(written(Leaving(both), Export(tracks="files")))
    assert "bend" in {kind for _, kind, _ in in_file(alone["Bud Hat"])}, "there it has its own"


@settings(max_examples=60, deadline=None)
@given(melodic(documents()), st.integers(1, 15))
def test_what_leaves_tells_the_tuning_of_every_stroke_from_anywhere_on(
        document: dict[str, Any], cut: int) -> None:
    for channel, lane in enumerate(document["lanes"]):
        lane |= {"tuned": "bend", "channel": channel + 1}
    found = read(document)
    playing = Performance(found)
    assert playing.changes(0, cut) + playing.changes(cut, 16) == playing.changes(0, 16)
    for lane in found.lanes:
        reach = playing.tuning_reach(lane.id)
        standing = {change.number: change.value for change in playing.in_force(cut)
                    if change.lane == lane.id}
        changes = [each for each in playing.changes(cut, 16) if each.lane == lane.id]
        for note in playing.notes(cut, 16) if reach else []:
            if note.lane == lane.id:
                for change in changes:
                    if change.time <= note.start + 1e-9:
                        standing[change.number] = change.value
                assert standing[6] == reach
                assert abs(standing["bend"] / 8192 * reach - note.tune) < reach / 8000
