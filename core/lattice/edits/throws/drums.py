"""Throw the drums of the kit."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lattice.base.clauses import Part
from lattice.base.percussion import PERCUSSION, kin
from lattice.base.words import choice
from lattice.edits.throws.base import ThrowEdit
from lattice.recipe import Lane, Recipe, edited, with_lane

AMONG = {"kin": ("of its own kind", "a snare for a snare, a cymbal for a cymbal"),
         "any": ("of the whole kit", "whatever there is")}


class ThrowDrums(ThrowEdit):
    """Another drum for each lane, of its own kind or of the whole kit; no two lanes get the same as
    long as there are others."""

    do: Literal["throw_drums"] = "throw_drums"
    place = 30
    label = "drums"
    about = "which drum each lane strikes"
    among: Literal["kin", "any"] = "kin"

    def parts(self) -> Sequence[Part]:
        return ["Another drum for each lane, ", choice("among", "among which", self.among, AMONG),
                "."]

    def fits(self, lane: Lane) -> bool:
        return lane.kind == "drum" and lane.recording is None

    def apply(self, recipe: Recipe) -> Recipe:
        lanes = self.lanes_of(recipe)
        thrown = {lane.id for lane in lanes}
        taken = {lane.note for lane in recipe.lanes
                 if lane.kind == "drum" and lane.id not in thrown}
        for lane in lanes:
            drums = [note for note in (kin(lane.note) if self.among == "kin" else PERCUSSION)
                     if note != lane.note]
            free = [note for note in drums if note not in taken] or drums
            if free:
                note = free[int(self.draws(lane.id)("drum", 0) * len(free))]
                taken.add(note)
                recipe = with_lane(recipe, edited(lane, {"note": note}))
        return recipe
