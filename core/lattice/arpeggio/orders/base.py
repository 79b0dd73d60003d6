"""What every order of a walk is: an entry, by which it is found, told and walked."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

Pause = Literal["rest", "hold"]
"""An entry that begins no note: nothing sounds, or what sounds is held on."""
Entry = int | Pause | tuple[int, ...]
"""What one hit of a walk plays: a place, several at once, or a pause."""
Period = tuple[Entry, ...]
"""The entries of one period of a walk; places count over the notes sorted by pitch."""


class DrawnWalk:
    """The walk of an order that chance decides: told hit by hit in how large a pool it stands, and
    what was drawn."""

    def begin(self) -> None:
        """Begin anew."""

    def changed(self) -> None:
        """Another pool."""

    def step(self, m: int, draw: float) -> int:
        """The place of the next note, of m; `draw` is in [0, 1)."""
        raise NotImplementedError


@dataclass(frozen=True, slots=True)
class WalkOrder:
    """An order in which a pool is walked.

    place: where it comes among the others in menus. period: for a pool of m notes the entries of
    one period. drawn: what draws them instead. One with neither sounds the whole pool on every hit.
    listed: whether places count over the notes as they are listed.
    """

    place: int
    name: str
    label: str
    about: str = ""
    period: Callable[[int], Period] | None = None
    drawn: type[DrawnWalk] | None = None
    listed: bool = False
    holds: bool = False
    """Whether some hits hold on what the ones before have sounded."""

    @property
    def whole(self) -> bool:
        """Whether the whole pool sounds on every hit."""
        return self.period is None and self.drawn is None
