"""The words for a lane that moves a controller. Names are those of MIDI 1.0."""

from __future__ import annotations

from collections.abc import Container, Iterator
from functools import partial
from typing import Any

from lattice.base.clauses import NEUTRAL, ClauseKind, Fields, Names, Part
from lattice.base.controllers import (
    CONTROLLERS,
    Number,
    controller_name,
    rescaled,
    value_bounds,
)
from lattice.base.values import to_json
from lattice.base.words import Fold, choice, number
from lattice.control.fields import Control, ControlFields
from lattice.control.line import CURVE_WORDS, LEAN_WORDS
from lattice.strands.kinds import VALUE, Together
from lattice.strands.words import strand_forms, strand_words, strand_written

OTHER = "other"
HIGHEST = 127
MOVES = {"step": ("Step", "from value to value"), "glide": ("Glide", "on to the next value")}


def _control(lane: ControlFields) -> Control:
    assert lane.control is not None
    return lane.control


def controller_words(at: str, sets: Number, highest: int,
                     taken: Container[Number] = ()) -> list[Part]:
    """The words for a controller below a path, and for its number where it has no name; of those
    with names, all that are not taken by others."""
    named = {each: controller_name(each) for each in CONTROLLERS
             if each == sets or each not in taken} | {OTHER: "controller"}
    known = sets in CONTROLLERS
    parts: list[Part] = [choice(f"{at}.number", "controller", sets if known else OTHER, named)]
    if not known:
        parts += [" ", number(f"{at}.other", "number of the controller", int(sets), 0, highest)]
    return parts


def _parts(lane: ControlFields, names: Names) -> list[Part]:
    control = _control(lane)
    parts: list[Part] = [
        choice("control.move", "way of moving", control.move, MOVES), " ",
        *controller_words("control", control.number, HIGHEST)]
    if control.move == "glide":
        parts += [" ", choice("control.curve", "curve of the glide", control.curve, CURVE_WORDS)]
    return [*parts, "."]


def _written(lane: ControlFields, slot: str, value: Any) -> Fields:
    """Another controller keeps the line, drawn between its own bounds."""
    control = _control(lane)
    if slot not in ("control.number", "control.other"):
        return {slot: value}
    number = 20 if value == OTHER else value
    fields: dict[str, Any] = {"control.number": number}
    if control.bounds != value_bounds(number):
        moved = partial(rescaled, before=control.number, after=number)
        fields["value"] = moved(lane.set_to)
        if lane.by_velocity:
            fields["by_velocity"] = [moved(each) for each in lane.by_velocity]
        strand = lane.strands.of(VALUE)
        if strand is not None:
            fields["strands.value"] = to_json(strand) | {"by": strand.by, "values": [
                [moved(each[0]), moved(each[1])] if isinstance(each, tuple) else moved(each)
                for each in strand.values if not isinstance(each, Together)]}
    return fields


CONTROL = ClauseKind[ControlFields]("control", "controller", lambda lane: True, _parts,
                                    writes=_written, moves=False)


def _value_parts(lane: ControlFields, names: Names) -> list[Part]:
    source: list[Part] = []
    if lane.follows:
        whose = names.get(lane.follows, lane.follows)
        source = [choice("by_velocity", "where values come from",
                         "velocity" if lane.by_velocity else "own",
                         {"own": ("of its own", ""), "velocity": (
                             f"from {whose}’s velocity", "the louder, the further")}), ", "]
    bounds = _control(lane).bounds
    if lane.sets_by_velocity:
        low, high = lane.sets_by_velocity
        return ["Value ", *source, "from ",
                number("by_velocity.0", "value of the softest", low, *bounds), " to ",
                number("by_velocity.1", "value of the loudest", high, *bounds), "."]
    strand = lane.strands.of(VALUE)
    if strand is None:
        return ["Value ", *source, number("value", "value", lane.set_to, *bounds), "."]
    told: list[Part] = ["Values ", *source,
                        Fold(f"from their strand of {len(strand.values)}", ["from their strand"])]
    if any(isinstance(value, tuple) for value in strand.values):
        told += [", ranges drawn ", choice("lean", "lean of the draws", lane.lean, LEAN_WORDS)]
    return [*told, Fold("", [", ", *strand_words(VALUE, lane)]), "."]


def _value_written(lane: ControlFields, slot: str, value: Any) -> Fields:
    """Values that begin to follow a velocity reach from end to end of the controller."""
    if slot.startswith("strands."):
        return strand_written(lane.strand_kind(VALUE.name), lane.strand(VALUE),
                              slot.rpartition(".")[2], value)
    if slot != "by_velocity":
        return {slot: value}
    return {slot: list(_control(lane).bounds) if value == "velocity" else NEUTRAL}


def _value_forms(lane: ControlFields) -> Iterator[Fields]:
    """From a strand: of single values, and of ranges."""
    for form in strand_forms(VALUE, lane):
        yield form
        (strand,) = form.values()
        (value,) = strand["values"]
        yield {VALUE.path: strand | {"values": [[value, value]]}}


VALUES = ClauseKind[ControlFields]("value", "value", lambda lane: True, _value_parts,
                                   writes=_value_written, forms=_value_forms)
