"""The Trail and the Shelf: what was heard is kept note for note."""

import re
from io import BytesIO
from typing import Any
from uuid import uuid4
from zipfile import ZipFile

import mido
import pytest
from lattice.play import play
from lattice.results.strange import strangeness
from studio.worked_out.recipes import recipe_of

from tests.api.conftest import Musician

DRIP = {"rule.kind": "euclid", "steps": 12, "rule.pulses": 7, "velocity": 90}


def heard(number: int, *segments: dict[str, Any], beats: float = 4) -> dict[str, Any]:
    return {"key": str(uuid4()), "number": number, "start": number * 4, "beats": beats,
            "segments": list(segments)}


def segment(revision: int, at: float, end: float, **more: Any) -> dict[str, Any]:
    return {"revision": revision, "at": at, "start": at, "end": end} | more


def notes_in(data: bytes) -> list[tuple[float, int, int]]:
    """(beat, pitch, velocity) of the notes in a MIDI file, as mido reads it."""
    file = mido.MidiFile(file=BytesIO(data))
    found = []
    for track in file.tracks:
        at = 0
        for message in track:
            at += message.time
            if message.type == "note_on" and message.velocity:
                found.append((at / file.ticks_per_beat, message.note, message.velocity))
    return sorted(found)


def test_a_kept_pass_is_what_was_heard_also_where_the_recipe_changed_on_the_way(
        fern: Musician) -> None:
    pattern = fern.drums(DRIP)
    first = fern.edit(pattern, {"do": "add", "lane": "pump", "clause": "probability"})["revision"]
    louder = {"do": "set", "lane": "pump", "slot": "velocity", "value": 120}
    second = fern.edit(pattern, {"do": "reroll"})["revision"]
    played = heard(3, segment(first, 12, 13.5), segment(first, 13.5, 14.25, edits=[louder]),
                   segment(second, 14.25, 16))
    entry = fern.good("post", f"patterns/{pattern}/trail", played)
    again = fern.good("post", f"patterns/{pattern}/trail", played)
    assert again == entry, "sending a pass twice lays it down once"
    clip = fern.good("post", f"patterns/{pattern}/keep", {"passes": [entry["id"]]})
    expected = [(n.start - 12, n.pitch, 120 if 13.5 <= n.start < 14.25 else n.velocity)
                for revision, a, b in ((first, 12, 14.25), (second, 14.25, 16))
                for n in play(recipe_of(revision), a, b)]
    assert notes_in(fern.good("get", f"clips/{clip['id']}/midi")) == sorted(expected)
    trail = fern.good("get", f"patterns/{pattern}/trail")
    assert [(each["number"], each["passing"], each["kept"]) for each in trail] == [(1, 4, True)]
    assert trail[0]["thumb"]["notes"] == len(expected) > 0


def test_several_passes_in_a_row_and_bars_to_come(fern: Musician) -> None:
    pattern = fern.drums(DRIP)
    revision = fern.state(pattern)["revision"]
    ids = [fern.good("post", f"patterns/{pattern}/trail", heard(
        n, segment(revision, 4 * n, 4 * n + 4)))["id"] for n in (5, 6)]
    both = fern.good("post", f"patterns/{pattern}/keep", {"passes": ids})
    assert (both["name"], both["thumb"]["bars"]) == ("Pattern 1, passes 1–2", 2)
    bars = fern.good("post", f"patterns/{pattern}/keep", {"bars": 2, "start": 20})
    assert bars["thumb"] == both["thumb"] | {"lanes": bars["thumb"]["lanes"]}
    assert notes_in(fern.good("get", f"clips/{bars['id']}/midi")) == \
        notes_in(fern.good("get", f"clips/{both['id']}/midi"))


