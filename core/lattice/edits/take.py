"""Taking a starting recipe: into a new lane, or over one that is there."""

from __future__ import annotations

from typing import Any, Literal

from lattice.base.words import many
from lattice.edits.base import Edit, new_id, with_new_lane
from lattice.edits.lanes import free_channel
from lattice.library.base import StartingRecipe
from lattice.recipe import Recipe, changed, refusing, with_lane

KEPT = ("mute", "solo", "seed", "own_channel")
"""What stays of a lane that a starting recipe is taken over."""


class Take(Edit):
    """Take a starting recipe: its chords for the pattern, its lane as a new one or over `lane`,
    which keeps its id, name, channel and seed. A frame that is too short to hear it whole is made
    as long as that."""

    do: Literal["take"]
    start: dict[str, Any]
    lane: str | None = None

    def _start(self) -> StartingRecipe:
        with refusing():
            return StartingRecipe.model_validate(self.start)

    def apply(self, recipe: Recipe) -> Recipe:
        start = self._start()
        bars = start.needs(recipe.bar_beats).bars
        fields: dict[str, Any] = {"bars": bars} if bars > recipe.bars else {}
        if start.chords is not None:
            fields["chords"] = start.chords.model_dump(mode="json")
        if fields:
            recipe = changed(recipe, fields)
        if start.lane is None:
            return recipe
        if self.lane is not None:
            over = recipe.lane(self.lane)
            return with_lane(recipe, start.made(over.id, over.name).model_copy(update={
                name: getattr(over, name) for name in KEPT}))
        name = start.name[:60]
        lane = start.made(new_id(name, recipe), name)
        if lane.kind != "drum":
            lane = lane.model_copy(update={"own_channel": free_channel(recipe)})
        return with_new_lane(recipe, [*recipe.lanes], lane, None)

    def describe(self, recipe: Recipe) -> str:
        start = self._start()
        bars = start.needs(recipe.bar_beats).bars
        return f"+ {start.name}" + (f", over {many(bars, 'bars')}" if bars > recipe.bars else "")
