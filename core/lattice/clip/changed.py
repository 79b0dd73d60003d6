"""A clip with some notes in place of others. Notes are named by their places in it, from 0."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.words import many
from lattice.clip.document import Clip, ClipNote

MOST_NOTES = 20_000
Places = Annotated[list[Annotated[int, Field(ge=0)]], Field(max_length=MOST_NOTES)]


@dataclass(frozen=True, slots=True)
class Changed:
    """A clip after a change, and the places of the notes that were changed or made."""

    clip: Clip
    chosen: list[int]


def with_notes(clip: Clip, kept: Sequence[ClipNote], made: Sequence[ClipNote]) -> Changed:
    """A clip of these notes, those made chosen; RecipeError where they are more than 20,000."""
    if len(kept) + len(made) > MOST_NOTES:
        raise RecipeError(f"A clip holds up to {MOST_NOTES:,} notes; this would make "
                          f"{len(kept) + len(made):,}.")
    done = clip.with_notes([*kept, *made])
    marked = set(map(id, made))
    return Changed(done, [i for i, note in enumerate(done.notes) if id(note) in marked])


def parted(clip: Clip, places: Sequence[int]) -> tuple[list[ClipNote], list[ClipNote]]:
    """The clip's other notes and those with these places; RecipeError for a place that there is
    not."""
    wanted = set(places)
    if wanted and max(wanted) >= len(clip.notes):
        raise RecipeError(f"The clip has {many(len(clip.notes), 'notes')}; choose among them.")
    rest = [note for i, note in enumerate(clip.notes) if i not in wanted]
    return rest, [note for i, note in enumerate(clip.notes) if i in wanted]
