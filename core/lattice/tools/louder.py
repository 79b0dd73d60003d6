"""Louder or softer."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import Scale, limits
from lattice.base.words import number, percent
from lattice.tools.base import Chosen, Made, Tool, each

Added = Annotated[int, Field(ge=-126, le=126)]


class Louder(Tool):
    """Scale velocities, then add to them; what would be beyond 1 to 127 stays there."""

    tool: Literal["louder"] = "louder"
    place = 40
    label = "louder or softer"
    about = "velocities scaled, and added to"
    scale: Scale = 100
    add: Added = 10

    def parts(self) -> Sequence[Part]:
        return ["Take ", percent("scale", "share of the velocity", self.scale, *limits(Scale)),
                " of each velocity and add ",
                number("add", "velocity added", self.add, *limits(Added), text=f"{self.add:+d}"),
                "."]

    def laid(self, chosen: Chosen) -> Made:
        return each(chosen, lambda note: {"velocity": note.velocity * self.scale / 100 + self.add})
