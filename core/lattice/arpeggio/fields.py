"""The fields of an arpeggio."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from lattice.arpeggio.orders import OrderName, order_of
from lattice.arpeggio.orders.base import Pause
from lattice.base.frame import Frame
from lattice.base.group import Grain, Reach, Rounds
from lattice.base.values import (
    Beats,
    Document,
    Gate,
    Lasting,
    NoteNumber,
    Percent,
    StepLength,
    Velocity,
)
from lattice.pitch.fields import PitchFields
from lattice.strands.kinds import GATE, TIE

MOST_NOTES = 64
Octaves = Annotated[int, Field(ge=1, le=4)]
MOST_AT_ONCE = 16
Place = Annotated[int, Field(ge=0, le=255)]
Chord = Annotated[tuple[Place, ...], Field(min_length=1, max_length=MOST_AT_ONCE)]
Entries = Annotated[tuple[Place | Pause | Chord, ...],
                    Field(min_length=1, max_length=MOST_NOTES)]
Order = OrderName | Entries
"""An order by its name, or one of the musician's own: what each hit plays, one after another."""
FirstNotes = Annotated[int, Field(ge=1, le=MOST_NOTES)]
HitCount = Annotated[int, Field(ge=1, le=1024)]
FINEST = Fraction(1, 64)
"""The closest that anchors stand, in beats."""


class Held(Document):
    """A note held on keys, with the velocity it was struck with."""

    note: NoteNumber
    velocity: Velocity = 100


class HeldStretch(Document):
    """Notes held from `start`, for `beats`, in the frame."""

    start: Beats
    beats: Lasting
    notes: Annotated[tuple[Held, ...], Field(max_length=MOST_NOTES)]




class Anchor(Document):
    """A note that sounds at every `every`-th cell, or every `every` beats where a cell begins.

    note: a number, or the first note of the pool. probability: in percent, its own; velocity: its
    own, or that of the hit.
    """

    note: NoteNumber | Literal["root"] = "root"
    every: Lasting = Fraction(4)
    unit: Literal["steps", "beats"] = "steps"
    mode: Literal["as-well", "instead"] = "as-well"
    walk: Literal["on", "waits", "restarts"] = "on"
    probability: Percent = 100
    velocity: Velocity | None = None

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if self.unit == "steps" and (self.every.denominator > 1 or self.every > 128):
            raise ValueError("An anchor stands at every so many steps, a whole number up to 128.")
        if self.every < FINEST:
            raise ValueError(f"Anchors stand {FINEST} of a beat apart or more.")
        if self.walk == "waits" and self.mode != "instead":
            raise ValueError('The walk waits only for an anchor that sounds "instead" of it.')
        return self


class Second(Document):
    """All that sounds at a hit, walked again every `step` until the hit's length is over; each
    note sounds `gate` percent of the step."""

    step: StepLength
    order: Order = "up"
    octaves: Octaves = 1
    gate: Gate = 90


class Arpeggio(Document):
    """The lane's hits walk over a pool, one note a hit. first: how many notes the first hit after a
    restart plays: one as the order has it, all of the pool, or so many of its lowest. exchanged: on
    a drum lane, drums of the walk that others sound for, as pairs."""

    pool: Literal["chord", "scale", "held"] | Annotated[
        tuple[NoteNumber, ...], Field(min_length=1, max_length=MOST_NOTES)] = "chord"
    held: Annotated[tuple[Held | HeldStretch, ...], Field(max_length=256)] = ()
    octaves: Octaves = 1
    extend: Literal["up", "down", "both"] = "up"
    order: Order = "up"
    restart: Literal["pass", "chord", "never"] | HitCount = "pass"
    velocities: Literal["lane", "held"] = "lane"
    first: Literal["one", "all"] | FirstNotes = "one"
    anchor: Anchor | None = None
    second: Second | None = None
    exchanged: Annotated[tuple[tuple[NoteNumber, NoteNumber], ...],
                         Field(max_length=MOST_NOTES)] = ()

    @model_validator(mode="after")
    def _one_kind_held(self) -> Self:
        if len({type(each) for each in self.held}) > 1:
            raise ValueError("What is held is a list of notes, or of stretches of notes, not of "
                             "both.")
        return self

    @property
    def stretches(self) -> tuple[HeldStretch, ...]:
        """What is held for some beats only, in the order of time."""
        found = [each for each in self.held if isinstance(each, HeldStretch)]
        return tuple(sorted(found, key=lambda stretch: stretch.start))

    @property
    def struck(self) -> bool:
        """Whether walked notes have the velocities that they were struck with."""
        return self.pool == "held" and self.velocities == "held"

    @property
    def begins_in_frames(self) -> bool:
        """Whether the walk begins anew in every frame, whatever `restart` says."""
        waits = self.anchor is not None and self.anchor.walk == "waits" and \
            self.anchor.unit == "beats"
        return order_of(self.order).drawn is not None or waits


