"""Notes from keys: played over the running lane, or one by one into its steps."""

from __future__ import annotations

from collections.abc import Sequence
from operator import attrgetter
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.values import Document, NoteNumber, StepNumber, Velocity, half_up, to_json
from lattice.base.words import many
from lattice.edits.base import Edit, who
from lattice.edits.plant import Plant
from lattice.edits.steps import Put
from lattice.edits.strands import documents_of, strand_of, with_strand
from lattice.play import NoteVoice, Performance
from lattice.recipe import Lane, Recipe, edited, with_lane
from lattice.relatives.stock import AS_THEY_ARE
from lattice.rules.hand import Hand
from lattice.strands.fields import MOST_VALUES
from lattice.strands.kinds import DEGREE, GATE, TIE, VELOCITY, StrandKind, Together, Value
from lattice.strands.reading import placer

CHANGES_A_NOTE = 5
"""A note that is played in changes its hit, velocity, gate, tie and degree."""


class PlayedNote(Document):
    """A note from keys: its pitch and velocity, and, where it was played over the running lane, its
    place and length in beats."""

    pitch: NoteNumber
    velocity: Velocity = 100
    at: Annotated[float, Field(ge=0, lt=2**31)] = 0
    length: Annotated[float, Field(gt=0, le=4096)] = 1


class PlayIn(Edit):
    """Notes played over the running lane land on its steps: hits there, with their pitch, velocity
    and length. Notes on one step become a chord step."""

    do: Literal["play_in"]
    lane: str
    notes: Annotated[list[PlayedNote], Field(min_length=1, max_length=64)]

    @property
    def changes(self) -> int:
        return 1 + CHANGES_A_NOTE * len(self.notes)

    def apply(self, recipe: Recipe) -> Recipe:
        voice = note_voice(recipe, recipe.lane(self.lane))
        by_step: dict[int, list[PlayedNote]] = {}
        places: dict[int, tuple[int, float]] = {}
        for note in self.notes:
            step, start, cell = _nearest_cell(voice, note.at)
            by_step.setdefault(step, []).append(note)
            places.setdefault(step, (start, cell))
        for step, notes in sorted(by_step.items()):
            start, cell = places[step]
            gate = max(note.length for note in notes) / cell * 100
            recipe = _put(recipe, self.lane, step, notes, start, gate)
        return recipe

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{many(len(self.notes), 'notes')} played in"


class PlayStep(Edit):
    """Fill one step: with notes, with a rest (no notes), or tied to the hit before it (`tie`). The
    lane is played by hand from then on, on top of the hits that it has in its first cycle, or from
    nothing (`begin`)."""

    do: Literal["play_step"]
    lane: str
    step: StepNumber
    notes: Annotated[list[PlayedNote], Field(max_length=8)] = []
    tie: bool = False
    begin: bool = False

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        if self.step >= lane.steps:
            raise RecipeError(f"{lane.name} has {many(lane.steps, 'steps')}.")
        recipe = _emptied(recipe, lane) if self.begin else _by_hand(recipe, lane)
        if self.notes:
            voice = note_voice(recipe, recipe.lane(self.lane))
            start = next((hit_start for hit_start, step in _first_cells(voice)
                          if step == self.step), 0)
            return _put(recipe, self.lane, self.step, self.notes, start, None)
        recipe = Put(do="put", lane=self.lane, steps=[self.step], on=False).apply(recipe)
        if not self.tie:
            return recipe
        stock = Performance(recipe).stock(self.lane)
        # The hit before it, round the cycle: what is tied over its end is the last of them.
        before = max(stock.steps(stock.now), key=lambda hit: (hit < self.step, hit), default=None)
        return recipe if before is None else _valued(recipe, self.lane, TIE, before, 1)

    def describe(self, recipe: Recipe) -> str:
        what = "played in" if self.notes else "tied" if self.tie else "rests"
        return f"{who(self.lane, recipe)}step {self.step + 1} {what}"


