"""Cuttings at the API: grown from what is stored or tried out, bounded, and planted as an edit."""

from typing import Any

from tests.api.conftest import Musician


def cuttings(fern: Musician, pattern: int, **more: Any) -> Any:
    revision = fern.state(pattern)["revision"]
    return fern.good("post", f"patterns/{pattern}/cuttings", {"revision": revision} | more)


def test_strips_are_grown_told_and_planted(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    made = cuttings(fern, pattern, wish={"count": 20, "throw": 3})
    (strip,) = made["strips"]
    assert strip["lane"] == "pump" and len(strip["marks"]) == 20 and strip["refused"] is None
    assert strip["hits"] == [0, 4, 8, 12] and made["wish"]["throw"] == 3
    assert 0 < made["density"] < 1 and made["agreement"] == 0
    words = [part for part in made["sentence"][0]["parts"] if not isinstance(part, str)]
    assert [word["slot"] for word in words][:2] == ["count", "source"]
    turned = cuttings(fern, pattern, wish=made["wish"], slot="along", value="apart")
    assert turned["wish"]["along"] == "apart" and turned["wish"]["count"] == 20
    assert turned["strips"][0]["marks"][0]["value"] == 0
    # What is tried out is grown from too; nothing of it is stored.
    mark = strip["marks"][-1]["hits"]
    tried = cuttings(fern, pattern, edits=[{"do": "plant", "lane": "pump", "hits": mark}])
    assert tried["strips"][0]["hits"] == mark
    state = fern.edit(pattern, {"do": "plant", "lane": "pump", "hits": mark})
    assert state["history"]["undo"].endswith("a cutting planted")
    assert cuttings(fern, pattern)["strips"][0]["hits"] == mark
    why = fern.good("post", f"patterns/{pattern}/why", {
        "revision": state["revision"], "lane": "pump", "at": 0})
    assert why["measures"].startswith(f"{len(mark)} hits, ")


def test_what_cannot_be_grown_is_said_in_a_sentence(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    revision = fern.state(pattern)["revision"]
    none = cuttings(fern, pattern, wish={"stays": "hits", "low": 0, "high": 10})["strips"][0]
    assert none["marks"] == [] and none["refused"].endswith("lies between 0 and 10 %.")
    for body, words in (
            ({"wish": {"count": 5}}, "greater than or equal to 10"),
            ({"wish": {"low": 60, "high": 40}}, "goes up to the upper one"),
            ({"wish": {"stray": "wild"}}, "number"),
            ({"wish": {"role": "king"}}, "A role is one of"),
            ({"wish": {"throw": 10**30}}, "less than"),
            ({"slot": "count", "value": 7}, "from 10 to 1,000"),
            ({"slot": "nothing", "value": 7}, "no word"),
            ({"lanes": ["nobody"]}, "no lane"),
            ({"lanes": ["pump"] * 60, "wish": {"count": 1000}}, "too much at once"),
            ({"edits": [{"do": "plant", "lane": "pump", "hits": [99]}]}, "no step 100")):
        status, answer = fern.call("post", f"patterns/{pattern}/cuttings",
                                   {"revision": revision} | body)
        assert status == 422 and words in answer["detail"], (body, answer)
    fern.edit(pattern, {"do": "set", "lane": "pump", "slot": "steps", "value": 24},
              {"do": "duplicate_lane", "lane": "pump"}, {"do": "duplicate_lane", "lane": "pump"})
    status, answer = fern.call("post", f"patterns/{pattern}/cuttings", {
        "revision": fern.state(pattern)["revision"], "wish": {"source": "all"}})
    assert status == 422 and "fewer lanes" in answer["detail"]
