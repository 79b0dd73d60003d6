"""What a voice does in a groove, and on which places it therefore likes to fall."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from lattice.measures.rhythms import BEAT, Ground
from lattice.recipe import Lane

Weights = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Role:
    """A role: what it is called and does, and how much it likes each kind of place, 0 to 1: the
    bar's start, its half, a beat of even and one of odd number (from 0), half and quarter of a
    beat, and anything finer."""

    label: str
    about: str
    likes: tuple[float, float, float, float, float, float, float]


ROLES = {
    "pulse": Role("pulse", "carries the beat", (1, .85, .7, .6, .35, .15, .05)),
    "backbeat": Role("backbeat", "answers the beat", (.05, .3, .35, 1, .25, .3, .1)),
    "hats": Role("hats", "runs evenly on and off the beat", (.7, .7, .75, .75, 1, .55, .2)),
    "colour": Role("colour", "falls between the beats", (.1, .2, .3, .3, .8, .6, .35)),
    "bass": Role("bass", "stands on one and pushes on", (1, .5, .45, .35, .7, .45, .1)),
    "melody": Role("melody", "moves on beats and their halves", (.9, .7, .75, .65, .6, .3, .1)),
}

_PULSES, _BACKBEATS = {35, 36}, {37, 38, 39, 40}
_HATS = {42, 44, 46, 51, 59, 69, 70, 82}
LOW_REGISTER = 59
"""A pitched lane whose register begins up to this note, B3, is taken for a bass."""


def role_of(lane: Lane) -> str:
    """The role that a lane's drum or register suggests; a walk over notes of its own has no
    register, and is a melody."""
    if lane.pitched:
        return "bass" if lane.has_register and lane.bottom <= LOW_REGISTER else "melody"
    for role, notes in (("pulse", _PULSES), ("backbeat", _BACKBEATS), ("hats", _HATS)):
        if lane.note in notes:
            return role
    return "colour"


@lru_cache(maxsize=1024)
def likes(role: str, ground: Ground) -> Weights:
    """How much a role likes each step; not to be written to."""
    table = ROLES[role].likes
    columns = {0: 0, -1: 1, -3: 4, -4: 5}
    found = []
    for step, weight in enumerate(ground.weights):
        if weight == BEAT:
            beat = ground.places[step] % ground.meter[0]
            found.append(table[2 + int(beat) % 2])
        else:
            found.append(table[columns.get(weight, 6)])
    return np.array(found)
