"""A lane's rhythm, as measures take it: the steps that it plays, gone round in a circle."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np

from lattice.measures import MEASURES, measured
from lattice.measures.rhythms import Ground, Rhythms
from lattice.play import Performance


@dataclass(frozen=True, slots=True)
class LaneRhythm:
    """The ground of a lane, its first step that is played, and for each step from there on
    whether it is a hit, after pins and keep, in the lane's first cycle and before chance; where
    words move, with what they are in the first bar; between gusts."""

    ground: Ground
    first: int
    hits: tuple[bool, ...]

    @property
    def measures(self) -> dict[str, float]:
        """All measures of it, by their names."""
        return measured(Rhythms(self.ground, np.array([self.hits], dtype=np.bool_)))[0]


def lane_rhythm(performance: Performance, lane_id: str) -> LaneRhythm:
    """The rhythm of a lane; RecipeError where there is no such lane."""
    stock = performance.stock(lane_id)
    return LaneRhythm(stock.ground, stock.first, tuple(stock.now.tolist()))


def pattern_measures(performance: Performance) -> dict[str, float]:
    """Of the hits of all lanes in the first frame, on their exact grid places: `agreement`, the
    share that begins together with a hit of another lane; `density`, hits by the cells that begin
    in the frame. Both 0 to 1, 0 where there are none. (Our own, after what the ear asks: do the
    voices meet, and how full is it?)"""
    performance = performance.calm_at(0)
    frame = performance.times.frame
    places: Counter[int] = Counter()
    cells = 0
    for lane in performance.recipe.lanes:
        voice = performance.voice(lane.id)
        places.update({hit.start for hit in voice.hits.between(0, frame)})
        for run in voice.time.runs(0, frame):
            first, after = voice.time.span(run, 0, frame)
            cells += max(0, after - first)
    hits = places.total()
    meeting = sum(count for count in places.values() if count > 1)
    return {"agreement": round(meeting / hits, 4) if hits else 0.0,
            "density": round(hits / cells, 4) if cells else 0.0}


def measure_words(measures: dict[str, float]) -> str:
    """The measures of a lane in half a line."""
    return ", ".join(MEASURES[name].told(value) for name, value in measures.items())
