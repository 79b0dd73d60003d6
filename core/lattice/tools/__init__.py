"""What can be done to the notes of a clip.

A module in this package that defines a subclass of Tool with a `tool` of its own has made one;
nothing else needs to be told about it.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import inf
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.found import documents, one_of
from lattice.clip.document import Clip
from lattice.clip.hand import (
    AddNotes,
    Changed,
    ClipEdit,
    DrawChanges,
    LengthenNotes,
    LoudenNotes,
    MoveNotes,
    Places,
    RemoveNotes,
    parted,
    with_notes,
)
from lattice.tools.base import Chosen, Tool

TOOLS: tuple[type[Tool], ...] = tuple(sorted(
    documents(__name__, __path__, Tool, "tool").values(), key=lambda tool: tool.place))
"""Every tool, in the order in which they are offered."""
if TYPE_CHECKING:
    AnyTool = Tool
else:
    AnyTool = one_of(TOOLS, "tool")


def lay_in(clip: Clip, tool: Tool, places: Sequence[int] | None) -> Changed:
    """The clip with what a tool makes of the notes with these places, or of all (None), in their
    stead; RecipeError where it cannot be done, or would be more than 20,000 notes."""
    chosen = Chosen.of(clip, places)
    laid = tool.laid(chosen)
    whole = chosen.whole or laid.clip is not None
    return with_notes(laid.clip or clip, () if whole else parted(clip, places or ())[0],
                      laid.notes)


class LayIn(ClipEdit):
    """Lay in what a tool makes of some notes, or of all."""

    do: Literal["lay_in"]
    tool: AnyTool
    notes: Places | None = None

    def apply(self, clip: Clip) -> Changed:
        return lay_in(clip, self.tool, self.notes)

    def work(self, clip: Clip) -> float:
        count = len(clip.notes) if self.notes is None else len(self.notes)
        return super().work(clip) + self.tool.effort * count

    def describe(self, clip: Clip) -> str:
        count = len(clip.notes) if self.notes is None else len(self.notes)
        return f"{self.tool.label}: {count} note{'' if count == 1 else 's'}"


AnyClipEdit = Annotated[
    AddNotes | RemoveNotes | MoveNotes | LengthenNotes | LoudenNotes | DrawChanges | LayIn,
    Field(discriminator="do")]


def change(clip: Clip, edits: Sequence[ClipEdit], most: float = inf) -> Changed:
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
