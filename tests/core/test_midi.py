"""Files: read back with mido, midicsv and pretty_midi, which we did not write; command line."""

import json
import subprocess
import sys
from collections.abc import Sequence
from fractions import Fraction
from io import BytesIO
from itertools import permutations
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from lattice.clip.document import Clip
from lattice.clip.taken import Segment, take_clip
from lattice.edits.words import SetSlot
from lattice.midi.write import to_midi
from lattice.pitch.key import Key
from lattice.play import play
from lattice.recipe import Recipe, read
from mido import MidiFile

from tests.core.melodies import melodic
from tests.core.readers import by_midicsv, by_mido, by_pretty_midi
from tests.core.recipes import documents, euclid, recipe

DRIP: dict[str, Any] = {
    "id": "drip", "name": "Drip", "note": 42, "steps": 12, "rule": euclid(7), "gate": 100,
    "vary": {"velocity": [-9, 9]}, "strands": {"nudge": {"values": [0, 30, -20]}},
}
PUMP: dict[str, Any] = {"id": "pump", "name": "Pump – Bässe", "rule": euclid(5), "gate": 300}


def kept(found: Recipe, bars: int = 3) -> Clip:
    beats = bars * found.bar_beats
    return take_clip("Night Bloom", [Segment(found, 0, 0, float(beats))], 0, beats)


def csv_of(data: bytes, folder: Path) -> list[list[str]]:
    path = folder / "clip.mid"
    path.write_bytes(data)
    text = subprocess.run(["midicsv", str(path)], check=True, capture_output=True,
                          text=True, encoding="latin-1").stdout
    return [[field.strip() for field in line.split(",")] for line in text.splitlines()]


def test_an_independent_reader_finds_the_same(tmp_path: Path) -> None:
    found = recipe(PUMP, DRIP, tempo=98.5, meter=[7, 8], key={"root": 2, "scale": "dorian"},
                   swing={"grid": "1/16", "percent": 58})
    taken = kept(found)
    rows = csv_of(to_midi(taken), tmp_path)
    assert rows[0][2:] == ["Header", "1", "3", "960"]
    first = {row[2]: row[3:] for row in rows if row[0] == "1"}
    assert first["Title_t"] == ['"Night Bloom"'] and first["Time_signature"][:2] == ["7", "3"]
    assert first["Tempo"] == [str(round(60e6 / 98.5))] and first["Key_signature"] == [
        "0", '"major"']
    ends = [int(row[1]) for row in rows if row[2] == "End_track"]
    assert ends == [round(taken.beats * 960)] * 3
    ons = sorted((int(row[1]), int(row[4]), int(row[5]), int(row[3])) for row in rows
                 if row[2] == "Note_on_c")
    assert ons == sorted((round(note.start * 960), note.pitch, note.velocity, note.channel - 1)
                         for note in taken.notes)
    assert len([row for row in rows if row[2] == "Note_off_c"]) == len(ons)


def test_a_file_loops_and_never_overlaps() -> None:
    taken = kept(recipe(PUMP, DRIP | {"note": 36}, DRIP | {"id": "fan", "note": 36}))
    file = MidiFile(file=BytesIO(to_midi(taken)), charset="utf-8")
    assert file.type == 1 and file.tracks[1].name == PUMP["name"]
    for track in file.tracks[1:]:
        at, sounding = 0, set()
        for message in track:
            at += message.time
            if message.type == "note_on":
                assert message.note not in sounding and message.velocity > 0
                sounding.add(message.note)
            elif message.type == "note_off":
                sounding.remove(message.note)
        assert not sounding and at == taken.beats * 960


