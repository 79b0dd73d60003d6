"""Melodic recipes for the tests: pitches, chords and arpeggios put into any pattern."""

from fractions import Fraction
from typing import Any

from hypothesis import strategies as st

from tests.core.naive_pitch import CHORDS, SCALES

KEYS = st.fixed_dictionaries({"root": st.integers(0, 11), "scale": st.sampled_from(sorted(SCALES))})
ORDERS = st.sampled_from(["up", "down", "up-down", "down-up", "up-down-twice", "outside-in",
                          "inside-out", "as-played", "all", [0, 2, 1, 5],
                          [0, "hold", [5, 1, 2], "rest", "hold"], ["hold", 3, "rest"]])
HELD = st.fixed_dictionaries({"note": st.integers(48, 66), "velocity": st.integers(1, 127)})
HELD_NOTES = st.lists(HELD, max_size=4)
PARTS = HELD_NOTES | st.lists(st.fixed_dictionaries({
    "start": st.sampled_from(["0", "1", "3/2"]), "beats": st.sampled_from(["1/2", "1", "2"]),
    "notes": HELD_NOTES}), min_size=1, max_size=2).map(
        lambda parts: sorted(parts, key=lambda part: float(Fraction(str(part["start"])))))
STANDING = [{"unit": "steps", "every": every} for every in (1, 3, 4, 7)] + [
    {"unit": "beats", "every": every} for every in ("1/2", "3/4", "2", "5")]
ANCHORS = st.builds(
    lambda anchor, modes, standing: anchor | modes | standing,
    st.fixed_dictionaries({"note": st.sampled_from(["root", 40]),
                           "velocity": st.sampled_from([None, 77])}),
    st.sampled_from([{"mode": mode, "walk": walk} for mode in ("as-well", "instead")
                     for walk in ("on", "restarts")] + [{"mode": "instead", "walk": "waits"}] * 2),
    st.sampled_from(STANDING))
SECONDS = st.fixed_dictionaries({
    "step": st.sampled_from(["1/24", "1/64"]), "order": ORDERS, "octaves": st.integers(1, 2),
    "gate": st.sampled_from([80, 150])})
ARPEGGIOS = st.fixed_dictionaries({
    "pool": st.sampled_from(["chord", "scale", "held", [50, 40, 50, 62]]), "held": PARTS,
    "octaves": st.integers(1, 3), "extend": st.sampled_from(["up", "down", "both"]),
    "order": ORDERS, "restart": st.sampled_from(["pass", "chord", "never", 1, 5]),
    "velocities": st.sampled_from(["lane", "held"]), "first": st.sampled_from(["one", "all", 2]),
}, optional={"anchor": ANCHORS, "second": SECONDS})
DEGREES = st.integers(-9, 12)
STEPS = DEGREES | st.lists(DEGREES, min_size=2, max_size=4, unique=True).map(
    lambda degrees: {"all": degrees}) | st.just({"all": "chord"})


@st.composite
def melodic(draw: st.DrawFn, patterns: st.SearchStrategy[Any]) -> dict[str, Any]:
    """Any pattern, its lanes given pitches or walks."""
    document: dict[str, Any] = draw(patterns) | {"key": draw(KEYS)}
    if draw(st.booleans()):
        words = draw(st.lists(st.sampled_from(sorted(CHORDS)), min_size=1, max_size=4))
        document["chords"] = {"text": " ".join(words), "beats": [
            draw(st.sampled_from(["1", "3/2", "4"])) for _ in words]}
    for lane in document["lanes"]:
        lane |= {"kind": draw(st.sampled_from(["drum", "pitched", "pitched"])),
                 "octave": draw(st.integers(2, 5)), "degree": draw(DEGREES),
                 "reads": draw(st.sampled_from(["key", "chord", "chord-root", "bend"])),
                 "near": draw(st.booleans()),
                 "voicing": draw(st.sampled_from(["close", "open", "drop-2", "smooth"])),
                 "strum": draw(st.sampled_from([0, 30, -20])),
                 "transpose": {"degrees": draw(st.integers(-3, 3)),
                               "semitones": draw(st.integers(-2, 2))}}
        extras: dict[str, Any] = {"from": draw(st.integers(30, 60)), "key": draw(KEYS),
                                  "arpeggio": draw(ARPEGGIOS)}
        lane |= {name: extras[name] for name in draw(st.sets(st.sampled_from(sorted(extras))))}
        if draw(st.booleans()):
            lane["strands"] = lane.get("strands", {}) | {
                "degree": {"values": draw(st.lists(STEPS, min_size=1, max_size=5)),
                           "by": draw(st.sampled_from(["step", "cell", "hit"])),
                           "direction": "forward"},
                "octave": {"values": [0, 1, 0, -1], "by": "hit", "direction": "forward"}}
        lane["tuned"] = draw(st.sampled_from(["unsent", "bend", "notes"]))
        for roll in lane.get("rolls", []):
            roll["pitch"] = draw(st.sampled_from([[0, 0], [0, 5], [3, -4]]))
    return document
