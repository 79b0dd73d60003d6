"""What every built-in sound is: an entry, by which it is found, told and set."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True)
class Instrument:
    """A built-in sound of pitched lanes (a voice) or of drum lanes (a kit). place: where it comes
    among the others; the first of each kind is heard where nothing is said. about: what it is like.
    controls: in percent, as they stand at first."""

    place: int
    kind: Literal["voice", "kit"]
    name: str
    about: str
    controls: dict[str, float]
