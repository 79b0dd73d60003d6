"""Loosen in time and loudness."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import limits
from lattice.base.words import number
from lattice.clip.document import ClipNote
from lattice.tools.base import ChanceTool, Chosen, Made, each

Milliseconds = Annotated[float, Field(ge=0, le=250)]
Give = Annotated[int, Field(ge=0, le=64)]


class Loosen(ChanceTool):
    """Move each note by up to so many milliseconds either way, and make it so much louder or
    softer at the most; drawn evenly."""

    tool: Literal["loosen"] = "loosen"
    place = 20
    label = "loosen"
    about = "give or take in time and loudness"
    time: Milliseconds = 12
    velocity: Give = 8

    def parts(self) -> Sequence[Part]:
        return ["Loosen in time by up to ",
                number("time", "milliseconds", self.time, *limits(Milliseconds)),
                " ms, in loudness by up to ",
                number("velocity", "velocity", self.velocity, *limits(Give)), "."]

    def laid(self, chosen: Chosen) -> Made:
        beats = self.time / 1000 * chosen.clip.tempo / 60

        def change(note: ClipNote) -> dict[str, Any]:
            return {"start": note.start + beats * (2 * self.draw(note, "time") - 1),
                    "velocity": note.velocity + self.velocity * (
                        2 * self.draw(note, "velocity") - 1)}

        return each(chosen, change)
