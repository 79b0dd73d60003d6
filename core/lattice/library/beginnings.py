"""Beginnings: what a new lane may be besides a drum, each with what it walks over."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Literal

from lattice.library.arpeggios import ARPEGGIOS
from lattice.library.base import StartingRecipe
from lattice.library.basses import BASSES, CHORD_LANES

HELD = {"arpeggio": {"pool": "held", "order": "up"}, "rule": {"kind": "euclid", "pulses": 16}}


@dataclass(frozen=True, slots=True)
class Beginning:
    """What a new lane begins as. title: what it is, and the lane's name; about: what it walks over;
    fields: the lane's, without id and name; one that has no rule begins with that of the others."""

    title: str
    about: str
    group: Literal["drums", "pitches"]
    fields: dict[str, Any] = field(default_factory=dict)


def _from(recipes: tuple[StartingRecipe, ...], name: str) -> dict[str, Any]:
    """The fields of a starting recipe."""
    return next(each.lane for each in recipes if each.name == name) or {}


BEGINNINGS: dict[str, Beginning] = {
    "held-drums": Beginning("Held drums", "walks over the drums that are held", "drums",
                            {"kind": "drum", "note": 42} | HELD),
    "melody": Beginning("Melody", "steps of the key", "pitches", {"kind": "pitched"}),
    "lead": Beginning("Lead", "a line that gives way to the chords", "pitches",
                      _from(ARPEGGIOS, "Bent to the chord")),
    "bass": Beginning("Bass", "the chords’ roots", "pitches", _from(BASSES, "Root on the beat")),
    "chords": Beginning("Chords", "all their tones, moving little", "pitches",
                        _from(CHORD_LANES, "Smooth chords")),
    "arpeggio": Beginning("Arpeggio", "up and down the chords", "pitches",
                          _from(ARPEGGIOS, "Up and down")),
    "held": Beginning("Held notes", "walks over the notes that are held", "pitches",
                      {"kind": "pitched"} | HELD),
    "controller": Beginning("Controller", "no notes: it moves a sound", "pitches",
                            {"kind": "control"}),
}
"""By name, in the order in which they are offered."""

if TYPE_CHECKING:
    BeginningName = str
else:
    BeginningName = Literal[tuple(BEGINNINGS)]
