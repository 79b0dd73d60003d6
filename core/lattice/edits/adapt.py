"""A pattern as it is played for a while: moved in pitch, in another key, some lanes silent."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES
from lattice.base.words import many
from lattice.edits.base import Edit
from lattice.pitch.fields import Semitones, Transpose
from lattice.pitch.key import Key
from lattice.pitch.names import key_name
from lattice.recipe import Lane, Recipe
from lattice.strands.kinds import Degree


def _signed(by: int, what: str) -> str:
    return f"{'+' if by > 0 else ''}{many(by, what)}"


def transposed(lane: Lane, degrees: int, semitones: int) -> Lane:
    """A lane moved so far from where it stands, by its path where its transposition follows one;
    RecipeError where that is further than a lane can be."""
    by = {"transpose.degrees": degrees, "transpose.semitones": semitones}
    stands, paths = lane.transpose, lane.paths
    if stands == Transpose():  # nothing is said of it, so its paths move nothing, and shall not
        paths = tuple(path for path in paths if path.word not in by)
    paths = tuple(path.lifted(by.pop(path.word, 0)) for path in paths)
    try:
        moved = Transpose(degrees=stands.degrees + by.get("transpose.degrees", 0),
                          semitones=stands.semitones + by.get("transpose.semitones", 0))
    except ValueError:
        raise RecipeError(f"{lane.name} would be moved further than a lane can be; move it "
                          "less.") from None
    return lane.model_copy(update={"transpose": moved, "paths": paths})


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
            "fills": tuple(fill.model_copy(update={
                "lanes": tuple(map(self._adapted, fill.lanes))}) for fill in recipe.fills),
            "lanes": tuple(self._adapted(lane) for lane in recipe.lanes)})

    def _adapted(self, lane: Lane) -> Lane:
        if lane.pitched and (self.degrees or self.semitones):
            lane = transposed(lane, self.degrees, self.semitones)
        if lane.id in self.without and not lane.mute:
            lane = lane.model_copy(update={"mute": True})
        return lane

    def describe(self, recipe: Recipe) -> str:
        return self.words or "as it is"

    @property
    def words(self) -> str:
        """What it changes."""
        return ", ".join(self._words())

    def _words(self) -> Iterator[str]:
        if self.degrees:
            yield f"moved by {_signed(self.degrees, 'degrees')}"
        if self.semitones:
            yield f"moved by {_signed(self.semitones, 'semitones')}"
        if self.key:
            yield f"in {key_name(self.key)}"
        if self.without:
            yield f"without {many(len(self.without), 'lanes')}"

    @property
    def changes(self) -> int:
        """It touches every lane, but works nothing out."""
        return 1
