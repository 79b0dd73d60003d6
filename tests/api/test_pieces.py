"""Pieces and patterns: what a musician does with them in the list."""

import pytest

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
