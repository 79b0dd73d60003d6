"""The engine against one that is written as plainly as can be."""

from typing import Any

from hypothesis import HealthCheck, given, settings
from lattice.play import Performance, play
from lattice.recipe import read

from tests.core.melodies import melodic
from tests.core.naive import Naive, Note
from tests.core.naive_pitch import NaivePitch
from tests.core.recipes import documents

END = 20


def certain(document: dict[str, Any]) -> dict[str, Any]:
    """The document without chance, swing and rolls over stretches; each lane on its own channel,
    so that no lane's notes cut another's."""
    document["swing"] = None
    for i, lane in enumerate(document["lanes"]):
        lane |= {"channel": i + 1, "probability": 100, "swing": "straight"}
        for name in ("vary", "links"):
            lane.pop(name, None)
        if lane["direction"] in ("random", "wander"):
            lane["direction"] = "bounce"
        if lane["rule"]["kind"] not in Naive.RULES:
            lane["rule"] = {"kind": "euclid", "pulses": lane["steps"] // 2, "rotation": 1}
        for path in lane.get("paths", ()):
            path["shape"] = "wave" if path["shape"] == "wander" else path["shape"]
        lane["rolls"] = [roll | {"probability": 100} for roll in lane.get("rolls", [])
                         if "step" in roll]
        for strands in (lane.get("strands", {}), lane.get("controls", {})):
            for kind, strand in strands.items():
                plain = [value[1] if isinstance(value, list) else value
                         for value in strand["values"]]
                forward = "forward" if strand["direction"] == "random" else strand["direction"]
                strands[kind] = strand | {"values": plain, "direction": forward}
        if lane.get("rate_path"):
            lane["rate_path"] = [stretch | {"contour": 0, "human": 0}
                                 for stretch in lane["rate_path"]]
            lane.pop("contour", None)
    return document


def still(document: dict[str, Any]) -> dict[str, Any]:
    """The document, certain, and without gusts and slow movement, which test_gusts and
    test_movement hold against edits made by hand."""
    document.pop("gusts")
    for lane in certain(document)["lanes"]:
        lane.pop("paths", None)
    return document


def cut(notes: list[Note]) -> list[Note]:
    """Each note ends where the next of its lane and pitch begins; those that begin together become
    one."""
    heard: dict[tuple[str, int], list[Note]] = {}
    for note in sorted(notes):
        row = heard.setdefault((note[4], note[2]), [])
        if row and note[0] - row[-1][0] < 1e-9:
            start, length, pitch, velocity, *rest = row[-1]
            row[-1] = (start, max(length, note[1]), pitch, max(velocity, note[3]), *rest)
            continue
        if row and row[-1][0] + row[-1][1] > note[0]:
            start, _, *rest = row[-1]
            row[-1] = (start, max(note[0] - start, 1 / 960), *rest)
        row.append(note)
    return [note for voice in sorted(heard) for note in heard[voice]]


def agree(document: dict[str, Any], plain: Naive) -> None:
    """Whether the engine plays what the plain one does."""
    last = END - 1e-6  # floating point may put what begins with the end on either side of it
    wanted = [note for note in cut(plain.notes()) if note[0] < last]
    played = sorted(((n.start, n.length, n.pitch, n.velocity, n.lane, n.tune)
                     for n in play(read(document), 0, END) if n.start < last),
                    key=lambda note: (note[4], note[2], note[0]))
    assert len(played) == len(wanted)
    for found, want in zip(played, wanted, strict=True):
        assert found[2:5] == want[2:5] and abs(found[0] - want[0]) < 1e-6 and abs(
            found[5] - want[5]) < 1e-6, (found, want)
        # What begins after the end may still have cut the last notes.
        assert abs(found[1] - want[1]) < 1e-6 or want[0] + want[1] > END, (found, want)
    told = [(round(change.time, 6), change.lane, str(change.number), change.value)
            for change in Performance(read(document)).changes(0, END)
            if change.time < last and not change.tuning]
    assert sorted(told) == sorted(change for change in plain.changes() if change[0] < last)


@settings(max_examples=150, suppress_health_check=[HealthCheck.too_slow])
@given(documents().map(still))
def test_the_engine_says_what_a_plain_walk_through_time_says(document: dict[str, Any]) -> None:
    agree(document, Naive(document, END))


@settings(max_examples=200, suppress_health_check=[HealthCheck.too_slow], deadline=None)
@given(melodic(documents()))
def test_so_it_does_of_pitches(document: dict[str, Any]) -> None:
    document = still(document)
    agree(document, NaivePitch(document, END))
