"""What runs out is cleared, and nothing else."""

from datetime import timedelta
from typing import Any

import pytest
from django.core.management import call_command
from django.utils import timezone
from studio.models import Clip, ClipRevision, Pattern, Piece, Revision, SoundFile, TrailPass
from studio.stored import clips

from tests.api.conftest import Musician
from tests.api.test_every_call import PASS
from tests.recordings import digest, keep, recording


def aged(days: int, **fields: Any) -> None:
    """Everything there is was made so many days ago; what is deleted, was then."""
    then = timezone.now() - timedelta(days=days)
    for model in (Revision, ClipRevision, TrailPass, SoundFile):
        model.objects.update(created=then)
    for model in (Piece, Pattern, Clip):
        model.objects.exclude(deleted=None).update(deleted=then)


def everything(fern: Musician, piece: int) -> Any:
    whole = fern.good("get", f"pieces/{piece}")
    return [whole, *(fern.state(each["id"]) for each in whole["patterns"]),
            *(fern.good("get", f"clips/{each['id']}/state") for each in whole["shelf"])]


def test_what_can_be_come_back_to_stays_and_the_rest_goes(fern: Musician) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    piece = Pattern.objects.get(pk=pattern).piece_id
    assert keep(fern, recording())[0] == keep(fern, recording(hertz=220))[0] == 200
    fern.edit(pattern, {"do": "own_sound", "lane": "pump", "file": digest(recording()),
                        "name": "Drop"})
    left = fern.state(pattern)["revision"]
    heard = fern.good("post", f"patterns/{pattern}/trail", PASS | {"segments": [
        {"revision": left, "at": 0, "start": 0, "end": 4}]})
    lost = fern.edit(pattern, {"do": "set", "lane": "pump", "slot": "velocity", "value": 70})
    for revision in (lost["revision"], left):
        back = fern.good("post", f"patterns/{pattern}/undo", {"revision": revision, "end": 4})
    fern.edit(pattern, {"do": "set", "lane": "pump", "slot": "velocity", "value": 71})
    clip = fern.good("post", f"patterns/{pattern}/keep", {"passes": [heard["id"]]})["id"]
    second = fern.good("post", f"pieces/{piece}/patterns", {"name": "B", "copy_of": pattern})["id"]
    gone = [fern.good("post", f"pieces/{piece}/patterns", {"name": name})["id"] for name in "CD"]
    other = fern.piece("Boiler")
    fern.good("post", f"patterns/{gone[0]}/keep", {"bars": 1})  # whose recipe the clip has
    for path in (f"patterns/{gone[0]}", f"patterns/{gone[1]}", f"pieces/{other['id']}"):
        fern.good("delete", path)
    before = everything(fern, piece)

    aged(29)
    call_command("clear")
    assert everything(fern, piece) == before and back["history"]["redo"]
    assert {each["name"] for each in fern.good("get", "deleted")} == {"C", "D", "Boiler"}
    kept = set(Revision.objects.filter(pattern=pattern).values_list("pk", flat=True))
    assert lost["revision"] not in kept and left in kept, "the clip and the Trail name the latter"
    assert list(SoundFile.objects.values_list("digest", flat=True)) == [digest(recording())]
    assert fern.good("post", f"clips/{clip}/recipe", {})["name"]
    aged(31)
    call_command("clear")
    assert everything(fern, piece)[1:3] == before[1:3]
    assert set(Pattern.objects.filter(piece=piece).values_list("name", flat=True)) >= {"C", "B"}
    assert not Pattern.objects.filter(pk=gone[1]).exists()
    assert not Piece.objects.filter(name="Boiler").exists()
    undone, count = fern.state(second)["revision"], 0
    while (state := fern.good("post", f"patterns/{pattern}/undo", {
            "revision": fern.state(pattern)["revision"], "end": 4}))["revision"] != undone:
        undone, count = state["revision"], count + 1
    assert count == 2 and state["view"]["lanes"] == [], "all the way back to the empty pattern"


def test_a_trail_keeps_the_passes_that_it_shows(
        fern: Musician, monkeypatch: pytest.MonkeyPatch) -> None:
    for place in ("trail", "clearing"):
        monkeypatch.setattr(f"studio.stored.{place}.SHOWN_PASSES", 3)
    pattern = fern.drums({"rule.pulses": 4})
    segment = {"revision": fern.state(pattern)["revision"], "at": 0, "start": 0, "end": 4}
    for number in range(5):
        fern.good("post", f"patterns/{pattern}/trail", PASS | {
            "key": PASS["key"][:-1] + str(number), "segments": [segment]})
    shown = fern.good("get", f"patterns/{pattern}/trail")
    call_command("clear")
    assert TrailPass.objects.count() == 5, "a page may still have them"
    aged(2)
    call_command("clear")
    assert [each["number"] for each in shown] == [3, 4, 5]
    assert fern.good("get", f"patterns/{pattern}/trail") == shown


def test_a_clip_of_many_notes_is_stored_by_what_changed(fern: Musician) -> None:
    pattern = fern.drums(*[{"step": "1/64", "steps": 64, "rule.pulses": 60}] * 3)
    clip = fern.good("post", f"patterns/{pattern}/keep", {"bars": 16})["id"]
    states = []
    for number in range(40):
        edit = {"do": "louden_notes", "notes": [number, 2000 - number], "to": 1 + number}
        revision = fern.good("get", f"clips/{clip}/state")["revision"]
        states.append(fern.good("post", f"clips/{clip}/edits", {
            "revision": revision, "edits": [edit]}))
    assert len(states[0]["view"]["notes"]) > 2500
    kept = list(ClipRevision.objects.filter(clip=clip).order_by("id"))
    assert [each.apart for each in kept] == [*range(32), *range(9)]
    assert all(len(str(each.difference)) < 1000 for each in kept if each.apart)
    clips._notes = type(clips._notes)(200_000)  # as in a process that was just started
    for state, before in zip(reversed(states), reversed(states[:-1]), strict=False):
        back = fern.good("post", f"clips/{clip}/undo", {"revision": state["revision"]})
        assert back["view"] == before["view"]
