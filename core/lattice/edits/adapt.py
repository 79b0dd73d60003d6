"""A pattern as it is played for a while: moved in pitch, in another key, some lanes silent."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.edits.base import Edit
from lattice.pitch.fields import Semitones, Transpose
from lattice.pitch.key import Key
from lattice.pitch.names import key_name
from lattice.recipe import MAX_LANES, Lane, Recipe
from lattice.strands.kinds import Degree


class Adapt(Edit):
    """Move the pitched lanes by degrees of their keys, then by semitones, beside what they say
    themselves; give the pattern another key; silence the lanes named in `without`, as far as the
    pattern has them. Nothing else changes: hits, chances and drums stay."""

    do: Literal["adapt"] = "adapt"
    degrees: Degree = 0
    semitones: Semitones = 0
    key: Key | None = None
    without: Annotated[tuple[str, ...], Field(max_length=MAX_LANES)] = ()

    def apply(self, recipe: Recipe) -> Recipe:
        return recipe.model_copy(update={
            "key": self.key or recipe.key,
            "lanes": tuple(self._adapted(lane) for lane in recipe.lanes)})

    def _adapted(self, lane: Lane) -> Lane:
        changed: dict[str, object] = {}
        if lane.pitched and (self.degrees or self.semitones):
            changed["transpose"] = self._moved(lane)
        if lane.id in self.without and not lane.mute:
            changed["mute"] = True
        return lane.model_copy(update=changed) if changed else lane

    def _moved(self, lane: Lane) -> Transpose:
        sums = (lane.transpose.degrees + self.degrees, lane.transpose.semitones + self.semitones)
        try:
            return Transpose(degrees=sums[0], semitones=sums[1])
        except ValueError:
            raise RecipeError(f"{lane.name} would be moved further than a lane can be; move it "
                              "less.") from None

    def describe(self, recipe: Recipe) -> str:
        return self.words or "as it is"

    @property
    def words(self) -> str:
        """What it changes."""
        return ", ".join(self._words())

    def _words(self) -> Iterator[str]:
        if self.degrees:
            yield f"moved by {self.degrees:+d} degree{'' if abs(self.degrees) == 1 else 's'}"
        if self.semitones:
            yield f"moved by {self.semitones:+d} semitone{'' if abs(self.semitones) == 1 else 's'}"
        if self.key:
            yield f"in {key_name(self.key)}"
        if self.without:
            yield f"without {len(self.without)} lane{'' if len(self.without) == 1 else 's'}"

    @property
    def changes(self) -> int:
        """It touches every lane, but works nothing out."""
        return 1
