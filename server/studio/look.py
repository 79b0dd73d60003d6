"""A look at a pattern: its sentences, its lanes as drawn, and its notes as heard.

Lanes that cannot sound on the same channel and pitch are worked out in groups of their own, and a
group's result is kept at hand: while one word is dragged, the other lanes need no work. The memory
changes no answer; the core stays a pure function.
"""

from collections.abc import Hashable
from dataclasses import dataclass
from hashlib import blake2b
from typing import Any

import orjson
from lattice.meeting import lane_frames, meeting
from lattice.percussion import note_name
from lattice.picture import pictures
from lattice.play import Performance, groups
from lattice.recipe import Lane, Recipe
from lattice.sentence import pattern_sentence, sentence, summary
from lattice.strands import shown_strands

from studio.limits import fitting_end
from studio.memory import Memory


@dataclass(frozen=True, slots=True)
class _Drawn:
    """A lane of a group, ready to send; `lanes` keeps alive what the key names by identity."""

    lanes: tuple[Lane, ...]
    body: dict[str, orjson.Fragment]
    frames: dict[str, int | None]


_kept: Memory[Hashable, _Drawn] = Memory(96 * 2**20)
"""By weight in bytes."""


def look(recipe: Recipe, start: float, end: float, chosen: str | None) -> dict[str, Any]:
    """Everything that a page shows of a recipe over [start, end) beats; `chosen` is the lane whose
    sentence is wanted, the first where it is not there. What would be too much is shown for fewer
    bars, and says so. orjson can write the result."""
    wanted, end = end, fitting_end(recipe, start, end)
    performance = Performance(recipe)
    drawn = [_draw(performance, group, start, end) for group in groups(recipe)]
    frames = {lane_id: count for group in drawn for lane_id, count in group.frames.items()}
    bodies = {lane_id: body for group in drawn for lane_id, body in group.body.items()}
    met = meeting(recipe, frames)
    answer: dict[str, Any] = {
        "tempo": recipe.tempo, "meter": recipe.meter, "bars": recipe.bars, "seed": recipe.seed,
        "bar_beats": float(recipe.bar_beats), "frame_beats": float(recipe.frame_beats),
        "sentence": pattern_sentence(recipe), "start": start, "end": end,
        "shortened": end < wanted,
        "meeting": {"words": met.words(), "bars": met.bars},
        "lanes": [{
            "id": lane.id, "name": lane.name, "note": lane.note, "channel": lane.channel,
            "mute": lane.mute, "solo": lane.solo, "audible": performance.audible(lane),
            "note_name": note_name(lane.note), "drawn": bodies[lane.id],
        } for lane in recipe.lanes],
        "chosen": None,
    }
    first = recipe.lanes[0] if recipe.lanes else None
    lane = next((lane for lane in recipe.lanes if lane.id == chosen), first)
    if lane is not None:
        answer["chosen"] = {"lane": lane.id, "steps": lane.steps,
                            "sentence": sentence(lane, recipe),
                            "strands": shown_strands(lane),
                            "pins": len(lane.pins)}
    return answer


def _leaders(lanes: list[Lane], recipe: Recipe) -> tuple[Hashable, ...]:
    """What the lanes see of all that they follow, directly or not."""
    found: list[Hashable] = []
    waiting = [lane.follows for lane in lanes if lane.follows]
    while waiting:
        leader = recipe.lane(waiting.pop())
        found.append(leader.grid)
        if leader.follows:
            waiting.append(leader.follows)
    return tuple(found)


def _draw(performance: Performance, lanes: list[Lane], start: float, end: float) -> _Drawn:
    recipe = performance.recipe
    swing = recipe.swing and (recipe.swing.grid, recipe.swing.percent)
    key = (tuple(id(lane) for lane in lanes), tuple(map(performance.audible, lanes)),
           _leaders(lanes, recipe), recipe.seed, recipe.meter, recipe.bars, swing,
           recipe.probability_scale, start, end)
    known = _kept.get(key)
    if known is not None:
        return known
    body, weight = {}, 1000
    for lane_id, picture in pictures(performance, lanes, start, end).items():
        lane = recipe.lane(lane_id)
        hits = performance.voice(lane_id).hits
        count = None if hits.followed else hits.count
        picture["pins"] = sorted(lane.pins)
        picture["summary"] = summary(lane, recipe, count)
        picture["period"] = performance.voice(lane_id).time.period
        picture["stamp"] = blake2b(orjson.dumps(picture), digest_size=8).hexdigest()
        text = orjson.dumps(picture)
        body[lane_id] = orjson.Fragment(text)
        weight += len(text)
    frames = {lane.id: lane_frames(performance, lane.id) for lane in lanes}
    return _kept.put(key, _Drawn(tuple(lanes), body, frames), weight)
