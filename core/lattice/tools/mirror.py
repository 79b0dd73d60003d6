"""Mirror pitches."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from lattice.base.clauses import Part
from lattice.base.words import choice
from lattice.clip.document import ClipNote
from lattice.tools.base import Chosen, Made, Tool, each

ABOUT = {"first": "the first note", "middle": "the middle of their range"}
UNITS = {"degrees": "in key", "semitones": "by semitones"}


class Mirror(Tool):
    """What was above is below: mirror the pitches of pitched lanes, about their first note or
    about the middle between the lowest and the highest."""

    tool: Literal["mirror"] = "mirror"
    place = 80
    label = "mirror pitches"
    about = "what was above is below"
    around: Literal["first", "middle"] = "first"
    unit: Literal["degrees", "semitones"] = "degrees"

    def parts(self) -> Sequence[Part]:
        return ["Mirror pitches ", choice("unit", "unit", self.unit, UNITS), " about ",
                choice("around", "about what", self.around, ABOUT), "."]

    def laid(self, chosen: Chosen) -> Made:
        clip = chosen.clip
        pitched = clip.pitched
        pitches = [note.pitch for note in chosen.notes if note.lane in pitched]
        if not pitches:
            return Made(chosen.notes)
        first, low, high = pitches[0], min(pitches), max(pitches)

        def steps(pitch: int) -> int:
            """How many notes of the key lie from the first note to a pitch."""
            way = 1 if pitch > first else -1
            return way * sum(clip.key.degree_of(between) is not None
                             for between in range(first + way, pitch + way, way)) \
                if pitch != first else 0

        def change(note: ClipNote) -> dict[str, Any]:
            if note.lane not in pitched:
                return {}
            if self.unit == "semitones":
                both = 2 * first if self.around == "first" else low + high
                return {"pitch": both - note.pitch}
            both = 0 if self.around == "first" else steps(low) + steps(high)
            return {"pitch": clip.key.from_note(first, both - steps(note.pitch))}

        return each(chosen, change)
