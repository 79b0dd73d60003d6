"""Changes to a recipe: each a small document, each giving a new recipe or a clear refusal."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from lattice.draws import Draws
from lattice.errors import RecipeError
from lattice.percussion import note_name
from lattice.play import Performance
from lattice.recipe import MAX_LANES, Lane, Name, Recipe, first_sentence, read, to_json
from lattice.rolls import Roll
from lattice.rules import RULES, FollowingRule
from lattice.rules.hand import Hand
from lattice.sentence import CLAUSES, PATTERN_FIELDS, pattern_sentence, sentence
from lattice.slots import Slot
from lattice.strands import BOUNDS


class Edit(BaseModel):
    """A change; `do` names its kind."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    def apply(self, recipe: Recipe) -> Recipe:
        """The recipe with the change made; RecipeError if it cannot be."""
        raise NotImplementedError

    def describe(self, recipe: Recipe) -> str:
        """The change in a few words, seen from the recipe it is made on."""
        raise NotImplementedError


class SetSlot(Edit):
    """Change one word of a lane's sentence, or of the pattern's where `lane` is null."""

    do: Literal["set"]
    lane: str | None
    slot: str
    value: Any

    def _slot(self, recipe: Recipe) -> Slot:
        words = pattern_sentence(recipe) if self.lane is None \
            else sentence(recipe.lane(self.lane), recipe)
        slot = words.slot(self.slot)
        if slot is None:
            raise RecipeError("That word is no longer in the sentence.")
        return slot

    def apply(self, recipe: Recipe) -> Recipe:
        value = self._slot(recipe).accept(self.value)
        if self.lane is None:
            return _changed(recipe, {self.slot: value})
        lane = recipe.lane(self.lane)
        if self.slot == "rule.kind":
            return _with_lane(recipe, _with_rule(lane, recipe, value))
        if self.slot == "steps":
            return _with_lane(recipe, _resized(lane, value))
        if self.slot == "rule.pulses":  # the pattern number must stay within its count
            rule = lane.rule.model_copy(update={"pulses": value}).resized(lane.steps)
            return _with_lane(recipe, lane.model_copy(update={"rule": rule}))
        if self.slot == "fit_bars" and value == 0:
            value = None
        return _with_lane(recipe, _edited(lane, {self.slot: value}))

    def describe(self, recipe: Recipe) -> str:
        slot = self._slot(recipe)
        who = f"{recipe.lane(self.lane).name}: " if self.lane else ""
        return f"{who}{slot.label} {slot.text} → {self.value}"


class AddClause(Edit):
    """Put a clause into use, with its starting values."""

    do: Literal["add"]
    lane: str | None
    clause: str

    def apply(self, recipe: Recipe) -> Recipe:
        if self.lane is None:
            field, value = _pattern_field(self.clause)
            return _changed(recipe, {field: value})
        lane = recipe.lane(self.lane)
        kind = _clause(self.clause)
        if kind.present(lane) or not kind.possible(lane):
            raise RecipeError(f"{lane.name} cannot have another “{kind.label}” clause.")
        return _with_lane(recipe, _edited(lane, kind.added(lane) if callable(kind.added)
                                          else kind.added))

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}+ {self.clause.replace('-', ' ')}"


class RemoveClause(Edit):
    """Take a clause out of use."""

    do: Literal["remove"]
    lane: str | None
    clause: str

    def apply(self, recipe: Recipe) -> Recipe:
        if self.lane is None:
            return _changed(recipe, {_pattern_field(self.clause)[0]: None}, drop=True)
        kind = _clause(self.clause)
        return _with_lane(recipe, _edited(recipe.lane(self.lane), dict.fromkeys(kind.cleared),
                                          drop=True))

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}without {self.clause.replace('-', ' ')}"


