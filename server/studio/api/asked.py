"""What is asked of a pattern: a view over some beats, of a revision with edits that are only tried
out."""

from typing import Annotated, Any

from django.http import Http404
from lattice import AnyEdit, Recipe
from ninja import Schema
from pydantic import Field

from studio.limits import check_edits
from studio.worked_out.in_parts import in_parts
from studio.worked_out.look import View, look
from studio.worked_out.recipes import belongs, recipe_with

Stamp = Annotated[str, Field(max_length=16)]


class Wanted(Schema):
    """The range of beats to see, and the lane whose sentence is wanted; have: the parts of views
    that whoever asks has, by their stamps: then the view is answered in parts."""

    start: float = 0
    end: float
    chosen: str | None = None
    have: list[Stamp] | None = Field(default=None, max_length=1000)

    def view(self, recipe: Recipe) -> View | dict[str, Any]:
        """A recipe as it was asked for."""
        whole = look(recipe, self.start, self.end, self.chosen)
        return whole if self.have is None else in_parts(whole, self.have)


class Trying(Schema):
    """A revision, with edits that are only tried out."""

    revision: int
    edits: list[AnyEdit] = Field(default=[], max_length=64)


def tried(owner: int, pattern_id: int, data: Trying) -> Recipe:
    """The recipe of a revision that this owner may see, with the edits that are tried out."""
    if not belongs(data.revision, pattern_id, owner):
        raise Http404
    check_edits(data.edits)
    return recipe_with(data.revision, data.edits)
