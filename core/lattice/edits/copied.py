"""Lanes that were copied, from this pattern or another."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES
from lattice.edits.base import Edit, new_id, with_new_lane
from lattice.features.own_sound import Choke
from lattice.recipe import Lane, Recipe


class PasteLanes(Edit):
    """Put copies of lanes after a lane, or at the end. One that follows another, or is cut short by
    it, does so by the copy of that lane, or else by the lane here that has its id; one that
    follows a lane that is neither is refused. A lane keeps its id, and so its draws, where no lane
    here has it."""

    do: Literal["paste_lanes"]
    lanes: Annotated[list[Lane], Field(min_length=1, max_length=MAX_LANES)]
    after: str | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        after, ids, made = self.after, {}, recipe
        for lane in self.lanes:
            taken = {each.id for each in made.lanes}
            ids[lane.id] = new_id(lane.name, made) if lane.id in taken else lane.id
            copy = lane.model_copy(update={"id": ids[lane.id]})
            made = with_new_lane(made, [*made.lanes], copy, after)
            after = copy.id
        copies = set(ids.values())
        known = {each.id for each in made.lanes}
        done = made.model_copy(update={"lanes": tuple(
            self._tied(each, ids, known) if each.id in copies else each for each in made.lanes)})
        done.playing_order()
        return done

    def _tied(self, lane: Lane, ids: dict[str, str], known: set[str]) -> Lane:
        """A copy that follows, and is cut short by, what it should."""
        changed: dict[str, object] = {}
        if lane.follows is not None:
            leader = ids.get(lane.follows, lane.follows)
            if leader not in known:
                raise RecipeError(f"{lane.name} follows another lane, which is not here; copy both "
                                  "together.")
            changed["rule"] = lane.rule.model_copy(update={"of": leader})
        if lane.choke and lane.choke.by:
            changed["choke"] = Choke(by=ids.get(lane.choke.by, lane.choke.by))
        return lane.model_copy(update=changed) if changed else lane

    def describe(self, recipe: Recipe) -> str:
        names = ", ".join(lane.name for lane in self.lanes)
        return f"pasted {names}"

    @property
    def changes(self) -> int:
        return len(self.lanes)
