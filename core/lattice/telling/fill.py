"""A clip as what lanes play in a fill."""

from __future__ import annotations

from typing import Any

from lattice.base.errors import RecipeError
from lattice.clip.document import Clip
from lattice.recipe import Lane, Recipe
from lattice.telling.lanes import MOST_BARS, clip_lanes


def fill_lanes(clip: Clip, recipe: Recipe) -> list[Lane]:
    """Lanes that play the notes of a clip in a pattern, hit by hit, whatever swing and key that
    has. RecipeError where the clip has another metre, is too long, or has no notes."""
    if clip.meter != recipe.meter or "meter" in clip.changing:
        raise RecipeError(f"A fill is in the pattern’s metre, {'/'.join(map(str, recipe.meter))}, "
                          f"and “{clip.name}” is not.")
    if clip.bars > MOST_BARS:
        raise RecipeError(f"A fill lasts up to {MOST_BARS} bars, and “{clip.name}” has "
                          f"{clip.bars:,}; take a part of it.")
    told = clip_lanes(clip, plainly=True).recipe
    if any(lane.rate_path for lane in told.lanes) and clip.bars != recipe.bars:
        raise RecipeError(f"“{clip.name}” has more places than a lane has steps; let the frame "
                          f"have {clip.bars} bars, or take a part of it.")
    lanes = []
    for lane in told.lanes:
        if lane.kind == "control":
            continue
        fields: dict[str, Any] = {}
        if lane.swing == "follow" and told.swing != recipe.swing:
            fields["swing"] = told.swing or "straight"
        if lane.pitched and lane.key is None and told.key != recipe.key:
            fields["key"] = told.key
        lanes.append(lane.model_copy(update=fields))
    if not lanes:
        raise RecipeError(f"There is no note in “{clip.name}”.")
    return lanes
