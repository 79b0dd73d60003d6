"""What holds for every call of the API: whose things they are, and how nonsense is answered."""

import json
import re
from functools import cache
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from studio.api import api
from studio.models import (
    Clip,
    ClipRevision,
    Link,
    OrderRevision,
    OwnStart,
    Pattern,
    Piece,
    SignIn,
    SoundFile,
    TrailPass,
)

from tests.api.conftest import Musician
from tests.recordings import digest, keep, recording

PASS = {"key": "6f1d2c9a-52b8-4f0a-9c1e-3a7d8e5b4c60", "number": 0, "start": 0, "beats": 4,
        "segments": [{"revision": 1, "at": 0, "start": 0, "end": 4}]}
BODIES: dict[str, Any] = {
    "state": {"end": 4}, "look": {"revision": 1, "end": 4}, "why": {
        "revision": 1, "lane": "pump", "at": 0},
    "edits": {"revision": 1, "edits": [{"do": "reroll"}], "end": 4},
    "fill": {"revision": 1, "source": 1, "end": 4},
    "undo": {"revision": 1, "end": 4}, "redo": {"revision": 1, "end": 4}, "trail": PASS,
    "keep": {"bars": 1}, "taken": {"bars": 1}, "midi": {"bars": 1},
    "duplicate": None, "restore": None, "shelf": {"clips": []},
    "join": {"clips": [1, 1]},
    "writing": {"revision": 1, "lane": "pump", "text": "Spread 3", "caret": 8},
    "written": {"text": "Spread 3 hits over 8 steps."},
    "copy": {"key": PASS["key"]}, "links": {"name": "For Moss"},
    "texts": {"text": "Rain, pattern: A frame of 1 bar.", "keys": [PASS["key"]]},
    "say": {"revision": 1, "lane": "pump"}, "cuttings": {"revision": 1}, "throws": {"pattern": 1}}
"""A body for each kind of call that takes more than a name."""
CLIP_BODIES: dict[str, Any] = {
    "try": {"revision": 2, "tool": {"tool": "pull"}}, "undo": {"revision": 2},
    "redo": {"revision": 2}, "lanes": {}, "fill": {"pattern": 1, "revision": 1}, "recipe": {},
    "edits": {"revision": 2, "edits": [
        {"do": "louden_notes", "notes": [0], "by": 1}]}}
ORDER_BODIES: dict[str, Any] = {
    "look": {"chosen": 0}, "keep": {"name": "Whole"}, "undo": {"revision": 3},
    "redo": {"revision": 3},
    "edits": {"revision": 3, "edits": [{"do": "duplicate_block", "block": 0}]}}


RAW = {"application/octet-stream", "audio/midi"}


@cache
def calls() -> list[tuple[str, str]]:
    """(method, path) of every call that is about somebody's things and takes JSON."""
    paths = api.get_openapi_schema()["paths"]
    return [(method, path.removeprefix("/api/")) for path, methods in paths.items()
            for method, call in methods.items() if ("{" in path or path.endswith("/pieces"))
            and RAW.isdisjoint(call.get("requestBody", {}).get("content", {}))]


def body_of(method: str, path: str) -> Any:
    if method in ("get", "delete"):
        return None
    bodies = CLIP_BODIES if path.startswith("clips") else \
        ORDER_BODIES if "/order/" in path else {}
    return (BODIES | bodies).get(path.rsplit("/", 1)[-1], {"name": "Boiler"})


@pytest.fixture
def place(fern: Musician) -> dict[str, Any]:
    """The ids of Fern's piece, pattern, revision, pass, clip, link and the like."""
    pattern = fern.drums({"rule.pulses": 4})
    revision = fern.state(pattern)["revision"]
    segment = PASS["segments"][0] | {"revision": revision}  # type: ignore[index]
    heard = fern.good("post", f"patterns/{pattern}/trail", PASS | {"segments": [segment]})
    clip = fern.good("post", f"patterns/{pattern}/keep", {"passes": [heard["id"]]})
    piece = Pattern.objects.get(pk=pattern).piece_id
    start = fern.good("post", "library", {"pattern": pattern, "revision": revision,
                                          "lane": "pump", "name": "Mine"})["starts"][0]
    assert keep(fern, recording())[0] == 200
    ordered = fern.good("post", f"pieces/{piece}/order/edits", {
        "revision": 0, "edits": [{"do": "add_block", "pattern": pattern}]})
    link = fern.good("post", f"pieces/{piece}/links", {"name": "For Moss"})
    sign_in = SignIn.objects.get(pk=fern.client.cookies["sessionid"].value)
    return {"sign_in": sign_in.name, "link_id": link["id"],
            "token": link["address"].removeprefix("/l/"), "number": 0, "passing": 0,
            "start_id": start["id"], "order_revision": ordered["revision"],
            "piece_id": piece, "pattern_id": pattern,
            "pass_id": heard["id"], "clip_id": clip["id"], "revision": revision,
            "clip_revision": ClipRevision.objects.get(clip=clip["id"]).pk,
            "digest": digest(recording())}


