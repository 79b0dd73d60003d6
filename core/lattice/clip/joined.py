"""Clips joined end to end into one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import accumulate, count
from math import lcm
from typing import Any

from lattice.base.errors import RecipeError
from lattice.base.words import many
from lattice.clip.changed import MOST_NOTES
from lattice.clip.document import (
    FINEST_GRAIN,
    MAY_CHANGE,
    MOST_BEATS,
    Clip,
    ClipLane,
    ClipMark,
    ClipNote,
)


def joined_clip(clips: Sequence[Clip], name: str) -> Clip:
    """Clips one after another as a clip: lanes that are alike, on one channel, are one; a mark says
    where each begins, and what of tempo, metre and key is other than before. A note that hangs
    over into the next clip is cut where the same begins anew. RecipeError for fewer than two, or
    where it would be too long."""
    if len(clips) < 2:
        raise RecipeError("Choose two clips or more to join.")
    beats = sum((clip.beats for clip in clips), start=Fraction(0))
    notes = sum(len(clip.notes) for clip in clips)
    if beats > MOST_BEATS or notes > MOST_NOTES:
        raise RecipeError(
            f"A clip lasts up to {MOST_BEATS:,} beats and holds up to {MOST_NOTES:,} notes; these "
            f"would be {float(beats):g} beats and {many(notes, 'notes')}. Join fewer.")
    lanes = _Lanes(clips)
    starts = [float(at) for at in accumulate((clip.beats for clip in clips), initial=Fraction(0))]
    placed = [clip.later(at) for clip, at in zip(clips, starts, strict=False)]

    def all_of(name: str) -> list[Any]:
        return [each.model_copy(update={"lane": own[each.lane]})
                for clip, own in zip(placed, lanes.ids, strict=True)
                for each in getattr(clip, name)]

    return clips[0].model_copy(update={
        "name": name, "beats": beats, "lanes": tuple(lanes.all),
        "notes": tuple(_cut(all_of("notes"))), "changes": tuple(all_of("changes")),
        "marks": tuple(_marks(placed, starts)), "grain": _grain(clips)})


class _Lanes:
    """The lanes of several clips, and for each clip by which ids its lanes go."""

    def __init__(self, clips: Sequence[Clip]) -> None:
        self.all: list[ClipLane] = []
        self.ids: list[dict[str, str]] = []
        known: list[tuple[ClipLane, int]] = []
        for clip in clips:
            places: dict[str, int] = {}
            for lane in clip.lanes:
                alike = lane.model_copy(update={"id": "", "choked_by": None}), \
                    clip.channel_of(lane.id)
                place = next((i for i, each in enumerate(known) if each == alike
                              and i not in places.values()), None)
                if place is None:
                    place = len(known)
                    known.append(alike)
                    self.all.append(lane.model_copy(update={"id": self._free(lane.id)}))
                places[lane.id] = place
            own = {lane_id: self.all[place].id for lane_id, place in places.items()}
            self.ids.append(own)
            for lane in clip.lanes:  # cut short by the one that it was cut short by here
                place = places[lane.id]
                self.all[place] = self.all[place].model_copy(update={
                    "choked_by": own.get(lane.choked_by or "")})

    def _free(self, wanted: str) -> str:
        taken = {lane.id for lane in self.all}
        return wanted if wanted not in taken else next(
            each for n in count(2) if (each := f"{wanted[:36]}-{n}") not in taken)


def _cut(notes: list[ClipNote]) -> list[ClipNote]:
    """Notes in order, each at its end where the same begins anew."""
    found = sorted(notes, key=lambda note: (note.start, note.pitch))
    last: dict[tuple[int, int], int] = {}
    for place, note in enumerate(found):
        key = (note.channel, note.pitch)
        before = found[last[key]] if key in last else None
        if before is not None and before.start < note.start < before.end:
            found[last[key]] = before.model_copy(update={"length": note.start - before.start})
        last[key] = place
    return found


def _marks(placed: Sequence[Clip], starts: Sequence[float]) -> Iterator[ClipMark]:
    """A mark where each of the clips begins, and those that it has."""
    force = {field: getattr(placed[0], field) for field in MAY_CHANGE}
    for clip, at in zip(placed, starts, strict=False):
        begins = {field: getattr(clip, field) for field in MAY_CHANGE}
        yield ClipMark(time=at, name=clip.name, **{
            field: value for field, value in begins.items() if value != force[field]})
        force = begins
        for mark in clip.marks:
            yield mark
            force |= {field: value for field in MAY_CHANGE
                      if (value := getattr(mark, field)) is not None}


def _grain(clips: Sequence[Clip]) -> int | None:
    grain = 1
    for clip in clips:
        if clip.grain is None:
            return None
        grain = lcm(grain, clip.grain, clip.beats.denominator)
    return grain if grain <= FINEST_GRAIN else None
