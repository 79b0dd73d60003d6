"""Links: what whoever has one is shown, and nobody else; answers that caches may keep."""

from io import BytesIO
from uuid import uuid4

import mido
import pytest
from django.test import Client
from lattice import work
from PIL import Image
from studio.models import Link, Pattern, Piece
from studio.worked_out.recipes import recipe_of

from tests.api.conftest import Musician
from tests.recordings import digest, keep, recording


@pytest.fixture
def client() -> Client:
    """A browser that nobody has signed in with."""
    return Client(HTTP_HOST="127.0.0.1")


def pattern_of_fern() -> int:
    return Pattern.objects.get(piece__owner__username="fern").pk


def linked(musician: Musician, **said: object) -> str:
    """The token of a link to a piece with one lane that plays."""
    pattern = musician.drums({"rule.kind": "euclid", "rule.pulses": 5})
    piece = Piece.objects.get(patterns=pattern)
    body = {"name": "For Fern", "by": "Moss", "key": str(uuid4())} | said
    made = musician.good("post", f"pieces/{piece.pk}/links", body)
    assert musician.good("post", f"pieces/{piece.pk}/links", body) == made, "made once"
    return str(made["address"]).removeprefix("/l/")


def test_whoever_has_a_link_sees_hears_asks_and_takes(fern: Musician, client: Client) -> None:
    token = linked(fern)
    lane = fern.state(pattern_of_fern())["view"]["lanes"][0]["id"]
    asked = f"/api/shared/{token}"
    told = client.get(asked)
    shown = told.json()
    assert (shown["by"], shown["follows"], len(shown["patterns"])) == ("Moss", False, 1)
    assert "For Fern" not in told.content.decode(), "the owner's name for it stays theirs"
    view = client.get(f"{asked}/patterns/0/passes/3?chosen={lane}").json()
    assert view["start"] == 12 and view["chosen"]["lane"] == lane
    told = client.get(f"{asked}/patterns/0/why?lane={lane}&at=0").json()["words"]
    assert told.startswith("Step 1 at 1.1: 5 hits spread over 16 steps")
    file = client.get(f"{asked}/patterns/0/midi?passes=2")
    notes = [message for message in mido.MidiFile(file=BytesIO(file.content))
             if message.type == "note_on" and message.velocity]
    assert len(notes) == 10 and "no-store" not in file["Cache-Control"]
    picture = client.get(f"{asked}/picture.png")
    assert Image.open(BytesIO(picture.content)).size == (1200, 630)
    assert not client.cookies, "nothing is kept of whoever looks"


def test_the_order_is_heard_and_taken_as_the_owner_does(fern: Musician, client: Client) -> None:
    pattern = fern.drums({"rule.kind": "euclid", "rule.pulses": 5})
    piece = Piece.objects.get(patterns=pattern).pk
    fern.good("post", f"pieces/{piece}/order/edits", {"revision": 0, "edits": [
        {"do": "add_block", "pattern": pattern}, {"do": "add_block", "pattern": pattern}]})
    made = fern.good("post", f"pieces/{piece}/links", {"name": "All", "follows": True})
    asked = f"/api/shared/{made['address'][3:]}"
    assert client.get(asked).json()["order"]
    view = client.get(f"{asked}/order").json()
    assert len(view["notes"]) == 10 and [mark["time"] for mark in view["marks"]] == [0, 4]
    file = client.get(f"{asked}/order/midi").content
    assert file == fern.client.get(f"/api/pieces/{piece}/order/midi").content
    fern.edit(pattern, {"do": "remove_lane", "lane": "pump"})
    assert client.get(f"{asked}/order").json()["notes"] == [], "always as it is"
    alone = linked(fern)
    assert client.get(f"/api/shared/{alone}/order").json()["detail"].startswith("There is no block")


