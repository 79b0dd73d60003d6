"""A view in parts says what the whole view says, and nothing twice."""

import json
from typing import Any

import pytest

from tests.api.conftest import Musician


def assembled(value: Any, parts: dict[str, Any], used: set[str]) -> Any:
    """A value with parts in place of their stamps, which are noted."""
    if isinstance(value, list):
        return [assembled(each, parts, used) for each in value]
    if not isinstance(value, dict):
        return value
    if "part" in value:
        used.add(value["part"])
        return assembled(parts[value["part"]], parts, used)
    return {name: assembled(each, parts, used) for name, each in value.items()}


def test_a_turned_word_brings_only_what_it_changed(fern: Musician) -> None:
    pattern = fern.drums(*[{"rule.pulses": pulses, "steps": 16} for pulses in (4, 2, 11)])
    revision = fern.state(pattern)["revision"]
    known: dict[str, Any] = {}
    used: set[str] = set()
    sizes = []
    for velocity in range(60, 70):
        body = {"revision": revision, "end": 16, "chosen": "drip", "edits": [{
            "do": "set", "lane": "drip", "slot": "velocity", "value": velocity}]}
        whole = fern.good("post", f"patterns/{pattern}/look", body)
        answer = fern.good("post", f"patterns/{pattern}/look", body | {"have": sorted(used)})
        assert not used & answer["parts"].keys(), "what is there is not sent"
        known |= answer["parts"]
        used = set()
        assert assembled(answer["view"], known, used) == whole
        sizes.append(len(json.dumps(answer, separators=(",", ":"))))
        if velocity > 60:
            drawn = [part for part in answer["parts"].values() if "cells" in part]
            assert len(drawn) == 1 and len(answer["parts"]) <= 4, "the lane, a clause, a strand"
    assert max(sizes[1:]) < sizes[0] / 2
    louder = body["edits"] + [{"do": "lane", "lane": "valve", "field": "mute", "value": True}]
    stored = fern.good("post", f"patterns/{pattern}/edits", body | {
        "edits": louder, "have": sorted(used)})
    known |= stored["view"]["parts"]
    whole = fern.state(pattern, end=16, chosen="drip")["view"]
    assert assembled(stored["view"]["view"], known, set()) == whole
    assert not whole["lanes"][1]["audible"]


def test_what_nobody_waits_for_any_more_is_not_worked_out(
        fern: Musician, monkeypatch: pytest.MonkeyPatch) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    body = {"revision": fern.state(pattern)["revision"], "end": 4}
    monkeypatch.setattr("studio.api.asked.look", lambda *_: pytest.fail("it was worked out"))
    answer = fern.client.post(f"/api/patterns/{pattern}/look", body, "application/json",
                              **{"waitress.client_disconnected": lambda: True})
    assert answer.status_code == 499