class Put(Edit):
    """Make steps play (`on` true) or rest (false): by hand, or with pins where a rule decides."""

    do: Literal["put"]
    lane: str
    steps: Annotated[list[Annotated[int, Field(ge=0, le=127)]], Field(min_length=1, max_length=128)]
    on: bool

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        if max(self.steps) >= lane.steps:
            raise RecipeError(f"{lane.name} has {lane.steps} steps.")
        if isinstance(lane.rule, Hand) and not (lane.reverse or lane.flip):
            hits = set(lane.rule.hits) | set(self.steps) if self.on \
                else set(lane.rule.hits) - set(self.steps)
            pins = {step: pin for step, pin in lane.pins.items() if step not in self.steps}
            rule = lane.rule.model_copy(update={"hits": tuple(sorted(hits))})
            return _with_lane(recipe, lane.model_copy(update={"rule": rule, "pins": pins}))
        hits_now = None if lane.follows else Performance(recipe).voice(lane.id).hits.base
        pins = dict(lane.pins)
        for step in self.steps:
            if hits_now is not None and hits_now[step] == self.on and lane.keep is None:
                pins.pop(step, None)
            else:
                pins[step] = self.on
        return _with_lane(recipe, lane.model_copy(update={"pins": pins}))

    def describe(self, recipe: Recipe) -> str:
        steps = " ".join(str(step + 1) for step in self.steps)
        return f"{_who(self.lane, recipe)}step {steps} {'plays' if self.on else 'rests'}"


class Unpin(Edit):
    """Leave steps to the rule again; all of them where `steps` is null."""

    do: Literal["unpin"]
    lane: str
    steps: list[int] | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        pins = {} if self.steps is None else \
            {step: pin for step, pin in lane.pins.items() if step not in self.steps}
        return _with_lane(recipe, lane.model_copy(update={"pins": pins}))

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}pins taken off"


class SetStrand(Edit):
    """Give a lane a strand of one kind, or take it away (null)."""

    do: Literal["strand"]
    lane: str
    kind: str
    strand: dict[str, Any] | None

    def apply(self, recipe: Recipe) -> Recipe:
        if self.kind not in BOUNDS:
            raise RecipeError(f"A strand is one of {', '.join(BOUNDS)}.")
        return _with_lane(recipe, _edited(recipe.lane(self.lane),
                                          {f"strands.{self.kind}": self.strand}))

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}{self.kind} strand"


class RollStep(Edit):
    """Split a step into `strokes`; 1 takes its roll away."""

    do: Literal["roll"]
    lane: str
    step: Annotated[int, Field(ge=0, le=127)]
    strokes: Annotated[int, Field(ge=1, le=16)]

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        rolls = [roll for roll in lane.rolls if roll.step != self.step]
        if self.strokes > 1:
            known = next((roll for roll in lane.rolls if roll.step == self.step), None)
            rolls.append(known.model_copy(update={"strokes": self.strokes}) if known
                         else Roll(step=self.step, strokes=self.strokes))
        return _with_lane(recipe, lane.model_copy(update={"rolls": tuple(rolls)}))

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}step {self.step + 1} rolls {self.strokes} times"


class SetLane(Edit):
    """Change what is not part of the sentence: name, note, channel, mute, solo."""

    do: Literal["lane"]
    lane: str
    field: Literal["name", "note", "channel", "mute", "solo"]
    value: str | bool | int

    def apply(self, recipe: Recipe) -> Recipe:
        return _with_lane(recipe, _edited(recipe.lane(self.lane), {self.field: self.value}))

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}{self.field}"


class SetPattern(Edit):
    """Change the tempo, the metre or the number of bars."""

    do: Literal["pattern"]
    field: Literal["tempo", "meter", "bars"]
    value: float | list[int]

    def apply(self, recipe: Recipe) -> Recipe:
        return _changed(recipe, {self.field: self.value})

    def describe(self, recipe: Recipe) -> str:
        value = "/".join(map(str, self.value)) if isinstance(self.value, list) \
            else f"{self.value:g}"
        return f"{self.field} {value}".replace("meter", "metre")


