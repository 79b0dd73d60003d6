"""Changes to a progression."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from lattice.edits.base import Edit
from lattice.pitch.chords import as_numeral, moved_name
from lattice.pitch.key import Root
from lattice.pitch.names import spelling
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


class RewriteChords(Edit):
    """Write chords anew that are written by their names, since the key has gone on from another
    root: moved as far as the root, or as the numerals that they were in that key, which move by
    themselves."""

    do: Literal["rewrite_chords"]
    root: Root
    how: Literal["move", "numerals"]

    def apply(self, recipe: Recipe) -> Recipe:
        if recipe.chords is None:
            return recipe
        by, names = recipe.key.root - self.root, spelling(recipe.key)
        words = [moved_name(word, by, names) if self.how == "move" else as_numeral(word, self.root)
                 for word in recipe.chords.words]
        return changed(recipe, {"chords.text": " ".join(words)})

    def describe(self, recipe: Recipe) -> str:
        return "chords moved with the key" if self.how == "move" else "chords as numerals"
