"""Changes to what a lane plays of a key: degrees scattered, notes played in, notes held."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.arpeggio.fields import MOST_NOTES, Held
from lattice.base.draws import Draws
from lattice.base.errors import RecipeError
from lattice.base.values import (
    Document,
    NoteNumber,
    Percent,
    StepNumber,
    Velocity,
    half_up,
    to_json,
)
from lattice.base.words import many
from lattice.edits.adapt import transposed
from lattice.edits.base import Edit, who
from lattice.edits.steps import Put
from lattice.edits.strands import strand_of, with_strand
from lattice.hits.found import Hit
from lattice.play import NoteVoice, Performance
from lattice.recipe import Lane, Recipe, edited, with_lane
from lattice.rules.density import salience
from lattice.strands.kinds import DEGREE, GATE, TIE, VELOCITY, Degree, StrandKind, Together, Value
from lattice.strands.reading import placer

CHANGES_A_NOTE = 5
"""A note that is played in changes its hit, velocity, gate, tie and degree."""
STRONG = 0.6
"""How strong a place is, from a beat on, that chord tones are preferred on."""


class Scatter(Edit):
    """Degrees at random within [low, high], for a share of the values; no leap from one to the next
    beyond `leap`; on strong places a tone of the chord, `chord` percent of the time. A lane without
    degrees begins with one for each step."""

    do: Literal["scatter"]
    lane: str
    low: Degree = 0
    high: Degree = 7
    share: Percent = 100
    leap: Annotated[int, Field(ge=1, le=128)] = 4
    chord: Percent = 60
    steps: list[StepNumber] | None = None

    def apply(self, recipe: Recipe) -> Recipe:
        if self.low > self.high:
            raise RecipeError("A range goes from its lower to its higher end.")
        lane = recipe.lane(self.lane)
        if not lane.pitched:
            raise RecipeError(f"{lane.name} has no degrees; make it a melody first.")
        strand = strand_of(lane, DEGREE, by_step=self.steps is not None)
        values = list(strand.values)
        chosen = range(len(values)) if self.steps is None else [
            step for step in self.steps if step < len(values)]
        # The values themselves are part of the address, so that every throw gives others.
        draws = Draws(recipe.seed, lane.seed, lane.id)
        purpose = f"scatter {values}"
        voice = _voice(recipe, lane)
        strong = _strong_places(recipe, voice)
        at = _number(values[-1]) if values else 0
        for place in range(len(values)):
            if place in chosen and draws(purpose, place) * 100 < self.share:
                values[place] = self._drawn(voice, draws, purpose, place, at, strong.get(place))
            at = _number(values[place])
        return with_lane(recipe, with_strand(lane, DEGREE, to_json(strand) | {
            "by": strand.by, "values": _documents(values)}))

    def _drawn(self, voice: NoteVoice, draws: Draws, purpose: str, place: int, before: int,
               hit: Hit | None) -> int:
        low, high = max(self.low, before - self.leap), min(self.high, before + self.leap)
        if low > high:  # the one before lies far outside: come as near as the range lets
            low = high = min(max(before, self.low), self.high)
        among = list(range(low, high + 1))
        if hit is not None and draws(purpose, place, 1) * 100 < self.chord:
            chord = voice.pitches.harmony.chord(hit.start)
            tones = [degree for degree in among
                     if chord.holds(voice.pitches.pitch_of(hit.start, degree))]
            among = tones or among
        return among[int(draws(purpose, place, 2) * len(among))]

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}degrees scattered"


def _number(value: Value) -> int:
    if isinstance(value, Together):
        return 0 if value.all == "chord" else value.all[0]
    return int(value[0] if isinstance(value, tuple) else value)


def _documents(values: Sequence[Value]) -> list[Any]:
    return [value.document if isinstance(value, Together) else value for value in values]


def _voice(recipe: Recipe, lane: Lane) -> NoteVoice:
    voice = Performance(recipe).voice(lane.id)
    if not isinstance(voice, NoteVoice):
        raise RecipeError(f"{lane.name} moves a controller; notes cannot be played into it.")
    return voice


def _strong_places(recipe: Recipe, voice: NoteVoice) -> dict[int, Hit]:
    """The values of the degree strand that hits on strong places of the frame read."""
    place = placer(DEGREE, strand_of(voice.lane, DEGREE), voice.draws)
    times = voice.times
    found: dict[int, Hit] = {}
    for hit in voice.hits.between(0, times.frame):
        within = times.beats(hit.start % times.bar)
        if salience(within, recipe.meter) >= STRONG:
            found.setdefault(place(hit), hit)
    return found


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
        voice = _voice(recipe, recipe.lane(self.lane))
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
    """Fill one step: with notes, with a rest (no notes), or tied to the hit before it (`tie`)."""

    do: Literal["play_step"]
    lane: str
    step: StepNumber
    notes: Annotated[list[PlayedNote], Field(max_length=8)] = []
    tie: bool = False

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        if self.step >= lane.steps:
            raise RecipeError(f"{lane.name} has {many(lane.steps, 'steps')}.")
        if self.notes:
            voice = _voice(recipe, lane)
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
    pitches = _voice(recipe, lane).pitches
    degrees = sorted({pitches.degree_for(start, note.pitch) for note in notes})
    value: Value = Together(all=tuple(degrees)) if len(degrees) > 1 else degrees[0]
    return _valued(recipe, lane_id, DEGREE, step, value)


def _valued(recipe: Recipe, lane_id: str, kind: StrandKind, step: int, value: Value) -> Recipe:
    """One step's value of a strand that is read by step."""
    lane = recipe.lane(lane_id)
    strand = strand_of(lane, kind, by_step=True)
    values = list(strand.values)
    values[step] = value
    return with_lane(recipe, with_strand(lane, kind, {"values": _documents(values), "by": "step"}))


class Hold(Edit):
    """Hold notes for a lane's arpeggio, in the order played; `adding` to what is held already. A
    lane without an arpeggio is given one that walks over what is held."""

    do: Literal["hold"]
    lane: str
    notes: Annotated[list[Held], Field(max_length=MOST_NOTES)]
    adding: bool = False

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        held = [to_json(each) for each in self.notes]
        if lane.arpeggio is None:
            return with_lane(recipe, edited(lane, {"arpeggio": {
                "pool": "held", "velocities": "held", "held": held}}))
        before = [to_json(each) for each in lane.arpeggio.held if isinstance(each, Held)] \
            if self.adding else []
        kept = [each for each in before
                if all(each["note"] != new.note for new in self.notes)]
        return with_lane(recipe, edited(lane, {
            "arpeggio.pool": "held", "arpeggio.held": (kept + held)[-MOST_NOTES:]}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{many(len(self.notes), 'notes')} held"


class SetArpeggio(Edit):
    """Give a lane an arpeggio that was saved, or take it away (null)."""

    do: Literal["arpeggio"]
    lane: str
    arpeggio: dict[str, Any] | None

    def apply(self, recipe: Recipe) -> Recipe:
        return with_lane(recipe, edited(recipe.lane(self.lane), {"arpeggio": self.arpeggio}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}{'an arpeggio' if self.arpeggio else 'no arpeggio'}"


class Move(Edit):
    """Move lanes by degrees or semitones from where they stand."""

    do: Literal["move_pitch"]
    lane: str
    degrees: Annotated[int, Field(ge=-64, le=64)] = 0
    semitones: Annotated[int, Field(ge=-48, le=48)] = 0

    def apply(self, recipe: Recipe) -> Recipe:
        return with_lane(recipe, transposed(recipe.lane(self.lane), self.degrees, self.semitones))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}moved"
