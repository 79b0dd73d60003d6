"""How much may be worked out for one request; what it costs, the core tells (lattice.work)."""

from collections.abc import Iterable, Sequence

from lattice import LANE_WORK, Edit, Recipe, RecipeError, timeline, work, work_of

MOST_WORK = 40_000
"""For one request; well under a second."""
MOST_FOR_A_CLIP = 2 * MOST_WORK
MOST_FOR_AN_ORDER = 5 * MOST_WORK / 2
"""A whole order is worked out only when it is kept."""
MOST_IN_VIEW = 5 * MOST_WORK / 8
"""What is drawn as well takes longer."""
MOST_BEATS = 2048
MOST_SOUND = 5 * 2**20
"""In bytes, of a recording."""
LATEST_BEAT = 2**31

TOO_DENSE = ("That is more than can be worked out at once; take longer steps, fewer lanes or a "
             "shorter frame.")
TOO_LONG = "That is too much at once; take fewer bars."


def check_edits(edits: Sequence[Edit]) -> None:
    """RecipeError if making these edits would be too much for one request."""
    if work_of(edits) > MOST_WORK:
        raise RecipeError("Those are too many changes at once; make them in parts.")


def check_range(start: float, end: float) -> None:
    """RecipeError if [start, end) beats is no stretch that can be asked for at once."""
    if not (0 <= start < end < LATEST_BEAT and end - start <= MOST_BEATS):
        raise RecipeError(f"A stretch goes over at most {MOST_BEATS:,} beats, from 0 on.")


def check_playable(recipe: Recipe, before: Recipe | None = None) -> None:
    """RecipeError if two frames of a recipe are too much to be looked at, so that no pattern is
    stored which cannot be opened; unless it was still more before."""
    timeline(recipe, recipe.lanes)
    two = 2 * float(recipe.frame_beats)
    cost = work(recipe, 0, two)
    if cost > MOST_WORK and (before is None or
                             cost >= work(before, 0, 2 * float(before.frame_beats))):
        raise RecipeError(TOO_DENSE)


def fitting_end(recipe: Recipe, start: float, end: float) -> float:
    """How far a view from `start` can go: to `end`, or fewer whole bars; RecipeError if not even
    one bar can be shown."""
    check_range(start, end)
    bar = float(recipe.bar_beats)
    bars = -(-(end - start) // bar)
    while work(recipe, start, end) > MOST_IN_VIEW:
        if bars <= 1:
            raise RecipeError(TOO_DENSE)
        bars = (bars + 1) // 2
        end = start + bars * bar
    return end


def check_stretches(stretches: Iterable[tuple[Recipe, float, float]], most: float) -> None:
    """RecipeError if playing all these (recipe, start, end) is more than `most`."""
    total = 0.0
    for recipe, start, end in stretches:
        check_range(start, end)
        total += work(recipe, start, end)
        if total > most:
            raise RecipeError(TOO_LONG)


def check_count(lanes: Iterable[int], most: float) -> None:
    """The same from the number of lanes in each stretch alone, before anything else is known."""
    if LANE_WORK * sum(lanes) > most:
        raise RecipeError(TOO_LONG)
