"""Throw the kit and the voices."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lattice.base.clauses import Part
from lattice.base.values import Percent
from lattice.base.words import choice, percent
from lattice.edits.throws.base import Between
from lattice.features.instruments import KITS, VOICES
from lattice.features.instruments.base import Instrument
from lattice.recipe import Lane, Recipe, edited, with_lane

WHAT = {"kit": ("the kit", "one kit for all drums"),
        "voices": ("the voices", "a voice for each pitched lane"),
        "both": ("kit and voices", "all that is heard")}


class ThrowSounds(Between):
    """Another kit for the drums, the same for all of them, and another voice for each pitched lane;
    their controls are drawn between two bounds, in percent."""

    do: Literal["throw_sounds"] = "throw_sounds"
    place = 40
    label = "sounds"
    about = "the kit and the voices by which lanes are heard"
    what: Literal["kit", "voices", "both"] = "both"
    low: Percent = 20
    high: Percent = 80

    def parts(self) -> Sequence[Part]:
        return ["Another sound: ", choice("what", "which sounds", self.what, WHAT),
                ", with controls from ", percent("low", "lower bound", self.low, 0, self.high),
                " to ", percent("high", "upper bound", self.high, self.low, 100), "."]

    def fits(self, lane: Lane) -> bool:
        if lane.recording is not None or lane.kind == "control":
            return False
        return self.what in ("both", "voices" if lane.pitched else "kit")

    def apply(self, recipe: Recipe) -> Recipe:
        for lane in self.lanes_of(recipe):
            recipe = with_lane(recipe, self._heard(lane, VOICES) if lane.pitched
                               else self._heard(lane, KITS))
        return recipe

    def _heard(self, lane: Lane, among: dict[str, Instrument]) -> Lane:
        draws = self.draws(lane.id if lane.pitched else "")
        others = [name for name in among if name != lane.heard_by.by]
        name = others[int(draws("sound", 0) * len(others))]
        controls = {each: round(self.low + (self.high - self.low) * draws(f"sound {each}", 0))
                    for each in among[name].controls}
        return edited(lane, {"sound": {"by": name, "set": controls}})
