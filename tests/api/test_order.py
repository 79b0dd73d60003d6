"""The order at the API: stored, undone, seen and kept; passes that go over several patterns."""

from io import BytesIO
from typing import Any
from uuid import uuid4

from mido import MidiFile

from tests.api.conftest import Musician


def piece_of_two(fern: Musician) -> tuple[int, int, int]:
    """A piece and its two patterns, Bud (4 hits a bar) and Open (3 hits in 12 steps, faster)."""
    made = fern.piece("Night Bloom")
    bud = made["pattern"]
    fern.good("patch", f"patterns/{bud}", {"name": "Bud"})
    fern.edit(bud, {"do": "add_lane", "note": 36, "name": "Pump"},
              {"do": "set", "lane": "pump", "slot": "rule.pulses", "value": 4})
    opened = fern.good("post", f"pieces/{made['id']}/patterns", {"name": "Open", "copy_of": bud})
    fern.edit(opened["id"], {"do": "set", "lane": "pump", "slot": "steps", "value": 12})
    return made["id"], bud, opened["id"]


def order(fern: Musician, piece: int, *edits: dict[str, Any], **more: Any) -> Any:
    revision = fern.good("get", f"pieces/{piece}/order")["revision"]
    return fern.good("post", f"pieces/{piece}/order/edits",
                     {"revision": revision, "edits": list(edits)} | more)


def test_an_order_is_built_undone_and_kept_as_one_clip(fern: Musician) -> None:
    piece, bud, opened = piece_of_two(fern)
    assert fern.good("get", f"pieces/{piece}/order")["view"]["blocks"] == []
    state = order(fern, piece, {"do": "add_block", "pattern": bud},
                  {"do": "add_block", "pattern": opened}, chosen=1)
    state = order(fern, piece, {"do": "add_to_block", "block": 1, "clause": "speed"}, chosen=1)
    view = state["view"]
    assert [(each["name"], each["at"], each["beats"], each["bar"]) for each in view["blocks"]] == [
        ("Bud", 0, 4, 1), ("Open", 4, 8, 2)]
    assert view["bars"] == 3 and view["seconds"] == 6 and view["blocks"][1]["thumb"]["notes"] == 6
    assert "".join(part if isinstance(part, str) else part["text"] for clause in view[
        "sentence"]["clauses"] for part in clause["parts"]).endswith("At 1/2 of its speed.")
    assert state["heads"][str(bud)] == fern.state(bud)["revision"]
    tried = fern.good("post", f"pieces/{piece}/order/look", {
        "edits": [{"do": "set_length", "block": 0, "count": 3}]})
    assert tried["blocks"][1]["at"] == 12
    clip = fern.good("post", f"pieces/{piece}/order/keep", {"name": "Night Bloom, whole"})
    data = fern.client.get(f"/api/clips/{clip['id']}/midi").content
    texts = [m.text for m in MidiFile(file=BytesIO(data)).tracks[0] if m.type == "marker"]
    assert texts == ["Bud", "Open"]
    assert clip["thumb"]["bars"] == 3 and not clip["recipe"]
    undone = fern.good("post", f"pieces/{piece}/order/undo", {"revision": state["revision"]})
    assert undone["view"]["blocks"][1]["beats"] == 4 and undone["history"]["redo"]
    stale, answer = fern.call("post", f"pieces/{piece}/order/edits", {
        "revision": state["revision"], "edits": [{"do": "remove_block", "block": 0}]})
    assert stale == 409 and answer["state"]["revision"] == undone["revision"]
    assert answer["tried"] == "block 1, Bud: taken out"


def test_the_same_change_sent_twice_is_made_once(fern: Musician) -> None:
    piece, bud, _ = piece_of_two(fern)
    body = {"revision": 0, "edits": [{"do": "add_block", "pattern": bud}], "key": str(uuid4())}
    once, again = (fern.good("post", f"pieces/{piece}/order/edits", body) for _ in range(2))
    assert once["revision"] == again["revision"] and len(again["view"]["blocks"]) == 1
    first = fern.good("post", f"pieces/{piece}/order/undo", {"revision": once["revision"]})
    assert first["view"]["blocks"] == [] and first["history"]["undo"] is None


def test_a_block_whose_pattern_is_gone_says_so_and_comes_back_with_it(fern: Musician) -> None:
    piece, bud, opened = piece_of_two(fern)
    order(fern, piece, {"do": "add_block", "pattern": bud}, {"do": "add_block", "pattern": opened})
    fern.good("delete", f"patterns/{opened}")
    blocks = fern.good("get", f"pieces/{piece}/order?chosen=1")["view"]["blocks"]
    assert blocks[0]["problem"] is None and "not in this piece any more" in blocks[1]["problem"]
    status, answer = fern.call("post", f"pieces/{piece}/order/keep", {"name": "All"})
    assert status == 422 and "choose another" in answer["detail"]
    fern.good("post", f"patterns/{opened}/restore")
    copied = fern.good("post", f"pieces/{piece}/duplicate")
    blocks = fern.good("get", f"pieces/{copied['id']}/order")["view"]["blocks"]
    assert [each["name"] for each in blocks] == ["Bud", "Open"]
    assert {each["pattern"] for each in blocks} == {each["id"] for each in copied["patterns"]}


def test_what_hands_did_over_several_patterns_is_kept_as_heard(
        fern: Musician, mist: Musician) -> None:
    _, bud, opened = piece_of_two(fern)
    fern.edit(opened, {"do": "lane", "lane": "pump", "field": "name", "value": "Lid"})
    heads = [fern.state(each)["revision"] for each in (bud, opened)]
    # A beat of Bud, its last half beat once more, then Open at half speed, a degree higher.
    segments = [
        {"revision": heads[0], "at": 0, "start": 0, "end": 1},
        {"revision": heads[0], "at": 1, "start": 0.5, "end": 1.5},
        {"revision": heads[1], "at": 2, "start": 0, "end": 1, "speed": "1/2",
         "edits": [{"do": "adapt", "degrees": 1}]}]
    heard = fern.good("post", f"patterns/{bud}/trail", {
        "key": str(uuid4()), "number": 0, "start": 0, "beats": 4, "segments": segments})
    again = fern.good("get", f"patterns/{bud}/trail/{heard['id']}")
    assert [(start, lane) for start, _, _, _, lane, _ in again["notes"]] == [
        (0, 0), (1.5, 0), (2, 1), (3.5, 1)]
    assert [lane["name"] for lane in again["lanes"]] == ["Pump", "Lid"], "each by its own sound"
    second = fern.good("post", f"patterns/{opened}/trail", {
        "key": str(uuid4()), "number": 0, "start": 0, "beats": 3, "segments": [
            {"revision": heads[1], "at": 0, "start": 0, "end": 3}]})
    clip = fern.good("post", f"patterns/{bud}/keep", {"passes": [heard["id"], second["id"]]})
    assert clip["thumb"]["bars"] == 1.75 and clip["name"] == "Bud, 2 passes as played"
    other = mist.drums({"rule.pulses": 4})
    foreign = [{"revision": mist.state(other)["revision"], "at": 0, "start": 0, "end": 1}]
    for bad in ({"segments": foreign}, {"segments": [segments[0] | {"speed": "0"}]},
                {"beats": 1.5, "segments": [segments[2]]}):
        status, answer = fern.call("post", f"patterns/{bud}/trail", {
            "key": str(uuid4()), "number": 0, "start": 0, "beats": 4} | bad)
        assert status == 422, (bad, answer)
