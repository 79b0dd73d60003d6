"""Families of grooves: for each role the order in which places of the bar are taken, so that
lanes that move through a family together stay one groove at every density."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from lattice.measures.rhythms import Ground
from lattice.relatives.roles import Weights, likes

TIMELINES: dict[str, tuple[int, ...]] = {
    "shiko": (0, 4, 6, 10, 12), "son": (0, 3, 6, 10, 12), "rumba": (0, 3, 7, 10, 12),
    "soukous": (0, 3, 6, 10, 11), "gahu": (0, 3, 6, 10, 14), "bossa nova": (0, 3, 6, 10, 13),
}
"""Six timelines of five hits in sixteen, in sixteenths of a bar of four beats (Toussaint: A
mathematical analysis of African, Brazilian, and Cuban clave rhythms, Bridges 2002)."""


@dataclass(frozen=True, slots=True)
class Family:
    """A family: its name and what it does; `orders` says for a role which sixteenths of the bar,
    counted from 0, are taken first, second and so on. What is not named follows by what the role
    likes, and a role that is not named does altogether."""

    label: str
    about: str
    orders: dict[str, tuple[int, ...] | tuple[Fraction, ...]]


def _by_frequency(rhythms: dict[str, tuple[int, ...]]) -> tuple[int, ...]:
    """The sixteenths by how many of the rhythms have a hit there, the earlier first."""
    counts = {place: sum(place in each for each in rhythms.values()) for place in range(16)}
    return tuple(sorted((place for place in counts if counts[place]),
                        key=lambda place: (-counts[place], place)))


def _every(part: int, count: int) -> tuple[Fraction, ...]:
    """The first of so many even parts of a bar of sixteen sixteenths."""
    return tuple(Fraction(16 * number, part) for number in range(count))


_THREES = (0, 6, 12, 3, 9, 15)
FAMILIES = {
    "steady": Family("steady", "beats carried, two and four answered, hats between", {
        "pulse": (0, 8, 4, 12), "backbeat": (4, 12), "bass": (0, 8, 6, 14),
        "hats": (2, 6, 10, 14, 0, 4, 8, 12), "colour": (14, 6, 2, 10)}),
    "broken": Family("broken", "the beat is cut up and moved ahead", {
        "pulse": (0, 10, 6, 3, 13), "backbeat": (4, 12, 7, 9, 15), "bass": (0, 10, 3, 6, 13),
        "hats": (0, 2, 4, 6, 8, 10, 12, 14, 3, 7, 11), "colour": (7, 9, 15, 1)}),
    "crossing": Family("crossing", "groups of three across the four beats", {
        "pulse": (0, 8, 4, 12), "backbeat": (4, 12, 10), "bass": _THREES, "hats": _THREES,
        "colour": _THREES, "melody": _THREES}),
    "sparse": Family("sparse", "few hits and much room between them", {
        "pulse": (0, 10, 7), "backbeat": (8, 15), "bass": (0, 11), "hats": (4, 12, 14),
        "colour": (7, 14), "melody": (0, 6, 11)}),
    "three against two": Family("three against two", "three or six even hits over the half bars", {
        "pulse": (0, 8), "backbeat": (8, 4, 12), "bass": _every(3, 3),
        "hats": _every(6, 6), "colour": _every(6, 6),
        "melody": _every(3, 3)}),
    "timeline": Family("timeline", "the places that timelines of five hits share", {
        "pulse": (0, 8, 4, 12), "backbeat": (4, 12, 10),
        "hats": (0, 4, 8, 12, 2, 6, 10, 14), "bass": (0, 6, 12, 3, 10),
        "colour": _by_frequency(TIMELINES), "melody": _by_frequency(TIMELINES)}),
}


NEAR = Fraction(1, 8)
"""So far from a place, in beats, the step that stands for it may lie."""


def family_weights(family: str, role: str, ground: Ground) -> Weights:
    """How early a family takes each step in a role: 1 for the first, above 0.5 for those that it
    names, below for the others. The step that lies nearest stands for a place."""
    found = likes(role, ground) / 2
    order: Sequence[int | Fraction] = FAMILIES[family].orders.get(role, ())
    bar = ground.meter[0] * ground.beat
    for rank, sixteenth in enumerate(order):
        place = Fraction(sixteenth) / 4
        while place < ground.steps * ground.step:
            step = -int(-(place / ground.step - Fraction(1, 2)) // 1)
            if step < ground.steps and abs(step * ground.step - place) <= NEAR:
                found[step] = max(found[step], 1 - rank / (2 * len(order)))
            place += bar
    return found
