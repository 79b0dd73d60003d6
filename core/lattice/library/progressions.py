"""Progressions in common use, each with a lane that plays it."""

from __future__ import annotations

from lattice.library.base import StartingRecipe
from lattice.pitch.offered import PROGRESSIONS
from lattice.pitch.progression import Chords

PROGRESSION_STARTS: tuple[StartingRecipe, ...] = tuple(
    StartingRecipe(name=text, group="progressions", about=about, chords=Chords(text=text), lane={
        "kind": "pitched", "steps": 1, "step": "1/1", "gate": 98, "velocity": 66, "octave": 3,
        "rule": {"kind": "euclid", "pulses": 1}, "voicing": "smooth", "sound": {"by": "pad"},
        "strands": {"degree": {"values": [{"all": "chord"}], "by": "hit"}}})
    for text, about in PROGRESSIONS.items())
