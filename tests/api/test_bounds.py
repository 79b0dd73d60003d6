"""No request takes the machine: what costs too much is refused in a sentence, before it is done."""

import gc
import time
import tracemalloc
from fractions import Fraction
from typing import Any
from uuid import uuid4

import pytest
from lattice import Segment, read, take_clip, work
from lattice.edits.lanes import SetPattern
from lattice.play import play
from studio.limits import MOST_WORK
from studio.models import Pattern, Revision, TrailPass
from studio.stored import patterns
from studio.worked_out.thumbs import MOST_MARKS, thumb

from tests.api.conftest import Musician

DENSE = {"id": "dense", "name": "Dense", "step": "1/1024", "steps": 128,
         "rule": {"kind": "euclid", "pulses": 128}}


def lanes(count: int, **more: Any) -> list[dict[str, Any]]:
    return [{"id": f"l{i}", "name": f"Lane {i}", "note": 36 + i % 40, "steps": 16,
             "rule": {"kind": "euclid", "pulses": 16}} | more for i in range(count)]


def stored(fern: Musician, document: dict[str, Any]) -> int:
    """A pattern of Fern's with this recipe, as an import could store it."""
    pattern = Pattern.objects.get(pk=fern.piece()["pattern"])
    pattern.head = Revision.objects.create(pattern=pattern, recipe=document, label="given")
    pattern.save()
    return pattern.id


def costs(ask: Any) -> Any:
    """What a request answers, which takes neither a second of a quiet machine's work, told by what
    a loop takes at the time, nor 200 MB."""
    gc.freeze()  # as the serving process does: what was there before is not looked through
    begin = time.thread_time()
    sum(number * number for number in range(500_000))
    loop = time.thread_time() - begin
    begin = time.thread_time()
    answer = ask()
    assert time.thread_time() - begin < 40 * loop, answer
    tracemalloc.start()
    ask()
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 200e6, answer
    return answer


def test_the_work_told_is_the_work_done() -> None:
    """Told from the document alone; counted here in the notes of lanes that always sound."""
    document = {"bars": 2, "lanes": [
        DENSE | {"step": "1/64"}, {"id": "fit", "name": "Fit", "span": "fit", "steps": 7,
         "rule": {"kind": "euclid", "pulses": 7}},
        {"id": "rolls", "name": "Rolls", "rule": {"kind": "euclid", "pulses": 16},
         "note": 50, "rolls": [{"step": i, "strokes": 9} for i in range(16)]},
        {"id": "path", "name": "Path", "step": "1/1024", "rule": {"kind": "euclid", "pulses": 16},
         "note": 51, "rate_path": [{"start": 0, "beats": 1, "step": 4}]},
        {"id": "once", "name": "Once", "note": 52, "span": "once", "rule": {
            "kind": "euclid", "pulses": 16}}]}
    recipe = read(document)
    for only in [lane.id for lane in recipe.lanes]:
        alone = recipe.model_copy(update={"lanes": (recipe.lane(only),)})
        for start, end in ((0, 64), (4000, 4016), (8, 9)):
            notes = len(play(alone, start, end))
            told = work(alone, start, end)
            assert notes <= told, (only, start, end, notes, told)
            assert end - start == 1 or told <= 2.5 * notes + 600, (only, start, end, notes, told)
    path = recipe.model_copy(update={"lanes": (recipe.lane("path"),)})
    assert len(play(path, 0, 256)) == 32 * (1 + 7 * 256) and work(path, 0, 256) > MOST_WORK


def chain(count: int) -> dict[str, Any]:
    """Lanes that follow each other, each the one before it."""
    following = [{"id": f"l{i}", "name": f"Lane {i}", "note": 36 + i, "steps": 16,
                  "rule": {"kind": "gaps", "of": f"l{i - 1}"}} for i in range(1, count)]
    return {"lanes": [*lanes(1, rule={"kind": "euclid", "pulses": 5}), *following]}


WANDERING = {"meter": [32, 1], "bars": 16, "lanes": [
    DENSE | {"id": f"w{i}", "direction": "wander"} for i in range(4)]}


@pytest.mark.parametrize(("document", "path", "body", "status"), [
    ({"lanes": lanes(1)}, "edits", {"edits": [{
        "do": "roll_cells", "lane": "l0", "at": 0, "until": 2**31 - 1, "strokes": 3}]}, 422),
    ({"lanes": [DENSE]}, "why", {"lane": "dense", "at": 1e6}, 200),
    ({"lanes": [DENSE | {"direction": "wander"}]}, "why", {"lane": "dense", "at": 2e9}, 200),
    (WANDERING, "look", {"start": 0, "end": 1}, 422),
    (WANDERING, "why", {"lane": "w0", "at": 0}, 422),
    ({"lanes": lanes(64)}, "look", {"edits": [{
        "do": "set", "lane": "l0", "slot": "velocity", "value": 90 + n % 2,
        "also": [f"l{i}" for i in range(1, 64)]} for n in range(64)]}, 422),
    (chain(24), "look", {"start": 4000, "end": 4016}, 200),
    ({"lanes": [DENSE | {"step": "16", "strands": {"tie": {"values": [1]}}},
                DENSE | {"id": "more", "note": 36}]}, "look", {}, 422),
    ({"lanes": [DENSE | {"rate_path": [
        {"start": f"{i * 4}/{997 + 2 * i}", "beats": f"1/{99991 - 2 * i}", "step": "1/7"}
        for i in range(200)]}]}, "look", {}, 422)])
