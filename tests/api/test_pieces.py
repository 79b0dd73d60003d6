"""Pieces and patterns: what a musician does with them in the list."""

from datetime import timedelta

import pytest
from django.utils import timezone
from studio.models import Clip

from tests.api.conftest import Musician


def test_make_rename_duplicate_delete_and_bring_back(fern: Musician) -> None:
    piece = fern.piece()
    fern.edit(piece["pattern"], {"do": "add_lane", "note": 36},
              {"do": "put", "lane": "bass-drum-1", "steps": [0, 8], "on": False})
    place = f"pieces/{piece['id']}"
    assert fern.good("patch", place, {"name": "  Pump Room "})["name"] == "Pump Room"
    copy = fern.good("post", f"{place}/duplicate")
    assert copy["name"] == "Pump Room (copy)"
    lanes = copy["patterns"][0]["thumb"]["lanes"]
    assert [lane["notes"] for lane in lanes] == [[[0.25, 100], [0.75, 100]]]
    fern.good("delete", place)
    assert [each["id"] for each in fern.good("get", "pieces")] == [copy["id"]]
    assert fern.call("get", place)[0] == 404
    assert fern.call("post", f"patterns/{piece['pattern']}/state", {"end": 4})[0] == 404
    fern.good("post", f"{place}/restore")
    assert len(fern.good("get", "pieces")) == 2


@pytest.mark.parametrize("name", ["", "   ", "two\nlines", "x" * 81, 7, None])
def test_a_name_that_will_not_do(fern: Musician, name: object) -> None:
    assert fern.call("post", "pieces", {"name": name})[0] == 422


def test_tempo_metre_and_key_belong_to_the_piece(fern: Musician) -> None:
    piece = fern.piece()
    other = fern.good("post", f"pieces/{piece['id']}/patterns", {"name": "Other"})["id"]
    fern.edit(piece["pattern"], {"do": "pattern", "field": "tempo", "value": 98.5},
              {"do": "pattern", "field": "meter", "value": [7, 8]})
    view = fern.state(other)["view"]
    assert (view["tempo"], view["meter"], view["bar_beats"]) == (98.5, [7, 8], 3.5)
    back = fern.good("post", f"patterns/{piece['pattern']}/undo",
                     {"revision": fern.state(piece["pattern"])["revision"], "end": 4})
    assert back["view"]["tempo"] == 120
    assert fern.state(other)["view"]["tempo"] == 120, "undo is shared as well"


def test_a_pattern_copied_whole_sounds_the_same(fern: Musician) -> None:
    piece = fern.piece()
    fern.edit(piece["pattern"], {"do": "add_lane", "note": 42},
              {"do": "set", "lane": "closed-hi-hat", "slot": "rule.kind", "value": "euclid"},
              {"do": "set", "lane": "closed-hi-hat", "slot": "rule.pulses", "value": 9},
              {"do": "add", "lane": "closed-hi-hat", "clause": "probability"})
    copy = fern.good("post", f"pieces/{piece['id']}/patterns",
                     {"name": "Again", "copy_of": piece["pattern"]})
    heard = [fern.state(each, end=64)["view"]["lanes"][0]["drawn"]["notes"]
             for each in (piece["pattern"], copy["id"])]
    assert heard[0] == heard[1]
    assert 0 < len(heard[0]) < 9 * 16
    fern.good("delete", f"patterns/{copy['id']}")
    assert len(fern.good("get", f"pieces/{piece['id']}")["patterns"]) == 1
    fern.good("post", f"patterns/{copy['id']}/restore")
    assert len(fern.good("get", f"pieces/{piece['id']}")["patterns"]) == 2


def test_an_empty_pattern_begins_with_something_or_as_another_of_the_piece(fern: Musician) -> None:
    piece = fern.piece()
    first = piece["pattern"]
    for start, names in (("beat", ["Pump", "Valve", "Drip", "Fan"]),
                         ("hats", ["Pump", "Drip", "Mist"])):
        state = fern.edit(first, {"do": "start", "start": start})
        assert [lane["name"] for lane in state["view"]["lanes"]][-len(names):] == names
        assert all(lane["drawn"]["hits"] for lane in state["view"]["lanes"])
    fern.edit(first, {"do": "add", "lane": None, "clause": "swing"},
              {"do": "pattern", "field": "bars", "value": 2})
    made = fern.good("post", f"pieces/{piece['id']}/patterns", {"name": "B"})["id"]
    seed = fern.state(made)["view"]["seed"]
    body = {"revision": fern.state(made)["revision"], "source": first, "end": 4}
    filled = fern.good("post", f"patterns/{made}/fill", body)
    view, given = filled["view"], fern.state(first)["view"]
    assert [lane["id"] for lane in view["lanes"]] == [lane["id"] for lane in given["lanes"]]
    assert (view["bars"], view["seed"], filled["history"]["undo"]) == (2, seed, "as Pattern 1")
    assert fern.call("post", f"patterns/{made}/fill", body)[0] == 409
    assert fern.call("post", f"patterns/{made}/fill", body | {
        "revision": filled["revision"], "source": fern.piece()["pattern"]})[0] == 404


def test_what_was_deleted_is_listed_for_thirty_days(fern: Musician, mist: Musician) -> None:
    piece, kept = fern.piece("Boiler"), fern.drums({"rule.pulses": 4})
    clip = fern.good("post", f"patterns/{kept}/keep", {"bars": 1})
    fern.good("delete", f"clips/{clip['id']}")
    fern.good("delete", f"pieces/{piece['id']}")
    listed = fern.good("get", "deleted")
    assert [(each["kind"], each["name"], each["piece"]) for each in listed] == [
        ("piece", "Boiler", "Boiler"), ("clip", clip["name"], "Sprinklers")]
    assert mist.good("get", "deleted") == []
    fern.good("post", f"pieces/{piece['id']}/restore")
    assert [each["kind"] for each in fern.good("get", "deleted")] == ["clip"]
    Clip.objects.update(deleted=timezone.now() - timedelta(days=31))
    assert fern.good("get", "deleted") == []


def test_earlier_chances_are_those_that_were_there(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    first = fern.state(pattern)["view"]["seed"]
    assert fern.good("get", f"patterns/{pattern}/chances?lane=pump") == {"pattern": [], "lane": []}
    for _ in range(3):
        fern.edit(pattern, {"do": "reroll"})
    fern.edit(pattern, {"do": "reroll", "lane": "pump"})
    found = fern.good("get", f"patterns/{pattern}/chances?lane=pump")
    assert found == {"pattern": [first + 2, first + 1, first], "lane": [0]}
    assert fern.edit(pattern, {"do": "reroll", "seed": first + 1})["view"]["seed"] == first + 1
    assert fern.good("get", f"patterns/{pattern}/chances")["pattern"] == [
        first + 3, first + 2, first]
