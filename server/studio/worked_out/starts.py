"""Starting recipes as they are shown: a small picture and the first sentence."""

from dataclasses import dataclass
from functools import cache
from typing import Any

from lattice import LIBRARY, Performance, Recipe, StartingRecipe, lane_sentence, to_json, work

from studio.limits import MOST_WORK

BEATS = 8.0
MOST_MARKS = 64


@dataclass(slots=True)
class ShownStart:
    """A starting recipe. id: of one of the musician's own; marks: [start as a share of the picture,
    velocity, pitch]; bars: how many it takes, of four quarters, to be heard whole; follows_chords:
    whether it plays over chords that it does not bring; document: what is taken."""

    id: int | None
    name: str
    group: str
    about: str
    source: str
    sentence: str
    pitched: bool
    marks: list[tuple[float, int, int]]
    bars: int
    follows_chords: bool
    document: dict[str, Any]


def shown_start(start: StartingRecipe, own: int | None = None) -> ShownStart:
    """A starting recipe with what its picture draws."""
    lanes = (start.made("lane", "Lane"),) if start.lane is not None else ()
    recipe = Recipe(lanes=lanes, chords=start.chords)
    told = [lane_sentence(lane, recipe).text() for lane in lanes]
    marks: list[tuple[float, int, int]] = []
    if work(recipe, 0, BEATS) < MOST_WORK / 100:
        marks = [(round(note.start / BEATS, 4), note.velocity, note.pitch)
                 for note in Performance(recipe).notes(0, BEATS)[:MOST_MARKS]]
    return ShownStart(own, start.name, start.group, start.about, start.source,
                      told[0] if told else f"Chords {start.chords.text}." if start.chords else "",
                      any(lane.kind == "pitched" for lane in lanes), marks,
                      *start.needs(recipe.bar_beats), to_json(start))


@cache
def library() -> list[ShownStart]:
    """Those that come with the application."""
    return [shown_start(start) for start in LIBRARY]
