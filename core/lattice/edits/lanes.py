"""Changes to lanes as wholes, and to what the pattern says for all of them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.base.controllers import value_bounds
from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES
from lattice.base.percussion import note_name
from lattice.base.values import DRUM_CHANNEL, Channel, LaneKind, LaneName, NoteNumber, Seed, limits
from lattice.edits.base import Edit, and_more, new_id, who, with_new_lane
from lattice.features.gusts import without_lane
from lattice.library.beginnings import BEGINNINGS, BeginningName
from lattice.recipe import Lane, Recipe, changed, edited, refusing, with_lane
from lattice.rules import FOLLOWING, RULES, FollowingKind, StandingKind, rule_that

CLOSED_HAT = 42
NEW_CONTROL: dict[str, int | str] = {"number": 74, "move": "glide"}
"""The controller that a new lane moves: brightness, gliding."""
STEPS = 16
"""The drum and the length of a new lane."""


class SetLane(Edit):
    """Change what is not part of the sentence: name, note, channel, mute, solo; in the lanes of
    `also` too. With value null, mute and solo become what they are not in the lane."""

    do: Literal["lane"]
    lane: str
    field: Literal["name", "note", "channel", "mute", "solo"]
    value: str | bool | int | None
    also: Annotated[list[str], Field(max_length=MAX_LANES)] = []

    def apply(self, recipe: Recipe) -> Recipe:
        value = self.value
        if value is None and self.field in ("mute", "solo"):
            value = not getattr(recipe.lane(self.lane), self.field)
        for lane in (self.lane, *self.also):
            recipe = with_lane(recipe, edited(recipe.lane(lane), {self.field: value}))
        return recipe

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{self.field}{and_more(self.also)}"


class SetPattern(Edit):
    """Change the tempo, the metre or the number of bars."""

    do: Literal["pattern"]
    field: Literal["tempo", "meter", "bars"]
    value: float | list[int]

    def apply(self, recipe: Recipe) -> Recipe:
        return changed(recipe, {self.field: self.value})

    def describe(self, recipe: Recipe) -> str:
        value = "/".join(map(str, self.value)) if isinstance(self.value, list) \
            else f"{self.value:g}"
        return f"{self.field} {value}".replace("meter", "metre")


class TurnInto(Edit):
    """Make a lane one of another kind; what it says for the kind that it was is kept."""

    do: Literal["kind"]
    lane: str
    kind: LaneKind

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        fields: dict[str, Any] = {"kind": self.kind}
        if self.kind == "control" and lane.control is None:
            fields["control"] = NEW_CONTROL
        if self.kind != "drum" and lane.own_channel is None:
            fields["channel"] = free_channel(recipe)
        return with_lane(recipe, edited(lane, fields))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}a {self.kind} lane"


def free_channel(recipe: Recipe) -> int:
    """The first channel that no lane has, besides that of drums; the first where all are taken."""
    taken = {lane.channel for lane in recipe.lanes} | {DRUM_CHANNEL}
    lowest, highest = limits(Channel)
    return next((each for each in range(lowest, highest + 1) if each not in taken), lowest)


class SayLane(Edit):
    """Say a lane otherwise: `said` takes the place of the lane with its id."""

    do: Literal["say"]
    said: Lane

    def apply(self, recipe: Recipe) -> Recipe:
        return with_lane(recipe, self.said)

    def describe(self, recipe: Recipe) -> str:
        return f"{self.said.name}: said otherwise"


class AddLane(Edit):
    """A new lane at the end, or after another: a drum, or what `begin` names. `follow` makes it
    follow the lane before it by a rule, `rule` begins it with one that stands alone. A lane that is
    not for drums has a channel of its own, a controller that of the lane before it."""

    do: Literal["add_lane"]
    name: LaneName | None = None
    note: NoteNumber | None = None
    after: str | None = None
    follow: FollowingKind | None = None
    rule: StandingKind | None = None
    begin: BeginningName | None = None

    @property
    def _name(self) -> str:
        return self.name or (BEGINNINGS[self.begin].title if self.begin else note_name(self._note))

    @property
    def _note(self) -> int:
        if self.note is not None:
            return self.note
        return FOLLOWING[self.follow].lane_note if self.follow else CLOSED_HAT

    def apply(self, recipe: Recipe) -> Recipe:
        fields: dict[str, Any] = {"note": self._note}
        if self.begin:
            fields = BEGINNINGS[self.begin].fields
        made = {"id": new_id(self._name, recipe), "name": self._name} | fields
        made |= self._hits(recipe, fields) | self._of_kind(recipe, fields.get("kind", "drum"))
        with refusing():
            return with_new_lane(recipe, [*recipe.lanes], Lane.model_validate(made), self.after)

    def _hits(self, recipe: Recipe, fields: dict[str, Any]) -> dict[str, Any]:
        if not self.follow:
            if "rule" in fields and not self.rule:
                return {}
            rule = RULES[self.rule] if self.rule else rule_that("begins_lanes")
            steps = fields.get("steps", STEPS)
            return {"rule": rule.starting([step % 4 == 0 for step in range(steps)], ())}
        leader = recipe.lane(self.after or "")
        hits = {"step": leader.step, "steps": leader.steps,
                "rule": FOLLOWING[self.follow].starting((), [leader.id])}
        if fields.get("kind") == "control":
            hits["by_velocity"] = list(value_bounds(NEW_CONTROL["number"]))
        return hits

    def _of_kind(self, recipe: Recipe, kind: LaneKind) -> dict[str, Any]:
        if kind == "drum":
            return {}
        before = [lane for lane in recipe.lanes if lane.pitched]
        if kind == "control":
            if self.follow:  # set by its hits, for what it plays on
                return {"control": NEW_CONTROL | {"move": "step"},
                        "channel": recipe.lane(self.after or "").channel}
            return {"control": NEW_CONTROL,
                    "channel": before[-1].channel if before else free_channel(recipe)}
        return {"channel": free_channel(recipe)}

    def describe(self, recipe: Recipe) -> str:
        return f"+ {self._name}"


class DuplicateLane(Edit):
    """A copy of a lane below it, with draws of its own; with `note`, for another drum, by the name
    of which it is called."""

    do: Literal["duplicate_lane"]
    lane: str
    note: NoteNumber | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        fields = {} if self.note is None else {"note": self.note, "own_sound": None}
        stem = lane.name if self.note is None else note_name(self.note)
        taken = {each.name for each in recipe.lanes}
        numbered = (f"{stem[:55]} {i}" for i in range(2, 99))
        name = stem if stem not in taken else next(n for n in numbered if n not in taken)
        copy = lane.model_copy(update={"id": new_id(name, recipe), "name": name} | fields)
        return with_new_lane(recipe, [*recipe.lanes], copy, lane.id)

    def describe(self, recipe: Recipe) -> str:
        as_another = "" if self.note is None else f" for {note_name(self.note)}"
        return f"{who(self.lane, recipe)}duplicated{as_another}"


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
            "lanes": tuple(each for each in recipe.lanes if each.id != lane.id),
            "gusts": without_lane(recipe.gusts, lane.id),
            "fills": recipe.fills_without(lane.id)})

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}removed"


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
        return f"{who(self.lane, recipe)}moved"


class Reroll(Edit):
    """New chances, same recipe, for one lane or for the whole pattern (`lane` null); `back` goes to
    the chances before, `seed` to certain ones. Seeds are counted on: any two give draws that have
    nothing in common."""

    do: Literal["reroll"]
    lane: str | None = None
    back: bool = False
    seed: Seed | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane) if self.lane else None
        seed = (lane.seed if lane else recipe.seed) + (-1 if self.back else 1)
        if self.seed is not None:
            seed = self.seed
        if seed < 0:
            raise RecipeError("These are the first chances; there are none before them.")
        if lane is None:
            return recipe.model_copy(update={"seed": seed})
        return with_lane(recipe, lane.model_copy(update={"seed": seed}))

    def describe(self, recipe: Recipe) -> str:
        earlier = self.back or self.seed is not None
        return f"{who(self.lane, recipe)}{'earlier chances' if earlier else 'reroll'}"
