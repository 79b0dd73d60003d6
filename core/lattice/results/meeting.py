"""The meeting point: after how many frames all lanes are back at their first step together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from math import gcd, lcm

from lattice.base.group import Rounds
from lattice.play import Performance, Voice
from lattice.recipe import Recipe
from lattice.time.cells import Run

MOST_FRAMES = 9_999
MOST_BARS_LOOKED_AT = 256
"""Where paths together take more bars to come round, the first of them stand for all."""
SETTLED = 128
"""After so many rounds every hit that `keep` waits for has come."""


@dataclass(frozen=True, slots=True)
class Meeting:
    """frames: the number, or None for more than 9,999, or where nobody comes round; left_out: names
    of lanes that never come round because their direction is random or wandering, one of their
    words wanders, or gusts blow over them, or that follow such a lane."""

    frames: int | None
    bars: int | None
    left_out: list[str]
    nobody: bool = False

    def words(self) -> str:
        """The meeting point in one sentence."""
        if self.nobody:
            return "no lane comes round, so that they never meet again"
        without = f" (without {', '.join(self.left_out)})" if self.left_out else ""
        if self.bars is None:
            return f"the lanes need more than {MOST_FRAMES:,} passes to meet again{without}"
        return f"every lane meets again at bar {self.bars + 1}{without}"


def meeting_point(recipe: Recipe) -> Meeting:
    """The smallest number of whole frames after which every lane is back at its start."""
    return meeting(recipe, frames_of(recipe))


def frames_of(recipe: Recipe) -> dict[str, int | None]:
    """After how many whole frames each lane is back at its start; None if it never is."""
    performance = Performance(recipe)
    return {lane.id: lane_frames(performance, lane.id) for lane in recipe.lanes}


def meeting(recipe: Recipe, lanes: Mapping[str, int | None]) -> Meeting:
    """The meeting point of lanes that come round after so many frames each (None: never)."""
    left_out = [lane.name for lane in recipe.lanes if lanes[lane.id] is None]
    if left_out and len(left_out) == len(recipe.lanes):
        return Meeting(None, None, left_out, nobody=True)
    frames = lcm(1, *(count for count in lanes.values() if count))
    if frames > MOST_FRAMES:
        return Meeting(None, None, left_out)
    return Meeting(frames, frames * recipe.bars, left_out)


def lane_frames(performance: Performance, lane_id: str) -> int | None:
    """After how many whole frames a lane is back at its start; None if it never is."""
    period = _with_fills(performance, lane_id)
    return None if period is None else Fraction(period, performance.times.frame).numerator


def _with_fills(performance: Performance, lane_id: str) -> int | None:
    """The ticks of a round in which fills come round too."""
    period = _with_gusts(performance, lane_id)
    if period is None or lane_id not in performance.filled:
        return period
    recipe, times = performance.recipe, performance.times
    for fill in recipe.fills:
        period = lcm(period, fill.every * times.frame)
        own = _lane_period(performance.with_fill(fill, 0), lane_id)
        if own is None:
            return None
        period = lcm(period, own)
        if fill.bars * times.bar % own:  # which round of its bars comes is counted too
            period = lcm(period, fill.bars * times.bar)
    return period


def _with_gusts(performance: Performance, lane_id: str) -> int | None:
    """The ticks of a round in which gusts come round too; those that are others each time never
    do."""
    if lane_id not in performance.blown:
        return _moving_period(performance, lane_id)
    recipe, times = performance.recipe, performance.times
    followed = {lane_id, *(leader.id for leader in recipe.leaders(recipe.lane(lane_id)))}
    over = [gust for gust in recipe.gusts
            if any(gust.over(each) for each in followed)]
    if any(gust.throw is None for gust in over):
        return None
    passes = lcm(1, *(gust.every for gust in over))
    period = passes * times.frame
    # Passes without a gust, and those with the same, are played by one performance.
    looked_at = range(min(passes, MOST_BARS_LOOKED_AT))
    for playing in {performance.in_pass(passing) for passing in looked_at}:
        own = _moving_period(playing, lane_id)
        if own is None:
            return None
        period = lcm(period, own)
    return period


def _moving_period(performance: Performance, lane_id: str) -> int | None:
    """The ticks of a round in which the paths of its words come round too."""
    path = performance.recipe.lane(lane_id).value_path
    period = _period_by_bars(performance, lane_id)
    if path is None or period is None:
        return period
    return lcm(period, path.round * performance.times.bar) if path.round else None


def _period_by_bars(performance: Performance, lane_id: str) -> int | None:
    """The ticks of a round in which the values of its bars come round too."""
    moving = performance.by_bar
    if moving is None or lane_id not in moving.moved:
        return _lane_period(performance, lane_id)
    recipe = performance.recipe
    leaders = recipe.leaders(recipe.lane(lane_id))
    bars = moving.round(frozenset({lane_id, *(leader.id for leader in leaders)}))
    if bars is None:
        return None
    times = performance.times
    period, seen = bars * times.bar, list[Voice]()
    for bar in range(min(bars, MOST_BARS_LOOKED_AT)):
        playing = performance.calm_at(float(bar * recipe.bar_beats))
        voice = playing.voice(lane_id)
        if any(voice is each for each in seen):
            continue
        seen.append(voice)
        own = _lane_period(playing, lane_id)
        if own is None:
            return None
        period = lcm(period, Fraction(own * times.grain, playing.times.grain).numerator)
    return period


def _lane_period(performance: Performance, lane_id: str) -> int | None:
    voice = performance.voice(lane_id)
    followed = _lane_period(performance, voice.lane.follows) if voice.lane.follows else 0
    if voice.time.round is None or followed is None:
        return None
    return _period(voice, performance, followed)


def _period(voice: Voice, performance: Performance, followed: int) -> int:
    """After how many ticks a lane and everything that it reads has come round."""
    lane, time, frame = voice.lane, voice.time, performance.times.frame
    rounds = Rounds()
    lane.add_rounds(rounds)
    own = time.begins_anew or _cells(voice, rounds, frame) * time.cell
    if lane.follows:
        own = _common(own, frame)  # counts begin anew in every frame
    if rounds.chords and performance.progression:
        own = _common(own, performance.progression.length)
    return _common(_common(own, frame * rounds.passes), followed)


def _common(a: int, b: int) -> int:
    return lcm(a, b) if a and b else max(a, b)


def _cells(voice: Voice, rounds: Rounds, frame: int) -> int:
    """How many cells until all that is counted by cell or by hit comes round."""
    cells = lcm(voice.time.period, rounds.cells)
    if voice.time.framed:
        return cells
    cells = lcm(cells, voice.hits.counts()[0] * voice.time.period)
    if rounds.passes:  # what passes change may be counted with the hits
        cells = lcm(cells, frame // gcd(frame, voice.time.cell))
    # Counted far from the start, where what keep leaves out at first is past.
    run = Run(0, 0, None, 0, (SETTLED + 1) * cells)
    from_cell, to = (voice.time.start(run, n * cells) + voice.time.shift
                     for n in (SETTLED, SETTLED + 1))
    counts = [(length, voice.counted(run, to) - voice.counted(run, from_cell))
              for length in rounds.hits]
    counts += [(length, hits - before) for (length, hits), (_, before) in zip(
        voice.further_counts(run, to), voice.further_counts(run, from_cell), strict=True)]
    return lcm(cells, *(cells * (length // gcd(length, hits)) for length, hits in counts if hits))