def test_a_pass_is_heard_again_and_a_stretch_of_bars_is_kept(fern: Musician) -> None:
    pattern = fern.drums(DRIP)
    fern.edit(pattern, {"do": "pattern", "field": "bars", "value": 2})
    revision = fern.state(pattern)["revision"]
    ids = [fern.good("post", f"patterns/{pattern}/trail", heard(
        n, segment(revision, 8 * n, 8 * n + 8), beats=8) | {"start": 8 * n})["id"] for n in (1, 2)]
    again = fern.good("get", f"patterns/{pattern}/trail/{ids[1]}")
    expected = play(recipe_of(revision), 16, 24)
    assert [(start, velocity) for start, _, _, velocity, *_ in again["notes"]] == [
        (n.start - 16, n.velocity) for n in expected]
    assert (again["beats"], again["tempo"]) == (8, 120)
    # Bars 2 and 3 of the two passes are beats 12 to 20 of the pattern.
    clip = fern.good("post", f"patterns/{pattern}/keep", {"passes": ids, "first_bar": 2, "bars": 2})
    assert clip["name"] == "Pattern 1, passes 1–2, bars 2–3"
    assert notes_in(fern.good("get", f"clips/{clip['id']}/midi")) == [
        (n.start - 12, n.pitch, n.velocity) for n in play(recipe_of(revision), 12, 20)]
    assert fern.call("post", f"patterns/{pattern}/keep", {
        "passes": ids, "first_bar": 4, "bars": 2}) == (
        422, {"detail": "These passes have 4 bars."})
    assert fern.call("get", f"patterns/{pattern}/trail/999999")[0] == 404
    # The pass after them is still running: its first bar counts, and it is not on the Trail.
    running = heard(3, segment(revision, 24, 28)) | {"start": 24}
    clip = fern.good("post", f"patterns/{pattern}/keep", {
        "passes": ids[1:], "running": running, "first_bar": 2, "bars": 2})
    assert clip["name"] == "Pattern 1, passes 2–3, bars 2–3"
    assert notes_in(fern.good("get", f"clips/{clip['id']}/midi")) == [
        (n.start - 20, n.pitch, n.velocity) for n in play(recipe_of(revision), 20, 28)]
    assert len(fern.good("get", f"patterns/{pattern}/trail")) == 2
    other = fern.drums(DRIP)
    foreign = heard(3, segment(fern.state(other)["revision"], 24, 28)) | {"start": 24}
    assert fern.call("post", f"patterns/{pattern}/keep", {"running": foreign})[0] == 422


def test_the_trail_holds_two_hundred_passes_and_refuses_nonsense(fern: Musician) -> None:
    pattern = fern.drums(DRIP)
    revision = fern.state(pattern)["revision"]
    for n in range(205):
        fern.good("post", f"patterns/{pattern}/trail", heard(
            n, segment(revision, 4 * n, 4 * n + 4)))
    trail = fern.good("get", f"patterns/{pattern}/trail")
    assert [each["number"] for each in trail] == list(range(6, 206))
    for wrong in ({"segments": []}, {"beats": 0}, {"beats": 1e12}, {"key": "x"}, {"number": -1},
                  {"segments": [segment(revision, -1, 3)]},
                  {"segments": [segment(revision, 0, 2**31 - 1)]},
                  {"segments": [segment(revision, 3, 1)]},
                  {"segments": [segment(revision, 0, 4, edits=[{"do": "explode"}])]}):
        status, answer = fern.call("post", f"patterns/{pattern}/trail",
                                   heard(9, segment(revision, 0, 4)) | wrong)
        assert status == 422, (wrong, answer)
    assert fern.call("post", f"patterns/{pattern}/keep", {"passes": [999_999]})[0] == 422
    assert fern.call("post", f"patterns/{pattern}/keep", {"bars": 257})[0] == 422


