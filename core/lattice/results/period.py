"""Why the meeting point lies where it does: which lengths make it, what makes it later, and what
could be left out of it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from lattice.base.clauses import NEUTRAL
from lattice.base.group import Rounds
from lattice.base.words import Slot, listed, many
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, changed, edited, with_lane
from lattice.results.meeting import (
    MOST_FRAMES,
    Meeting,
    frames_of,
    lane_frames,
    meeting,
    meeting_point,
)
from lattice.sentence import CLAUSES
from lattice.strands.kinds import KINDS

ON, AFRESH = "on", "cycle"
"""Ways of counting hits: through passes, or anew in each cycle."""


@dataclass(frozen=True, slots=True)
class Leaving:
    """Something that can be left out of the meeting point: how that reads, the bars that are left
    (None: still more than 9,999 passes), and the edit."""

    title: str
    bars: int | None
    edit: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Period:
    """The meeting point explained in one or two sentences; `leaving` are the ways to a nearer
    one."""

    words: str
    leaving: list[Leaving]


@dataclass(frozen=True, slots=True)
class _Counting:
    """Something of a lane that counts through passes, the lane without it, and the edit that makes
    it so, where it is one that keeps the rest of what it does."""

    told: str
    without: Lane
    edit: dict[str, Any] | None = None


def period(recipe: Recipe) -> Period:
    """Why all lanes are back at their first step together when they are."""
    frames = frames_of(recipe)
    met = meeting(recipe, frames)
    found = [(each, _met_without(each.without, recipe, frames))
             for lane in recipe.lanes for each in _counting(lane)]
    causes = [(each, nearer) for each, nearer in found if nearer.frames != met.frames]
    bare = recipe
    for lane in recipe.lanes:
        bare = with_lane(bare, _bare(lane))
    told = [each.told for each, _ in causes]
    for said, called in (("chords", "the chords"), ("gusts", "the gusts")):
        if getattr(recipe, said):
            bare = changed(bare, {said: NEUTRAL})
            if meeting_point(changed(recipe, {said: NEUTRAL})).frames != met.frames:
                told.append(called)
    lengths = meeting_point(bare)
    words = f"{_lengths(recipe)} {_bars(lengths.bars)}."
    if lengths.frames != met.frames and not met.nobody:
        told = told or ["what is counted on through them, together,"]
        words += f" With {listed(told)} it takes {_bars(met.bars)}."
    if met.left_out:
        never = "never comes" if len(met.left_out) == 1 else "never come"
        words += f" {listed(met.left_out)} {never} round."
    return Period(words, [
        Leaving(f"Leave {each.told} out of it", nearer.bars, each.edit)
        for each, nearer in causes if each.edit])


def _met_without(changed: Lane, recipe: Recipe, frames: Mapping[str, int | None]) -> Meeting:
    """The meeting point with a lane changed; only it and those that follow it are looked at."""
    recipe = with_lane(recipe, changed)
    performance = Performance(recipe)
    return meeting(recipe, dict(frames) | {
        lane.id: lane_frames(performance, lane.id) for lane in recipe.lanes
        if lane.id == changed.id or changed in recipe.leaders(lane)})


def _bars(bars: int | None) -> str:
    return f"more than {MOST_FRAMES:,} passes" if bars is None else many(bars, "bars")


def _lengths(recipe: Recipe) -> str:
    """The lengths of the lanes' cycles, each once, the longest first; those that begin anew in
    every pass are as long as the frame."""
    performance = Performance(recipe)
    found: dict[str, list[int]] = {}
    anew = False
    for lane in recipe.lanes:
        time = performance.voice(lane.id).time
        if time.round is None:
            continue
        if time.begins_anew:
            anew = True
        else:
            found.setdefault(str(lane.step), []).append(time.period)
    if not found:
        return "All lanes begin anew with the frame, in"
    told = [f"{listed([str(count) for count in sorted(set(counts), reverse=True)])} steps"
            + (f" of {step}" if len(found) > 1 else "") for step, counts in found.items()]
    if anew:
        told.append(f"a frame of {many(recipe.bars, 'bars')}")
    alone = len(told) == 1 and len(set(next(iter(found.values())))) == 1
    return f"{listed(told)} come round {'in' if alone else 'together in'}"


def _counting(lane: Lane) -> Iterator[_Counting]:
    """What of a lane counts through passes."""
    names = {lane.follows: lane.follows} if lane.follows else {}
    rounds = _rounds(lane)
    for kind in CLAUSES[lane.kind]:
        clauses = list(kind.said(lane, names))
        slots = {part.slot: part for clause in clauses for part in clause.parts
                 if isinstance(part, Slot)}
        told = f"{lane.name}’s {kind.label}"
        every = slots.get(f"{kind.id}.every")
        if every is not None and every.kind == "number":
            told = f"{told.removesuffix(' every nth')} every {every.text} hit"
        count = slots.get(f"{kind.id}.count")
        if count is not None and count.value == ON:
            yield _Counting(told, edited(lane, {count.slot: AFRESH}), {
                "do": "set", "lane": lane.id, "slot": count.slot, "value": AFRESH})
        elif clauses and all(clause.removable for clause in clauses):
            without = lane
            for number in reversed(range(len(clauses))):
                without = edited(without, kind.removed(without, number) or {})
            if _rounds(without) != rounds:
                yield _Counting(told, without)
    for strand in (*KINDS.values(), *lane.setting):
        if (held := lane.own(strand)) is not None:
            without = edited(lane, {strand.path: None})
            if _rounds(without) != rounds:
                yield _Counting(f"{lane.name}’s {strand.word or strand.name} strand of "
                                f"{len(held.values)}", without)


def _bare(lane: Lane) -> Lane:
    """A lane without anything that counts through passes."""
    for _ in range(len(KINDS) + len(lane.setting) + len(CLAUSES[lane.kind])):
        found = next(_counting(lane), None)
        if found is None:
            break
        lane = found.without
    return lane


def _rounds(lane: Lane) -> Rounds:
    rounds = Rounds()
    lane.add_rounds(rounds)
    return rounds

