"""How much may be worked out for one request."""

from lattice.errors import RecipeError
from lattice.recipe import Lane, Recipe

MOST_BEATS = 2048
MOST_CELLS = 120_000
LATEST_BEAT = 2**31


def check_size(recipe: Recipe, start: float, end: float) -> None:
    """RecipeError if playing [start, end) beats would be too much for one request."""
    if not (0 <= start < end < LATEST_BEAT and end - start <= MOST_BEATS):
        raise RecipeError(f"A stretch goes over at most {MOST_BEATS:,} beats, from 0 on.")
    if cells(recipe, end - start) > MOST_CELLS:
        raise RecipeError("That is too much at once; take fewer bars.")


def cells(recipe: Recipe, beats: float) -> float:
    """About how many cells all lanes have in so many beats."""
    return sum(beats / max(1e-9, _least_cell(lane, recipe)) for lane in recipe.lanes)


def _least_cell(lane: Lane, recipe: Recipe) -> float:
    if lane.rate_path:
        return float(4 * min(stretch.step for stretch in lane.rate_path))
    if lane.span == "fit":
        first, last = lane.played
        return float((lane.fit_bars or recipe.bars) * recipe.bar_beats) / (last - first + 1)
    return float(4 * lane.step)
