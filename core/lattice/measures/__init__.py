"""Measures of rhythms: what can be counted or worked out of where hits fall, many rhythms at once.

A module in this package that holds a Measure has made it one (`lattice.measures.base`); nothing
else needs to be told about it.
"""

from lattice.base.found import entries
from lattice.measures.base import Measure
from lattice.measures.rhythms import Rhythms

MEASURES: dict[str, Measure] = entries(__name__, __path__, Measure)
"""Every measure of a single rhythm, in the order that they are told in."""


def measured(rhythms: Rhythms) -> list[dict[str, float]]:
    """All measures of each rhythm, by their names; whole numbers where they only count."""
    columns = {name: each.of(rhythms) for name, each in MEASURES.items()}
    return [{name: int(values[row]) if values.dtype.kind in "iu" else round(float(values[row]), 4)
             for name, values in columns.items()} for row in range(len(rhythms.hits))]
