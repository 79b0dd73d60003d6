"""Throws: one file for each thing that is made random within bounds."""

from typing import Annotated

from pydantic import Field

from lattice.edits.throws.base import Thrown
from lattice.edits.throws.drums import ThrowDrums
from lattice.edits.throws.hits import ThrowHits
from lattice.edits.throws.scale import ThrowScale
from lattice.edits.throws.sounds import ThrowSounds
from lattice.edits.throws.values import ThrowValues

THROWS: tuple[type[Thrown], ...] = (ThrowHits, ThrowValues, ThrowDrums, ThrowSounds, ThrowScale)
"""All of them, in the order in which they are offered."""
AnyThrow = Annotated[ThrowHits | ThrowValues | ThrowDrums | ThrowSounds | ThrowScale,
                     Field(discriminator="do")]

__all__ = ["THROWS", "AnyThrow", "ThrowDrums", "ThrowHits", "ThrowScale", "ThrowSounds",
           "ThrowValues", "Thrown"]
