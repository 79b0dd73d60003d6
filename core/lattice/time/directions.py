"""In which order the steps of a lane are played."""

from __future__ import annotations

from typing import Literal

Direction = Literal["forward", "backward", "bounce", "bounce-twice", "random", "wander"]

DIRECTIONS = {"forward": ("forward", ""), "backward": ("backward", ""),
              "bounce": ("bouncing", "there and back, the ends once"),
              "bounce-twice": ("bouncing, ends twice", "there and back, the ends twice in a row"),
              "random": ("in random order", "any step after any other"),
              "wander": ("wandering", "one step back, the same, or one on")}
"""How each direction reads."""


def one_round(first: int, last: int, direction: Direction) -> tuple[int, ...] | None:
    """One period of the steps played from first to last; None where there is no period.

    bounce plays its ends once, bounce-twice plays them twice in a row.
    """
    steps = tuple(range(first, last + 1))
    if direction == "forward":
        return steps
    if direction == "backward":
        return steps[::-1]
    if direction == "bounce":
        return steps + steps[-2:0:-1]
    if direction == "bounce-twice":
        return steps + steps[::-1]
    return None
