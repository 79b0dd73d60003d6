"""A recipe as words: clauses with typed, bounded slots, and the clauses that could be added."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from lattice import chance, feel, hits, rolls
from lattice.rules import RULES, FollowingRule
from lattice.slots import (
    GROUPS,
    Clause,
    ClauseKind,
    Offer,
    Slot,
    choice,
    fraction,
    number,
    percent,
    step_number,
)

if TYPE_CHECKING:
    from lattice.recipe import Lane, Recipe

DIRECTIONS = {"forward": ("forward", ""), "backward": ("backward", ""),
              "bounce": ("bouncing", "there and back, the ends once"),
              "bounce-twice": ("bouncing, ends twice", "there and back, the ends twice in a row"),
              "random": ("in random order", "any step after any other"),
              "wander": ("wandering", "one step back, the same, or one on")}
SPANS = {"cycle": ("Cycle freely", "one after another, across bars and passes"),
         "fit": ("Fit", "all steps stretched evenly over so many bars"),
         "once": ("Once in each pass", "from a step on, then silent until the next pass")}


def _rule_parts(lane: Lane, others: Mapping[str, str]) -> list[str | Slot]:
    kinds = {kind: (rule.title, rule.about) for kind, rule in RULES.items()
             if others or not issubclass(rule, FollowingRule)}
    return [choice("rule.kind", "rule", lane.rule.kind, kinds), " ",
            *lane.rule.parts(lane, others), "."]


def _span_parts(lane: Lane, others: Mapping[str, str]) -> list[str | Slot]:
    parts: list[str | Slot] = [choice("span", "span", lane.span, SPANS)]
    first, last = lane.played
    if lane.span == "fit":
        parts += [" evenly into ", number("fit_bars", "bars to fit", lane.fit_bars or 0, 0, 256,
                  text="the frame" if lane.fit_bars is None else f"{lane.fit_bars} bars")]
    elif lane.span == "once":
        parts += [", from step ", step_number("offset", "first step", lane.offset, 0, last - first)]
    if lane.rule.kind != "answer":
        parts += [", ", choice("direction", "direction", lane.direction, DIRECTIONS)]
    return [*parts, "."]


SPAN = ClauseKind("span", "span", lambda lane: True, _span_parts, {}, ())
RULE = ClauseKind("rule", "rule", lambda lane: True, _rule_parts, {}, ())
WINDOW = ClauseKind(
    "window", "window", lambda lane: lane.window is not None,
    lambda lane, others: [
        "Only steps ", step_number("window.0", "first step played", lane.window[0], 0,
                                   lane.window[1]),
        " to ", step_number("window.1", "last step played", lane.window[1], lane.window[0],
                            lane.steps - 1), "."],
    added=lambda lane: {"window": [0, max(0, lane.steps - 2)]}, cleared=("window",),
    about="play only some of the steps")
RESTART = ClauseKind(
    "restart", "restart", lambda lane: lane.restart_bars is not None,
    lambda lane, others: ["Starts again every ",
                          number("restart_bars", "bars to restart", lane.restart_bars, 1, 256),
                          " bar." if lane.restart_bars == 1 else " bars."],
    added={"restart_bars": 1}, cleared=("restart_bars",),
    about="begin again every so many bars")
SHIFT = ClauseKind(
    "shift", "shift", lambda lane: lane.shift != 0,
    lambda lane, others: ["Shifted by ", fraction(
        "shift", "shift", lane.shift, "-4", "4",
        ["-1/16", "-1/32", "-1/64", "1/64", "1/32", "1/24", "1/16", "1/12", "1/8"]),
        " of a whole note."],
    added={"shift": "1/32"}, cleared=("shift",),
    about="lay the whole lane later or earlier", group="when")


def _path_parts(lane: Lane, others: Mapping[str, str], i: int) -> list[str | Slot]:
    stretch, at = lane.rate_path[i], f"rate_path.{i}"
    return [
        "From beat ", fraction(f"{at}.start", "start of the stretch in beats", stretch.start, "0",
                               "1024", ["0", "1", "2", "3"]),
        " for ", fraction(f"{at}.beats", "length of the stretch in beats", stretch.beats, "1/64",
                          "1024", ["1/2", "1", "2", "4"]),
        f" {'beats' if stretch.beats > 1 else 'beat'} in steps of ",
        fraction(f"{at}.step", "step length of the stretch", stretch.step, "1/1024", "16"),
        ", ", percent(f"{at}.contour", "contour of the stretch", stretch.contour), " human.",
    ]


def _longer_path(lane: Lane) -> dict[str, Any]:
    """The lane's path and one more beat, at twice the pace, after its last stretch."""
    last = lane.rate_path[-1] if lane.rate_path else None
    start = last.start + last.beats if last else 0
    return {"rate_path": [*(each.model_dump(mode="json") for each in lane.rate_path), {
        "start": str(start), "beats": "1", "step": str(lane.step / 2), "contour": 40}]}


