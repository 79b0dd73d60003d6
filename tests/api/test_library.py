"""Starting recipes over the API: the ones that come with it, one's own, and files of them."""

import pytest

from tests.api.conftest import Musician

pytestmark = pytest.mark.django_db


def test_starting_recipes_with_their_picture_and_sentence(fern: Musician) -> None:
    starts = fern.good("get", "library")["starts"]
    assert len(starts) >= 60 and all(start["id"] is None for start in starts)
    clave = next(start for start in starts if start["name"] == "Son clave")
    assert clave["sentence"].startswith("Play steps 1 4 7 11 13 by hand")
    assert [round(mark[0] * 32) for mark in clave["marks"]][:5] == [0, 3, 6, 10, 12]
    assert "Toussaint" in clave["source"]


def test_ones_own_are_saved_taken_out_and_taken_in(fern: Musician, mist: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 5})
    save = {"pattern": pattern, "revision": fern.state(pattern)["revision"], "lane": "pump",
            "name": "Five"}
    mine = fern.good("post", "library", save)["starts"][0]
    assert mine["document"]["lane"]["rule"] == {"kind": "euclid", "pulses": 5}
    assert "id" not in mine["document"]["lane"]
    assert mist.good("get", "library")["starts"][0]["id"] is None
    assert mist.call("post", "library", save)[0] == 404
    taken = mist.good("post", "library/import", {"starts": [mine["document"]]})["starts"][0]
    assert (taken["name"], taken["group"]) == ("Five", "my own")
    for damaged in ([{"name": "x"}], [mine["document"], {"name": "y", "lane": {"steps": 0}}],
                    [{"lane": 3}], "x", [{}] * 201):
        status, answer = mist.call("post", "library/import", {"starts": damaged})
        assert status == 422 and answer["detail"].endswith("."), (damaged, answer)
    assert len([s for s in mist.good("get", "library")["starts"] if s["id"]]) == 1


def test_a_view_tells_of_keys_chords_and_controllers(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    edits = [{"do": "chords", "words": ["ii7", "V/3"], "beats": [4, "7/2"]},
             {"do": "add_lane", "begin": "melody"}, {"do": "add_lane", "begin": "controller"},
             {"do": "set", "lane": None, "slot": "key.scale", "value": "dorian"}]
    view = fern.edit(pattern, *edits, end=16)["view"]
    assert view["progression"] == {"words": ["ii7", "V/3"], "beats": ["4", "7/2"],
                                   "named": False, "root": 0}
    assert [(c["name"], c["start"], c["end"]) for c in view["chords"]][:2] == [
        ("Dm7", 0, 4), ("G/B", 4, 7.5)]
    melody, glow = view["lanes"][-2:]
    assert melody["scale"]["degrees"][3] == "3rd" and melody["channel"] == glow["channel"] == 1
    assert glow["bounds"] == [0, 127] and glow["drawn"]["lines"] and glow["drawn"]["changes"]
    assert {each["word"] for each in view["chords_offered"]} >= {"i", "IV7", "bVII"}
