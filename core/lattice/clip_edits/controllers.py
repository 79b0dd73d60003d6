"""Changes to the controllers of a clip by hand."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.controllers import Number, value_bounds
from lattice.base.errors import RecipeError
from lattice.clip.changed import MOST_NOTES, Changed
from lattice.clip.document import Clip, ClipChange
from lattice.clip_edits.base import ClipEdit
from lattice.strands.kinds import Controlled


class DrawChanges(ClipEdit):
    """Draw a controller anew over [start, end) beats: what it is set to at each time; none leaves
    it as it stands before."""

    do: Literal["draw_changes"]
    lane: str
    number: Number
    start: Annotated[float, Field(ge=0)]
    end: Annotated[float, Field(gt=0)]
    changes: Annotated[list[tuple[Annotated[float, Field(ge=0)], Controlled]],
                       Field(max_length=MOST_NOTES)]

    def apply(self, clip: Clip) -> Changed:
        if clip.lane(self.lane) is None:
            raise RecipeError(f'There is no lane "{self.lane[:40]}" in this clip.')
        low, high = value_bounds(self.number)
        if any(not low <= value <= high for _, value in self.changes):
            raise RecipeError(f"This controller is set to {low} to {high}.")
        end = min(self.end, float(clip.beats))
        if any(not self.start <= time < end for time, _ in self.changes):
            raise RecipeError("A controller is drawn within its stretch and within the clip.")
        kept = [each for each in clip.changes if (each.lane, each.number) != (
            self.lane, self.number) or not self.start <= each.time < self.end]
        channel = clip.channel_of(self.lane)
        made = [ClipChange(time=time, number=self.number, value=value, channel=channel,
                           lane=self.lane) for time, value in self.changes]
        changes = tuple(sorted([*kept, *made], key=lambda each: each.time))
        return Changed(clip.model_copy(update={"changes": changes}), [])

    def describe(self, clip: Clip) -> str:
        return "controller drawn"