def test_notes_apart_by_less_than_a_tick_are_one() -> None:
    note = {"length": 0.5, "pitch": 36, "channel": 10, "lane": "pump"}
    taken = Clip.model_validate({
        "name": "x", "tempo": 120, "meter": (4, 4), "key": Key(), "beats": Fraction(1),
        "lanes": [{"id": "pump", "name": "Pump"}],
        "notes": [note | {"start": 0.25, "velocity": 60}, note | {"start": 0.2502, "velocity": 90},
                  note | {"start": 0.99999, "velocity": 50}]})
    track = MidiFile(file=BytesIO(to_midi(taken))).tracks[1]
    assert [(m.type, m.velocity, m.time) for m in track if "note" in m.type and "on" in m.type] == [
        ("note_on", 90, 240), ("note_on", 50, 239)]
    assert sum(message.time for message in track) == 960


def heard_in(file: MidiFile, order: Sequence[int]) -> list[tuple[int, int, int, int]]:
    """(on, off, pitch, velocity) as a player hears them that merges the tracks in this order: a
    note-on begins anew what sounds, a note-off silences it."""
    events = []
    for place, number in enumerate(order):
        at = 0
        for index, message in enumerate(file.tracks[number]):
            at += message.time
            if message.type in ("note_on", "note_off"):
                events.append((at, place, index, message))
    sounding: dict[tuple[int, int], tuple[int, int]] = {}
    found = []
    for at, _, _, message in sorted(events, key=lambda event: event[:3]):
        key = (message.channel, message.note)
        if key in sounding:
            on, velocity = sounding.pop(key)
            found.append((on, at, message.note, velocity))
        if message.type == "note_on":
            sounding[key] = (at, message.velocity)
    assert not sounding
    return sorted(found)


@settings(max_examples=80, suppress_health_check=list(HealthCheck))
@given(documents() | melodic(documents()), st.sampled_from([96, 480, 960]))
def test_three_readers_find_the_same_notes(
        tmp_path: Path, document: dict[str, Any], ticks: int) -> None:
    """`./jolly bench clips` does so for a thousand recipes."""
    taken = kept(read(document))
    path = tmp_path / "clip.mid"
    path.write_bytes(to_midi(taken, ticks))
    notes = by_mido(path)
    assert by_midicsv(path) == notes
    assert by_pretty_midi(path, taken.tempo) == sorted(note[1:] for note in notes)
    assert len(notes) <= len(taken.notes) and bool(notes) == bool(taken.notes)


@settings(max_examples=60, suppress_health_check=list(HealthCheck))
@given(st.lists(st.tuples(st.integers(0, 40), st.integers(1, 30), st.integers(1, 127),
                          st.sampled_from("abc")), min_size=1,
                max_size=24))
def test_tracks_merged_in_any_order_give_the_same_notes(
        notes: list[tuple[int, int, int, str]]) -> None:
    """Of three lanes on one channel and pitch, each note cut by the next, in ticks of 1/24."""
    ordered: dict[int, tuple[int, int, str]] = {}
    for start, length, velocity, lane in notes:
        ordered[start] = (length, velocity, lane)
    starts = sorted(ordered)
    taken = Clip.model_validate({
        "name": "x", "tempo": 120, "meter": (4, 4), "beats": Fraction(3),
        "lanes": [{"id": lane, "name": lane} for lane in "abc"],
        "notes": [{"start": start / 24, "velocity": ordered[start][1], "channel": 10, "pitch": 36,
                   "lane": ordered[start][2], "length": min(ordered[start][0], following - start)
                   / 24} for start, following in zip(starts, [*starts[1:], 72], strict=True)]})
    file = MidiFile(file=BytesIO(to_midi(taken, 24)))
    once = heard_in(file, (1, 2, 3))
    assert all(heard_in(file, order) == once for order in permutations((1, 2, 3)))
    assert [(on, velocity) for on, _, _, velocity in once] == [
        (start, ordered[start][1]) for start in starts], "no note is lost"
    for (on, off, *_), following in zip(once, [*starts[1:], 72], strict=True):
        ends = min(on + ordered[on][0], following)
        assert off in (ends, ends - 1) and off > on, "a tick earlier at the most"


