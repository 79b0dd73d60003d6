"""What every change to a clip has."""

from __future__ import annotations

from lattice.base.values import Document
from lattice.clip.changed import Changed
from lattice.clip.document import Clip

LOOKED_AT = 0.1
"""The work of finding that a note is none of those that change."""


class ClipEdit(Document):
    """A change; `do` names its kind."""

    def apply(self, clip: Clip) -> Changed:
        """The clip with the change made; RecipeError if it cannot be."""
        raise NotImplementedError

    def describe(self, clip: Clip) -> str:
        """The change in a few words."""
        raise NotImplementedError

    def work(self, clip: Clip) -> float:
        """How much work it is, in the unit of lattice.results.work: each note is looked at, and
        those that it names are made anew."""
        named = sum(len(getattr(self, name, None) or ()) for name in ("notes", "changes"))
        return LOOKED_AT * (len(clip.notes) + len(clip.changes)) + named
