"""Changes to what a lane plays of a key: degrees scattered, notes held, lanes moved."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.arpeggio.fields import MOST_NOTES, Held
from lattice.base.draws import Draws
from lattice.base.errors import RecipeError
from lattice.base.values import (
    Percent,
    StepNumber,
    to_json,
)
from lattice.base.words import many
from lattice.edits.adapt import transposed
from lattice.edits.base import Edit, who
from lattice.edits.played import note_voice
from lattice.edits.strands import documents_of, strand_of, with_strand
from lattice.hits.found import Hit
from lattice.play import NoteVoice
from lattice.recipe import Recipe, edited, with_lane
from lattice.rules.density import salience
from lattice.strands.kinds import DEGREE, Degree, Together, Value
from lattice.strands.reading import placer

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
        voice = note_voice(recipe, lane)
        strong = _strong_places(recipe, voice)
        at = _number(values[-1]) if values else 0
        for place in range(len(values)):
            if place in chosen and draws(purpose, place) * 100 < self.share:
                values[place] = self._drawn(voice, draws, purpose, place, at, strong.get(place))
            at = _number(values[place])
        return with_lane(recipe, with_strand(lane, DEGREE, to_json(strand) | {
            "by": strand.by, "values": documents_of(values)}))

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
