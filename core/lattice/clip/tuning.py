"""How the tuning of a clip's drums leaves by files and ports."""

from __future__ import annotations

from lattice.base.controllers import Number
from lattice.clip.document import Clip, ClipChange, ClipLane
from lattice.features.tuning import SET_BY_TUNING, bend_range, tuned_by


def clip_tunings(clip: Clip) -> list[ClipChange]:
    """What is set before the strokes of lanes that are tuned by pitch bend, where that is not what
    was set before: of lanes whose channel no other uses."""
    return [change for lane in clip.lanes for change in _tunings(clip, lane)]


def _tunings(clip: Clip, lane: ClipLane) -> list[ClipChange]:
    notes = [note for note in clip.notes if note.lane == lane.id] if lane.tuned == "bend" else []
    reach = bend_range(max((abs(note.tune) for note in notes), default=0))
    channels = {note.channel for note in notes}
    if not any(note.tune for note in notes) or reach is None or any(
            note.channel in channels and note.lane != lane.id for note in clip.notes) or any(
            change.channel in channels and change.number in SET_BY_TUNING
            for change in clip.changes):
        return []
    known: dict[Number, int] = {}
    found: list[ClipChange] = []
    for note in notes:
        for number, value in tuned_by(note.tune, reach):
            if known.get(number) != value:
                known[number] = value
                found.append(ClipChange(time=note.start, number=number, value=value,
                                        channel=note.channel, lane=lane.id))
    return found
