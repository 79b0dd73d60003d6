"""A block's sentence: its words, and the clauses that could be added."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from lattice.base.clauses import Part
from lattice.base.errors import RecipeError
from lattice.base.values import StepLength, limits
from lattice.base.words import Clause, Offer, Slot, choice, fraction, number
from lattice.order.document import FASTEST, SLOWEST, Block, Count, PassNumber
from lattice.pitch.fields import Semitones
from lattice.pitch.key import Key
from lattice.pitch.words import key_words, key_written, spaced
from lattice.recipe import Recipe, refusing
from lattice.sentence import Sentence
from lattice.strands.kinds import Degree


@dataclass(frozen=True, slots=True)
class NamedRecipe:
    """A pattern of the piece: what it is called, and its recipe."""

    name: str
    recipe: Recipe


Patterns = Mapping[int, NamedRecipe]
"""The patterns of a piece by their numbers."""


def recipes_of(patterns: Patterns) -> dict[int, Recipe]:
    """The recipes of patterns by their numbers."""
    return {number: each.recipe for number, each in patterns.items()}
UNITS = {"passes": ("pass", "passes"), "bars": ("bar", "bars"), "steps": ("step", "steps")}
SPEEDS = ["1/4", "1/3", "1/2", "2/3", "3/4", "1", "4/3", "3/2", "2", "3", "4"]
PLAYS_AGAIN = ""
"""What is picked for a lane that is not to be left out any more."""


@dataclass(frozen=True, slots=True)
class _Kind:
    """A clause that a block may have. `starts` are the fields that adding it sets, of a block whose
    pattern has these lanes; `neutral` what taking it away sets back."""

    id: str
    label: str
    about: str
    present: Callable[[Block], bool]
    parts: Callable[[Block, Mapping[str, str]], Sequence[Part]]
    starts: Callable[[Block, Recipe], Mapping[str, Any]]
    neutral: Mapping[str, Any]


def _moved(name: str, label: str, bounds: tuple[int, int], by: int) -> _Kind:
    return _Kind(
        name, f"move by {name}", label,
        lambda block: bool(getattr(block, name)),
        lambda block, lanes: ["Moved by ", number(
            name, name, getattr(block, name), *bounds, text=f"{getattr(block, name):+d}"),
            f" {name if abs(getattr(block, name)) != 1 else name[:-1]}."],
        lambda block, recipe: {name: by}, {name: 0})


def _without(block: Block, lanes: Mapping[str, str]) -> Sequence[Part]:
    parts: list[Part] = ["Without "]
    for place, left_out in enumerate(block.without):
        others = {lane: name for lane, name in lanes.items() if lane not in block.without}
        options = {left_out: lanes.get(left_out, "a lane that is gone")} | others | {
            PLAYS_AGAIN: "nobody: let it play"}
        parts += [", " if place else "", choice(f"without.{place}", "lane left out", left_out,
                                                options)]
    return [*parts, "."]


KINDS = (
    _moved("degrees", "up or down in the key", limits(Degree), 3),
    _moved("semitones", "up or down by semitones", limits(Semitones), 5),
    _Kind("key", "another key", "a key or scale of its own",
          lambda block: block.key is not None,
          lambda block, lanes: ["In ", *spaced(key_words(block.key or Key())), "."],
          lambda block, recipe: {"key": recipe.key.model_dump(mode="json")}, {"key": None}),
    _Kind("speed", "another speed", "half, double, any ratio",
          lambda block: block.speed != 1,
          lambda block, lanes: ["At ", fraction("speed", "speed", block.speed, SLOWEST, FASTEST,
                                                SPEEDS), " of its speed."],
          lambda block, recipe: {"speed": "1/2"}, {"speed": 1}),
    _Kind("first", "from another pass", "other chances than those of its first pass",
          lambda block: block.first > 0,
          lambda block, lanes: ["Begins with pass ", Slot(
              "first", "number", "first pass", block.first + 1, str(block.first + 1),
              1, limits(PassNumber)[1] + 1, 1, (), 1), "."],
          lambda block, recipe: {"first": block.count if block.unit == "passes" else 1},
          {"first": 0}),
    _Kind("without", "leave lanes out", "some of its lanes are silent",
          lambda block: bool(block.without), _without,
          lambda block, recipe: {"without": [*block.without, _next_lane(block, recipe)]},
          {"without": []}),
)


def _next_lane(block: Block, recipe: Recipe) -> str:
    left = [lane.id for lane in recipe.lanes if lane.id not in block.without]
    if not left:
        raise RecipeError("All of its lanes are left out already.")
    return left[0]


def block_sentence(block: Block, patterns: Patterns) -> Sentence:
    """A block in words."""
    of = patterns.get(block.pattern)
    lanes = {lane.id: lane.name for lane in of.recipe.lanes} if of else {}
    names = {key: each.name for key, each in patterns.items()}
    if of is None:
        names[block.pattern] = "a pattern that is gone"
    plays: list[Part] = [
        choice("pattern", "pattern", block.pattern, names), " plays ",
        number("count", "how many", block.count, *limits(Count)), " ",
        choice("unit", "counted in", block.unit, {
            unit: words[0 if block.count == 1 else 1] for unit, words in UNITS.items()})]
    if block.unit == "steps":
        plays += [" of ", fraction("step", "step", block.step, *limits(StepLength))]
    clauses = [Clause("plays", [*plays, ", then the next begins."], "how long", False)]
    clauses += [Clause(kind.id, kind.parts(block, lanes), kind.label, True)
                for kind in KINDS if kind.present(block)]
    offers = [Offer(kind.id, kind.label if not kind.present(block) else "leave another lane out",
                    kind.about, "the lane's shape") for kind in KINDS
              if not kind.present(block) or (kind.id == "without" and len(block.without)
                                             < len(lanes))]
    return Sentence(clauses, offers)


def block_summary(block: Block) -> str:
    """A block in a few words, beside its pattern's name: "twice, moved by +3 degrees"."""
    one, many = UNITS[block.unit]
    times = {1: "once", 2: "twice"}.get(block.count, f"{block.count} times")
    told = [times if block.unit == "passes"
            else f"{block.count} {one if block.count == 1 else many}"]
    if block.adapting:
        told.append(block.adapting.words)
    if block.speed != 1:
        told.append({Fraction(1, 2): "half speed", Fraction(2): "double speed"}.get(
            block.speed, f"{block.speed} speed"))
    return ", ".join(told)


