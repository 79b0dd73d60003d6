"""Clips as they are edited: each change a state that undo leads back from, for their owner."""

from io import BytesIO
from typing import Any
from uuid import uuid4

import pytest
from mido import MidiFile
from studio.models import ClipRevision

from tests.api.conftest import Musician


@pytest.fixture
def clip(fern: Musician) -> int:
    """A clip of four hits of a pump in a bar."""
    pattern = fern.drums({"rule.pulses": 4})
    kept = fern.good("post", f"patterns/{pattern}/keep", {
        "bars": 1, "revision": fern.state(pattern)["revision"]})
    return int(kept["id"])


def state(fern: Musician, clip: int) -> dict[str, Any]:
    found: dict[str, Any] = fern.good("get", f"clips/{clip}/state")
    return found


def edited(fern: Musician, clip: int, *edits: dict[str, Any], **more: Any) -> dict[str, Any]:
    body = {"revision": state(fern, clip)["revision"], "edits": list(edits)} | more
    found: dict[str, Any] = fern.good("post", f"clips/{clip}/edits", body)
    return found


def starts(found: dict[str, Any]) -> list[float]:
    return [note[0] for note in found["view"]["notes"]]


def test_edits_follow_each_other_and_undo_leads_back_to_what_was_kept(
        fern: Musician, clip: int) -> None:
    first = state(fern, clip)
    assert starts(first) == [0, 1, 2, 3] and first["history"] == {"undo": None, "redo": None}
    assert [tool["label"] for tool in first["tools"]][:2] == ["pull to the grid", "loosen"]
    moved = edited(fern, clip, {"do": "move_notes", "notes": [1], "later": 0.5})
    assert starts(moved) == [0, 1.5, 2, 3] and moved["chosen"] == [1]
    assert moved["history"]["undo"] == "1 note moved"
    split = edited(fern, clip, {"do": "lay_in", "tool": {"tool": "split", "strokes": 2},
                                "notes": [0]})
    assert starts(split) == [0, 0.1125, 1.5, 2, 3] and split["chosen"] == [0, 1]
    back = split
    for _ in range(3):
        back = fern.good("post", f"clips/{clip}/undo", {"revision": back["revision"]})
    assert starts(back) == [0, 1, 2, 3] and back["history"]["redo"] == "1 note moved"
    again = fern.good("post", f"clips/{clip}/redo", {"revision": back["revision"]})
    assert starts(again) == [0, 1.5, 2, 3]
    # What leaves is what is seen.
    file = MidiFile(file=BytesIO(fern.client.get(f"/api/clips/{clip}/midi").content))
    at, heard = 0, []
    for message in file.tracks[1]:
        at += message.time
        if message.type == "note_on":
            heard.append(at / 960)
    assert heard == [0, 1.5, 2, 3]


def test_a_tool_is_tried_word_by_word_and_nothing_is_stored(fern: Musician, clip: int) -> None:
    revision = state(fern, clip)["revision"]
    body = {"revision": revision, "tool": {"tool": "rotate", "by": 1}, "notes": None}
    tried = fern.good("post", f"clips/{clip}/try", body)
    assert starts(tried) == [0.25, 1.25, 2.25, 3.25]
    turned = fern.good("post", f"clips/{clip}/try", body | {"slot": "by", "value": 2})
    assert starts(turned) == [0.5, 1.5, 2.5, 3.5] and turned["tool"]["by"] == 2
    words = "".join(part if isinstance(part, str) else part["text"]
                    for part in turned["sentence"][0]["parts"])
    assert words == "Rotate by +2 steps of 1/16."
    for wrong, told in (({"slot": "by", "value": 999}, "-256 to 256"),
                        ({"slot": "colour", "value": 1}, "no word"),
                        ({"notes": [9]}, "4 notes"), ({"tool": {"tool": "melt"}}, "")):
        status, answer = fern.call("post", f"clips/{clip}/try", body | wrong)
        assert status == 422 and told in answer["detail"], answer
    assert state(fern, clip)["revision"] == revision
    assert ClipRevision.objects.filter(clip=clip).count() == 1


def test_two_windows_and_the_same_change_sent_twice(
        fern: Musician, mist: Musician, clip: int) -> None:
    revision = state(fern, clip)["revision"]
    remove = {"revision": revision, "edits": [{"do": "remove_notes", "notes": [0]}],
              "key": str(uuid4())}
    for _ in range(2):
        assert starts(fern.good("post", f"clips/{clip}/edits", remove)) == [1, 2, 3]
    status, stale = fern.call("post", f"clips/{clip}/edits", remove | {"key": str(uuid4())})
    assert status == 409 and stale["tried"] == "1 note deleted"
    assert starts(stale["state"]) == [1, 2, 3] and "another window" in stale["detail"]
    assert fern.call("post", f"clips/{clip}/undo", {"revision": revision})[0] == 409
    assert mist.call("post", f"clips/{clip}/edits", remove)[0] == 404
