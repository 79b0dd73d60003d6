"""Texts over the API: told, read, looked at and taken."""

from uuid import uuid4

from studio.models import Piece

from tests.api.conftest import Musician


def test_a_pattern_is_told_and_taken_as_a_text(fern: Musician) -> None:
    piece = fern.piece()
    pattern = piece["patterns"][0]["id"]
    fern.edit(pattern, {"do": "add_lane", "note": 42, "name": "Drip"},
              {"do": "write", "lane": "drip", "text": "Spread 7 hits over 12 steps. Velocity 9."})
    told = fern.good("get", f"patterns/{pattern}/text")["text"]
    assert "Drip, closed hi-hat: Spread 7 hits over 12 steps of 1/16" in told
    lane = fern.good("get", f"patterns/{pattern}/text?lanes=drip")["text"]
    assert lane == told.splitlines()[-1]
    assert fern.good("get", f"patterns/{pattern}/text?lanes=drip&headed=false")["text"] == \
        lane.removeprefix("Drip, closed hi-hat: ")
    seen = fern.good("post", f"patterns/{pattern}/written", {"text": lane + "\n\n" + told})
    assert seen["wrong"] is None and seen["lanes"]["lanes"][0]["name"] == "Drip"
    assert seen["patterns"][0]["view"]["lanes"][0]["name"] == "Drip"
    body = {"text": told + "\n" + told, "keys": [str(uuid4()), str(uuid4())]}
    made = fern.good("post", f"pieces/{piece['id']}/texts", body)
    again = fern.good("post", f"pieces/{piece['id']}/texts", body)
    assert [each["id"] for each in made] == [each["id"] for each in again] and len(made) == 2
    assert fern.call("post", f"pieces/{piece['id']}/texts", body | {"text": told})[0] == 422
    assert fern.good("get", f"patterns/{made[1]['id']}/text")["text"].splitlines()[1:] == \
        told.splitlines()[1:]


def test_what_cannot_be_read_is_told_and_stores_nothing(fern: Musician) -> None:
    pattern, piece = fern.drums({"rule.kind": "euclid"}), Piece.objects.get().pk
    state = fern.state(pattern)
    lane = state["view"]["lanes"][0]["id"]
    asked = {"revision": state["revision"], "lane": lane, "caret": 7}
    told = fern.good("post", f"patterns/{pattern}/writing", asked | {"text": "Sprad 3 hits"})
    assert told["wrong"] == {"words": "“Sprad” is not known; did you mean “Spread”?", "start": 0,
                             "end": 5, "offers": ["Spread"]}
    told = fern.good("post", f"patterns/{pattern}/writing", asked | {"text": "Spread 3 hits"})
    assert told["wrong"] is None and told["coming"][0]["about"].startswith("a number from 0 to 16")
    for text in ("x" * 2**20, "(" * 90_000, "““" * 40_000, "Drip, claves: Velocity 3.\n" * 3000,
                 "é" * 19_000, "\u202e" * 50, "Velocity 3. " * 1000):
        seen = fern.good("post", f"patterns/{pattern}/written", {"text": text})
        assert seen["wrong"] and seen["lanes"] is None, text[:20]
        writing = asked | {"text": text, "caret": len(text)}
        assert fern.good("post", f"patterns/{pattern}/writing", writing)["wrong"], text[:20]
        status, _ = fern.call("post", f"pieces/{piece}/texts", {"text": text, "keys": []})
        assert status == 422
        assert fern.call("post", f"patterns/{pattern}/edits", {
            "revision": state["revision"], "end": 4,
            "edits": [{"do": "write", "lane": lane, "text": text}]})[0] == 422
    assert fern.state(pattern)["revision"] == state["revision"]