class PlayPitch(Edit):
    """Write one pitch of a lane's row of degrees, counted from 0, and nothing of its rhythm: in the
    place of the one that stands there, or after the last. `begin`: a new row of this pitch alone,
    one value a hit."""

    do: Literal["play_pitch"]
    lane: str
    place: Annotated[int, Field(ge=0, lt=MOST_VALUES)]
    notes: Annotated[list[PlayedNote], Field(min_length=1, max_length=8)]
    begin: bool = False

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        if not lane.pitched:
            raise RecipeError(f"{lane.name} has no degrees; make it a melody first.")
        strand = None if self.begin else lane.own(DEGREE)
        values = list(strand.values) if strand else []
        if self.place > len(values):
            raise RecipeError(f"{lane.name} has a row of {many(len(values), 'pitches')}; the next "
                              "one goes after the last.")
        voice = note_voice(recipe, lane)
        read_by = placer(DEGREE, strand, voice.draws) if strand else attrgetter("ordinal")
        start = next((hit.start for hit in voice.hits.between(0, voice.times.frame)
                      if read_by(hit) == self.place), 0)
        values[self.place : self.place + 1] = [_degree(voice, start, self.notes)]
        return with_lane(recipe, with_strand(lane, DEGREE, {
            **(to_json(strand) if strand else {}), "by": strand.by if strand else "hit",
            "values": documents_of(values)}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}pitch {self.place + 1} played in"


def _by_hand(recipe: Recipe, lane: Lane) -> Recipe:
    """The lane played by hand, with the hits of its first cycle."""
    if isinstance(lane.rule, Hand) and all(getattr(lane, field) == neutral
                                           for field, neutral in AS_THEY_ARE.items()):
        return recipe
    stock = Performance(recipe).stock(lane.id)
    return Plant(do="plant", lane=lane.id, hits=stock.steps(stock.now)).apply(recipe)


def _emptied(recipe: Recipe, lane: Lane) -> Recipe:
    """The lane played by hand, with nothing in it."""
    recipe = Plant(do="plant", lane=lane.id, hits=[]).apply(recipe)
    return with_lane(recipe, edited(recipe.lane(lane.id), {"pins": {}, TIE.path: None}))


def _first_cells(voice: NoteVoice) -> list[tuple[int, int]]:
    """(start, step) of the cells of the lane's first period."""
    time = voice.time
    return [(time.start(run, cell) + time.shift, step)
            for run in time.runs(0, max(voice.times.frame, time.period * time.cell))[:1]
            for cell, step in zip(range(run.begin, run.stop), time.steps(run, run.stop),
                                  strict=True)]


def _nearest_cell(voice: NoteVoice, at: float) -> tuple[int, int, float]:
    """The step, the start in ticks and the length in beats of the cell that begins nearest to a
    place in beats."""
    time, times = voice.time, voice.times
    begin = int(at * times.grain) - time.longest - time.shift
    stop = begin + 2 * time.longest + 2
    cells: list[tuple[int, int, int]] = []
    for run in time.runs(begin, stop):
        first, after = time.span(run, begin, stop)
        cells += [(time.start(run, cell) + time.shift, time.step_at(run, cell), time.length(cell))
                  for cell in range(first, after)]
    if not cells:
        raise RecipeError("The lane is silent there; play where it has steps.")
    start, step, length = min(cells, key=lambda cell: abs(cell[0] / times.grain - at))
    return step, start, length / times.grain


def _put(recipe: Recipe, lane_id: str, step: int, notes: Sequence[PlayedNote], start: int,
         gate: float | None) -> Recipe:
    """A step that plays these notes; its pitches are read back into degrees at `start` ticks."""
    recipe = Put(do="put", lane=lane_id, steps=[step], on=True).apply(recipe)
    recipe = _valued(recipe, lane_id, VELOCITY, step, max(note.velocity for note in notes))
    if gate is not None:
        recipe = _valued(recipe, lane_id, GATE, step, min(GATE.high, max(GATE.low, half_up(gate))))
    lane = recipe.lane(lane_id)
    if lane.strands.of(TIE) is not None:
        recipe = _valued(recipe, lane_id, TIE, step, 0)
    if not lane.pitched:
        return recipe
    return _valued(recipe, lane_id, DEGREE, step, _degree(note_voice(recipe, lane), start, notes))


def _degree(voice: NoteVoice, start: int, notes: Sequence[PlayedNote]) -> Value:
    """The degree that these notes are at a time in ticks; several are a chord step."""
    degrees = sorted({voice.pitches.degree_for(start, note.pitch) for note in notes})
    return Together(all=tuple(degrees)) if len(degrees) > 1 else degrees[0]


def _valued(recipe: Recipe, lane_id: str, kind: StrandKind, step: int, value: Value) -> Recipe:
    """One step's value of a strand that is read by step."""
    lane = recipe.lane(lane_id)
    strand = strand_of(lane, kind, by_step=True)
    values = list(strand.values)
    values[step] = value
    return with_lane(recipe, with_strand(lane, kind, {
        "values": documents_of(values), "by": "step"}))


def note_voice(recipe: Recipe, lane: Lane) -> NoteVoice:
    """The voice of a lane that plays notes; RecipeError where it moves a controller."""
    voice = Performance(recipe).voice(lane.id)
    if not isinstance(voice, NoteVoice):
        raise RecipeError(f"{lane.name} moves a controller; notes cannot be played into it.")
    return voice
