"""What is heavy answers soon, or says what to ask for instead; nothing of it is stored then."""

import io
import json
import random
from typing import Any
from uuid import uuid4
from zipfile import ZIP_DEFLATED, ZipFile

import mido
import pytest
from lattice.order.played import LONGEST_BEATS
from studio.models import Clip, OrderRevision, Pattern, Piece, SoundFile

from tests.api.conftest import Musician
from tests.api.test_bounds import costs, lanes, stored

DRUM = {"start": 0, "length": 0.2, "pitch": 36, "velocity": 90, "channel": 10, "lane": "pump"}


def clip_of(notes: int, beats: int = 4) -> dict[str, Any]:
    return {"name": "Lid", "tempo": 120, "meter": [4, 4], "beats": str(beats),
            "lanes": [{"id": "pump", "name": "Pump", "kind": "drum"}],
            "notes": [DRUM | {"start": i * beats / notes} for i in range(notes)]}


def document(*pieces: dict[str, Any]) -> bytes:
    """A document of pieces, each with a pattern of four lanes unless it says otherwise."""
    plain = {"patterns": [{"name": "Idle", "recipe": {"lanes": lanes(4)}}]}
    return json.dumps({"format": "jolly-lattice pieces", "version": 2, "pieces": [
        {"name": f"Boiler {number}"} | plain | each
        for number, each in enumerate(pieces)]}).encode()


def packed(said: bytes, **files: bytes) -> bytes:
    buffer = io.BytesIO()
    with ZipFile(buffer, "w", ZIP_DEFLATED) as archive:
        archive.writestr("pieces.json", said)
        for name, data in files.items():
            archive.writestr(name, data)
    return buffer.getvalue()


def bring(musician: Musician, data: bytes) -> tuple[int, Any]:
    answer = musician.client.post(f"/api/piece-files?key={uuid4()}", data=data,
                                  content_type="application/octet-stream")
    return answer.status_code, answer.json()


SAID = b'{"format": "jolly-lattice pieces", "version": 2, "pieces": [%s]}'


@pytest.mark.parametrize(("data", "words"), [
    (packed(SAID % (b"[]," * 9_000_000 + b"[]")), "more than 1,000,000 values"),
    (packed(SAID % (b"[]," * 400_000 + b"[]")), "pieces"),
    (packed(SAID % (b"[" * 100_000 + b"]" * 100_000)), "pieces"),
    (packed(document({}), **{"sounds/" + "0" * 64: bytes(150 * 2**20)}), "each takes up to 5 MB"),
    (packed(document({}), **{f"{i}": b"" for i in range(6000)}), "too many files"),
    (packed(document(*[{}] * 501)), "500"),
    (packed(document({"clips": [{"name": "Lid", "clip": clip_of(2)}] * 1001})), "1000"),
    (packed(document({"clips": [{"name": "Lid", "clip": clip_of(1)}] * 999}, {
        "clips": [{"name": "Lid", "clip": clip_of(1)}] * 1000})), "2,000 patterns and clips"),
    (packed(document({"order": {"blocks": [{"pattern": 1, "count": 512}] * 64}, "patterns": [
        {"name": "Idle", "recipe": {"bars": 8, "lanes": []}}]})), "65,536 beats")])
def test_files_of_pieces_are_bounded_before_any_of_them_is_made(
        fern: Musician, data: bytes, words: str) -> None:
    status, answer = costs(lambda: bring(fern, data))
    assert status == 422 and words in answer["detail"], answer
    assert not Piece.objects.exists() and not SoundFile.objects.exists()


def test_many_pieces_and_clips_come_in_at_once_and_are_listed(
        fern: Musician, monkeypatch: pytest.MonkeyPatch) -> None:
    data = packed(document(*[{}] * 80, {"clips": [
        {"name": f"Lid {i}", "clip": clip_of(8)} for i in range(200)]}))
    status, made = costs(lambda: bring(fern, data))
    assert status == 200 and len(made) == 81
    # Pictures that would take long wait, and are there when the list is asked for again.
    monkeypatch.setattr("studio.worked_out.thumbs.SECONDS", 0.02)
    for asked in range(300):
        patterns = [each for piece in fern.good("get", "pieces") for each in piece["patterns"]]
        if not any(each["thumb"]["waits"] for each in patterns if "waits" in each["thumb"]):
            break
        assert asked or len(patterns) == 162
    assert asked > 0 and all(each["thumb"]["notes"] == 64 for each in patterns)
    shelf = costs(lambda: fern.good("get", f"pieces/{made[-1]['id']}"))["shelf"]
    assert [each["name"] for each in shelf] == [f"Lid {i}" for i in range(200)]
    assert shelf[0]["thumb"]["notes"] == 8


def ordered(pattern: int, blocks: int, count: int) -> int:
    """The piece of a pattern, with an order of so many blocks of so many passes."""
    piece = Pattern.objects.get(pk=pattern).piece
    piece.head = OrderRevision.objects.create(piece=piece, label="given", document={"blocks": [
        {"pattern": pattern, "count": count, "first": place} for place in range(blocks)]})
    piece.save()
    return int(piece.pk)


