"""Pieces as files: everything comes back, old files are read, damaged ones change nothing."""

import io
import json
from typing import Any
from uuid import uuid4
from zipfile import ZipFile

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from studio.models import Clip, Pattern, Piece

from tests.api.conftest import Musician
from tests.recordings import digest, keep, recording


def saved(musician: Musician, pieces: str = "") -> bytes:
    answer = musician.client.get(f"/api/pieces.zip?pieces={pieces}")
    assert answer.status_code == 200, answer.content
    return answer.content


def brought(musician: Musician, data: bytes, key: str | None = None) -> tuple[int, Any]:
    answer = musician.client.post(f"/api/piece-files?key={key or uuid4()}", data=data,
                                  content_type="application/octet-stream")
    return answer.status_code, answer.json()


def said(data: bytes) -> Any:
    """The document of a file."""
    with ZipFile(io.BytesIO(data)) as archive:
        return json.loads(archive.read("pieces.json"))


@pytest.fixture
def glasshouse(fern: Musician) -> int:
    """A piece with two patterns, an order, an own sound, and a clip with a tag and a star."""
    piece = fern.piece("Night Bloom")
    bud = piece["pattern"]
    assert keep(fern, recording())[0] == 200
    fern.edit(bud, {"do": "add_lane", "note": 36, "name": "Pump"},
              {"do": "own_sound", "lane": "pump", "file": digest(recording()), "name": "Drop"})
    opened = fern.good("post", f"pieces/{piece['id']}/patterns", {"name": "Open", "copy_of": bud})
    fern.good("post", f"pieces/{piece['id']}/order/edits", {"revision": 0, "edits": [
        {"do": "add_block", "pattern": opened["id"]}, {"do": "add_block", "pattern": bud},
        {"do": "set_length", "block": 1, "count": 3}, {"do": "between", "blocks": [0, 1]}]})
    clip = fern.good("post", f"patterns/{bud}/keep", {"bars": 2})
    fern.good("patch", f"clips/{clip['id']}", {"starred": True, "tags": ["fill"]})
    return int(piece["id"])


def everything(musician: Musician, piece: int) -> Any:
    """What a piece is, without numbers of its own."""
    whole = musician.good("get", f"pieces/{piece}")
    view = musician.good("get", f"pieces/{piece}/order")["view"]
    return {
        "patterns": [(each["name"], musician.state(each["id"])["view"]["lanes"])
                     for each in whole["patterns"]],
        "order": [(each["name"], each["count"], each["at"]) for each in view["blocks"]],
        "between": view["between"],
        "clips": [(each["name"], each["tags"], each["starred"], each["of"], each["recipe"],
                   musician.good("get", f"clips/{each['id']}/state")["view"])
                  for each in whole["shelf"]]}


def test_a_piece_comes_back_with_everything_in_it(
        fern: Musician, mist: Musician, glasshouse: int) -> None:
    data, key = saved(fern), str(uuid4())
    status, (piece,) = brought(mist, data, key)
    assert status == 200 and piece["name"] == "Night Bloom"
    assert everything(mist, piece["id"]) == everything(fern, glasshouse)
    assert mist.client.get(f"/api/sounds/{digest(recording())}").status_code == 200
    assert said(saved(mist, str(piece["id"]))) == said(data), "out again it says the same"
    lanes = mist.good("post", f"clips/{Clip.objects.get(piece=piece['id']).pk}/recipe", {})
    assert mist.state(lanes["id"])["view"]["lanes"][0]["sound"]["own"]["name"] == "Drop"
    assert brought(mist, data, key)[1][0]["id"] == piece["id"], "sent twice, made once"


def test_several_leave_at_once_and_an_older_version_and_a_recipe_are_read(
        fern: Musician, mist: Musician, glasshouse: int) -> None:
    fern.piece("Sprinklers")
    status, made = brought(mist, saved(fern))
    assert status == 200 and [each["name"] for each in made] == ["Night Bloom", "Sprinklers"]
    recipe = {"tempo": 98, "lanes": [{"id": "drip", "name": "Drip", "note": 42, "steps": 12,
                                      "rule": {"kind": "euclid", "pulses": 7}}]}
    older = {"format": "jolly-lattice piece", "version": 1, "name": "Pump Room",
             "patterns": [{"name": "Idle", "recipe": recipe}]}
    for document, name in ((older, "Pump Room"), (recipe, "From a recipe")):
        status, (piece,) = brought(mist, json.dumps(document).encode())
        whole = mist.good("get", f"pieces/{piece['id']}")
        assert (status, piece["name"], whole["tempo"]) == (200, name, 98)
    pattern = whole["patterns"][0]["id"]
    assert mist.state(pattern)["view"]["lanes"][0]["drawn"]["summary"] == "7 of 12"


def _changed(data: bytes, change: Any, **sounds: bytes) -> bytes:
    """The file with its document changed, and other bytes for a recording."""
    with ZipFile(io.BytesIO(data)) as archive:
        entries = {name: archive.read(name) for name in archive.namelist()}
    document = json.loads(entries["pieces.json"])
    entries["pieces.json"] = json.dumps(change(document) or document).encode()
    entries |= {f"sounds/{name}": content for name, content in sounds.items()}
    buffer = io.BytesIO()
    with ZipFile(buffer, "w") as archive:
        for name, content in entries.items():
            archive.writestr(name, content)
    return buffer.getvalue()


def test_what_is_damaged_is_refused_with_its_place_and_nothing_changes(
        fern: Musician, mist: Musician, glasshouse: int) -> None:
    data = saved(fern)

    def set_at(value: Any, *path: Any) -> bytes:
        def change(document: Any) -> None:
            for step in path[:-1]:
                document = document[step]
            document[path[-1]] = value
        return _changed(data, change)

    lane = "pieces", 0, "patterns", 1, "recipe", "lanes", 0
    with ZipFile(io.BytesIO(data)) as archive:
        whole = archive.read("pieces.json")
    cases = [
        (set_at("loud", *lane, "velocity"), "pieces › 0 › patterns › 1 › recipe › lanes › 0"),
        (set_at(7, "pieces", 0, "order", "blocks", 0, "pattern"), "has 2 patterns"),
        (set_at(9, "version"), "versions 1 to 2"),
        (set_at([], "pieces"), "pieces"),
        (whole[:-40], "pieces.json is damaged at line"),
        (data[:-30], "damaged"), (b"PK\x03\x04" + bytes(40), "damaged"), (b"", "line 1"),
        (_changed(data, lambda document: {"lanes": 3}), "lanes"),
        (_changed(data, lambda document: None, **{digest(recording()): b"RIFF"}), "damaged")]
    assert len({case for case, _ in cases}) == len(cases)
    for damaged, told in cases:
        status, answer = brought(mist, damaged)
        assert status == 422 and told in answer["detail"], (told, answer)
        assert answer["detail"].endswith(".")
    assert not Piece.objects.filter(owner__username="mist").exists()
    assert mist.client.get(f"/api/sounds/{digest(recording())}").status_code == 404


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
def test_any_damage_is_a_refusal_or_a_piece_that_opens(
        fern: Musician, mist: Musician, glasshouse: int, data: st.DataObject) -> None:
    whole = bytearray(saved(fern, str(glasshouse)))
    for _ in range(data.draw(st.integers(1, 4))):
        whole[data.draw(st.integers(0, len(whole) - 1))] = data.draw(st.integers(0, 255))
    status, answer = brought(mist, bytes(whole))
    assert status in (200, 422), answer
    if status == 200:
        for pattern in Pattern.objects.filter(piece=answer[0]["id"]):
            mist.state(pattern.pk)
