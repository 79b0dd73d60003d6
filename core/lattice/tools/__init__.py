"""What can be done to the notes of a clip.

A module in this package that defines a subclass of Tool with a `tool` of its own has made one;
nothing else needs to be told about it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from lattice.base.found import documents, one_of
from lattice.clip.changed import Changed, parted, with_notes
from lattice.clip.document import Clip
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
