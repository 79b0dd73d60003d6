"""Edits, revisions, undo, and views of a pattern."""

from typing import Any

import pytest
from lattice.play import play
from pydantic import TypeAdapter
from studio.api.patterns import StateOut
from studio.demo import load
from studio.models import Pattern, Revision
from studio.worked_out.look import View
from studio.worked_out.recipes import recipe_of

from tests.api.conftest import Musician

EUCLID = {"rule.kind": "euclid", "steps": 12, "rule.pulses": 7}


def word(state: dict[str, Any], slot: str) -> dict[str, Any]:
    """A word of the chosen lane's sentence."""
    clauses = state["view"]["chosen"]["sentence"]["clauses"]
    return next(part for clause in clauses for part in clause["parts"]
                if isinstance(part, dict) and part["slot"] == slot)


def test_a_word_is_tried_out_then_stored_as_one_revision(fern: Musician) -> None:
    pattern = fern.drums(EUCLID)
    before = fern.state(pattern, chosen="pump")
    revisions = Revision.objects.count()
    turn = {"do": "set", "lane": "pump", "slot": "rule.rotation", "value": 2}
    look = fern.good("post", f"patterns/{pattern}/look", {
        "revision": before["revision"], "edits": [turn], "end": 4, "chosen": "pump"})
    TypeAdapter(View).validate_python(look)
    assert Revision.objects.count() == revisions, "trying stores nothing"
    after = fern.edit(pattern, turn, chosen="pump")
    StateOut.model_validate(after)
    assert after["view"] == look, "what is stored is what was shown"
    assert after["history"]["undo"] == "Pump: turn 0 to 2"
    assert word(after, "rule.rotation")["value"] == 2
    assert Revision.objects.count() == revisions + 1
    fern.edit(pattern, turn)
    assert Revision.objects.count() == revisions + 1, "a change that changes nothing is no revision"


def test_a_view_holds_exactly_the_core_s_notes(fern: Musician) -> None:
    load()
    for pattern in Pattern.objects.all():
        recipe = recipe_of(pattern.head_id)
        owner = Musician(pattern.piece.owner.get_username())
        for start in (0, 40):
            view = owner.state(pattern.id, start=start, end=start + 16)["view"]
            shown = sorted((*note, lane["channel"]) for lane in view["lanes"]
                           for note in lane["drawn"]["notes"])
            assert shown == sorted((n.start, n.length, n.pitch, n.velocity, n.tune, n.channel)
                                   for n in play(recipe, start, start + 16)), pattern


@pytest.mark.parametrize(("slot", "value", "says"), [
    ("rule.pulses", 13, "Hits takes a whole number from 0 to 12."),
    ("rule.pulses", "many", "Hits takes a whole number from 0 to 12."),
    ("rule.pulses", 2.5, "Hits takes a whole number from 0 to 12."),
    ("rule.pulses", True, "Hits takes a whole number from 0 to 12."),
    ("rule.pulses", 10**400, "Hits takes a whole number from 0 to 12."),
    ("steps", 129, "Steps takes a whole number from 1 to 128."),
    ("step", "1/0", "A fraction cannot be divided by zero."),
    ("step", "17", "Step length takes a fraction from 1/1024 to 16."),
    ("step", "quick", "Write a fraction such as 1/16, 1/12 or 3/16."),
    ("step", None, "Write a fraction such as 1/16, 1/12 or 3/16."),
    ("span", "sideways", "Span takes one of Cycle freely, Fit, Once in each pass."),
    ("velocity", 0, "Velocity takes a whole number from 1 to 127."),
    ("mute", True, "That word is no longer in the sentence.")])
def test_what_does_not_fit_is_refused_with_the_range(
        fern: Musician, slot: str, value: Any, says: str) -> None:
    pattern = fern.drums(EUCLID)
    revision = fern.state(pattern)["revision"]
    body = {"revision": revision, "end": 4,
            "edits": [{"do": "set", "lane": "pump", "slot": slot, "value": value}]}
    for way in ("look", "edits"):
        assert fern.call("post", f"patterns/{pattern}/{way}", body) == (422, {"detail": says})
    assert fern.state(pattern)["revision"] == revision


