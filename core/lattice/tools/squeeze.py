"""Squeeze velocities."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lattice.base.clauses import Part
from lattice.base.values import Percent, Velocity, limits
from lattice.base.words import number, percent
from lattice.tools.base import Chosen, Made, Tool, each


class Squeeze(Tool):
    """Bring velocities a share of the way to one of them."""

    tool: Literal["squeeze"] = "squeeze"
    place = 50
    label = "squeeze"
    about = "velocities nearer to each other"
    share: Percent = 50
    to: Velocity = 96

    def parts(self) -> Sequence[Part]:
        return ["Squeeze velocities by ", percent("share", "share", self.share, *limits(Percent)),
                " towards ", number("to", "velocity", self.to, *limits(Velocity)), "."]

    def laid(self, chosen: Chosen) -> Made:
        return each(chosen, lambda note: {
            "velocity": note.velocity + (self.to - note.velocity) * self.share / 100})
