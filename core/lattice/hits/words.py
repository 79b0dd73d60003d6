"""The words for a lane's hits: rule, span and direction, reverse, flip, pins, keep."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from lattice.base.clauses import ClauseKind, ClauseSource, Fields, Names, Part
from lattice.base.values import limits, to_json
from lattice.base.words import (
    Clause,
    Offer,
    choice,
    many,
    nth,
    number,
    step_list,
    step_number,
)
from lattice.hits.fields import COUNTS, Every, HitFields
from lattice.rules import FOLLOWING, RULES, STANDING
from lattice.time.directions import DIRECTIONS
from lattice.time.fields import BarCount, StepCount

SPANS = {"cycle": ("Cycle freely", "one after another, across bars and passes"),
         "fit": ("Fit", "all steps stretched evenly over so many bars"),
         "once": ("Once in each pass", "from a step on, then silent until the next pass")}
WHOLE_FRAME = 0
"""What the word for the bars to fit counts as the frame itself."""


def _rule_parts(lane: HitFields, names: Names) -> list[Part]:
    kinds = {kind: (rule.title, rule.about) for kind, rule in RULES.items()
             if names or kind not in FOLLOWING}
    return [choice("rule.kind", "rule", lane.rule.kind, kinds), " ",
            *lane.rule.words(lane, names), "."]


def _rules(lane: HitFields) -> Iterator[Fields]:
    """Each rule that needs no other lane, as a lane begins with it."""
    beats = [step % 4 == 0 for step in range(lane.steps)]
    for rule in STANDING.values():
        yield {"rule": to_json(rule.starting(beats, ()))}


RULE = ClauseKind[HitFields]("rule", "rule", lambda lane: True, _rule_parts, forms=_rules)


class _RuleParts(ClauseSource[HitFields]):
    """The parts of a rule of which there may be several; each rule names its own."""

    def said(self, lane: HitFields, names: Names) -> Iterator[Clause]:
        rule = lane.rule
        for i in range(rule.count):
            yield Clause(f"{self.id}.{i}", rule.part_words(i, lane), f"{rule.part_label} {i + 1}",
                         rule.count > 1)

    def offer(self, lane: HitFields) -> Offer | None:
        rule = lane.rule
        if rule.with_another(lane) is None:
            return None
        return Offer(self.id, rule.part_label, rule.part_about, "where hits fall")

    def added(self, lane: HitFields) -> Fields:
        rule = lane.rule.with_another(lane)
        return {} if rule is None else {"rule": to_json(rule)}

    def removed(self, lane: HitFields, number: int) -> Fields | None:
        if not 0 <= number < lane.rule.count or lane.rule.count < 2:
            return None
        return {"rule": to_json(lane.rule.without(number))}


RULE_PARTS = _RuleParts("rule-part", "part of the rule")


def _span_parts(lane: HitFields, names: Names) -> list[Part]:
    parts: list[Part] = [choice("span", "span", lane.span, SPANS)]
    first, last = lane.played
    if lane.span == "fit":
        parts += [" evenly into ", number(
            "fit_bars", "bars to fit", lane.fit_bars or WHOLE_FRAME, WHOLE_FRAME,
            limits(BarCount)[1],
            text="the frame" if lane.fit_bars is None else many(lane.fit_bars, "bars"))]
    elif lane.span == "once":
        parts += [", from step ", step_number("offset", "first step", lane.offset, 0, last - first)]
    if lane.rule.directed:
        parts += [", ", choice("direction", "direction", lane.direction, DIRECTIONS)]
    return [*parts, "."]


def _span_written(lane: HitFields, slot: str, value: Any) -> Fields:
    whole_frame = slot == "fit_bars" and value == WHOLE_FRAME
    return {slot: None if whole_frame else value}


SPAN = ClauseKind[HitFields]("span", "span", lambda lane: True, _span_parts, writes=_span_written)


def _keep_parts(lane: HitFields, names: Names) -> list[Part]:
    keep = lane.keep
    assert keep is not None
    return [
        choice("keep.drop", "keep or drop", keep.drop, {False: "Keep", True: "Drop"}),
        " every ",
        nth("keep.every", "every nth hit", keep.every, *limits(Every)),
        " hit from the ",
        nth("keep.from", "first hit", keep.first, *limits(Every)),
        " on, ",
        choice("keep.count", "way of counting", keep.count, COUNTS),
        ".",
    ]


KEEP = ClauseKind[HitFields](
    "keep", "keep every nth", lambda lane: lane.keep is not None, _keep_parts,
    starts={"keep": {"every": 3}}, cleared=("keep",),
    about="thin the hits out, or drop every nth", group="where hits fall", often=True)
REVERSE = ClauseKind[HitFields](
    "reverse", "reverse", lambda lane: lane.reverse, lambda lane, names: ["Played in reverse."],
    starts={"reverse": True}, cleared=("reverse",), possible=lambda lane: lane.rule.reversible,
    about="the rule's hits from the end to the start", group="where hits fall")
FLIP = ClauseKind[HitFields](
    "flip", "flip", lambda lane: lane.flip,
    lambda lane, names: ["Flipped: hits rest and rests play."],
    starts={"flip": True}, cleared=("flip",), possible=lambda lane: lane.rule.flippable,
    about="play where it rests, rest where it plays", group="where hits fall")


def _pins_parts(lane: HitFields, names: Names) -> list[Part]:
    parts: list[Part] = []
    for word, on, play, plays in _PINNED:
        steps = [step for step, pin in sorted(lane.pins.items()) if pin is on]
        if steps:
            parts += [" " if parts else "", "Step " if len(steps) == 1 else "Steps ",
                      step_list(f"pins.{word}", f"steps that {play} by hand", steps, MOST_STEPS),
                      f" {plays if len(steps) == 1 else play} by hand."]
    return parts


_PINNED = ("on", True, "play", "plays"), ("off", False, "are silent", "is silent")
MOST_STEPS = limits(StepCount)[1]


def _pins_written(lane: HitFields, slot: str, value: Any) -> Fields:
    on = slot == "pins.on"
    kept = {step: pin for step, pin in lane.pins.items() if pin is not on and step not in value}
    return {"pins": {str(step): pin for step, pin in {
        **kept, **dict.fromkeys(value, on)}.items()}}


PINS = ClauseKind[HitFields](
    "pins", "steps by hand", lambda lane: bool(lane.pins), _pins_parts, cleared=("pins",),
    writes=_pins_written, gathered="pins", moves=False,
    forms=lambda lane: ({"pins": {"0": on}} for on in (True, False)))
