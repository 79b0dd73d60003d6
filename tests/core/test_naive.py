"""The engine against one that is written as plainly as can be."""

from typing import Any

from hypothesis import HealthCheck, given, settings
from lattice.play import play
from lattice.recipe import read

from tests.core.naive import Naive, Note
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
        lane["rolls"] = [roll | {"probability": 100} for roll in lane.get("rolls", [])
                         if "step" in roll]
        strands = lane.get("strands", {})
        for kind, strand in strands.items():
            plain = [value if isinstance(value, int) else value[1] for value in strand["values"]]
            forward = "forward" if strand["direction"] == "random" else strand["direction"]
            strands[kind] = strand | {"values": plain, "direction": forward}
        if lane.get("rate_path"):
            lane["rate_path"] = [stretch | {"contour": 0} for stretch in lane["rate_path"]]
            lane.pop("contour", None)
    return document


def cut(notes: list[Note]) -> list[Note]:
    """Each note ends where its lane's next begins; those that begin together become one."""
    heard: dict[str, list[Note]] = {}
    for note in sorted(notes):
        row = heard.setdefault(note[4], [])
        if row and note[0] - row[-1][0] < 1e-9:
            start, length, pitch, velocity, lane = row[-1]
            row[-1] = (start, max(length, note[1]), pitch, max(velocity, note[3]), lane)
            continue
        if row and row[-1][0] + row[-1][1] > note[0]:
            start, _, *rest = row[-1]
            row[-1] = (start, max(note[0] - start, 1 / 960), *rest)  # type: ignore[assignment]
        row.append(note)
    return [note for lane in sorted(heard) for note in heard[lane]]


@settings(max_examples=150, suppress_health_check=[HealthCheck.too_slow])
@given(documents().map(certain))
def test_the_engine_says_what_a_plain_walk_through_time_says(document: dict[str, Any]) -> None:
    wanted = cut(Naive(document, END).notes())
    played = sorted(((n.start, n.length, n.pitch, n.velocity, n.lane)
                     for n in play(read(document), 0, END)), key=lambda note: (note[4], note[0]))
    assert len(played) == len(wanted)
    for found, want in zip(played, wanted, strict=True):
        assert found[2:] == want[2:] and abs(found[0] - want[0]) < 1e-6, (found, want)
        # What begins after the end may still have cut the last notes.
        assert abs(found[1] - want[1]) < 1e-6 or want[0] + want[1] > END, (found, want)
