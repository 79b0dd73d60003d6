"""Pieces as documents: patterns, their order and clips, as they leave in a file and come back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal, Self

from pydantic import AfterValidator, FailFast, Field, model_validator

from lattice.base.errors import RecipeError
from lattice.base.values import Document, Name
from lattice.base.words import many
from lattice.clip.document import Clip, ClipLane
from lattice.order.document import Order
from lattice.recipe import Lane, Recipe, refusing

MOST_PATTERNS = 64
MOST_CLIPS = 1000
"""On the Shelf of one piece."""
MOST_PIECES = 500
MOST_THINGS = 2000
"""Patterns and clips in one file."""
FORMAT = "jolly-lattice pieces"
VERSION = 2

Tag = Annotated[Name, Field(max_length=24)]


class PiecePattern(Document):
    """A pattern under its name, as it stands."""

    name: Name
    recipe: Recipe


def _each_once(tags: tuple[Tag, ...]) -> tuple[Tag, ...]:
    return tuple(dict.fromkeys(tags))


class ClipSaid(Document):
    """What is said of a clip on the Shelf, besides its notes and its name. A field more is one here
    and one of the same name where clips are stored."""

    starred: bool = False
    tags: Annotated[tuple[Tag, ...], Field(max_length=12), AfterValidator(_each_once)] = ()


class PieceClip(ClipSaid):
    """A clip of the Shelf. pattern: the place of the pattern that it came from, from 0; recipe: the
    lanes that it was taken from, as they were then."""

    name: Name
    clip: Clip
    pattern: Annotated[int, Field(ge=0)] | None = None
    recipe: Recipe | None = None


class Contents(Document):
    """Patterns and clips under a name, and an order of the patterns: a piece, or what is shown of
    one. Clips come in the order of the Shelf; a block of the order names its pattern by its place
    among `patterns`, from 1."""

    name: Name
    patterns: Annotated[tuple[PiecePattern, ...], FailFast(),
                        Field(max_length=MOST_PATTERNS)] = ()
    order: Order = Order()
    clips: Annotated[tuple[PieceClip, ...], FailFast(), Field(max_length=MOST_CLIPS)] = ()

    @model_validator(mode="after")
    def _names_what_is_there(self) -> Self:
        named = [block.pattern - 1 for block in self.order.blocks] + [
            clip.pattern for clip in self.clips if clip.pattern is not None]
        if any(place >= len(self.patterns) for place in named):
            raise ValueError(f"“{self.name}” has {many(len(self.patterns), 'patterns')}; its "
                             "order and its clips name no others.")
        return self

    @property
    def recordings(self) -> set[str]:
        """The recordings that its lanes and clips are heard by, each by its SHA-256."""
        recipes = [pattern.recipe for pattern in self.patterns]
        recipes += [clip.recipe for clip in self.clips if clip.recipe]
        lanes: list[Lane | ClipLane] = [lane for recipe in recipes for lane in recipe.lanes]
        lanes += [lane for clip in self.clips for lane in clip.clip.lanes]
        return {lane.own_sound.file for lane in lanes if lane.own_sound}


class Piece(Contents):
    """A piece with everything in it but its past."""

    patterns: Annotated[tuple[PiecePattern, ...], FailFast(),
                        Field(min_length=1, max_length=MOST_PATTERNS)]


def as_piece(shown: Contents) -> Piece:
    """What is shown as a piece of one's own; where that is clips alone, beside an empty pattern."""
    held = {name: getattr(shown, name) for name in Contents.model_fields}
    return Piece.model_validate(held | {"patterns": shown.patterns or (
        PiecePattern(name=shown.name, recipe=Recipe()),)})


class Pieces(Document):
    """What a file of pieces says."""

    format: Literal["jolly-lattice pieces"] = "jolly-lattice pieces"
    version: Literal[2] = 2
    pieces: Annotated[tuple[Piece, ...], FailFast(), Field(min_length=1, max_length=MOST_PIECES)]

    @model_validator(mode="after")
    def _not_too_many(self) -> Self:
        check_count(len(self.pieces), sum(len(piece.patterns) + len(piece.clips)
                                          for piece in self.pieces))
        return self


def check_count(pieces: int, things: int) -> None:
    """RecipeError where a file would hold too many pieces, or patterns and clips in them."""
    if pieces > MOST_PIECES or things > MOST_THINGS:
        raise RecipeError(f"A file holds up to {MOST_PIECES} pieces, and {MOST_THINGS:,} patterns "
                          f"and clips in them; these are {pieces:,} and {things:,}. Let fewer "
                          "leave at once.")


def _alone(document: dict[str, Any]) -> dict[str, Any]:
    """Version 1 held one piece by itself, with clips that had neither tags nor stars."""
    return {"format": FORMAT, "version": 2, "pieces": [{
        name: value for name, value in document.items() if name not in ("format", "version")}]}


UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _alone}
"""What makes a document of each older version one of the next."""


def read_pieces(document: Any) -> Pieces:
    """The pieces in a JSON document of this version or an older one; RecipeError with one sentence,
    and the place, for what does not fit. A recipe by itself is a piece of one pattern."""
    if not isinstance(document, dict):
        raise RecipeError("A file of pieces is one JSON object; `lattice schema --piece` prints "
                          "what is in it.")
    if "format" not in document and "lanes" in document:
        document = {"version": 1, "name": "From a recipe", "patterns": [
            {"name": "Pattern 1", "recipe": document}]}
    version = document.get("version", VERSION)
    if not isinstance(version, int) or isinstance(version, bool) or not 1 <= version <= VERSION:
        raise RecipeError(f"This file is of version {str(version)[:20]}; versions 1 to {VERSION} "
                          "can be read here.")
    for each in range(version, VERSION):
        document = UPGRADES[each](document)
    with refusing():
        return Pieces.model_validate(document)


