"""Keys: a root and a scale, and the pitches that degrees name in them."""

from __future__ import annotations

from bisect import bisect_left
from typing import Annotated

from pydantic import Field

from lattice.base.values import Document
from lattice.pitch.scales import Scale, scale_notes

Root = Annotated[int, Field(ge=0, le=11)]
TRIADS = (0, 4, 7), (0, 3, 7), (0, 3, 6), (0, 4, 8)
"""Major, minor, diminished, augmented."""


class Key(Document):
    """The key of a pattern or a lane: the root as a pitch class (0 is C), and a scale."""

    root: Root = 0
    scale: Scale = "major"

    @property
    def notes(self) -> tuple[int, ...]:
        """The scale's semitones above the root."""
        return scale_notes(self.scale)

    @property
    def triad(self) -> tuple[int, ...]:
        """The chord on the root, in semitones above it: the first plain triad that lies in the
        scale, or else degrees 0, 2 and 4 (all, of fewer than five)."""
        notes = self.notes
        plain = next((triad for triad in TRIADS if set(triad) <= set(notes)), None)
        return plain or (notes[0:5:2] if len(notes) >= 5 else notes)

    def above_root(self, degree: int) -> int:
        """The semitones from the root to a degree, in any octave."""
        octave, place = divmod(degree, len(self.notes))
        return 12 * octave + self.notes[place]

    def from_note(self, pitch: int, steps: int) -> int:
        """The pitch so many of the scale's notes above (or below) a pitch, in the scale or not."""
        if steps == 0:
            return pitch
        octave, above = divmod(pitch - self.root, 12)
        place = bisect_left(self.notes, above)
        inside = place < len(self.notes) and self.notes[place] == above
        first = octave * len(self.notes) + place  # the degree at or above the pitch
        degree = first + steps - (steps > 0 and not inside)
        return self.root + self.above_root(degree)

    def degree_of(self, pitch: int) -> int | None:
        """The degree of a pitch counted from the root at or below it, from 0; None out of key."""
        above = (pitch - self.root) % 12
        return self.notes.index(above) if above in self.notes else None