def filled(body: Any, place: dict[str, int]) -> Any:
    """The body with Fern's revision and pattern in it."""
    heads = {"1": "revision", "2": "clip_revision", "3": "order_revision"}
    text = re.sub(r'"revision": ([123])\b',
                  lambda found: f'"revision": {place[heads[found[1]]]}', json.dumps(body))
    clips = json.dumps([place["clip_id"]] * 2)
    return json.loads(text.replace('"source": 1', f'"source": {place["pattern_id"]}')
                      .replace('"pattern": 1', f'"pattern": {place["pattern_id"]}')
                      .replace('"clips": [1, 1]', f'"clips": {clips}'))


def test_nobody_s_call_reaches_what_is_another_s(
        fern: Musician, mist: Musician, place: dict[str, int]) -> None:
    nobody = Musician(None)

    def everything() -> list[Any]:
        return [list(model.objects.order_by("pk").values())
                for model in (Piece, Pattern, TrailPass, Clip, ClipRevision, OrderRevision,
                              Link, OwnStart, SoundFile)]

    before = everything()
    mine = [call for call in calls() if "{" in call[1] and not call[1].startswith("shared/")]
    assert len(mine) > 20
    for method, path in mine:
        where, body = path.format(**place), filled(body_of(method, path), place)
        for who, status in ((nobody, 401), (mist, 404)):
            found, answer = who.call(method, where, body)
            assert found == status, (method, path, found, answer)
            assert answer["detail"].endswith(".") and "Error" not in answer["detail"]
    assert everything() == before
    assert mist.good("get", "pieces") == [] and nobody.call("get", "pieces")[0] == 401
    # Seconds of work for whoever asks; it lies in docs/.
    assert nobody.client.get("/api/openapi.json").status_code == 404
    for method, path in mine:  # and all of them do answer their owner
        if method != "delete":
            status, answer = fern.call(method, path.format(**place),
                                       filled(body_of(method, path), place))
            assert status < 300 or status == 409, (method, path, answer)


JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=9)
    | st.sampled_from(["pump", "rule.pulses", "set", "1/16", "velocity", -1, 10**30, [], {}]),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from(
        ["revision", "edits", "end", "start", "do", "lane", "slot", "value", "name", "passes"]),
        inner, max_size=4), max_leaves=8)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture,
                                                  HealthCheck.too_slow])
@given(st.data())
def test_nonsense_is_refused_in_a_sentence_and_changes_nothing(
        fern: Musician, place: dict[str, int], data: st.DataObject) -> None:
    method, path = data.draw(st.sampled_from(
        [call for call in calls() if body_of(*call) is not None]))
    body = body_of(method, path)
    name = data.draw(st.sampled_from(sorted(body) or ["name"]))
    nonsense = data.draw(st.one_of(JSON, JSON.map(lambda value: filled(body, place) | {
        name: value})))
    before = Pattern.objects.get(pk=place["pattern_id"]).head_id
    status, answer = fern.call(method, path.format(**place), nonsense)
    assert status < 500, (method, path, nonsense, answer)
    if status >= 400:
        assert isinstance(answer["detail"], str) and len(answer["detail"]) > 5
        assert Pattern.objects.get(pk=place["pattern_id"]).head_id == before


@pytest.mark.parametrize("body", [b"", b"{", b"\xff\xfe", b"[" * 5000, b'{"end": NaN}',
                                  b'{"end": 1e999}', b'"\\ud800"'])
def test_what_is_not_json_is_refused(fern: Musician, place: dict[str, int], body: bytes) -> None:
    answer = fern.client.post(f"/api/patterns/{place['pattern_id']}/look", data=body,
                              content_type="application/json")
    assert answer.status_code in (400, 422), answer.content
    assert isinstance(answer.json()["detail"], str)


def test_nonsense_in_an_address_is_refused(fern: Musician, place: dict[str, int]) -> None:
    tried = 0
    for path, methods in api.get_openapi_schema()["paths"].items():
        for method, call in methods.items():
            asked = [each["name"] for each in call.get("parameters", ()) if each["in"] == "query"]
            for name in asked:
                for value in ("%00", "-1", "1e999", str(10**40), "x" * 500, "1,,%EF%BF%BD", ""):
                    answer = fern.client.generic(
                        method, path.format(**place) + f"?{name}={value}", b"{}",
                        "application/octet-stream")
                    assert answer.status_code < 500, (path, name, value, answer.content)
                    tried += 1
    assert tried > 80


