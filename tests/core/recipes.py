"""Recipes for the tests: a builder for the plain ones, and strategies for any."""

from typing import Any

from hypothesis import strategies as st
from lattice.base.values import to_json
from lattice.base.words import Slot
from lattice.edits.words import SetSlot
from lattice.features.movement import SHAPES
from lattice.play import Note, play
from lattice.recipe import Recipe, read
from lattice.rules import FOLLOWING, RULES
from lattice.sentence import lane_sentence


def recipe(*lanes: dict[str, Any], **pattern: Any) -> Recipe:
    """A recipe of lanes, each with an id and a name of its own where it has none."""
    return read(pattern | {"lanes": [
        {"id": f"lane-{i}", "name": f"Lane {i}", "note": 36 + i} | lane
        for i, lane in enumerate(lanes)]})


def euclid(pulses: int, rotation: int = 0) -> dict[str, Any]:
    return {"kind": "euclid", "pulses": pulses, "rotation": rotation}


def hand(*hits: int) -> dict[str, Any]:
    return {"kind": "hand", "hits": list(hits)}


def starts(found: Recipe, bars: int = 1) -> list[float]:
    """Where the notes of the first bars begin, in beats."""
    return [note.start for note in play(found, 0, float(bars * found.bar_beats))]


def facts(notes: list[Note], *, lane: str | None = None) -> list[tuple[Any, ...]]:
    """What is heard of notes, to compare."""
    return [(n.start, n.length, n.pitch, n.velocity, n.channel, n.lane) for n in notes
            if lane in (None, n.lane)]


STEPS = st.sampled_from(["1/4", "1/8", "1/12", "1/16", "1/20", "3/16", "1/32"])
DIRECTIONS = st.sampled_from(["forward", "backward", "bounce", "bounce-twice", "random", "wander"])


def _strand(values: st.SearchStrategy[Any]) -> st.SearchStrategy[dict[str, Any]]:
    return st.fixed_dictionaries({
        "values": st.lists(values, min_size=1, max_size=5),
        "by": st.sampled_from(["step", "cell", "hit"]),
        "direction": st.sampled_from(["forward", "backward", "bounce", "random"])})


def _turned(slot: Slot) -> st.SearchStrategy[Any]:
    """Any value that a word of a rule can have."""
    if slot.kind in ("choice", "fraction"):
        return st.sampled_from([option.value for option in slot.options])
    numbers = st.integers(int(slot.low or 0), int(slot.high or 0))
    if slot.kind == "list":
        return st.lists(numbers, max_size=8)
    return numbers if slot.kind == "number" else numbers.map(str)


@st.composite
def rules(draw: st.DrawFn, steps: int, leaders: list[str]) -> dict[str, Any]:
    """Any rule: the one that a lane with some hits begins with, and its words turned."""
    kind = draw(st.sampled_from([kind for kind in RULES if leaders or kind not in FOLLOWING]))
    hits = draw(st.lists(st.booleans(), min_size=steps, max_size=steps))
    rule = RULES[kind].starting(hits, leaders)
    found = recipe(*({"id": leader} for leader in leaders),
                   {"id": "it", "steps": steps, "rule": to_json(rule)})
    for clause in lane_sentence(found.lane("it"), found).clauses:
        for slot in clause.parts:
            if isinstance(slot, Slot) and slot.slot.startswith("rule.") and \
                    slot.slot != "rule.kind" and draw(st.booleans()):
                found = SetSlot(do="set", lane="it", slot=slot.slot,
                                value=draw(_turned(slot))).apply(found)
    return to_json(found.lane("it").rule)


