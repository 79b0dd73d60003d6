"""Changes to a clip: each a small document, each giving a new clip or a clear refusal.

A module in this package that defines a subclass of ClipEdit with a `do` of its own has made a
change; nothing else needs to be told about it.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import inf
from typing import TYPE_CHECKING

from lattice.base.errors import RecipeError
from lattice.base.found import documents, one_of
from lattice.clip.changed import Changed
from lattice.clip.document import Clip
from lattice.clip_edits.base import ClipEdit

CLIP_EDITS: tuple[type[ClipEdit], ...] = tuple(
    documents(__name__, __path__, ClipEdit, "do").values())
"""Every change."""
if TYPE_CHECKING:
    AnyClipEdit = ClipEdit
else:
    AnyClipEdit = one_of(CLIP_EDITS, "do")


def change_clip(clip: Clip, edits: Sequence[ClipEdit], most: float = inf) -> Changed:
    """The clip with changes made one after another; chosen is what the last one chose.
    RecipeError before they come to more than `most` of work."""
    done, total = Changed(clip, []), 0.0
    for edit in edits:
        total += edit.work(done.clip)
        if total > most:
            raise RecipeError("That is too much at once; choose fewer notes, or make the changes "
                              "one by one.")
        done = edit.apply(done.clip)
    return done
