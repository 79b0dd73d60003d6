"""The lanes of a clip, and for which lanes of which patterns they stand."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from itertools import count

from lattice.base.controllers import Number, controller_name
from lattice.clip.document import ClipLane
from lattice.play import Change
from lattice.recipe import Lane, Recipe


class HeardLanes:
    """The lanes of what was heard, as they were last. A lane of another pattern that has the id of
    one before is the same lane where it is alike, and has an id of its own where it is not."""

    def __init__(self, heard: Iterable[tuple[int, Recipe]]) -> None:
        latest: dict[tuple[int, str], Lane] = {}
        for pattern, recipe in heard:
            for lane in recipe.lanes:
                before = latest.get((pattern, lane.id), lane)
                # A lane that was made a controller while it played has its notes from before.
                if lane.kind != "control" or before.kind == "control":
                    latest[pattern, lane.id] = lane
        self._found: dict[tuple[int, str], ClipLane] = {}
        self._renamed: dict[int, dict[str, str]] = {}
        taken = {lane_id for _, lane_id in latest}
        named: dict[str, list[ClipLane]] = {}
        for (pattern, lane_id), lane in latest.items():
            made = _clip_lane(lane)
            known = named.setdefault(lane_id, [])
            alike = next((each for each in known
                          if each.model_copy(update={"id": lane_id}) == made), None)
            if known and alike is None:
                made = made.model_copy(update={"id": next(
                    each for n in count(2) if (each := f"{lane_id}-{n}") not in taken)})
                taken.add(made.id)
            found = self._found[pattern, lane_id] = alike or made
            if alike is None:
                known.append(made)
            if found.id != lane_id:
                self._renamed.setdefault(pattern, {})[lane_id] = found.id

    def renamed(self, pattern: int) -> dict[str, str]:
        """The lanes of a pattern that go by another id, each with that id."""
        return self._renamed.get(pattern, {})

    def playing(self, notes: Iterable[str], changes: Sequence[Change]) -> tuple[
            tuple[ClipLane, ...], list[Change]]:
        """The lanes of these notes and changes, in their order. What lanes of notes set stays with
        them; each other controller has a lane of its own, though a lane was given another one
        while it played."""
        lanes = {lane.id: lane for lane in map(self._cut_short, self._found)}
        wanted = set(notes)
        own: dict[str, Number] = {}
        for change in changes:
            if lanes[change.lane].kind == "control":
                own.setdefault(change.lane, change.number)
            else:
                wanted.add(change.lane)
        more = {(change.lane, change.number): controller_lane(
            f"{change.lane}-to", lanes[change.lane].name, change.number)
            for change in changes
            if lanes[change.lane].kind == "control" and own.get(change.lane) != change.number}
        found: list[ClipLane] = []
        for lane in lanes.values():
            if lane.id in wanted or lane.id in own:
                found.append(lane)
            found += [each for (of, _), each in more.items() if of == lane.id]
        return tuple(found), [
            replace(change, lane=other.id) if (other := more.get((change.lane, change.number)))
            else change for change in changes]

    def _cut_short(self, key: tuple[int, str]) -> ClipLane:
        """A lane, cut short by the one that it should be."""
        lane = self._found[key]
        by = lane.choked_by and self._found.get((key[0], lane.choked_by))
        return lane.model_copy(update={"choked_by": by.id}) if by else lane


def controller_lane(of: str, name: str, number: int | str) -> ClipLane:
    """The lane of a controller that is moved by a lane or a part with this id and name."""
    return ClipLane(id=f"{of}-{number}", kind="control",
                    name=f"{name[:30]}: {controller_name(number)}"[:60])


def _clip_lane(lane: Lane) -> ClipLane:
    """A lane of a pattern as a clip has it."""
    return ClipLane(id=lane.id, name=lane.name, kind=lane.kind, sound=lane.sound,
                    own_sound=lane.own_sound, choked_by=lane.choked_by,
                    tuned=lane.tuned)
