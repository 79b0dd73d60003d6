"""Changes to single steps: which play, which are pinned, which roll."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.values import Beats, Percent, StepNumber, limits, to_json
from lattice.base.words import many, singular
from lattice.edits.base import Edit, who
from lattice.edits.strands import CLOSE, strand_of, with_strand
from lattice.features.chance import Link, Turns
from lattice.features.rolls import Roll, Strokes
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, edited, with_lane
from lattice.strands.kinds import KINDS
from lattice.time.fields import RateStretch


def _said(steps: Sequence[int], does: str) -> str:
    """What steps do: "step 3 plays", "steps 3 5 7 play"."""
    numbers = " ".join(str(step + 1) for step in sorted(set(steps)))
    return f"step {numbers} {does}" if len(set(steps)) == 1 else \
        f"steps {numbers} {singular(does)}"


class Put(Edit):
    """Make steps play (`on` true) or rest (false): by hand, or with pins where a rule decides.
    With `on` null they do what the first of them does not do now; where that differs from cell to
    cell, `shown` says whether it was a hit where the hand was."""

    do: Literal["put"]
    lane: str
    steps: Annotated[list[Annotated[int, Field(ge=0, le=127)]], Field(min_length=1, max_length=128)]
    on: bool | None
    shown: bool = False

    def _on(self, lane: Lane, recipe: Recipe) -> bool:
        """Whether the steps are to play; RecipeError if the lane has not so many."""
        if max(self.steps) >= lane.steps:
            raise RecipeError(f"{lane.name} has {many(lane.steps, 'steps')}.")
        if self.on is not None:
            return self.on
        pin = lane.pins.get(self.steps[0])
        if pin is not None or lane.follows or lane.keep is not None or lane.paths:
            return not (self.shown if pin is None else pin)
        return not Performance(recipe).voice(lane.id).hits.base[self.steps[0]]

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        on = self._on(lane, recipe)
        drawn = None if lane.reverse or lane.flip else lane.rule.drawn(self.steps, on)
        if drawn is not None:
            pins = {step: pin for step, pin in lane.pins.items() if step not in self.steps}
            return with_lane(recipe, lane.model_copy(update={"rule": drawn, "pins": pins}))
        hits_now = None if lane.follows or lane.paths \
            else Performance(recipe).voice(lane.id).hits.base
        pins = dict(lane.pins)
        for step in self.steps:
            if hits_now is not None and hits_now[step] == on and lane.keep is None:
                pins.pop(step, None)
            else:
                pins[step] = on
        return with_lane(recipe, lane.model_copy(update={"pins": pins}))

    def describe(self, recipe: Recipe) -> str:
        plays = self._on(recipe.lane(self.lane), recipe)
        return f"{who(self.lane, recipe)}{_said(self.steps, 'plays' if plays else 'rests')}"


class Unpin(Edit):
    """Leave steps to the rule again; all of them where `steps` is null."""

    do: Literal["unpin"]
    lane: str
    steps: list[int] | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        pins = {} if self.steps is None else \
            {step: pin for step, pin in lane.pins.items() if step not in self.steps}
        return with_lane(recipe, lane.model_copy(update={"pins": pins}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}pins taken off"


class RollStep(Edit):
    """Split steps into `strokes` each; 1 takes their rolls away."""

    do: Literal["roll"]
    lane: str
    steps: Annotated[list[StepNumber], Field(min_length=1, max_length=128)]
    strokes: Annotated[int, Field(ge=1, le=16)]

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        rolls = [roll for roll in lane.rolls if roll.step not in self.steps]
        known = {roll.step: roll for roll in reversed(lane.rolls)}
        if self.strokes > 1:
            rolls += [known.get(step, Roll(step=step, strokes=1)).model_copy(
                update={"strokes": self.strokes}) for step in sorted(set(self.steps))]
        return with_lane(recipe, edited(lane, {
            "rolls": [roll.model_dump(mode="json") for roll in rolls]}))

    def describe(self, recipe: Recipe) -> str:
        rolls = _said(self.steps, "rolls")
        return f"{who(self.lane, recipe)}{rolls} {many(self.strokes, 'times')}"


class RollStretch(Edit):
    """Roll over `beats` from `start` in the frame, in strokes of half the lane's step, or so many
    `strokes`; the roll ends where the frame does."""

    do: Literal["roll_stretch"]
    lane: str
    start: Beats
    beats: Beats
    strokes: Strokes | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        start = self.start % recipe.frame_beats
        beats = min(self.beats, recipe.frame_beats - start)
        if beats == 0:
            raise RecipeError("A roll needs a stretch that is longer than nothing.")
        halves = round(2 * beats / lane.cell_beats(recipe))
        strokes = self.strokes or min(limits(Strokes)[1], max(2, halves))
        roll = Roll(start=start, beats=beats, strokes=strokes)
        return with_lane(recipe, edited(lane, {
            "rolls": [each.model_dump(mode="json") for each in (*lane.rolls, roll)]}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}roll over {many(float(self.beats), 'beats')}"


class RollCells(Edit):
    """One roll of `strokes` over the cells of a lane that begin in [at, until) beats."""

    do: Literal["roll_cells"]
    lane: str
    at: Annotated[float, Field(ge=0, lt=2**31)]
    until: Annotated[float, Field(ge=0, lt=2**31)]
    strokes: Strokes

    def apply(self, recipe: Recipe) -> Recipe:
        if self.until - self.at > recipe.frame_beats:
            raise RecipeError("A roll goes over one frame at most.")
        time = Performance(recipe).at(self.at).voice(self.lane).time
        grain, shift = time.times.grain, time.shift
        # A hair before, for a place that floating point has rounded down.
        begin, stop = (time.times.ticks(Fraction(beats - CLOSE)) - shift
                       for beats in (self.at, self.until))
        spans = [(run, *time.span(run, begin, stop)) for run in time.runs(begin, stop)]
        spans = [span for span in spans if span[1] < span[2]]
        if not spans:
            raise RecipeError(f"{recipe.lane(self.lane).name} has no steps there.")
        (run, first, _), (last_run, _, after) = spans[0], spans[-1]
        start = time.start(run, first)
        end = time.start(last_run, after - 1) + time.length(after - 1)
        return RollStretch(do="roll_stretch", lane=self.lane, start=Fraction(start, grain)
                           % recipe.frame_beats, beats=Fraction(end - start, grain),
                           strokes=self.strokes).apply(recipe)

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}one roll of {self.strokes}"


class LinkSteps(Edit):
    """Let steps share a fate, in place of the links they had; mode null parts them."""

    do: Literal["link"]
    lane: str
    steps: Annotated[list[StepNumber], Field(min_length=1, max_length=128)]
    mode: Literal["together", "one"] | None
    probability: Percent = 50

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        rest = [(link, tuple(step for step in link.steps if step not in self.steps))
                for link in lane.links]
        links = [link.model_copy(update={"steps": steps}) for link, steps in rest if steps]
        if self.mode is not None:
            links.append(Link(steps=tuple(self.steps), mode=self.mode,
                              probability=self.probability))
        return with_lane(recipe, edited(lane, {
            "links": [link.model_dump(mode="json") for link in links]}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{many(len(self.steps), 'steps')} " + \
            ("parted" if self.mode is None else "linked")


class TakeTurns(Edit):
    """Let steps sound only in the k-th of every n passes; null lets them sound in all."""

    do: Literal["turns"]
    lane: str
    steps: Annotated[list[StepNumber], Field(min_length=1, max_length=128)]
    turns: Turns | None

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        turns = {step: each for step, each in lane.turns.items() if step not in self.steps}
        if self.turns is not None:
            turns |= dict.fromkeys(self.steps, self.turns)
        return with_lane(recipe, lane.model_copy(update={"turns": turns}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}turns of {many(len(self.steps), 'steps')}"


class Paste(Edit):
    """Copy the steps `first` to `last` of a lane, with their hits, strands, turns and rolls, to
    the steps from `at` on in a lane; what lies past its end is left out. Rolls are lifted by
    `lift` semitones."""

    do: Literal["paste"]
    source: str
    first: StepNumber
    last: StepNumber
    lane: str
    at: StepNumber
    lift: Annotated[float, Field(ge=-48, le=48)] = 0

    def apply(self, recipe: Recipe) -> Recipe:
        source, target = recipe.lane(self.source), recipe.lane(self.lane)
        if not self.first <= self.last < source.steps or self.at >= target.steps:
            raise RecipeError(f"{source.name} has {many(source.steps, 'steps')}, {target.name} "
                              f"{target.steps}; copy and paste within them.")
        count = min(self.last - self.first + 1, target.steps - self.at)
        moves = {self.first + i: self.at + i for i in range(count)}
        hits = _hits(source, recipe)
        for on in (True, False):
            steps = [to for step, to in moves.items() if hits[step] == on]
            if steps:
                recipe = Put(do="put", lane=target.id, steps=steps, on=on).apply(recipe)
        lane = recipe.lane(target.id)
        for kind in dict.fromkeys((*KINDS.values(), *source.setting, *target.setting)):
            if source.own(kind) is None and target.own(kind) is None:
                continue
            values = list(strand_of(lane, kind, by_step=True).values)
            copied = strand_of(source, kind, by_step=True).values
            for step, to in moves.items():
                values[to] = copied[step]
            lane = with_strand(lane, kind, {"values": values})
        replaced = set(moves.values())
        turns = {step: each for step, each in lane.turns.items() if step not in replaced}
        turns |= {to: source.turns[step] for step, to in moves.items() if step in source.turns}
        rolls = [roll for roll in lane.rolls if roll.step not in replaced]
        rolls += [roll.model_copy(update={"step": moves[roll.step], "pitch": (
            roll.pitch[0] + self.lift, roll.pitch[1] + self.lift)})
            for roll in source.rolls if roll.step in moves]
        return with_lane(recipe, edited(lane, {
            "turns": {str(step): list(each) for step, each in turns.items()},
            "rolls": [roll.model_dump(mode="json") for roll in rolls]}))

    def describe(self, recipe: Recipe) -> str:
        return (f"{who(self.lane, recipe)}steps {self.first + 1}–{self.last + 1} of "
                f"{recipe.lane(self.source).name} pasted at {self.at + 1}")


class LayPath(Edit):
    """Lay stretches of beats, each with its step length and contour, over a lane's rate path; the
    path that was there stays where no new stretch lies. An empty path takes it away."""

    do: Literal["lay_path"]
    lane: str
    path: Annotated[list[RateStretch], Field(max_length=256)]

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        kept = [piece for stretch in lane.rate_path for piece in _around(stretch, self.path)] \
            if self.path else []
        return with_lane(recipe, edited(lane, {"rate_path": [
            to_json(stretch) for stretch in (*kept, *self.path)]}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}rate path"


def _around(stretch: RateStretch, others: list[RateStretch]) -> list[RateStretch]:
    """What is left of a stretch where none of the others lies."""
    pieces: list[tuple[Fraction, Fraction]] = [(stretch.start, stretch.start + stretch.beats)]
    for other in others:
        begin, end = other.start, other.start + other.beats
        pieces = [piece for a, b in pieces for piece in ((a, min(b, begin)), (max(a, end), b))
                  if piece[0] < piece[1]]
    return [stretch.model_copy(update={"start": a, "beats": b - a}) for a, b in pieces]


def _hits(lane: Lane, recipe: Recipe) -> list[bool]:
    """Which steps of a lane are hits, pins included and keep left aside; for a lane that follows
    another, those that are hits in its first cycle."""
    hits = Performance(recipe).voice(lane.id).hits
    if hits.followed is None:
        return [lane.pins.get(step, hit) for step, hit in enumerate(hits.base)]
    cycle = hits.times.ticks(lane.steps * lane.cell_beats(recipe))
    found = {hit.step for hit in hits.between(0, cycle)}
    return [step in found for step in range(lane.steps)]
