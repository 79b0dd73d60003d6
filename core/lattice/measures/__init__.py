"""Measures of rhythms: what can be counted or worked out of where hits fall, many rhythms at once.

A measure takes `Rhythms` and gives one number for each of them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from lattice.measures.counts import density, offbeatness, onsets
from lattice.measures.evenness import evenness
from lattice.measures.intervals import ioi_entropy
from lattice.measures.rhythms import Numbers, Rhythms
from lattice.measures.syncopation import lhl, wnbd


@dataclass(frozen=True, slots=True)
class Measure:
    """A measure: its name in words, what its low and its high end are called, and the function."""

    label: str
    low: str
    high: str
    of: Callable[[Rhythms], Numbers]


MEASURES = {
    "onsets": Measure("hits", "few", "many", onsets),
    "density": Measure("density", "sparse", "dense", density),
    "evenness": Measure("evenness", "bunched", "even", evenness),
    "lhl": Measure("syncopation", "on the beat", "syncopated", lhl),
    "wnbd": Measure("distance from the beat", "at the beat", "away from it", wnbd),
    "offbeatness": Measure("off-beatness", "in the grid's divisions", "across them", offbeatness),
    "ioi_entropy": Measure("variety of intervals", "regular", "various", ioi_entropy),
}
"""Every measure of a single rhythm, in the order that they are told in."""


def measured(rhythms: Rhythms) -> list[dict[str, float]]:
    """All measures of each rhythm, by their names; whole numbers where they only count."""
    columns = {name: each.of(rhythms) for name, each in MEASURES.items()}
    return [{name: int(values[row]) if values.dtype.kind in "iu" else round(float(values[row]), 4)
             for name, values in columns.items()} for row in range(len(rhythms.hits))]
