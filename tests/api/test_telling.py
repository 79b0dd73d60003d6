"""MIDI files that come in, clips as lanes, shorter sentences; and the Shelf."""

from io import BytesIO
from pathlib import Path
from typing import Any
from uuid import uuid4
from zipfile import ZipFile

import pytest
from lattice import Recipe, read_midi
from lattice.play import play
from studio.models import Pattern
from studio.worked_out.recipes import recipe_of

from tests.api.conftest import Musician

FILES = Path(__file__).parents[1] / "core" / "files"
DRIP = {"rule.kind": "euclid", "steps": 12, "rule.pulses": 7, "velocity": 90}


def sent(fern: Musician, path: str, data: bytes) -> tuple[int, Any]:
    answer = fern.client.post(f"/api/{path}", data=data, content_type="audio/midi")
    return answer.status_code, answer.json()


def recipe(pattern: int) -> Recipe:
    return recipe_of(Pattern.objects.get(pk=pattern).head_id)


def notes(found: Recipe, beats: float) -> list[tuple[float, int, int]]:
    return [(round(each.start, 6), each.pitch, each.velocity) for each in play(found, 0, beats)]


@pytest.fixture
def kept(fern: Musician) -> dict[str, Any]:
    """A clip of three bars of seven hits over twelve steps, and its piece and pattern."""
    pattern = fern.drums(DRIP)
    clip = fern.good("post", f"patterns/{pattern}/keep", {"bars": 3})
    return {"clip": clip["id"], "pattern": pattern, "piece": Pattern.objects.get(
        pk=pattern).piece_id}


def test_a_file_is_looked_at_and_taken_as_clip_or_lanes(fern: Musician, mist: Musician) -> None:
    piece = fern.piece()["id"]
    data = (FILES / "pretty-midi.mid").read_bytes()
    status, song = sent(fern, "midi/look", data)
    assert status == 200 and (song["bars"], song["tempo"], song["carries"]) == (2, 124, False)
    assert [(part["name"], part["kind"], part["notes"]) for part in song["parts"]] == [
        ("Pump", "drum", 8), ("Bells", "pitched", 4)]
    key = uuid4()
    for _ in range(2):  # asked twice, since the first answer was lost
        status, told = sent(fern, f"pieces/{piece}/midi?name=Lid&become=clip&key={key}", data)
        assert status == 200 and told["clip"]["thumb"]["notes"] == 12
        assert told["clip"]["recipe"] is False
    assert len(fern.good("get", f"pieces/{piece}")["shelf"]) == 1
    status, told = sent(fern, f"pieces/{piece}/midi?name=Lid&become=lanes&parts=0", data)
    made = recipe(told["pattern"]["id"])
    assert [lane.name for lane in made.lanes] == ["Bass drum 1", "Acoustic snare"]
    assert notes(made, 7) == [(i / 2, (36, 38)[i % 2], 100) for i in range(8)]
    assert (made.tempo, made.meter) == (124, (7, 8)) and "steps of 1/8" in told["remarks"][0]
    status, told = sent(fern, f"pieces/{piece}/midi?name=Lid&become=clip&first=1&last=2", data)
    assert told["clip"]["thumb"]["bars"] == 1
    assert sent(mist, f"pieces/{piece}/midi?name=Lid&become=clip", data)[0] == 404
    for query, status in (("name=&become=clip", 422), ("name=a&become=soup", 422),
                          ("name=a&become=recipe", 422), ("name=a&become=clip&parts=7", 422),
                          ("name=a&become=clip&first=4&last=9", 422)):
        assert sent(fern, f"pieces/{piece}/midi?{query}", data)[0] == status
    for damaged in (b"", data[:40], b"RIFF" + data, data[:60] + b"\xff" * 9, b"\0" * 9_000_000):
        status, answer = sent(fern, "midi/look", damaged)
        assert status == 422 and answer["detail"].startswith(("This MIDI", "A MIDI"))


