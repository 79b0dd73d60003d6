"""Controllers that a lane of notes sets before each of its hits."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import partial
from typing import Any

from lattice.base.clauses import ClauseList, Fields, Names, Part
from lattice.base.controllers import CONTROLLERS, Number, controller_name, rescaled
from lattice.base.errors import RecipeError
from lattice.base.values import half_up, to_json
from lattice.base.words import Fold, choice, number
from lattice.control.words import OTHER, controller_words
from lattice.pitch.fields import PitchFields
from lattice.strands.fields import Strand
from lattice.strands.kinds import HIGHEST_SET, Together, setting
from lattice.strands.words import strand_forms, strand_words, strand_written

WAYS = {"to": ("to", "one value for all hits"),
        "between": ("between", "for each hit anew, anywhere between two values"),
        "strand": ("from its strand", "values one after another")}
NEXT: Sequence[Number] = (74, 10, 7, 11, 1, "pressure", "bend")
"""What is offered first, of what a lane does not set yet."""
ASIDE = 32
"""So far from a single value the range goes that it becomes."""
Item = tuple[Number, Strand]


def _items(lane: PitchFields) -> list[Item]:
    return list(lane.controls.items())


def _stored(items: Sequence[Item]) -> Mapping[str, Any]:
    return {str(each): to_json(strand) for each, strand in items}


def _another(lane: PitchFields) -> Item:
    free = next((each for each in (*NEXT, *range(HIGHEST_SET + 1)) if each not in lane.controls), 0)
    low, high = setting(free).thrown
    return free, Strand(values=((low, high),))


def _forms(lane: PitchFields) -> Iterator[Fields]:
    """Set to one value, between two, and from a strand in each of its forms."""
    sets, strand = _another(lane)
    kind = setting(sets)
    for values in ([kind.neutral], list(strand.values)):
        yield {"controls": {str(sets): {"values": values}}}
    for form in strand_forms(kind, lane):
        (document,) = form.values()
        yield {"controls": {str(sets): document | {"values": [kind.neutral] * 2}}}


def _way(strand: Strand) -> str:
    if len(strand.values) > 1 or strand.window:
        return "strand"
    return "between" if isinstance(strand.values[0], tuple) else "to"


def _parts(lane: PitchFields, names: Names, i: int) -> list[Part]:
    sets, strand = _items(lane)[i]
    at, kind, way = f"controls.{i}", setting(sets), _way(strand)
    low, high = int(kind.low), int(kind.high)
    parts: list[Part] = [
        "Each hit sets ", *controller_words(at, sets, HIGHEST_SET, lane.controls), " ",
        choice(f"{at}.way", "way of setting", way, WAYS)]
    value = strand.values[0]
    if way == "strand":
        return [*parts, Fold(f" of {len(strand.values)}, read by {strand.by}",
                             [", ", *strand_words(kind, lane, f"{at}.strand")]), "."]
    if isinstance(value, tuple):
        return [*parts, " ", number(f"{at}.low", "lowest value", value[0], low, high), " and ",
                number(f"{at}.high", "highest value", value[1], low, high), "."]
    assert not isinstance(value, Together)
    return [*parts, " ", number(f"{at}.value", "value", value, low, high), "."]


def _written(lane: PitchFields, slot: str, value: Any) -> Fields:
    _, place, word, *of_strand = slot.split(".")
    sets, strand = _items(lane)[int(place)]
    kind = setting(sets)
    if of_strand:
        return strand_written(kind, strand, of_strand[0], value)
    first = strand.values[0]
    ends = [each if isinstance(each, tuple) else (each, each) for each in strand.values
            if not isinstance(each, Together)]
    low, high = min(each[0] for each in ends), max(each[1] for each in ends)
    if word in ("number", "other"):
        return _renumbered(lane, sets, _free(lane) if value == OTHER else value)
    if word == "way" and value == _way(strand):
        return {}
    if word == "way":
        middle = half_up((low + high) / 2)
        around = [low, high] if low < high else [max(kind.low, low - ASIDE),
                                                 min(kind.high, low + ASIDE)]
        return {kind.path: {"values": {"to": [middle], "between": [around],
                                       "strand": [first] * lane.steps}[value]}}
    if word == "low":
        first = value, max(high, value)
    elif word == "high":
        first = min(low, value), value
    else:
        first = value
    return {kind.path: to_json(strand) | {"values": [first]}}


def _free(lane: PitchFields) -> int:
    return next(each for each in range(20, HIGHEST_SET + 1)
                if each not in lane.controls and each not in CONTROLLERS)


def _renumbered(lane: PitchFields, before: Number, after: Number) -> Fields:
    """Another controller is set by the same values, between its own bounds."""
    if after == before:
        return {}
    if after in lane.controls:
        raise RecipeError(f"The lane sets {controller_name(after)} already; change that one.")
    moved = partial(rescaled, before=before, after=after)
    values = [tuple(map(moved, each)) if isinstance(each, tuple) else moved(each)
              for each in lane.controls[before].values if not isinstance(each, Together)]
    renumbered = [(after, strand.model_copy(update={"values": tuple(values)}))
                  if each == before else (each, strand) for each, strand in _items(lane)]
    return {"controls": _stored(renumbered)}


CONTROLS = ClauseList[PitchFields, Item](
    "controls", "controller for each hit", "controls", _items, _parts, _another, _stored,
    about="a controller set before each hit: brightness, place, level, or any other",
    group="how it is heard", writes=_written, forms=_forms)
