"""What pitches stand on, as it is shown."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from lattice.pitch.key import Key
from lattice.pitch.names import degree_name, spelling


@dataclass(slots=True)
class ShownScale:
    """What a lane's pitches stand on: the root's pitch class, the scale's semitones above it, and
    the twelve pitch classes by name and by degree (none out of key)."""

    root: int
    notes: tuple[int, ...]
    names: list[str]
    degrees: list[str | None]


@lru_cache(512)
def shown_scale(key: Key) -> ShownScale:
    """What pitches in a key stand on."""
    degrees = [key.degree_of(pitch) for pitch in range(12)]
    return ShownScale(key.root, key.notes, list(spelling(key)),
                      [None if degree is None else degree_name(degree) for degree in degrees])