@pytest.mark.parametrize("body", [
    {}, [], "x", {"revision": 1}, {"revision": "x", "end": 4}, {"revision": 2**70, "end": 4},
    {"revision": -1, "end": 1}, {"end": "NaN", "revision": 1}, {"end": 1e300, "revision": 1},
    {"end": -4}, {"edits": [{"do": "explode"}]}, {"edits": {"do": "put"}},
    {"edits": [{"do": "put", "lane": "pump", "steps": [500], "on": True}]},
    {"edits": [{"do": "put", "lane": "pump", "steps": [100], "on": True}]},
    {"edits": [{"do": "put", "lane": "nobody", "steps": [0], "on": True}]},
    {"edits": [{"do": "reroll"}] * 65},
    {"edits": [{"do": "lane", "lane": "pump", "field": "channel", "value": 17}]},
    {"edits": [{"do": "lane", "lane": "pump", "field": "name", "value": ""}]},
    {"edits": [{"do": "pattern", "field": "tempo", "value": 1e9}]},
    {"edits": [{"do": "pattern", "field": "meter", "value": [4, 3]}]},
    {"edits": [{"do": "pattern", "field": "bars", "value": 17}]},
    {"edits": [{"do": "strand", "lane": "pump", "kind": "colour", "strand": None}]},
    {"edits": [{"do": "strand", "lane": "pump", "kind": "velocity", "strand": {"values": []}}]},
    {"edits": [{"do": "strand", "lane": "pump", "kind": "velocity",
                "strand": {"values": [[90, 20]]}}]},
])
def test_bad_requests_are_refused_in_one_sentence(fern: Musician, body: Any) -> None:
    pattern = fern.drums(EUCLID)
    state = fern.state(pattern)
    if isinstance(body, dict) and body:
        body = {"revision": state["revision"], "end": 4} | body
    for way in ("look", "edits"):
        status, answer = fern.call("post", f"patterns/{pattern}/{way}", body)
        assert status in (400, 404, 409, 422), answer
        assert "Traceback" not in str(answer) and answer["detail"]
    assert fern.state(pattern)["revision"] == state["revision"]


def test_a_view_too_large_or_a_body_too_large_is_refused(fern: Musician) -> None:
    pattern = fern.drums(EUCLID)
    revision = fern.state(pattern)["revision"]
    assert fern.call("post", f"patterns/{pattern}/state", {"end": 5000})[0] == 422
    fern.edit(pattern, *({"do": "duplicate_lane", "lane": "pump"} for _ in range(63)))
    status, answer = fern.call("post", f"patterns/{pattern}/edits", {
        "revision": fern.state(pattern)["revision"], "end": 4,
        "edits": [{"do": "duplicate_lane", "lane": "pump"}]})
    assert (status, answer["detail"]) == (422, "A pattern has up to 64 lanes.")
    fern.client.raise_request_exception = False
    heavy = {"revision": revision, "end": 4, "edits": [], "chosen": "x" * 3_000_000}
    assert fern.call("post", f"patterns/{pattern}/look", heavy)[0] in (400, 413)


def test_undo_and_redo_walk_the_revisions(fern: Musician) -> None:
    pattern = fern.drums(EUCLID)
    texts = [fern.edit(pattern, {"do": "set", "lane": "pump", "slot": "velocity", "value": value},
                       chosen="pump") for value in (90, 80, 70)]
    revision = texts[-1]["revision"]

    def go(way: str) -> Any:
        nonlocal revision
        state = fern.good("post", f"patterns/{pattern}/{way}",
                          {"revision": revision, "end": 4, "chosen": "pump"})
        revision = state["revision"]
        return word(state, "velocity")["value"]

    assert [go("undo"), go("undo"), go("redo"), go("redo"), go("redo")] == [80, 90, 80, 70, 70]
    for _ in range(20):
        revision = fern.good("post", f"patterns/{pattern}/undo",
                             {"revision": revision, "end": 4})["revision"]
    state = fern.state(pattern)
    assert state["view"]["lanes"] == []
    assert state["history"]["undo"] is None, "back at the beginning"


def test_an_edit_on_an_older_revision_is_offered_again(fern: Musician) -> None:
    pattern = fern.drums(EUCLID)
    both_saw = fern.state(pattern)["revision"]
    newer = fern.edit(pattern, {"do": "set", "lane": "pump", "slot": "velocity", "value": 60})
    late = {"do": "set", "lane": "pump", "slot": "rule.pulses", "value": 5}
    status, answer = fern.call("post", f"patterns/{pattern}/edits", {
        "revision": both_saw, "edits": [late], "end": 4})
    assert status == 409
    assert answer["tried"] == "Pump: hits 7 to 5"
    assert answer["state"]["revision"] == newer["revision"]
    assert fern.state(pattern)["revision"] == newer["revision"]
    fern.edit(pattern, late)
    for way in ("undo", "redo"):
        assert fern.call("post", f"patterns/{pattern}/{way}",
                         {"revision": both_saw, "end": 4})[0] == 409


def test_why_tells_about_hits_and_empty_steps(fern: Musician) -> None:
    pattern = fern.drums(EUCLID)
    chance = {"do": "add", "lane": "pump", "clause": "probability"}
    revision = fern.edit(pattern, chance)["revision"]

    def why(at: float) -> str:
        return str(fern.good("post", f"patterns/{pattern}/why", {
            "revision": revision, "lane": "pump", "at": at})["words"])

    assert "chance 75 %, drew" in why(0.1)
    assert "Step 2 at 1.1 + 1/4" in why(0.3) and "drew" not in why(0.3)
