"""Small pictures of a rhythm: for each lane, where its notes lie and how loud they are."""

from typing import Any

from lattice.clip import Clip, Segment, clip
from lattice.recipe import Recipe
from ninja import Schema

from studio.limits import MOST_CELLS, cells


class ThumbLane(Schema):
    """A lane's notes as [start as a share of the length, velocity]."""

    id: str
    name: str
    notes: list[tuple[float, int]]


class Thumb(Schema):
    """A small picture of notes."""

    bars: float
    notes: int
    lanes: list[ThumbLane]


def thumb(taken: Clip) -> dict[str, Any]:
    """The small picture of a clip."""
    beats = float(taken.beats)
    return {"bars": beats * taken.meter[1] / 4 / taken.meter[0], "notes": len(taken.notes),
            "lanes": [{"id": lane.id, "name": lane.name, "notes": [
                [round(note.start / beats, 4), note.velocity]
                for note in taken.notes if note.lane == lane.id]} for lane in taken.lanes]}


def pattern_thumb(recipe: Recipe) -> dict[str, Any]:
    """The small picture of a pattern's first pass, or of its first bar where a pass is large."""
    small = cells(recipe, float(recipe.frame_beats)) < MOST_CELLS / 10
    beats = recipe.frame_beats if small else recipe.bar_beats
    return thumb(clip("", [Segment(recipe, 0, 0, float(beats))], 0, beats))