def test_more_than_is_read_at_once_is_refused_in_a_sentence(
        fern: Musician, place: dict[str, int]) -> None:
    look = f"/api/patterns/{place['pattern_id']}/look"
    for spaces, status in ((2 * 2**20 - 100, 200), (2 * 2**20, 413)):
        body = json.dumps({"revision": place["revision"], "end": 4}) + " " * spaces
        answer = fern.client.post(look, data=body, content_type="application/json")
        assert answer.status_code == status
    assert answer.json() == {"detail": "A request takes up to 2 MB; do that in parts."}


@pytest.mark.parametrize(("path", "body"), [
    ("pieces", '{"name": "a\\u0000b"}'), ("pieces", '{"name": "a\\ud800b"}'),
    ("session", '{"username": "a\\u0000b", "password": "x"}'),
    ("accounts", '{"username": "fern9", "password": "pass\\u0000word"}'),
    ("patterns/{}/edits", '{"revision": {}, "end": 4, "edits": [{"do": "lane", "lane": "pump", '
                          '"field": "name", "value": "\\u0000"}]}'),
    ("patterns/{}/look", '{"revision": {}, "end": 4, "edits": [{"do": "shape", "lane": "pump", '
                         '"kind": "velocity", "how": "set", "amount": NaN}]}'),
    ("patterns/{}/look", '{"revision": {}, "end": 4, "edits": [{"do": "shape", "lane": "pump", '
                         '"kind": "velocity", "how": "raise", "amount": 1e999}]}')])
def test_what_no_store_keeps_is_refused_in_a_sentence(
        fern: Musician, place: dict[str, int], path: str, body: str) -> None:
    path = path.format(place["pattern_id"])
    body = body.replace("{}", str(place["revision"]))
    answer = fern.client.post(f"/api/{path}", data=body, content_type="application/json")
    assert (answer.status_code, answer.json()) == (422, {"detail": "Numbers have to be finite, and "
                                                         "text cannot hold NUL or half of a "
                                                         "character."})
    literal = '{"name": "a\\\\u0000b"}'  # the characters themselves, not NUL
    made = fern.client.post("/api/pieces", data=literal, content_type="application/json").json()
    assert made["name"] == "a\\u0000b"


@pytest.mark.parametrize("name", ["", "   ", "two\nlines", "bell\x07", "\u2028", "x" * 90])
def test_names_are_one_line_with_something_on_it_everywhere(
        fern: Musician, place: dict[str, int], name: str) -> None:
    revision = {"revision": place["revision"], "end": 4}
    calls: list[tuple[str, str, Any]] = [
        ("post", "pieces", {"name": name}), ("patch", f"clips/{place['clip_id']}", {"name": name}),
        ("patch", f"patterns/{place['pattern_id']}", {"name": name}),
        *(("post", f"patterns/{place['pattern_id']}/edits", revision | {"edits": [edit]})
          for edit in ({"do": "lane", "lane": "pump", "field": "name", "value": name},
                       {"do": "add_lane", "note": 40, "name": name}))]
    for call in calls:
        status, answer = fern.call(*call)
        assert status == 422 and answer["detail"].endswith("."), (call, answer)
    assert fern.state(place["pattern_id"])["revision"] == place["revision"]


def test_a_pass_shorter_than_anything_is_refused(fern: Musician, place: dict[str, int]) -> None:
    heard = filled(PASS, place) | {"beats": 1e-6}
    status, answer = fern.call("post", f"patterns/{place['pattern_id']}/trail", heard)
    assert (status, answer["detail"][:5]) == (422, "beats")


def test_what_is_in_a_deleted_piece_is_gone_until_it_is_back(
        fern: Musician, place: dict[str, int], monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("studio.worked_out.recipes._SECONDS", 0)
    fern.good("delete", f"pieces/{place['piece_id']}")
    apart = ("pieces/{piece_id}/restore", "library/{start_id}",
             "sounds/{digest}", "account/sign-ins/{sign_in}",  # which are in no piece
             "shared/{token}/patterns/{number}/why")  # which is asked with a place
    for method, path in calls():
        if "{" in path and path not in apart and (method, path) != (
                "delete", "pieces/{piece_id}"):
            body = filled(body_of(method, path), place)
            assert fern.call(method, path.format(**place), body)[0] == 404, (method, path)
    fern.good("post", f"pieces/{place['piece_id']}/restore")
    fern.good("get", f"clips/{place['clip_id']}/midi")
    fern.good("delete", f"clips/{place['clip_id']}")
    assert fern.call("get", f"clips/{place['clip_id']}/midi")[0] == 404
