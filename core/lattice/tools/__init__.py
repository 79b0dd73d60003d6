"""What can be done to the notes of a clip: one file a tool, put together here."""

from __future__ import annotations

from collections.abc import Sequence
from math import inf
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
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
from lattice.tools.accent import Accent
from lattice.tools.base import Chosen, Tool
from lattice.tools.fill import Fill
from lattice.tools.lengthen import Lengthen
from lattice.tools.loosen import Loosen
from lattice.tools.louder import Louder
from lattice.tools.mirror import Mirror
from lattice.tools.pull import Pull
from lattice.tools.rotate import Rotate
from lattice.tools.split import Split
from lattice.tools.squeeze import Squeeze
from lattice.tools.stir import Stir
from lattice.tools.stretch import Stretch
from lattice.tools.thin import Thin
from lattice.tools.transpose import Transpose
from lattice.tools.trim import Trim
from lattice.tools.turn_round import TurnRound

AnyTool = Annotated[
    Pull | Loosen | Stir | Louder | Squeeze | Accent | Transpose | Mirror | Lengthen | TurnRound
    | Stretch | Trim | Rotate | Thin | Split | Fill,
    Field(discriminator="tool")]
TOOLS: tuple[type[Tool], ...] = (
    Pull, Loosen, Stir, Louder, Squeeze, Accent, Transpose, Mirror, Lengthen, TurnRound, Rotate,
    Stretch, Thin, Split, Fill, Trim)
"""Every tool, in the order in which they are offered."""


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
