"""Small pictures of a rhythm: for each lane, where its notes lie and how loud they are."""

import time
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from lattice import Clip, Recipe, Segment, take_clip, work
from ninja import Schema

from studio.limits import MOST_WORK
from studio.worked_out.memory import Memory
from studio.worked_out.recipes import recipe_of

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")
MOST_MARKS = 4096
"""So many notes a picture draws at the most; it is small."""


class ThumbLane(Schema):
    """A lane's notes as [start as a share of the length, velocity]."""

    id: str
    name: str
    notes: list[tuple[float, int]]


class Thumb(Schema):
    """A small picture of notes; waits: it is not drawn yet, and there when it is asked for
    again."""

    bars: float
    notes: int
    lanes: list[ThumbLane]
    waits: bool = False


SECONDS = 0.3
"""For the pictures of one answer, at the most, and one more."""
WAITING: dict[str, Any] = {"bars": 0, "notes": 0, "lanes": [], "waits": True}


def thumb(taken: Clip) -> dict[str, Any]:
    """The small picture of a clip."""
    beats = float(taken.beats)
    places = min(1024, MOST_MARKS // max(1, len(taken.lanes)))
    marks: dict[str, dict[int, tuple[float, int]]] = {lane.id: {} for lane in taken.lanes}
    for note in taken.notes:
        share = note.start / beats
        of_lane, place = marks[note.lane], int(share * places)
        # Of notes that would stand on top of each other, the loudest is drawn.
        if place not in of_lane or of_lane[place][1] < note.velocity:
            of_lane[place] = (round(share, 4), note.velocity)
    return {"bars": float(taken.bars_long), "notes": len(taken.notes),
            "lanes": [{"id": lane.id, "name": lane.name, "notes": list(marks[lane.id].values())}
                      for lane in taken.lanes]}


_pictures: Memory[int, dict[str, Any]] = Memory(2048)


def revision_thumb(revision_id: int) -> dict[str, Any]:
    """The small picture of a pattern as it stands at a revision."""
    return _pictures.get(revision_id) or _pictures.put(
        revision_id, recipe_thumb(recipe_of(revision_id)))


class Pictures:
    """Pictures for one answer that shows many: once they have taken so long, those that are not
    known yet wait, and are there when the answer is asked for again. One at least is made."""

    def __init__(self) -> None:
        self._until: float | None = None
        self.waits = False
        """Whether some wait."""

    def known(self, memory: Memory[K, V], key: K, make: Callable[[], V]) -> V | None:
        """The picture that is kept under a key, or is made and kept there; None if it waits."""
        found = memory.get(key)
        if found is None and (self._until is None or time.monotonic() < self._until):
            self._until = self._until or time.monotonic() + SECONDS
            found = memory.put(key, make())
        self.waits = self.waits or found is None
        return found

    def of_pattern(self, revision_id: int) -> dict[str, Any]:
        """The small picture of a pattern as it stands at a revision, or an empty one that waits."""
        return self.known(_pictures, revision_id, lambda: recipe_thumb(
            recipe_of(revision_id))) or WAITING


def recipe_thumb(recipe: Recipe) -> dict[str, Any]:
    """The small picture of a pattern's first pass, or of its first bar or less of it
    where that is large."""
    beats = recipe.frame_beats
    if work(recipe, 0, float(beats)) > MOST_WORK / 10:
        beats = recipe.bar_beats
        while beats > 1 and work(recipe, 0, float(beats)) > MOST_WORK / 10:
            beats /= 2
    return thumb(take_clip("", [Segment(recipe, 0, 0, float(beats))], 0, beats))