def worded(block: Block, slot: str, value: Any, patterns: Patterns) -> Block:
    """The block with another value for one of its words; RecipeError if it does not fit."""
    word = next((part for clause in block_sentence(block, patterns).clauses for part in clause.parts
                 if isinstance(part, Slot) and part.slot == slot), None)
    if word is None:
        raise RecipeError("That word is no longer in the sentence.")
    accepted = word.accept(value)
    if slot.startswith("key."):
        fields = block.key.model_dump(mode="json") if block.key else {}
        for path, part in key_written(block.key or Key(), slot, accepted).items():
            fields[path.removeprefix("key.")] = part
        return _with(block, {"key": fields})
    if slot.startswith("without."):
        left = list(block.without)
        left[int(slot.removeprefix("without."))] = accepted
        return _with(block, {"without": [lane for lane in left if lane != PLAYS_AGAIN]})
    return _with(block, {slot: accepted})


def added(block: Block, clause: str, patterns: Patterns) -> Block:
    """The block with a clause put into use; RecipeError if it cannot be."""
    of = patterns.get(block.pattern)
    kind = _kind(clause)
    if of is None or (kind.present(block) and kind.id != "without"):
        raise RecipeError(f"This block cannot have another “{kind.label}”.")
    return _with(block, kind.starts(block, of.recipe))


def removed(block: Block, clause: str) -> Block:
    """The block with a clause taken away."""
    return _with(block, _kind(clause).neutral)


def _kind(clause: str) -> _Kind:
    for kind in KINDS:
        if kind.id == clause:
            return kind
    raise RecipeError(f"There is no clause “{clause[:40]}”.")


def _with(block: Block, fields: Mapping[str, Any]) -> Block:
    with refusing():
        return Block.model_validate(block.model_dump(mode="json") | dict(fields))