def test_a_pass_that_is_too_much_for_one_view_comes_in_parts(
        fern: Musician, client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    pattern = fern.drums({"rule.kind": "euclid", "rule.pulses": 5})
    fern.edit(pattern, {"do": "set", "lane": None, "slot": "bars", "value": 3})
    piece = Piece.objects.get(patterns=pattern).pk
    link = fern.good("post", f"pieces/{piece}/links", {"name": "Long"})
    asked = f"/api/shared/{link['address'][3:]}/patterns/0/passes/1"
    assert not client.get(asked).json()["shortened"]
    recipe = recipe_of(fern.state(pattern)["revision"])
    monkeypatch.setattr("studio.limits.MOST_IN_VIEW", 1.5 * work(recipe, 12, 16))
    found = [client.get(f"{asked}?part={part}&chosen=pump").json() for part in range(3)]
    assert [(each["start"], each["end"]) for each in found] == [(12, 16), (16, 20), (20, 24)]
    assert [each["shortened"] for each in found] == [True, True, False]
    for part in ("3", "-1", "256", "x"):
        assert client.get(f"{asked}?part={part}").status_code in (404, 422)


def test_answers_are_kept_by_caches_and_validated(fern: Musician, client: Client) -> None:
    token = linked(fern, follows=True)
    asked = f"/api/shared/{token}/patterns/0/passes/0"
    first = client.get(asked)
    assert first["Cache-Control"] == "public, max-age=60" and "Cookie" not in first.get("Vary", "")
    assert first["X-Robots-Tag"] == "noindex, nofollow"
    assert first["Referrer-Policy"] == "no-referrer"
    again = client.get(asked, headers={"If-None-Match": first["ETag"]})
    assert again.status_code == 304 and not again.content
    fern.edit(pattern_of_fern(), {"do": "reroll"})
    later = client.get(asked, headers={"If-None-Match": first["ETag"]})
    assert later.status_code == 200 and later["ETag"] != first["ETag"]


def test_a_link_shows_what_it_was_made_for(fern: Musician, client: Client) -> None:
    token = linked(fern)
    pattern = pattern_of_fern()
    piece = Piece.objects.get(patterns=pattern)
    clip = fern.good("post", f"patterns/{pattern}/keep", {"bars": 1})
    alone = fern.good("post", f"pieces/{piece.pk}/links", {"name": "One", "clip": clip["id"]})
    shown = client.get(f"/api/shared/{alone['address'][3:]}").json()
    assert [each["name"] for each in shown["clips"]] == [clip["name"]] and not shown["patterns"]
    assert client.get(f"/api/shared/{alone['address'][3:]}/clips/0").json()["notes"]
    fern.edit(pattern, {"do": "pattern", "field": "tempo", "value": 99})
    before = client.get(f"/api/shared/{token}/patterns/0/passes/0").json()
    assert before["tempo"] == 120, "as it was when it was made"
    assert fern.call("post", f"pieces/{piece.pk}/links", {
        "name": "Both", "clip": clip["id"], "pattern": pattern})[0] == 422
    assert [each["name"] for each in fern.good("get", f"pieces/{piece.pk}/links")] == [
        "One", "For Fern"]
    fern.good("patch", f"links/{alone['id']}", {"name": "Two"})
    assert Link.objects.get(pk=alone["id"]).name == "Two"
    fern.call("delete", f"clips/{clip['id']}")
    assert client.get(f"/api/shared/{alone['address'][3:]}").status_code == 404


def test_what_leads_nowhere_is_answered_alike(fern: Musician, client: Client) -> None:
    token = linked(fern)
    piece = Piece.objects.get(owner__username="fern").pk
    ended = fern.good("get", f"pieces/{piece}/links")[0]["id"]
    assert fern.call("delete", f"links/{ended}")[0] == 204
    nowhere = client.get(f"/api/shared/{token}").json()
    for wrong in (token, "x", token + "=", "%00", "é" * 500, "'; DROP TABLE", "-" * 43):
        answer = client.get(f"/api/shared/{wrong}")
        assert answer.status_code == 404 and answer.json() == nowhere, wrong
        page = client.get(f"/l/{wrong}/../x")
        assert page.status_code in (404, 503) and not client.cookies, wrong


def test_a_copy_is_ones_own_with_its_recordings(
        fern: Musician, mist: Musician, client: Client) -> None:
    sound = recording()
    keep(fern, sound)
    pattern = fern.drums({"rule.kind": "euclid"})
    fern.edit(pattern, {"do": "own_sound", "lane": "pump", "file": digest(sound), "name": "Gate"})
    piece = Piece.objects.get(patterns=pattern)
    made = fern.good("post", f"pieces/{piece.pk}/links", {"name": "Gate"})
    token = made["address"].removeprefix("/l/")
    assert client.get(f"/api/shared/{token}/sounds/{digest(sound)}").content == sound
    assert client.get(f"/api/shared/{token}/sounds/{'0' * 64}").status_code == 404
    assert client.post(f"/api/shared/{token}/copy", {"key": str(uuid4())},
                       content_type="application/json").status_code in (401, 403)
    body = {"key": str(uuid4())}
    copy = mist.good("post", f"shared/{token}/copy", body)
    assert mist.good("post", f"shared/{token}/copy", body) == copy
    assert mist.good("get", f"sounds/{digest(sound)}") is not None
    with pytest.raises(Piece.DoesNotExist):
        Piece.objects.get(pk=copy["id"], owner=piece.owner)