def test_costly_requests_are_cheap(fern: Musician, document: dict[str, Any], path: str,
                                   body: dict[str, Any], status: int) -> None:
    pattern = stored(fern, document)
    head = Pattern.objects.get(pk=pattern).head_id
    body = {"revision": head} | ({"end": 4} if path != "why" else {}) | body
    found, answer = costs(lambda: fern.call("post", f"patterns/{pattern}/{path}", body))
    assert found == status, answer
    assert found == 200 or answer["detail"].endswith(".")
    assert Pattern.objects.get(pk=pattern).head_id == head


def test_a_pass_of_very_many_segments_is_refused_at_once(fern: Musician) -> None:
    pattern = stored(fern, {"lanes": lanes(64, step="1/64")})
    revision = Pattern.objects.get(pk=pattern).head_id
    body = {"key": str(uuid4()), "number": 0, "start": 0, "beats": 1000, "segments": [
        {"revision": revision, "at": 10 * i, "start": 10 * i, "end": 10 * i + 10}
        for i in range(100)]}
    status, answer = costs(lambda: fern.call("post", f"patterns/{pattern}/trail", body))
    assert (status, answer) == (422, {"detail": "That is too much at once; take fewer bars."})
    assert not TrailPass.objects.exists()


def test_a_stored_picture_is_small_however_much_was_heard() -> None:
    recipe = read({"lanes": lanes(40, step="1/64")})
    picture = thumb(take_clip("", [Segment(recipe, 0, 0, 64)], 0, Fraction(64)))
    assert picture["notes"] == 40 * 1024
    assert sum(len(lane["notes"]) for lane in picture["lanes"]) <= MOST_MARKS
    assert all(lane["notes"][0][0] == 0 for lane in picture["lanes"])


def test_what_cannot_be_opened_is_not_stored_and_a_dense_view_is_shortened(fern: Musician) -> None:
    pattern = fern.piece()["pattern"]
    fern.edit(pattern, *({"do": "add_lane", "name": f"Lane {i}", "note": 40 + i}
                         for i in range(4)))
    edits = [{"do": "set", "lane": f"lane-{i}", "slot": "step", "value": "1/1024"}
             for i in range(4)]
    fern.edit(pattern, *edits)
    view = fern.state(pattern, end=128)["view"]
    assert view["shortened"] and 4 <= view["end"] < 128 and view["end"] % 4 == 0
    assert not fern.state(pattern, end=4)["view"]["shortened"]
    revision = fern.state(pattern)["revision"]
    status, answer = fern.call("post", f"patterns/{pattern}/edits", {
        "revision": revision, "edits": [{"do": "pattern", "field": "bars", "value": 16}], "end": 4})
    assert status == 422 and answer["detail"].startswith("That is more than can be worked out")
    assert fern.state(pattern)["revision"] == revision
    # A pattern that is too much all the same can be made smaller again, and what is shared with
    # the rest of the piece may not make one of them too much.
    heavy = Pattern.objects.get(pk=stored(fern, {"bars": 16, "lanes": lanes(64, step="1/1024")}))
    fewer = SetPattern(do="pattern", field="bars", value=2)
    stored_anew = patterns.store(heavy.piece.owner_id, heavy.id, heavy.head_id, [fewer])
    assert stored_anew.head_id != heavy.head_id
    fern.good("post", f"pieces/{Pattern.objects.get(pk=pattern).piece_id}/patterns", {"name": "B"})
    other = Pattern.objects.get(name="B")
    status, answer = fern.call("post", f"patterns/{other.id}/edits", {
        "revision": other.head_id, "end": 4,
        "edits": [{"do": "pattern", "field": "meter", "value": [32, 1]}]})
    assert status == 422 and answer["detail"].startswith("In the pattern Pattern 1: ")


def test_a_process_without_room_says_so_and_goes_on(fern: Musician,
                                                    monkeypatch: pytest.MonkeyPatch) -> None:
    pattern = fern.piece()["pattern"]

    def full(*_: Any) -> None:
        raise MemoryError

    with monkeypatch.context() as patched:
        patched.setattr("studio.api.asked.look", full)
        status, answer = fern.call("post", f"patterns/{pattern}/state", {"end": 4})
    assert status == 503 and "take fewer bars or lanes" in answer["detail"]
    assert fern.state(pattern)["view"]["lanes"] == []
