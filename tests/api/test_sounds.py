"""Recordings of the musician's own: kept once, for their owner, and only if they are sound."""

import random
from typing import Any

import pytest
from studio.limits import MOST_SOUND
from studio.models import SoundFile
from studio.stored import sounds

from tests.api.conftest import Musician
from tests.recordings import digest, keep, recording


@pytest.mark.parametrize(("kind", "type_"), [("WAV", "wav"), ("FLAC", "flac"), ("OGG", "ogg"),
                                             ("MP3", "mpeg")])
def test_a_recording_comes_back_byte_for_byte_to_its_owner_alone(
        fern: Musician, mist: Musician, kind: str, type_: str) -> None:
    data = recording(kind)
    for _ in range(2):
        status, answer = keep(fern, data)
        assert status == 200 and answer["file"] == digest(data)
        assert answer["seconds"] == pytest.approx(0.5, abs=0.06)
    assert SoundFile.objects.filter(owner__username="fern").count() == 1, "kept once"
    back = fern.client.get(f"/api/sounds/{digest(data)}")
    assert back.content == data and back["Content-Type"] == f"audio/{type_}"
    assert back["X-Content-Type-Options"] == "nosniff"
    assert back["Content-Disposition"] == "attachment"
    assert mist.call("get", f"sounds/{digest(data)}")[0] == 404


def test_what_is_no_sound_is_refused_in_a_sentence(
        fern: Musician, monkeypatch: pytest.MonkeyPatch) -> None:
    whole = recording("FLAC")
    for data in (b"", b"not a sound at all" * 100, b"RIFF\0\0\0\0WAVE", whole[:20],
                 b"<svg onload=alert(1)>", b"\xff\xfb" * 3000):
        status, answer = keep(fern, data)
        assert (status, answer["detail"]) == (422, sounds.NO_SOUND), data[:20]
    assert "arrived damaged" in keep(fern, whole, digest(b"another"))[1]["detail"]
    assert "5 MB" in keep(fern, whole + bytes(MOST_SOUND))[1]["detail"]
    assert "120 seconds at most, this one 121" in keep(
        fern, recording("FLAC", seconds=121))[1]["detail"]
    assert keep(fern, whole, "0" * 63)[0] == 422
    monkeypatch.setattr(sounds, "MOST_OF_ONE", len(whole))
    assert keep(fern, whole)[0] == 200 and keep(fern, whole)[0] == 200
    assert "as much as fits" in keep(fern, recording("WAV"))[1]["detail"]
    assert SoundFile.objects.filter(owner__username="fern").count() == 1
    assert keep(Musician(None), whole)[0] == 401


@pytest.mark.parametrize("kind", ["WAV", "FLAC", "OGG", "MP3"])
def test_damaged_files_never_break_the_reader(kind: str) -> None:
    whole, chances = recording(kind), random.Random(kind)
    for _ in range(300):
        data = bytearray(whole[:chances.randrange(1, len(whole))])
        for _ in range(chances.randrange(12)):
            data[chances.randrange(min(len(data), 200))] = chances.randrange(256)
        try:
            seconds = sounds.read(bytes(data))[1]
        except sounds.RecipeError:
            continue
        assert 0 < seconds <= sounds.LONGEST_SECONDS


def test_a_lane_says_what_it_is_heard_by_and_what_cuts_it_short(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4}, {"rule.pulses": 3})
    file = digest(recording())
    fern.edit(pattern, {"do": "own_sound", "lane": "pump", "file": file, "name": "Lid.wav"},
              {"do": "add", "lane": "pump", "clause": "choke"},
              {"do": "set", "lane": "pump", "slot": "choke.by", "value": "valve"},
              {"do": "set", "lane": "pump", "slot": "own_sound.tune", "value": -3.5})

    def sound() -> dict[str, Any]:
        lane: dict[str, Any] = fern.state(pattern)["view"]["lanes"][0]["sound"]
        return lane

    assert sound()["own"] == {"file": file, "name": "Lid.wav", "start": 0, "end": 100,
                              "tune": -3.5, "fade_in": 0, "fade_out": 5}
    assert sound()["choked_by"] == "valve"
    refused = [({"do": "set", "lane": "pump", "slot": "own_sound.start", "value": 100},
                "from 0 to 99"),
               ({"do": "set", "lane": "pump", "slot": "own_sound.tune", "value": 25}, "-24 to 24"),
               ({"do": "own_sound", "lane": "pump", "file": "up/../here", "name": "x"}, "")]
    for edit, words in refused:
        status, answer = fern.call("post", f"patterns/{pattern}/edits", {
            "revision": fern.state(pattern)["revision"], "end": 4, "edits": [edit]})
        assert status == 422 and words in answer["detail"], answer
    # As a melody it is heard by a voice; as a drum lane again by what it was.
    fern.edit(pattern, {"do": "kind", "lane": "pump", "kind": "pitched"})
    assert sound()["own"] is None and sound()["choked_by"] is None
    status, answer = fern.call("post", f"patterns/{pattern}/edits", {
        "revision": fern.state(pattern)["revision"], "end": 4,
        "edits": [{"do": "own_sound", "lane": "pump", "file": file, "name": "Lid.wav"}]})
    assert status == 422 and "drop the sound on a drum lane" in answer["detail"]
    fern.edit(pattern, {"do": "kind", "lane": "pump", "kind": "drum"})
    assert sound()["own"]["tune"] == -3.5
    # A lane that is gone cuts nothing, and the sentence says so.
    state = fern.edit(pattern, {"do": "remove_lane", "lane": "valve"}, chosen="pump")
    said = "".join(part if isinstance(part, str) else part["text"]
                   for clause in state["view"]["chosen"]["sentence"]["clauses"]
                   for part in clause["parts"])
    assert "Cut short by no lane." in said and "tuned by -3.5 semitones" in said
