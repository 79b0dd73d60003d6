"""What an arpeggio has that is typed as a text: orders of one's own, what is held for some beats,
drums that are exchanged; told, and read."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any, get_args

from lattice.arpeggio.fields import MOST_AT_ONCE, MOST_NOTES, Held, HeldStretch, Place
from lattice.arpeggio.orders.base import Pause, Period
from lattice.base.errors import RecipeError
from lattice.base.values import limits, to_sum
from lattice.base.words import note, told_beat

MOST_PLACES = limits(Place)[1] + 1
ORDER_SAID = "1, 3, rest, 4, hold, 1 with 2"
LONGEST_STRETCHES = 50_000
STRUCK_AT = 100
"""The velocity of a note held that names none."""
STRETCH = re.compile(r"(?P<notes>.*?) from beat (?P<beat>[\d/ +]+) for (?P<beats>[\d/]+)"
                     r"(?: beats?)?", re.IGNORECASE)


def told_stretches(stretches: Sequence[HeldStretch], called: Sequence[str]) -> str:
    """What is held for some beats: "C3, E3 at 60 from beat 1 for 2; G3 from beat 2 + 1/2 for 1"."""
    return "; ".join(
        f"{_told_held(each.notes, called)} from beat {told_beat(each.start)} for {each.beats}"
        for each in stretches)


def _told_held(notes: Sequence[Held], called: Sequence[str]) -> str:
    return ", ".join(called[each.note] if each.velocity == STRUCK_AT else
                     f"{called[each.note]} at {each.velocity}" for each in notes) or "nothing"


def read_stretches(text: str, called: Sequence[str]) -> list[dict[str, Any]]:
    """The stretches, as documents, that are meant by a text as `told_stretches` writes it;
    RecipeError with what is not read."""
    found: list[dict[str, Any]] = []
    for each in text.split(";"):
        parts = STRETCH.fullmatch(each.strip())
        if parts is None:
            raise RecipeError(f"“{each.strip()[:30]}” is not held. It takes notes, a beat and a "
                              "length: C3, E3 at 60 from beat 1 for 2.")
        try:
            start = to_sum(parts["beat"]) - 1
        except ValueError as problem:
            raise RecipeError(str(problem)) from None
        words = [] if parts["notes"].lower() == "nothing" else parts["notes"].split(",")
        found.append({"start": str(start), "beats": parts["beats"],
                      "notes": [_read_held(word.strip(), called) for word in words]})
    return found


def _read_held(word: str, called: Sequence[str]) -> dict[str, Any]:
    name, at, velocity = word.partition(" at ")
    return {"note": _note_called(name, called)} | ({"velocity": int(velocity)} if at and
                                                   velocity.isdecimal() else {})


def _note_called(name: str, called: Sequence[str]) -> int:
    """The number of a note; RecipeError where there is none of this name."""
    number: int = note("note", "note held", 0, called).accept(name)
    return number


def told_exchanged(exchanged: Sequence[tuple[int, int]], called: Sequence[str]) -> str:
    """Drums that others sound for: "Claves for Mute hi conga, Cowbell for Low tom"."""
    return ", ".join(f"{called[after]} for {called[before]}" for before, after in exchanged)


def read_exchanged(text: str, called: Sequence[str]) -> list[list[int]]:
    """The pairs that are meant by a text as `told_exchanged` writes it; RecipeError with what is
    not read."""
    found: list[list[int]] = []
    for each in text.split(","):
        after, between, before = each.partition(" for ")
        if not between:
            raise RecipeError(f"“{each.strip()[:40]}” exchanges nothing. It takes one drum for "
                              "another: Claves for Mute hi conga.")
        found.append([_note_called(before, called), _note_called(after, called)])
    return found


def told_order(order: Period) -> str:
    """An order of one's own in words, its places counted from 1: "1, rest, 3 with 5, hold"."""
    return ", ".join(entry if isinstance(entry, str) else str(entry + 1) if isinstance(entry, int)
                     else " with ".join(str(place + 1) for place in entry) for entry in order)


def read_order(text: str) -> list[Any]:
    """The order that is meant by words as `told_order` writes them; commas may be left out, and
    "and" or "+" stand for "with". RecipeError with what is not read."""
    found: list[Any] = []
    joined = False
    for word in re.findall(r"\+|[^\s,+]+", text.lower()):
        if word in ("with", "and", "+"):
            if joined or not found or isinstance(found[-1], str):
                raise RecipeError(f"Before “{word}” stands the number of a place: {ORDER_SAID}.")
            joined = True
        elif word in get_args(Pause) and not joined:
            found.append(word)
        elif word.isascii() and word.isdigit() and 1 <= int(word[:4]) <= MOST_PLACES:
            place = int(word) - 1
            if joined:
                found[-1] = [*(found[-1] if isinstance(found[-1], list) else [found[-1]]), place]
            else:
                found.append(place)
            joined = False
        else:
            raise RecipeError(f"“{word[:20]}” is no entry of an order. It takes places from 1 to "
                              f"{MOST_PLACES}, rests, holds and several places at once: "
                              f"{ORDER_SAID}.")
    if joined or not 0 < len(found) <= MOST_NOTES:
        raise RecipeError(f"An order takes from 1 to {MOST_NOTES} entries: {ORDER_SAID}.")
    if any(isinstance(each, list) and len(each) > MOST_AT_ONCE for each in found):
        raise RecipeError(f"Up to {MOST_AT_ONCE} places sound at once.")
    return found
