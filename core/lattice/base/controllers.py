"""Controllers by their numbers, with the names that MIDI 1.0 has for them (MMA, 1995)."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.values import half_up

Number = Annotated[int, Field(ge=0, le=127)] | Literal["bend", "pressure"]
"""A controller by its number, pitch bend, or channel pressure."""
CONTROLLERS: dict[int | str, str] = {
    1: "modulation", 7: "volume", 10: "pan", 11: "expression", 64: "sustain pedal",
    74: "brightness", "bend": "pitch bend", "pressure": "channel pressure"}
MIDDLE = 64


def controller_name(number: int | str) -> str:
    """What a controller is called: "brightness (74)", "pitch bend", "controller 20"."""
    name = CONTROLLERS.get(number, "controller")
    return name if isinstance(number, str) else \
        f"{name} ({number})" if number in CONTROLLERS else f"{name} {number}"


def value_bounds(number: int | str) -> tuple[int, int]:
    """The lowest and the highest value that a controller is set to."""
    return (-8192, 8191) if number == "bend" else (0, 127)


def rescaled(value: float, before: int | str, after: int | str) -> int:
    """A value of one controller as one of another, as far between its bounds."""
    low, high = value_bounds(before)
    first, last = value_bounds(after)
    return half_up(first + (value - low) / (high - low) * (last - first))


def neutral_value(number: int | str) -> int:
    """The value of a controller where nothing is said."""
    return 0 if number == "bend" else MIDDLE