RATE_PATH = ClauseKind(
    "rate-path", "rate path", lambda lane: bool(lane.rate_path), _path_parts, _longer_path, (),
    items=lambda lane: len(lane.rate_path), without=lambda lane, i: {"rate_path": [
        each.model_dump(mode="json") for n, each in enumerate(lane.rate_path) if n != i]},
    about="other step lengths for some beats")

CLAUSES: Sequence[ClauseKind] = (
    RULE, SPAN, WINDOW, RESTART, SHIFT, hits.REVERSE, hits.FLIP, hits.PINS, hits.KEEP,
    feel.VELOCITY, feel.VARY, feel.ACCENT, feel.CONTOUR, feel.SQUEEZE, feel.GATE,
    chance.PROBABILITY, chance.SCALE, chance.LINKS, chance.TURNS,
    rolls.ROLLS, RATE_PATH, feel.SWING, feel.STRAIGHT, feel.VARY_TIME,
)
"""Every kind of clause, in the order in which they are read."""


@dataclass(frozen=True, slots=True)
class Sentence:
    """A lane's recipe in words."""

    clauses: list[Clause]
    offers: list[Offer]

    def text(self) -> str:
        """The sentence as plain text."""
        return " ".join("".join(part if isinstance(part, str) else part.text
                                for part in clause.parts) for clause in self.clauses)


def _clauses(lane: Lane, recipe: Recipe) -> Iterator[Clause]:
    """The clauses that a lane has, in the order in which they are read."""
    others = {each.id: each.name for each in recipe.lanes if each.id != lane.id}
    for kind in CLAUSES:
        if kind.items is not None:
            for i in range(kind.items(lane)):
                yield Clause(f"{kind.id}.{i}", kind.parts(lane, others, i), f"{kind.label} {i + 1}",
                             removable=True)
        elif kind.present(lane):
            parts = kind.parts(lane, others)
            if parts:
                yield Clause(kind.id, parts, kind.label, removable=bool(kind.cleared))


def sentence(lane: Lane, recipe: Recipe) -> Sentence:
    """The recipe of one lane, in words."""
    offers = [Offer(kind.id, kind.label, kind.about, kind.group) for kind in CLAUSES
              if kind.items is not None or (not kind.present(lane) and kind.possible(lane))]
    offers.sort(key=lambda offer: GROUPS.index(offer.group))
    return Sentence(list(_clauses(lane, recipe)), offers)


def word(lane: Lane | None, recipe: Recipe, path: str) -> Slot | None:
    """The changeable word with this path in a lane's sentence, or in the pattern's."""
    clauses = pattern_sentence(recipe).clauses if lane is None else _clauses(lane, recipe)
    return next((part for clause in clauses for part in clause.parts
                 if isinstance(part, Slot) and part.slot == path), None)


def pattern_sentence(recipe: Recipe) -> Sentence:
    """What holds for the whole pattern, in words."""
    clauses = [Clause("frame", ["A frame of ", number("bars", "bars", recipe.bars, 1, 16),
                                " bar." if recipe.bars == 1 else " bars."], "frame")]
    offers = []
    if recipe.swing is not None:
        clauses.append(Clause("swing", ["Swing ", *feel.swing_parts(recipe.swing), "."], "swing",
                              removable=True))
    else:
        offers.append(Offer("swing", "swing", "the first of each pair of steps lasts longer",
                            "when"))
    if recipe.probability_scale != 100:
        clauses.append(Clause("chance-scale", ["All chances at ", percent(
            "probability_scale", "chance scale", recipe.probability_scale, 0, 200), "."],
            "chance scale", removable=True))
    else:
        offers.append(Offer("chance-scale", "chance scale",
                            "all chances raised or lowered together", "how sure"))
    return Sentence(clauses, offers)


PATTERN_FIELDS: dict[str, tuple[str, Any]] = {
    "swing": ("swing", {"grid": "1/16", "percent": 58}),
    "chance-scale": ("probability_scale", 80),
}
"""The pattern's clauses that can be added: the field each one fills, and with what."""


def summary(lane: Lane, recipe: Recipe, hits: int | None) -> str:
    """A lane in a few words, for its head: "closed hi-hat · 7 of 12"; `hits` of a fixed rule."""
    if hits is None:
        leader = recipe.lane(lane.follows or "").name
        return f"{lane.rule.kind} of {leader}" if lane.rule.kind == "gaps" else f"answers {leader}"
    pinned = f", {len(lane.pins)} by hand" if lane.pins else ""
    first, last = lane.played
    fitted = " fitted" if lane.span == "fit" else " once" if lane.span == "once" else ""
    return f"{hits} of {last - first + 1}{fitted}{pinned}"
