"""Changes to a progression."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from lattice.edits.base import Edit
from lattice.recipe import Recipe, changed


class SetChords(Edit):
    """Give the pattern a progression, each chord with its length in beats, or take it away
    (none)."""

    do: Literal["chords"]
    words: list[str] = Field(max_length=256)
    beats: list[float | str] = Field(max_length=256)

    def apply(self, recipe: Recipe) -> Recipe:
        chords = {"text": " ".join(self.words), "beats": self.beats} if self.words else None
        return changed(recipe, {"chords": chords})

    def describe(self, recipe: Recipe) -> str:
        return f"chords {' '.join(self.words[:4])}{' …' if len(self.words) > 4 else ''}" \
            if self.words else "without chords"
