"""Several requests at once, and the same request again."""

from collections import Counter
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier
from typing import Any
from uuid import uuid4

import pytest
from django.db import connection
from studio.models import Clip, Pattern, Piece, Revision

from tests.api.conftest import Musician


def at_once(*calls: Callable[[], Any]) -> list[Any]:
    """What each of the calls returns, all begun at the same moment."""
    barrier = Barrier(len(calls))

    def run(call: Callable[[], Any]) -> Any:
        try:
            barrier.wait()
            return call()
        finally:
            connection.close()

    with ThreadPoolExecutor(len(calls)) as pool:
        return list(pool.map(run, calls))


@pytest.mark.django_db(transaction=True)
def test_of_edits_on_the_same_revision_one_is_stored_and_the_others_are_told() -> None:
    fern = Musician("fern")
    pattern = fern.drums({"rule.pulses": 4})
    for turn in range(8):
        revision = fern.state(pattern)["revision"]
        body = {"revision": revision, "end": 4, "edits": [{
            "do": "set", "lane": "pump", "slot": "velocity", "value": 90 + turn}]}
        found = at_once(*[lambda: Musician("fern").call(
            "post", f"patterns/{pattern}/edits", body)] * 3)  # noqa: B023
        assert Counter(status for status, _ in found) == {200: 1, 409: 2}, found
        told = {answer["state"]["revision"] for status, answer in found if status == 409}
        assert told == {fern.state(pattern)["revision"]}


@pytest.mark.django_db(transaction=True)
def test_tempo_in_one_pattern_while_another_of_the_piece_is_edited() -> None:
    fern = Musician("fern")
    one = fern.drums({"rule.pulses": 4})
    piece = Pattern.objects.get(pk=one).piece_id
    two = fern.good("post", f"pieces/{piece}/patterns", {"name": "B", "copy_of": one})["id"]
    for turn in range(8):
        def change(pattern: int, *edits: dict[str, Any]) -> Callable[[], Any]:
            revision = fern.state(pattern)["revision"]
            return lambda: Musician("fern").call("post", f"patterns/{pattern}/edits", {
                "revision": revision, "edits": list(edits), "end": 4})

        tempo = {"do": "pattern", "field": "tempo", "value": 100 + turn}
        louder = {"do": "set", "lane": "pump", "slot": "velocity", "value": 70 + turn}
        found = at_once(change(one, tempo), change(two, louder, tempo | {"value": 150 + turn}))
        assert {status for status, _ in found} <= {200, 409}, found
        assert fern.state(one)["view"]["tempo"] == fern.state(two)["view"]["tempo"]


@pytest.mark.django_db(transaction=True)
def test_the_same_request_at_once_and_again_is_done_once() -> None:
    fern = Musician("fern")
    pattern = fern.drums({"rule.pulses": 4})
    piece = Pattern.objects.get(pk=pattern).piece_id
    revision = fern.state(pattern)["revision"]
    louder = {"do": "set", "lane": "pump", "slot": "velocity", "value": 71}

    def again(path: str, **body: Any) -> Any:
        """The one answer to a request that is sent three times at once, and later once more."""
        body["key"] = str(uuid4())
        found = at_once(*[lambda: Musician("fern").call("post", path, body)] * 3)
        found.append(fern.call("post", path, body))
        assert {status for status, _ in found} == {200}, found
        assert all(answer == found[0][1] for _, answer in found), found
        return found[0][1]

    edits = Revision.objects.count()
    state = again(f"patterns/{pattern}/edits", revision=revision, edits=[louder], end=4)
    assert Revision.objects.count() == edits + 1 and state["history"]["undo"]
    fern.edit(pattern, louder | {"value": 72})
    newest = fern.state(pattern)["revision"]
    undone = again(f"patterns/{pattern}/undo", revision=newest, end=4)
    assert undone["revision"] == state["revision"], "one step back, not four"
    assert again(f"patterns/{pattern}/redo", revision=undone["revision"],
                 end=4)["revision"] == newest
    again(f"patterns/{pattern}/keep", bars=2)
    made = again(f"pieces/{piece}/patterns", name="B", copy_of=pattern)
    clip = Clip.objects.get()
    for path in (f"clips/{clip.pk}/lanes", f"clips/{clip.pk}/recipe"):
        again(path)
    file = fern.client.get(f"/api/clips/{clip.pk}/midi").content

    def take(key: str) -> Any:
        return Musician("fern").client.post(
            f"/api/pieces/{piece}/midi?name=In&become=lanes&key={key}", data=file,
            content_type="audio/midi").json()["pattern"]["id"]

    one_key = str(uuid4())
    assert len(set(at_once(*[lambda: take(one_key)] * 4))) == 1
    again("pieces", name="Boiler")
    again(f"pieces/{piece}/duplicate")
    assert Clip.objects.count() == 1 and Piece.objects.count() == 3
    assert Pattern.objects.filter(piece=piece).count() == 5
    for path in (f"patterns/{made['id']}", f"pieces/{piece}"):
        assert [fern.call("delete", path)[0] for _ in range(2)] == [204, 204]


@pytest.mark.django_db(transaction=True)
def test_limits_hold_however_many_ask_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    fern = Musician("fern")
    piece = fern.piece()
    monkeypatch.setattr("studio.stored.patterns.MOST_PATTERNS", 4)
    path = f"pieces/{piece['id']}/patterns"
    gone = fern.good("post", path, {"name": "Gone"})["id"]
    assert fern.call("delete", f"patterns/{gone}")[0] == 204
    asked = at_once(*[lambda: Musician("fern").call("post", path, {"name": "More"})[0]] * 8)
    assert sorted(asked) == [200] * 3 + [422] * 5
    status, answer = fern.call("post", f"patterns/{gone}/restore")
    assert status == 422 and answer["detail"] == "A piece has up to 4 patterns; delete one first."
    names = at_once(*[lambda: Musician(None).call("post", "accounts", {
        "username": "nightwatch", "password": "a-warm-greenhouse-9"})[0]] * 4)
    assert sorted(names) == [200, 422, 422, 422]
