"""What a starting recipe is."""

from __future__ import annotations

from fractions import Fraction
from math import ceil
from typing import Annotated, Any, NamedTuple, Self

from pydantic import Field, model_validator

from lattice.base.values import Document, Name, to_json
from lattice.pitch.progression import Chords
from lattice.recipe import Lane, refusing
from lattice.texts.patterns import read_text


class Needs(NamedTuple):
    """What a starting recipe needs of a pattern. bars: as many as its chords take, and what its
    lane says of places in the frame; chords: whether its lane plays over some that it does not
    bring."""

    bars: int
    chords: bool


class StartingRecipe(Document):
    """A named lane, or progression, to begin with. group: the family that it is listed in; source:
    where it was published; lane: its fields, without id and name."""

    name: Name
    group: Annotated[str, Field(min_length=1, max_length=60)] = "my own"
    about: Annotated[str, Field(max_length=200)] = ""
    source: Annotated[str, Field(max_length=200)] = ""
    lane: dict[str, Any] | None = None
    chords: Chords | None = None

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if self.lane is None and self.chords is None:
            raise ValueError("A starting recipe has a lane, or chords, or both.")
        if self.lane is not None:
            rule = self.lane.get("rule")
            if isinstance(rule, dict) and "of" in rule:
                raise ValueError("A starting recipe stands alone; its lane cannot follow another.")
            self.made("lane", "Lane")
        return self

    def made(self, lane_id: str, name: str) -> Lane:
        """The lane with an id and a name; RecipeError where it is none."""
        with refusing():
            return Lane.model_validate((self.lane or {}) | {"id": lane_id, "name": name})

    def needs(self, bar: Fraction) -> Needs:
        """What it needs of a pattern with bars of so many beats to be heard whole."""
        lane = self.made("lane", "Lane") if self.lane is not None else None
        ends = [sum(self.chords.lengths(bar), Fraction(0))] if self.chords else []
        if lane is not None:
            ends += [stretch.start + stretch.beats for stretch in lane.rate_path]
            ends += [roll.start + roll.beats for roll in lane.rolls
                     if roll.start is not None and roll.beats is not None]
            ends += [bar * bars for bars in (lane.fit_bars, lane.restart_bars) if bars]
        return Needs(ceil(max(ends, default=bar) / bar),
                     self.chords is None and lane is not None and lane.takes_chord)


def written(name: str, group: str, about: str, text: str, source: str = "") -> StartingRecipe:
    """A starting recipe whose lane is said by a text."""
    (lane,) = read_text(text).lanes
    fields = {field: value for field, value in to_json(lane).items() if field not in ("id", "name")}
    return StartingRecipe(name=name, group=group, about=about, source=source, lane=fields)