class AddLane(Edit):
    """A new lane at the end, or after another; `follow` makes it follow that one."""

    do: Literal["add_lane"]
    name: Name | None = None
    note: Annotated[int, Field(ge=0, le=127)] = 42
    after: str | None = None
    follow: Literal["gaps", "answer"] | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        name = self.name or note_name(self.note)
        document: dict[str, Any] = {"id": _new_id(name, recipe), "name": name, "note": self.note,
                                    "rule": {"kind": "euclid", "pulses": 4}}
        if self.follow:
            leader = recipe.lane(self.after or "")
            document |= {"step": str(leader.step), "steps": leader.steps,
                         "rule": {"kind": self.follow, "of": leader.id}}
        lane = Lane.model_validate(document)
        return _with_lanes(recipe, [*recipe.lanes], lane, self.after)

    def describe(self, recipe: Recipe) -> str:
        return f"+ {self.name or note_name(self.note)}"


class DuplicateLane(Edit):
    """A copy of a lane below it, with draws of its own."""

    do: Literal["duplicate_lane"]
    lane: str

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        taken = {each.name for each in recipe.lanes}
        name = next(n for n in (f"{lane.name[:55]} {i}" for i in range(2, 99)) if n not in taken)
        copy = lane.model_copy(update={"id": _new_id(name, recipe), "name": name})
        return _with_lanes(recipe, [*recipe.lanes], copy, lane.id)

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}duplicated"


class RemoveLane(Edit):
    """Take a lane away."""

    do: Literal["remove_lane"]
    lane: str

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        followers = [each.name for each in recipe.lanes if each.follows == lane.id]
        if followers:
            raise RecipeError(f"{' and '.join(followers)} follows {lane.name}; "
                              "give it another rule first.")
        return recipe.model_copy(update={
            "lanes": tuple(each for each in recipe.lanes if each.id != lane.id)})

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}removed"


class MoveLane(Edit):
    """Move a lane to another place in the list, counted from 0."""

    do: Literal["move_lane"]
    lane: str
    to: Annotated[int, Field(ge=0, lt=MAX_LANES)]

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        lanes = [each for each in recipe.lanes if each.id != lane.id]
        lanes.insert(self.to, lane)
        return recipe.model_copy(update={"lanes": tuple(lanes)})

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}moved"


class Reroll(Edit):
    """New chances, same recipe: for one lane, or for the whole pattern (`lane` null)."""

    do: Literal["reroll"]
    lane: str | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane) if self.lane else None
        seed = lane.seed if lane else recipe.seed
        fresh = int(Draws(seed, 0, self.lane or "")("reroll", seed) * 2**31)
        if lane is None:
            return recipe.model_copy(update={"seed": fresh})
        return _with_lane(recipe, lane.model_copy(update={"seed": fresh}))

    def describe(self, recipe: Recipe) -> str:
        return f"{_who(self.lane, recipe)}reroll"


AnyEdit = Annotated[
    SetSlot | AddClause | RemoveClause | Put | Unpin | SetStrand | RollStep | SetLane | SetPattern
    | AddLane | DuplicateLane | RemoveLane | MoveLane | Reroll, Field(discriminator="do")]


def apply_all(recipe: Recipe, edits: Sequence[Edit]) -> Recipe:
    """The recipe with the edits made one after another."""
    for edit in edits:
        recipe = edit.apply(recipe)
    return recipe


def _who(lane_id: str | None, recipe: Recipe) -> str:
    return f"{recipe.lane(lane_id).name}: " if lane_id else ""


def _clause(clause_id: str) -> Any:
    for kind in CLAUSES:
        if kind.id == clause_id:
            return kind
    raise RecipeError(f'There is no clause "{clause_id}".')