@pytest.mark.parametrize(("blocks", "count"), [(1, 512), (64, 512), (250, 8)])
def test_an_order_works_out_no_more_than_it_draws(
        fern: Musician, blocks: int, count: int) -> None:
    dense = lanes(40, step="1/32", steps=32, rule={"kind": "euclid", "pulses": 30})
    piece = ordered(stored(fern, {"lanes": dense}), blocks, count)
    view = costs(lambda: fern.good("get", f"pieces/{piece}/order"))["view"]
    assert len(view["blocks"]) == blocks
    assert view["waits"] or all(block["pictured"] > 0 for block in view["blocks"])
    for block in view["blocks"]:
        assert (block["thumb"] is None) == (block["pictured"] == 0) and block["pictured"] < 1
    before = [block["pictured"] for block in view["blocks"]]
    view = fern.good("get", f"pieces/{piece}/order")["view"]
    assert [block["pictured"] for block in view["blocks"]] >= before
    status, answer = costs(lambda: fern.call("post", f"pieces/{piece}/order/keep", {
        "name": "Whole"}))
    assert status == 422 and answer["detail"] == "That is too much at once; take fewer bars."


def test_an_order_has_a_longest_length_and_may_always_become_shorter(fern: Musician) -> None:
    pattern = stored(fern, {"bars": 8, "lanes": lanes(2)})
    piece = ordered(pattern, 4, 511)  # of 32 beats each: 65,408

    def change(*edits: dict[str, Any]) -> tuple[int, Any]:
        revision = fern.good("get", f"pieces/{piece}/order")["revision"]
        return fern.call("post", f"pieces/{piece}/order/edits", {
            "revision": revision, "edits": list(edits)})

    longer = {"do": "set_length", "block": 0, "count": 512}
    for number in range(4):
        assert change(longer | {"block": number})[0] == 200
    status, answer = change({"do": "add_block", "pattern": pattern})
    assert (status, answer["detail"]) == (422, "An order lasts up to 65,536 beats, and this would "
                                               "be 65,568; let its blocks play less often.")
    fern.edit(pattern, {"do": "pattern", "field": "bars", "value": 16})  # now it is too long
    state = fern.good("get", f"pieces/{piece}/order")
    assert state["view"]["beats"] == 2 * LONGEST_BEATS
    assert change(longer | {"count": 500})[0] == 200
    assert change(longer | {"count": 501})[0] == 422


def song(notes: int, controllers: int = 0) -> bytes:
    """A MIDI file of chance, of sixteen parts."""
    chance, track = random.Random(5), mido.MidiTrack()
    for number in range(notes):
        note, channel = chance.randint(36, 80), number % 16
        track.append(mido.Message("note_on", note=note, time=chance.randint(0, 60),
                                  channel=channel))
        track.append(mido.Message("note_off", note=note, time=20, channel=channel))
    for number in range(controllers):
        track.append(mido.Message("control_change", control=74, value=number % 128, time=1))
    file = io.BytesIO()
    mido.MidiFile(tracks=[track]).save(file=file)
    return file.getvalue()


@pytest.mark.parametrize(("notes", "controllers", "status"), [
    (15_000, 0, 200), (20_001, 0, 422), (60_000, 0, 422), (1, 100_000, 422)])
def test_large_midi_files_are_read_or_refused_soon(
        fern: Musician, notes: int, controllers: int, status: int) -> None:
    data = song(notes, controllers)
    answer = costs(lambda: fern.client.post("/api/midi/look", data=data,
                                            content_type="audio/midi"))
    assert answer.status_code == status
    assert status == 200 or "take it apart first" in answer.json()["detail"]


def test_changes_of_a_large_clip_are_bounded_by_their_work(fern: Musician) -> None:
    assert bring(fern, document({"clips": [{"name": "Lid", "clip": clip_of(6000, 500)}]}))[0] == 200
    clip = Clip.objects.get()

    def edit(*edits: dict[str, Any]) -> tuple[int, Any]:
        return costs(lambda: fern.call("post", f"clips/{clip.pk}/edits", {
            "revision": Clip.objects.get().head_id, "edits": list(edits)}))  # type: ignore[no-any-return]

    stir = {"do": "lay_in", "tool": {"tool": "stir", "steps": 64}}
    status, answer = edit(*[stir] * 64)
    assert status == 422 and answer["detail"].startswith("That is too much at once; choose fewer")
    assert Clip.objects.get().head_id == clip.head_id
    assert edit({"do": "lay_in", "tool": {"tool": "loosen"}})[0] == 200
    assert edit(*[{"do": "louden_notes", "notes": [number], "by": 1}
                  for number in range(60)])[0] == 200
    status, answer = costs(lambda: fern.call("post", f"clips/{clip.pk}/try", {
        "revision": clip.head_id, "tool": stir["tool"]}))
    assert status == 422 and answer["detail"].startswith("That is too much at once")
