"""What a walk goes over, and in which order, as hands show it: drums exchanged, an order played or
picked, another scale."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from lattice.arpeggio.fields import MOST_AT_ONCE, MOST_NOTES
from lattice.arpeggio.pool import Pool, PoolNote
from lattice.base.errors import RecipeError
from lattice.base.percussion import note_name
from lattice.base.values import NoteNumber
from lattice.edits.base import Edit, who
from lattice.features.gusts import Throw
from lattice.pitch.key import Key
from lattice.pitch.names import key_name
from lattice.pitch.scales import SCALES
from lattice.play import Performance, WalkingVoice
from lattice.recipe import Lane, Recipe, edited, with_lane


def pool_of(recipe: Recipe, lane: Lane) -> Pool:
    """What a lane walks over at first; RecipeError where it has no arpeggio, or nothing to walk
    over."""
    voice = Performance(recipe).calm_at(0).voice(lane.id)
    if not isinstance(voice, WalkingVoice):
        raise RecipeError(f"{lane.name} has no arpeggio; give it one first.")
    pool = voice.walk.pools.at(0)
    if not pool.listed:
        raise RecipeError(f"{lane.name} has nothing to walk over yet; hold some notes first.")
    return pool


class WriteOrder(Edit):
    """Write the next entry of the order in which a lane walks: the places of these notes in its
    pool, or without notes a rest or a `hold`. An order of one's own goes on, unless it is to
    `begin` anew; one that has a name gives way."""

    do: Literal["write_order"]
    lane: str
    notes: Annotated[list[NoteNumber], Field(max_length=MOST_AT_ONCE)] = []
    hold: bool = False
    begin: bool = False

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        pool = pool_of(recipe, lane)
        order = lane.arpeggio.order if lane.arpeggio else ""
        before = () if self.begin or isinstance(order, str) else order
        if len(before) >= MOST_NOTES:
            raise RecipeError(f"An order has up to {MOST_NOTES} entries; begin anew.")
        row = pool.ordered(before or (0,))
        places = sorted({_place(note, row, lane) for note in self.notes})
        entry = places[0] if len(places) == 1 else places or ("hold" if self.hold else "rest")
        return with_lane(recipe, edited(lane, {"arpeggio.order": [*before, entry]}))

    def describe(self, recipe: Recipe) -> str:
        what = "played" if self.notes else "held" if self.hold else "rests"
        return f"{who(self.lane, recipe)}the next of its order {what}"


def _place(note: int, row: Sequence[PoolNote], lane: Lane) -> int:
    """The place of a note among those that are walked over: of itself, else of the nearest by its
    name, else of the nearest."""
    def away(place: int) -> tuple[bool, int]:
        by = row[place].pitch - note
        return not (lane.pitched and by % 12 == 0), abs(by)
    return min(range(len(row)), key=lambda place: (row[place].pitch != note, away(place)))


class ExchangeNote(Edit):
    """Let another drum sound for one that a lane walks over; its place in the walk stays. The drum
    itself takes it back."""

    do: Literal["exchange"]
    lane: str
    note: NoteNumber
    instead: NoteNumber

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        pool = pool_of(recipe, lane)
        if lane.kind != "drum" or lane.arpeggio is None:
            raise RecipeError(f"{lane.name} walks over notes of its key; choose other ones by its "
                              "words.")
        if self.note not in (each.pitch for each in pool.listed):
            raise RecipeError(f"{note_name(self.note)} is not what {lane.name} walks over.")
        pairs = dict(lane.arpeggio.exchanged) | {self.note: self.instead}
        return with_lane(recipe, edited(lane, {"arpeggio.exchanged": [
            [before, after] for before, after in pairs.items() if before != after]}))

    def describe(self, recipe: Recipe) -> str:
        return (f"{who(self.lane, recipe)}{note_name(self.instead)} for {note_name(self.note)}")


class AnotherScale(Edit):
    """Let a lane stand on another scale, on the same root, all else as it is: the throw says which
    one."""

    do: Literal["another_scale"]
    lane: str
    throw: Throw = 0

    def _key(self, recipe: Recipe) -> Key:
        now = recipe.lane(self.lane).key or recipe.key
        others = [name for name, notes in SCALES.items() if notes != now.notes]
        return Key.model_validate({"root": now.root, "scale": others[self.throw % len(others)]})

    def apply(self, recipe: Recipe) -> Recipe:
        lane = recipe.lane(self.lane)
        return with_lane(recipe, edited(lane, {"key": self._key(recipe).model_dump(mode="json")}))

    def describe(self, recipe: Recipe) -> str:
        return f"{who(self.lane, recipe)}in {key_name(self._key(recipe))}"