def test_the_shelf_renames_deletes_brings_back_and_hands_out(fern: Musician) -> None:
    pattern = fern.drums(DRIP)
    piece = fern.good("get", "pieces")[0]["id"]
    clips = [fern.good("post", f"patterns/{pattern}/keep", {"bars": 1})["id"] for _ in range(2)]
    renamed = fern.good("patch", f"clips/{clips[0]}", {"name": "Drip / with: “rolls”"})
    assert renamed["file"] == "Drip - with- 'rolls'.mid"
    archive = ZipFile(BytesIO(fern.good("get", f"pieces/{piece}/clips.zip")))
    assert sorted(archive.namelist()) == ["Drip - with- 'rolls'.mid", "Pattern 1, bar 1 (2).mid"]
    assert all(len(notes_in(archive.read(name))) > 0 for name in archive.namelist())
    fern.good("delete", f"clips/{clips[0]}")
    assert [each["id"] for each in fern.good("get", f"pieces/{piece}")["shelf"]] == [clips[1]]
    fern.good("post", f"clips/{clips[0]}/restore")
    assert len(fern.good("get", f"pieces/{piece}")["shelf"]) == 2


@pytest.mark.parametrize("name", ["../../etc/passwd", "ÄÖÜ", "a\tb"])
def test_file_names_are_safe(fern: Musician, name: str) -> None:
    pattern = fern.drums(DRIP)
    clip = fern.good("post", f"patterns/{pattern}/keep", {"bars": 1})["id"]
    status, _ = fern.call("patch", f"clips/{clip}", {"name": name})
    answer = fern.client.get(f"/api/clips/{clip}/midi")
    plain = answer.headers["Content-Disposition"].split("; ")[1]
    assert status in (200, 422)
    assert re.fullmatch(r'filename="[\w ,.()-]+\.mid"', plain, re.ASCII), plain


def test_no_two_passes_of_a_piece_have_one_number_and_no_two_clips_one_name(fern: Musician) -> None:
    one = fern.drums(DRIP)
    piece = next(each["id"] for each in fern.good("get", "pieces")
                 if one in [pattern["id"] for pattern in each["patterns"]])
    other = fern.good("post", f"pieces/{piece}/patterns", {"name": "Mist", "copy_of": one})["id"]
    numbers = []
    for pattern in (one, other, one):  # the same pass, again and again
        revision = fern.state(pattern)["revision"]
        numbers.append(fern.good("post", f"patterns/{pattern}/trail", heard(
            0, segment(revision, 0, 4)))["number"])
    assert numbers == [1, 2, 3]
    kept = [fern.good("post", f"patterns/{one}/keep", {"bars": 1}) for _ in range(3)]
    assert [clip["name"] for clip in kept] == [
        "Pattern 1, bar 1", "Pattern 1, bar 1 (2)", "Pattern 1, bar 1 (3)"]
    key = str(uuid4())
    twice = [fern.good("post", f"patterns/{one}/keep", {"bars": 2, "key": key}) for _ in range(2)]
    assert twice[0] == twice[1]
    assert twice[0]["name"] == "Pattern 1, bars 1–2"
    assert twice[0]["file"] == "Pattern 1, bars 1-2.mid", "in letters of every keyboard"


def test_the_trail_tells_how_strange_each_pass_is(fern: Musician) -> None:
    pattern = fern.drums(DRIP)
    fern.edit(pattern, {"do": "add", "lane": "pump", "clause": "probability"})
    revision = fern.edit(pattern, {"do": "set", "lane": "pump", "slot": "probability",
                                   "value": 50})["revision"]
    for n in range(6):
        fern.good("post", f"patterns/{pattern}/trail", heard(
            n, segment(revision, 4 * n, 4 * n + 4), beats=4) | {"start": 4 * n})
    trail = fern.good("get", f"patterns/{pattern}/trail")
    played = [{(note.lane, round(note.start * 12) - 48 * n)
               for note in play(recipe_of(revision), 4 * n, 4 * n + 4)} for n in range(6)]
    assert [each["strange"] for each in trail] == pytest.approx(strangeness(played))
    assert len({each["strange"] for each in trail}) > 1
    later = fern.edit(pattern, {"do": "reroll"})["revision"]
    fern.good("post", f"patterns/{pattern}/trail", heard(7, segment(later, 0, 4), beats=4))
    assert fern.good("get", f"patterns/{pattern}/trail")[-1]["strange"] is None, "of another recipe"