def test_a_clip_becomes_lanes_and_its_recipe_comes_back(fern: Musician,
                                                        kept: dict[str, Any]) -> None:
    before = recipe(kept["pattern"])
    fern.edit(kept["pattern"], {"do": "set", "lane": "pump", "slot": "rule.pulses", "value": 3})
    back = fern.good("post", f"clips/{kept['clip']}/recipe", {"key": str(uuid4())})
    assert recipe(back["id"]) == before != recipe(kept["pattern"])
    told = fern.good("post", f"clips/{kept['clip']}/lanes", {"key": str(uuid4())})
    assert notes(recipe(told["pattern"]["id"]), 12) == notes(before, 12)
    data = (FILES / "pretty-midi.mid").read_bytes()
    clip = sent(fern, f"pieces/{kept['piece']}/midi?name=Lid&become=clip", data)[1]["clip"]["id"]
    status, answer = fern.call("post", f"clips/{clip}/recipe", {})
    assert (status, answer["detail"]) == (422, "This clip came in as notes; make lanes of it "
                                          "instead.")


def test_a_file_that_carries_its_recipe_comes_back_as_that(fern: Musician,
                                                           kept: dict[str, Any]) -> None:
    before = recipe(kept["pattern"])
    data = fern.good("get", f"clips/{kept['clip']}/midi?recipe=true")
    assert sent(fern, "midi/look", data)[1]["carries"] is True
    told = sent(fern, f"pieces/{kept['piece']}/midi?name=Back&become=recipe", data)[1]
    assert recipe(told["pattern"]["id"]) == before
    plain = fern.good("get", f"clips/{kept['clip']}/midi")
    assert read_midi(plain).recipe is None


def test_a_lane_is_said_shorter_and_stays_what_it_plays(fern: Musician) -> None:
    pattern = fern.drums({"rule.kind": "hand", "steps": 16, "rule.hits": [1, 5, 9, 13]})
    state = fern.state(pattern)
    ways = fern.good("post", f"patterns/{pattern}/say", {
        "revision": state["revision"], "lane": "pump"})
    assert [way["words"] for way in ways] == sorted(way["words"] for way in ways)
    assert ways[0]["lane"]["rule"]["kind"] == "euclid" and [way["plain"] for way in ways].count(
        True) == 1
    before = notes(recipe(pattern), 8)
    after = fern.edit(pattern, {"do": "say", "said": ways[0]["lane"]})
    assert after["history"]["undo"] == "Pump: said otherwise"
    assert notes(recipe(pattern), 8) == before
    status, answer = fern.call("post", f"patterns/{pattern}/edits", {
        "revision": after["revision"], "end": 4, "edits": [
            {"do": "say", "said": ways[0]["lane"] | {"id": "nobody"}}]})
    assert status == 422 and "nobody" in answer["detail"]


def test_the_shelf_has_stars_tags_and_an_order_of_one_s_own(fern: Musician,
                                                            kept: dict[str, Any]) -> None:
    clips = [kept["clip"], *(fern.good("post", f"patterns/{kept['pattern']}/keep", {"bars": 1})[
        "id"] for _ in range(2))]

    def shelf() -> list[int]:
        return [each["id"] for each in fern.good("get", f"pieces/{kept['piece']}")["shelf"]]
    assert shelf() == clips[::-1], "the newest lies on top"
    fern.good("put", f"pieces/{kept['piece']}/shelf", {"clips": [clips[1], clips[2], clips[0]]})
    assert shelf() == [clips[1], clips[2], clips[0]]
    new = fern.good("post", f"patterns/{kept['pattern']}/keep", {"bars": 1})
    assert shelf()[0] == new["id"] and new["of"].startswith("from Pattern 1, ")
    said = fern.good("patch", f"clips/{clips[0]}", {"starred": True, "tags": ["hats", "hats"]})
    assert (said["starred"], said["tags"], said["name"]) == (True, ["hats"], "Pattern 1, bars 1–3")
    for wrong in ({"tags": ["x" * 25]}, {"tags": ["a"] * 13}, {"starred": "maybe"}, {"tags": [""]}):
        assert fern.call("patch", f"clips/{clips[0]}", wrong)[0] == 422