@st.composite
def lanes(draw: st.DrawFn, index: int) -> dict[str, Any]:
    """Any lane that a musician could make, with some of every clause."""
    steps = draw(st.integers(1, 20))
    rule = draw(rules(steps, [f"l{i}" for i in range(index)]))
    kind = RULES[rule["kind"]]
    lane: dict[str, Any] = {
        "id": f"l{index}", "name": f"L{index}", "note": draw(st.integers(36, 38)),
        "steps": steps, "step": draw(STEPS), "rule": rule,
        "span": draw(st.sampled_from(["cycle", "cycle", "fit", "once"])),
        "direction": draw(DIRECTIONS) if kind.directed else "forward",
        "flip": kind.flippable and draw(st.booleans()),
        "reverse": kind.reversible and draw(st.booleans()),
        "shift": draw(st.sampled_from(["0", "1/32", "-1/16"])),
        "probability": draw(st.sampled_from([100, 60])),
        "gate": draw(st.sampled_from([50, 100, 230])),
        "pins": {str(step): on for step, on in draw(
            st.dictionaries(st.integers(0, steps - 1), st.booleans(), max_size=3)).items()},
        "vary": {"velocity": [-9, 9], "time": draw(st.sampled_from([[0, 0], [-8, 12]]))},
        "swing": draw(st.sampled_from(["follow", "straight", {"grid": "1/16", "percent": 63}])),
    }
    extras: dict[str, Any] = {
        "keep": {"every": draw(st.integers(1, 4)), "from": draw(st.integers(1, 5)),
                 "drop": draw(st.booleans()), "count": draw(st.sampled_from(["on", "cycle"]))},
        "accent": {"every": 3, "add": 20, "count": draw(st.sampled_from(["on", "cycle"]))},
        "contour": {"amount": 50}, "squeeze": 30, "restart_bars": draw(st.integers(1, 3)),
        "window": sorted([draw(st.integers(0, steps - 1)), draw(st.integers(0, steps - 1))]),
        "turns": {"0": [1, 2]},
        "links": [{"steps": [0, 1, 2], "mode": draw(st.sampled_from(["together", "one"])),
                   "probability": 60}],
        "rolls": [{"step": 1, "strokes": 3, "velocity": [100, 60], "curve": draw(
            st.sampled_from(["even", "gathering", "slackening"])), "probability": 70},
            {"start": "1/2", "beats": "1", "strokes": 5, "turns": [2, 2]}],
        "rate_path": [{"start": "1", "beats": "3/2", "step": "1/24", "contour": 40,
                       "human": draw(st.sampled_from([0, 70]))}],
        "paths": [{"word": word, "shape": draw(st.sampled_from(list(SHAPES))), "from": low,
                   "to": high, "bars": draw(st.integers(1, 4)), "points": [high, low]}
                  for word, (low, high) in draw(st.sets(st.sampled_from([
                      ("rule.pulses", (0, steps)), ("rule.amount", (9, 90)), ("steps", (3, 19)),
                      ("gate", (20, 180)), ("probability", (0, 100))]), min_size=1, max_size=2))],
        "strands": {"velocity": draw(_strand(st.sampled_from([40, 90, [60, 80]]))),
                    "roll": draw(_strand(st.sampled_from([1, 1, 3]))),
                    "nudge": draw(_strand(st.sampled_from([0, 20, [-50, 50]]))),
                    "tie": draw(_strand(st.sampled_from([0, 1])))},
        "controls": {number: draw(_strand(st.sampled_from([20, 90, [30, 64]])))
                     for number in draw(st.sampled_from([["74"], ["bend", "10"]]))},
    }
    used = draw(st.sets(st.sampled_from(sorted(extras)), max_size=4))
    return lane | {name: extras[name] for name in used}


def gusts(lanes: int) -> st.SearchStrategy[list[dict[str, Any]]]:
    """None, mostly; or some through a pattern of so many lanes."""
    gust = st.fixed_dictionaries({
        "every": st.just(3), "from": st.integers(1, 3), "away": st.sampled_from([0.2, 0.9]),
        "throw": st.sampled_from([None, 7]), "lanes": st.none() | st.lists(
            st.integers(0, lanes - 1).map("l{}".format), min_size=1, max_size=2, unique=True)})
    return st.booleans().flatmap(lambda blow: st.lists(gust, max_size=2 * blow))


@st.composite
def documents(draw: st.DrawFn) -> dict[str, Any]:
    """Any pattern of one to four lanes."""
    count = draw(st.integers(1, 4))
    return {"bars": draw(st.integers(1, 2)), "seed": draw(st.integers(0, 99)),
            "meter": draw(st.sampled_from([[4, 4], [7, 8], [5, 4]])),
            "swing": draw(st.sampled_from([None, {"grid": "1/16", "percent": 58}])),
            "gusts": draw(gusts(count)), "lanes": [draw(lanes(i)) for i in range(count)]}
