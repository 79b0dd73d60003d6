"""All starting recipes, family by family."""

from __future__ import annotations

from lattice.library.arpeggios import ARPEGGIOS
from lattice.library.base import StartingRecipe
from lattice.library.basses import BASSES, CHORD_LANES
from lattice.library.hats import HATS
from lattice.library.progressions import PROGRESSION_STARTS
from lattice.library.rhythms import RHYTHMS

LIBRARY: tuple[StartingRecipe, ...] = (
    *RHYTHMS, *HATS, *BASSES, *CHORD_LANES, *ARPEGGIOS, *PROGRESSION_STARTS)
