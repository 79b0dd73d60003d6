"""How far hits stand against the beat."""

from __future__ import annotations

from functools import lru_cache
from math import ceil, floor

import numpy as np
from numpy.typing import NDArray

from lattice.measures.base import Along, Measure, PerInterval
from lattice.measures.rhythms import Ground, Rhythms


@lru_cache(maxsize=128)
def lhl_pairs(ground: Ground) -> NDArray[np.float64]:
    """What a hit on step a, with step b the next hit, adds to `lhl`."""
    steps, weights = ground.steps, ground.weights
    pairs = np.zeros((steps, steps))
    for a in range(steps):
        heaviest: int | None = None  # of the rests between
        for away in range(1, steps + 1):
            b = (a + away) % steps
            if heaviest is not None and heaviest > weights[a]:
                pairs[a, b] = heaviest - weights[a]
            heaviest = weights[b] if heaviest is None else max(heaviest, weights[b])
    return pairs


def lhl(rhythms: Rhythms) -> NDArray[np.int64]:
    """Syncopation after Longuet-Higgins and Lee (The rhythmic interpretation of monophonic music,
    Music Perception 1, 1984): each hit with a heavier rest before the next hit adds the weight of
    the heaviest such rest less its own. Weights as in `Ground.weights`. 0 is not syncopated."""
    return rhythms.summed(lhl_pairs(rhythms.ground)).astype(np.int64)


@lru_cache(maxsize=128)
def wnbd_pairs(ground: Ground) -> NDArray[np.float64]:
    """What a hit on step a, with step b the next hit, adds to the sum of `wnbd`."""
    steps, places = ground.steps, ground.places
    round_ = places[steps]
    pairs = np.zeros((steps, steps))
    for a in range(steps):
        place = places[a]
        distance = min(place - floor(place), ceil(place) - place)
        if distance == 0:
            continue
        coming = ceil(place)
        for b in range(steps):
            end = places[b] + (round_ if b <= a else 0)
            pairs[a, b] = (2 if coming < end < coming + 1 else 1) / distance
    return pairs


def wnbd(rhythms: Rhythms) -> NDArray[np.float64]:
    """Weighted note-to-beat distance (Gomez, Melvin, Rappaport, Toussaint: Mathematical measures
    of syncopation, Bridges 2005): a hit at distance T > 0 from the nearest beat, in beats, adds
    2/T if it lasts beyond the next beat but ends before the one after, else 1/T; divided by the
    number of hits. A hit lasts until the next. 0 with all hits on beats, or without any."""
    sums = rhythms.summed(wnbd_pairs(rhythms.ground))
    return sums / np.maximum(rhythms.counts, 1)


LHL = Measure(
    30, "lhl", "syncopation", lhl, lambda value: f"syncopation {value:g}",
    Along("from tame to wild", "by syncopation"), compared=True, sums=PerInterval(lhl_pairs))
WNBD = Measure(
    40, "wnbd", "distance from the beat", wnbd, lambda value: f"{value:.3g} from the beat",
    Along("from the beat to off it", "by the distance from the beat"), compared=True,
    sums=PerInterval(wnbd_pairs, mean=True))