def test_clips_leave_in_every_way_that_is_chosen(fern: Musician, kept: dict[str, Any]) -> None:
    pattern = kept["pattern"]
    fern.edit(pattern, {"do": "add_lane", "note": 38, "name": "CON"})
    fern.good("post", f"patterns/{pattern}/keep", {"bars": 1})
    both = fern.good("post", f"patterns/{pattern}/keep", {"bars": 1})["id"]
    whole = read_midi(fern.good("get", f"clips/{both}/midi?format=0&ticks=exact&rounds=3"))
    assert (whole.tick, whole.beats, len(whole.parts)) == (0.25, 12, 1)
    assert len(whole.parts[0].notes) == 3 * len(notes(recipe(pattern), 4))
    merged = read_midi(fern.good("get", f"clips/{both}/midi?tracks=merged"))
    assert [part.track for part in merged.parts] == [1]
    lanes = ZipFile(BytesIO(fern.good("get", f"clips/{both}/midi?tracks=files")))
    assert lanes.namelist() == ["Pattern 1, bar 1 (2) Pump.mid",
                                "Pattern 1, bar 1 (2) CON.mid"]
    piece = kept["piece"]
    archive = ZipFile(BytesIO(fern.good("get", f"pieces/{piece}/clips.zip")))
    assert archive.namelist() == ["Pattern 1, bar 1 (2).mid", "Pattern 1, bar 1.mid",
                                  "Pattern 1, bars 1-3.mid"]
    chosen = ZipFile(BytesIO(fern.good("get", f"pieces/{piece}/clips.zip?clips={kept['clip']}")))
    assert chosen.namelist() == ["Pattern 1, bars 1-3.mid"]
    for wrong in ("format=2", "ticks=7", "ticks=never", "rounds=0", "rounds=65", "tracks=some"):
        status, answer = fern.call("get", f"clips/{both}/midi?{wrong}")
        assert status == 422 and answer["detail"].endswith("."), wrong


def test_patterns_that_came_with_their_own_metre_keep_it(fern: Musician) -> None:
    made = fern.piece()
    data = (FILES / "pretty-midi.mid").read_bytes()
    told = sent(fern, f"pieces/{made['id']}/midi?name=Lid&become=lanes", data)[1]
    other = fern.good("post", f"pieces/{made['id']}/patterns", {"name": "Second"})["id"]
    fern.edit(made["pattern"], {"do": "pattern", "field": "meter", "value": [3, 4]})
    assert recipe(told["pattern"]["id"]).meter == (7, 8) and recipe(other).meter == (3, 4)


def test_a_piece_has_up_to_64_patterns(fern: Musician) -> None:
    made = fern.piece()
    for number in range(63):
        fern.good("post", f"pieces/{made['id']}/patterns", {"name": str(number)})
    status, answer = fern.call("post", f"pieces/{made['id']}/patterns", {"name": "one more"})
    assert (status, answer["detail"]) == (422, "A piece has up to 64 patterns; delete one first.")


def test_chosen_clips_are_joined_end_to_end(fern: Musician, kept: dict[str, Any]) -> None:
    other = fern.good("post", f"patterns/{kept['pattern']}/keep", {"bars": 1})
    join = f"pieces/{kept['piece']}/shelf/join"
    made = fern.good("post", join, {"clips": [other["id"], kept["clip"], other["id"]]})
    lengths = [clip["thumb"]["notes"] for clip in fern.good("get", f"pieces/{kept['piece']}")[
        "shelf"]]
    assert made["name"].startswith(other["name"]) and made["name"].endswith(" and 2 more")
    assert lengths[0] == lengths[1] * 2 + lengths[2] > lengths[1] > 0
    for clips, says in (([other["id"]], "two clips or more"), ([other["id"], 0], "any more")):
        status, answer = fern.call("post", join, {"clips": clips})
        assert status == 422 and says in answer["detail"]
    assert Musician("drip").call("post", join, {"clips": [kept["clip"]] * 2})[0] == 404
