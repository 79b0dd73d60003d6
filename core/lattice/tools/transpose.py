"""Transpose in key or by semitones."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.values import limits
from lattice.base.words import choice, number
from lattice.clip.document import ClipNote
from lattice.tools.base import Chosen, Made, Tool, each

Steps = Annotated[int, Field(ge=-60, le=60)]
BY = {"degrees": ("degrees of the key", "a note out of key goes to the next in it"),
      "semitones": ("semitones", "")}


class TransposeNotes(Tool):
    """Move the notes of pitched lanes up or down; drums stay. Beyond 0 to 127 they are brought
    back by octaves."""

    tool: Literal["transpose"] = "transpose"
    place = 70
    label = "transpose"
    about = "in key, or by semitones"
    by: Steps = 2
    unit: Literal["degrees", "semitones"] = "degrees"

    def parts(self) -> Sequence[Part]:
        return ["Transpose by ", number("by", "how far", self.by, *limits(Steps),
                                        text=f"{self.by:+d}"), " ",
                choice("unit", "unit", self.unit, BY), "."]

    def laid(self, chosen: Chosen) -> Made:
        clip, pitched = chosen.clip, chosen.clip.pitched

        def change(note: ClipNote) -> dict[str, Any]:
            if note.lane not in pitched:
                return {}
            return {"pitch": note.pitch + self.by if self.unit == "semitones"
                    else clip.key.from_note(note.pitch, self.by)}

        return each(chosen, change)
