"""The meeting point: after how many frames all lanes are back at their first step together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from math import gcd, lcm

from lattice.base.group import Rounds
from lattice.play import Performance, Voice
from lattice.recipe import Recipe

MOST_FRAMES = 9_999


@dataclass(frozen=True, slots=True)
class Meeting:
    """frames: the number, or None for more than 9,999; left_out: names of lanes that never
    come round because their direction is random or wandering, or that follow such a lane."""

    frames: int | None
    bars: int | None
    left_out: list[str]

    def words(self) -> str:
        """The meeting point in one sentence."""
        without = f" (without {', '.join(self.left_out)})" if self.left_out else ""
        if self.bars is None:
            return f"the lanes need more than {MOST_FRAMES:,} passes to meet again{without}"
        return f"every lane meets again at bar {self.bars + 1}{without}"


def meeting_point(recipe: Recipe) -> Meeting:
    """The smallest number of whole frames after which every lane is back at its start."""
    performance = Performance(recipe)
    return meeting(recipe, {lane.id: lane_frames(performance, lane.id) for lane in recipe.lanes})


def meeting(recipe: Recipe, lanes: Mapping[str, int | None]) -> Meeting:
    """The meeting point of lanes that come round after so many frames each (None: never)."""
    left_out = [lane.name for lane in recipe.lanes if lanes[lane.id] is None]
    frames = lcm(1, *(count for count in lanes.values() if count))
    if frames > MOST_FRAMES:
        return Meeting(None, None, left_out)
    return Meeting(frames, frames * recipe.bars, left_out)


def lane_frames(performance: Performance, lane_id: str) -> int | None:
    """After how many whole frames a lane is back at its start; None if it never is."""
    period = _lane_period(performance, lane_id)
    return None if period is None else Fraction(period, performance.times.frame).numerator


def _lane_period(performance: Performance, lane_id: str) -> int | None:
    voice = performance.voice(lane_id)
    followed = _lane_period(performance, voice.lane.follows) if voice.lane.follows else 0
    if voice.time.order is None or followed is None:
        return None
    return _period(voice, performance.times.frame, followed)


def _period(voice: Voice, frame: int, followed: int) -> int:
    """After how many ticks a lane and everything that it reads has come round."""
    lane, time = voice.lane, voice.time
    rounds = Rounds()
    lane.add_rounds(rounds)
    own = time.begins_anew or _cycles(voice, rounds) * time.period * time.cell
    if lane.follows:
        own = _common(own, frame)  # counts begin anew in every frame
    return _common(_common(own, frame * rounds.passes), followed)


def _common(a: int, b: int) -> int:
    return lcm(a, b) if a and b else max(a, b)


def _cycles(voice: Voice, rounds: Rounds) -> int:
    """How many periods of the direction until all that is counted by cell or by hit comes round."""
    period = voice.time.period
    cells = lcm(period, rounds.cells) // period
    if voice.time.framed:
        return cells
    cycles, hits = voice.hits.counts()
    for length in rounds.hits:
        if hits:
            cells = lcm(cells, cycles * (length // gcd(length, hits)))
    return lcm(cells, cycles)