class ArpeggioFields(PitchFields):
    """An arpeggio takes the place of a lane's degrees, or of its drum."""

    arpeggio: Arpeggio | None = None

    @property
    def walks(self) -> Arpeggio | None:
        """The arpeggio, in lanes that have notes."""
        return self.arpeggio if self.kind != "control" else None

    @property
    def reads_degrees(self) -> bool:
        return super().reads_degrees and self.arpeggio is None

    @property
    def has_register(self) -> bool:
        return super().has_register and (
            self.arpeggio is None or self.arpeggio.pool in ("chord", "scale"))

    @property
    def in_scale(self) -> bool:
        return super().in_scale or (self.walks is not None and self.walks.pool == "scale")

    @property
    def takes_chord(self) -> bool:
        return self.arpeggio.pool == "chord" if self.arpeggio else super().takes_chord

    @property
    def chord_steps(self) -> bool:
        return self.arpeggio is None and super().chord_steps

    def add_grain(self, grain: Grain, frame: Frame) -> None:
        super().add_grain(grain, frame)
        arpeggio = self.walks
        if arpeggio is None:
            return
        if arpeggio.anchor is not None and arpeggio.anchor.unit == "beats":
            grain.holds(arpeggio.anchor.every)
        if arpeggio.second is not None:
            grain.holds(4 * arpeggio.second.step)
        for stretch in arpeggio.stretches:
            grain.holds(stretch.start, stretch.beats)

    def add_rounds(self, rounds: Rounds) -> None:
        super().add_rounds(rounds)
        arpeggio = self.walks
        if arpeggio is None:
            return
        if arpeggio.pool == "chord" or arpeggio.restart == "chord":
            rounds.by_chords()
        if arpeggio.restart == "pass" or arpeggio.begins_in_frames or arpeggio.stretches:
            rounds.by_pass(1)
        if arpeggio.anchor is not None:
            if arpeggio.anchor.unit == "steps":
                rounds.by_cell(int(arpeggio.anchor.every))
            else:
                rounds.by_pass(1)

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        super().add_reach(reach, frame, cell)
        if self.walks is not None and self.walks.second is not None:
            reach.later(cell * self.highest(GATE) / 100)

    def strays(self) -> bool:
        return super().strays() or self.walks is not None

    def thickness(self, lasts: float) -> float:
        arpeggio = self.walks
        if arpeggio is None:
            return super().thickness(lasts)
        pool = arpeggio.pool
        size = len(pool) if isinstance(pool, tuple) else len(arpeggio.held) if pool == "held" else 8
        size *= 2 * arpeggio.octaves - 1
        first = arpeggio.first if isinstance(arpeggio.first, int) else \
            size if arpeggio.first == "all" else 1
        notes = float(max(_at_once(arpeggio.order, size), first))
        second = arpeggio.second
        if second is not None:
            strokes = 1 + lasts / (4 * float(second.step))
            notes = strokes * _at_once(second.order, size)
        return notes + (arpeggio.anchor is not None)

    @property
    def outlasts(self) -> bool:
        """Whether a hit may go on sounding new notes until the next one, however far that is."""
        return self.walks is not None and self.walks.second is not None and \
            (self.highest(TIE) > 0 or order_of(self.walks.order).holds)


def _at_once(order: Order, size: int) -> int:
    """How many notes of a pool of this size a hit plays at the most."""
    if isinstance(order, str):
        return size if order_of(order).whole else 1
    return max(len(entry) if isinstance(entry, tuple) else 1 for entry in order)
