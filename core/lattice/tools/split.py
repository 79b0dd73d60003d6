"""Split into strokes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import Scale, limits
from lattice.base.words import choice, number, percent
from lattice.features.rolls import CURVE_WORDS, CURVES
from lattice.tools.base import Chosen, Made, Tool, changed

Strokes = Annotated[int, Field(ge=2, le=16)]
Curve = Literal["even", "gathering", "slackening"]


class Split(Tool):
    """Split each note into strokes over its length, from one loudness to another in percent of
    its own; `curve` as for rolls."""

    tool: Literal["split"] = "split"
    place = 140
    label = "split into strokes"
    about = "each note becomes a roll"
    strokes: Strokes = 3
    first: Scale = 100
    last: Scale = 60
    curve: Curve = "even"

    @property
    def effort(self) -> float:
        return self.strokes * super().effort

    def parts(self) -> Sequence[Part]:
        return ["Split each note into ", number("strokes", "strokes", self.strokes,
                                                *limits(Strokes)), " strokes, ",
                choice("curve", "curve", self.curve, CURVE_WORDS),
                ", from ", percent("first", "loudness of the first", self.first, *limits(Scale)),
                " to ", percent("last", "loudness of the last", self.last, *limits(Scale)),
                " of its velocity."]

    def laid(self, chosen: Chosen) -> Made:
        bounds = [CURVES[self.curve](i / self.strokes) for i in range(self.strokes + 1)]
        notes = []
        for note in chosen.notes:
            for i in range(self.strokes):
                loudness = self.first + (self.last - self.first) * i / (self.strokes - 1)
                notes.append(changed(
                    note, note.end, start=note.start + note.length * bounds[i],
                    length=note.length * (bounds[i + 1] - bounds[i]),
                    velocity=note.velocity * loudness / 100))
        last = float(chosen.clip.beats)
        return Made([note for note in notes if note.start < last])
