"""Accent every n-th note."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import limits
from lattice.base.words import choice, nth, number
from lattice.tools.base import Chosen, Made, Tool, changed

Every = Annotated[int, Field(ge=2, le=32)]
First = Annotated[int, Field(ge=1, le=32)]
Added = Annotated[int, Field(ge=-126, le=126)]
OF = {"lane": "of each lane", "all": "of all"}


class AccentNotes(Tool):
    """Make every n-th of the chosen notes louder, counted in time from `first` on; notes that
    begin together count once."""

    tool: Literal["accent"] = "accent"
    place = 60
    label = "accent every n-th"
    about = "some louder, in turn"
    every: Every = 4
    first: First = 1
    add: Added = 20
    of: Literal["lane", "all"] = "lane"

    def parts(self) -> Sequence[Part]:
        return ["Accent every ", nth("every", "every n-th", self.every, *limits(Every)),
                " note ", choice("of", "counted", self.of, OF), " from the ",
                nth("first", "first accent", self.first, *limits(First)), " on by ",
                number("add", "velocity added", self.add, *limits(Added), text=f"{self.add:+d}"),
                "."]

    def laid(self, chosen: Chosen) -> Made:
        counts: dict[str, tuple[int, float]] = {}
        notes = []
        for note in chosen.notes:
            key = note.lane if self.of == "lane" else ""
            count, at = counts.get(key, (0, -1.0))
            if note.start > at + 1e-9:
                count += 1
            counts[key] = (count, note.start)
            hit = count >= self.first and (count - self.first) % self.every == 0
            notes.append(changed(note, note.start, velocity=note.velocity + self.add)
                         if hit else note)
        return Made(notes)