def test_what_was_heard_across_an_edit_is_kept() -> None:
    """The first bar up to beat 1.3 by one recipe, then by another, then the first bar again."""
    before = recipe(PUMP, DRIP)
    after = SetSlot(do="set", lane="drip", slot="rule.pulses", value=3).apply(before)
    segments = [Segment(before, 0, 0, 1.3), Segment(after, 1.3, 1.3, 4), Segment(after, 4, 0, 4)]
    taken = take_clip("x", segments, 0, Fraction(8))
    heard = [(n.start, n.pitch, n.velocity) for n in play(before, 0, 1.3)]
    heard += [(n.start, n.pitch, n.velocity) for n in play(after, 1.3, 4)]
    heard += [(n.start + 4, n.pitch, n.velocity) for n in play(after, 0, 4)]
    assert [(n.start, n.pitch, n.velocity) for n in taken.notes] == heard


DOCUMENT = json.loads((Path(__file__).parent / "document.json").read_text())


def lattice(*arguments: str, text: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "lattice", *arguments], input=text,
                          capture_output=True, text=True, check=False)


def test_command_line_plays_the_documented_recipe(tmp_path: Path) -> None:
    path = tmp_path / "recipe.json"
    path.write_text(json.dumps(DOCUMENT))
    lines = [json.loads(line) for line in
             lattice("play", str(path), "--bars", "0:4").stdout.splitlines()]
    assert lines and all(line["type"] == "note" and line["lane"] == "drip" for line in lines)
    assert [line["start"] for line in lines] == sorted(line["start"] for line in lines)
    first = lines[0]
    assert first["grid"] == "0" and first["why"]["rule"]["kind"] == "euclid"
    out = tmp_path / "out.mid"
    assert lattice("midi", str(path), "--bars", "0:4", "-o", str(out)).returncode == 0
    ons = [message for message in MidiFile(out).tracks[1] if message.type == "note_on"]
    assert [message.velocity for message in ons] == [line["velocity"] for line in lines]
    schema = json.loads(lattice("schema").stdout)
    assert "lanes" in schema["properties"] and "Lane" in schema["$defs"]


@pytest.mark.parametrize(("change", "sentence"), [
    ({"bars": 17}, "bars: Input should be less than or equal to 16"),
    ({"lanes": [DOCUMENT["lanes"][0] | {"step": "1/0"}]}, "divided by zero"),
    ({"lanes": [DOCUMENT["lanes"][0] | {"steps": 5}]}, "window"),
    ({"lanes": [DOCUMENT["lanes"][0] | {"rule": {"kind": "gaps", "of": "drip"}}]}, "circle"),
    ({"lanes": [DOCUMENT["lanes"][0] | {"colour": "red"}]}, "Extra inputs"),
    ({"lanes": "many"}, "lanes"),
])
def test_command_line_refuses_in_one_sentence(change: dict[str, Any], sentence: str) -> None:
    done = lattice("play", "-", text=json.dumps(DOCUMENT | change))
    assert done.returncode == 2 and sentence in done.stderr and not done.stdout
    assert done.stderr.count("\n") == 1


def test_a_file_that_cannot_be_written_is_refused_in_one_sentence(tmp_path: Path) -> None:
    text = json.dumps(DOCUMENT)
    for output in (str(tmp_path), str(tmp_path / "no" / "out.mid"), str(tmp_path / ("x" * 300))):
        done = lattice("midi", "-", "-o", output, text=text)
        assert done.returncode == 2 and "cannot be written" in done.stderr
        assert done.stderr.count("\n") == 1
    half = tmp_path / "half\udcff.mid"  # a name in no encoding that we know
    done = lattice("midi", "-", "-o", str(half), text=text)
    assert done.returncode == 0 and MidiFile(half).tracks[0].name == "half?"
    done = lattice("midi", "-", "-o", str(tmp_path / "x"), "--ticks", "32767", "--bars", "1:4097",
                   text=json.dumps({"meter": [32, 1], "bars": 16}))
    assert done.returncode == 2 and "silence" in done.stderr and done.stderr.count("\n") == 1