def _pattern_field(clause: str) -> tuple[str, Any]:
    if clause not in PATTERN_FIELDS:
        raise RecipeError(f'There is no clause "{clause}" for a pattern.')
    return PATTERN_FIELDS[clause]


def _set_path(document: Any, path: str, value: Any, drop: bool) -> None:
    """Set a.b.0-style paths in a document; with `drop`, take the field out instead."""
    *parents, last = path.split(".")
    for name in parents:
        document = document[int(name)] if isinstance(document, list) else \
            document.setdefault(name, {})
    if isinstance(document, list):
        document[int(last)] = value
    elif drop:
        document.pop(last, None)
    else:
        document[last] = value


def _edited(lane: Lane, fields: Any, drop: bool = False) -> Lane:
    document = lane.model_dump(mode="json", by_alias=True)
    for path, value in fields.items():
        _set_path(document, path, value, drop)
    try:
        return Lane.model_validate(document)
    except ValidationError as problem:
        raise RecipeError(first_sentence(problem)) from None


def _changed(recipe: Recipe, fields: dict[str, Any], drop: bool = False) -> Recipe:
    """The recipe with fields of its own changed; its lanes stay the very same objects."""
    document = to_json(recipe.model_copy(update={"lanes": ()}))
    for path, value in fields.items():
        _set_path(document, path, value, drop)
    return read(document).model_copy(update={"lanes": recipe.lanes})


def _with_lane(recipe: Recipe, lane: Lane) -> Recipe:
    changed = recipe.model_copy(update={
        "lanes": tuple(lane if each.id == lane.id else each for each in recipe.lanes)})
    changed.playing_order()
    return changed


def _with_lanes(recipe: Recipe, lanes: list[Lane], new: Lane, after: str | None) -> Recipe:
    if len(lanes) >= MAX_LANES:
        raise RecipeError(f"A pattern has up to {MAX_LANES} lanes.")
    place = lanes.index(recipe.lane(after)) + 1 if after else len(lanes)
    lanes.insert(place, new)
    return recipe.model_copy(update={"lanes": tuple(lanes)})


def _with_rule(lane: Lane, recipe: Recipe, kind: str) -> Lane:
    """The lane with another rule, which begins with the hits that the lane has now."""
    rule = RULES[kind]
    others = [each.id for each in recipe.lanes if each.id != lane.id]
    hits = Performance(recipe).voice(lane.id).hits
    base = [False] * lane.steps if hits.followed else list(hits.base)
    neutral = {"reverse": False, "flip": False, "direction": "forward"}
    starting = rule.starting(base, others)
    if not issubclass(rule, FollowingRule) and not lane.follows:
        neutral.pop("direction")
        if kind != "hand":
            neutral = {}
    changed = lane.model_copy(update={**neutral, "rule": starting})
    if isinstance(starting, FollowingRule):
        return _first_without_circle(changed, recipe, others)
    return changed


def _first_without_circle(lane: Lane, recipe: Recipe, others: list[str]) -> Lane:
    problem = RecipeError("There is no other lane to follow.")
    for other in others:
        candidate = lane.model_copy(update={"rule": lane.rule.model_copy(update={"of": other})})
        try:
            _with_lane(recipe, candidate)
            return candidate
        except RecipeError as refused:
            problem = refused
    raise problem


def _resized(lane: Lane, steps: int) -> Lane:
    """Another number of steps: the rule and the window change only where they must."""
    window = lane.window
    if window is not None:
        window = (min(window[0], steps - 1), min(window[1], steps - 1))
    return lane.model_copy(update={"steps": steps, "rule": lane.rule.resized(steps),
                                   "window": window})


def _new_id(name: str, recipe: Recipe) -> str:
    """An id that no lane has, made from the name."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:30] or "lane"
    taken = {lane.id for lane in recipe.lanes}
    return next(each for each in (stem, *(f"{stem}-{i}" for i in range(2, MAX_LANES + 2)))
                if each not in taken)
