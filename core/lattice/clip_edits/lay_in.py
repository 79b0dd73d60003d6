"""A tool's work, laid into a clip."""

from __future__ import annotations

from typing import Literal

from lattice.clip.changed import Changed, Places
from lattice.clip.document import Clip
from lattice.clip_edits.base import ClipEdit
from lattice.tools import AnyTool, lay_in
from lattice.tools.base import Chosen


class LayIn(ClipEdit):
    """Lay in what a tool makes of some notes, or of all."""

    do: Literal["lay_in"]
    tool: AnyTool
    notes: Places | None = None

    def apply(self, clip: Clip) -> Changed:
        return lay_in(clip, self.tool, self.notes)

    def begins(self, clip: Clip) -> float:
        """Where what it does begins, in beats."""
        return self.tool.begins(Chosen.of(clip, self.notes))

    def work(self, clip: Clip) -> float:
        count = len(clip.notes) if self.notes is None else len(self.notes)
        return super().work(clip) + self.tool.effort * count

    def describe(self, clip: Clip) -> str:
        count = len(clip.notes) if self.notes is None else len(self.notes)
        return f"{self.tool.label}: {count} note{'' if count == 1 else 's'}"
