"""Starts: a few lanes to begin an empty pattern with."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from lattice.edits.base import Edit, new_id, with_new_lane
from lattice.recipe import Lane, Recipe

STARTS: dict[str, tuple[str, list[dict[str, Any]]]] = {
    "beat": ("A beat of a few lanes", [
        {"name": "Pump", "note": 36, "velocity": 112, "rule": {"kind": "euclid", "pulses": 4}},
        {"name": "Valve", "note": 38, "velocity": 98,
         "rule": {"kind": "euclid", "pulses": 2, "rotation": 4}},
        {"name": "Drip", "note": 42, "steps": 12, "velocity": 84, "gate": 60,
         "rule": {"kind": "euclid", "pulses": 7}, "accent": {"every": 3, "add": 20}},
        {"name": "Fan", "note": 70, "steps": 5, "span": "fit", "velocity": 70,
         "rule": {"kind": "euclid", "pulses": 4}}]),
    "hats": ("A hat part over a kick", [
        {"name": "Pump", "note": 36, "velocity": 112,
         "rule": {"kind": "euclid", "pulses": 5}},
        {"name": "Drip", "note": 42, "velocity": 88, "gate": 50,
         "rule": {"kind": "gaps", "of": "pump"}, "contour": {"amount": 60},
         "vary": {"velocity": [-9, 9]}, "rolls": [{"step": 14, "strokes": 3,
                                                   "velocity": [100, 60], "probability": 50}]},
        {"name": "Mist", "note": 46, "velocity": 80, "gate": 150,
         "rule": {"kind": "answer", "of": "pump", "every": 4, "place": "1/2"}}]),
}
"""What can be begun with, by name: its title, and the lanes."""

if TYPE_CHECKING:
    StartName = str
else:
    StartName = Literal[tuple(STARTS)]


class Start(Edit):
    """Add the lanes of a start; those that follow another of them do so under its new id."""

    do: Literal["start"]
    start: StartName

    def apply(self, recipe: Recipe) -> Recipe:
        ids: dict[str, str] = {}
        for fields in STARTS[self.start][1]:
            made = ids[fields["name"].lower()] = new_id(fields["name"], recipe)
            rule = fields["rule"]
            if "of" in rule:
                rule = rule | {"of": ids[rule["of"]]}
            lane = Lane.model_validate(fields | {"id": made, "rule": rule})
            recipe = with_new_lane(recipe, [*recipe.lanes], lane, None)
        return recipe

    def describe(self, recipe: Recipe) -> str:
        return STARTS[self.start][0].lower()
