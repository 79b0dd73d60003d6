"""Scales in common use, as semitones above the root, and those of the musician's own."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any

from pydantic import BeforeValidator, WithJsonSchema

SCALES: dict[str, tuple[int, ...]] = {
    "major": (0, 2, 4, 5, 7, 9, 11),
    "minor": (0, 2, 3, 5, 7, 8, 10),
    "ionian": (0, 2, 4, 5, 7, 9, 11),
    "dorian": (0, 2, 3, 5, 7, 9, 10),
    "phrygian": (0, 1, 3, 5, 7, 8, 10),
    "lydian": (0, 2, 4, 6, 7, 9, 11),
    "mixolydian": (0, 2, 4, 5, 7, 9, 10),
    "aeolian": (0, 2, 3, 5, 7, 8, 10),
    "locrian": (0, 1, 3, 5, 6, 8, 10),
    "harmonic-minor": (0, 2, 3, 5, 7, 8, 11),
    "melodic-minor": (0, 2, 3, 5, 7, 9, 11),
    "dorian-b2": (0, 1, 3, 5, 7, 9, 10),
    "lydian-augmented": (0, 2, 4, 6, 8, 9, 11),
    "lydian-dominant": (0, 2, 4, 6, 7, 9, 10),
    "mixolydian-b6": (0, 2, 4, 5, 7, 8, 10),
    "locrian-#2": (0, 2, 3, 5, 6, 8, 10),
    "altered": (0, 1, 3, 4, 6, 8, 10),
    "phrygian-dominant": (0, 1, 4, 5, 7, 8, 10),
    "harmonic-major": (0, 2, 4, 5, 7, 8, 11),
    "double-harmonic": (0, 1, 4, 5, 7, 8, 11),
    "hungarian-minor": (0, 2, 3, 6, 7, 8, 11),
    "neapolitan-minor": (0, 1, 3, 5, 7, 8, 11),
    "neapolitan-major": (0, 1, 3, 5, 7, 9, 11),
    "major-pentatonic": (0, 2, 4, 7, 9),
    "minor-pentatonic": (0, 3, 5, 7, 10),
    "blues": (0, 3, 5, 6, 7, 10),
    "major-blues": (0, 2, 3, 4, 7, 9),
    "whole-tone": (0, 2, 4, 6, 8, 10),
    "octatonic-half-whole": (0, 1, 3, 4, 6, 7, 9, 10),
    "octatonic-whole-half": (0, 2, 3, 5, 6, 8, 9, 11),
    "augmented": (0, 3, 4, 7, 8, 11),
    "hirajoshi": (0, 2, 3, 7, 8),
    "in-sen": (0, 1, 5, 7, 10),
    "iwato": (0, 1, 5, 6, 10),
    "pelog": (0, 1, 3, 7, 8),
    "egyptian": (0, 2, 5, 7, 10),
    "prometheus": (0, 2, 4, 6, 9, 10),
    "chromatic": tuple(range(12)),
}
"""The scales by their names."""
OWN = ("A scale of your own lists semitones above the root, beginning with 0, each higher than the "
       "one before and none above 11, such as 0 2 3 7 8.")


def _scale(value: Any) -> Any:
    if isinstance(value, str):
        if value not in SCALES:
            raise ValueError(f"There is no scale “{value[:40]}”; “major”, “dorian” and "
                             "“minor-pentatonic” are some that there are.")
        return value
    if not isinstance(value, list | tuple) or not value or value[0] != 0 or \
            any(type(note) is not int or not 0 <= note <= 11 for note in value) or \
            any(low >= high for low, high in pairwise(value)):
        raise ValueError(OWN)
    return tuple(value)


Scale = Annotated[str | tuple[int, ...], BeforeValidator(_scale), WithJsonSchema({"anyOf": [
    {"enum": list(SCALES)},
    {"type": "array", "items": {"type": "integer", "minimum": 0, "maximum": 11}, "minItems": 1,
     "maxItems": 12}]})]
"""A scale by its name, or its semitones above the root."""


def scale_notes(scale: str | tuple[int, ...]) -> tuple[int, ...]:
    """The semitones of a scale above its root, ascending from 0."""
    return SCALES[scale] if isinstance(scale, str) else scale


def scale_words(scale: str | tuple[int, ...]) -> str:
    """A scale as it reads: "harmonic minor", or its semitones."""
    return scale.replace("-", " ") if isinstance(scale, str) else " ".join(map(str, scale))
