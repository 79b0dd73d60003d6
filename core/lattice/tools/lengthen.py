"""Lengthen or shorten notes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import limits
from lattice.base.words import choice, percent
from lattice.clip.document import ClipNote
from lattice.tools.base import Chosen, Made, Tool, each

Share = Annotated[float, Field(ge=1, le=800)]
OF = {"own": "of their length", "next": "of the way to the next of their lane"}


class Lengthen(Tool):
    """Give notes a share of their length, or of the way to the next note of their lane (the last
    one's to the clip's end)."""

    tool: Literal["lengthen"] = "lengthen"
    place = 90
    label = "lengthen"
    about = "longer, shorter, or up to the next"
    share: Share = 150
    of: Literal["own", "next"] = "own"

    def parts(self) -> Sequence[Part]:
        return ["Notes last ", percent("share", "share", self.share, *limits(Share)), " ",
                choice("of", "share of what", self.of, OF), "."]

    def laid(self, chosen: Chosen) -> Made:
        following: dict[tuple[str, float], float] = {}
        ahead: dict[str, tuple[float, float]] = {}
        for note in reversed(chosen.clip.notes):
            at, after = ahead.get(note.lane, (float(chosen.clip.beats),) * 2)
            if note.start < at - 1e-9:
                at, after = note.start, at
            ahead[note.lane] = (at, after)
            following[note.lane, note.start] = after

        def change(note: ClipNote) -> dict[str, Any]:
            whole = note.length if self.of == "own" else \
                following[note.lane, note.start] - note.start
            return {"length": whole * self.share / 100}

        return each(chosen, change)
