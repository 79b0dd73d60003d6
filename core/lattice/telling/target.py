"""What a lane plays: that which any shorter way of saying it must play too."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import lcm

from lattice.base.values import half_up
from lattice.hits.found import Hit
from lattice.play import Change, Note, NoteVoice, Performance, Voice
from lattice.recipe import Lane, Recipe, with_lane
from lattice.results.meeting import lane_frames
from lattice.strands.fields import Strand
from lattice.strands.kinds import DEGREE, KINDS, VELOCITY, StrandKind, Together, Value
from lattice.strands.reading import reader, step_reader

MOST_PASSES = 16
"""So many passes are compared, or as many as come before the meeting point."""
CLOSE = 1e-9
"""Places no further apart than this, in beats, are the same: floating point set them apart."""


def related(recipe: Recipe, lane_id: str) -> Recipe:
    """The pattern with those lanes alone that a lane follows or that follow it, all of them
    heard."""
    wanted = {lane_id}
    before: set[str] = set()
    while wanted != before:
        before = set(wanted)
        wanted |= {lane.id for lane in recipe.lanes if lane.follows in wanted}
        wanted |= {lane.follows for lane in recipe.lanes if lane.id in wanted and lane.follows}
    return recipe.model_copy(update={"lanes": tuple(
        audible(lane) for lane in recipe.lanes if lane.id in wanted)})


def audible(lane: Lane) -> Lane:
    """The lane, neither mute nor solo."""
    return lane.model_copy(update={"mute": False, "solo": False})


def plain(strand: Strand | None) -> bool:
    """Whether a strand's values are what they are, with no chance in them."""
    return strand is None or (strand.direction != "random" and all(
        not isinstance(value, tuple) for value in strand.values))


@dataclass(frozen=True)
class Target:
    """A lane among the lanes that matter to it."""

    recipe: Recipe
    lane: Lane
    whole: Recipe

    @staticmethod
    def of(recipe: Recipe, lane_id: str) -> Target:
        """A lane of a recipe; RecipeError where there is none."""
        recipe.lane(lane_id)
        alone = related(recipe, lane_id)
        return Target(alone, alone.lane(lane_id), recipe)

    @cached_property
    def performance(self) -> Performance:
        """The lanes as they play."""
        return Performance(self.recipe)

    @property
    def voice(self) -> Voice:
        """The lane as it plays."""
        return self.performance.voice(self.lane.id)

    @cached_property
    def frames(self) -> int | None:
        """After how many passes the lanes that matter come round; None: never, or too late."""
        counts = [lane_frames(self.performance, lane.id) for lane in self.recipe.lanes]
        if None in counts:
            return None
        frames = lcm(1, *(count for count in counts if count))
        return frames if frames <= MOST_PASSES else None

    @cached_property
    def hits(self) -> list[Hit]:
        """The lane's hits over two rounds, before chance."""
        frames = min(MOST_PASSES, 2 * (self.frames or MOST_PASSES))
        return self.voice.hits.between(0, frames * self.performance.times.frame)

    @cached_property
    def places(self) -> dict[Fraction, int]:
        """The numbers of the hits by their places in beats."""
        grain = self.performance.times.grain
        return {Fraction(hit.start, grain): number for number, hit in enumerate(self.hits)}

    @cached_property
    def values(self) -> dict[StrandKind, list[Value]]:
        """What each kind of value is on each hit, of the kinds that have no chance in them."""
        return {kind: found for kind in KINDS.values()
                if self.lane.kind in kind.lanes and (found := self._values(kind)) is not None}

    def _values(self, kind: StrandKind) -> list[Value] | None:
        lane, voice, hits = self.lane, self.voice, self.hits
        if not plain(lane.strands.of(kind)):
            return None
        if kind is VELOCITY and isinstance(voice, NoteVoice):
            return self._velocities(voice)
        if kind is DEGREE:
            if not lane.reads_degrees:
                return None
            degree = step_reader(DEGREE, lane, voice.draws)
            return [each if isinstance(each, Together) else int(each)
                    for each in map(degree, hits)]
        return [round(value, 9) for value in map(reader(kind, lane, voice.draws), hits)]

    def _velocities(self, voice: NoteVoice) -> list[Value] | None:
        """Velocities with contour and accents in them, rounded where nothing is added to them
        before they are rounded."""
        lane = self.lane
        if lane.rate_path or (lane.walks and lane.walks.struck):
            return None
        heard = [voice.loudness.of_hit(hit) for hit in self.hits]
        rounds_once = not (lane.squeeze or voice.loudness.varied or lane.rolls or (
            lane.walks and (lane.walks.anchor or lane.walks.second)))
        if not rounds_once and any(value != int(value) for value in heard):
            return None
        return [min(127, max(1, half_up(value))) for value in heard]

    @cached_property
    def heard(self) -> Heard:
        """What is compared: all that sounds in so many passes, chance and draws too."""
        return heard(self.performance, MOST_PASSES)

    def proves(self, lane: Lane) -> bool:
        """Whether another lane in its place plays the same, over as many passes as are compared."""
        performance = Performance(self._with(audible(lane)), self.performance)
        return alike(self.heard, heard(performance, MOST_PASSES))

    def _with(self, lane: Lane) -> Recipe:
        """The lanes that matter with another in the place of this one; a lane that it follows now
        is there, and silent."""
        if lane.follows is None or any(each.id == lane.follows for each in self.recipe.lanes):
            return with_lane(self.recipe, lane)
        known = {each.id for each in self.recipe.lanes}
        among = related(with_lane(self.whole, lane), lane.id)
        return among.model_copy(update={"lanes": tuple(
            each if each.id in known else each.model_copy(update={"mute": True})
            for each in among.lanes)})


Heard = tuple[list[Note], list[Change]]


def heard(performance: Performance, frames: int) -> Heard:
    """All that sounds in so many passes."""
    end = float(frames * performance.recipe.frame_beats)
    return performance.notes(0, end), performance.changes(0, end)


def alike(some: Heard, others: Heard) -> bool:
    """Whether two performances sound the same."""
    (notes, changes), (others_notes, others_changes) = some, others
    return len(notes) == len(others_notes) and len(changes) == len(others_changes) and all(
        _same_note(a, b) for a, b in zip(notes, others_notes, strict=True)) and all(
        abs(a.time - b.time) < CLOSE and (a.number, a.value, a.channel, a.lane) == (
            b.number, b.value, b.channel, b.lane)
        for a, b in zip(changes, others_changes, strict=True))


def _same_note(a: Note, b: Note) -> bool:
    return abs(a.start - b.start) < CLOSE and abs(a.length - b.length) < CLOSE and (
        a.pitch, a.tune, a.velocity, a.channel, a.lane) == (
            b.pitch, b.tune, b.velocity, b.channel, b.lane)
