"""Arpeggios and melodies."""

from __future__ import annotations

from lattice.library.base import StartingRecipe, written

_WALKS = [
    ("Up two octaves", "sixteenths",
     "Melody: Spread 16 hits over 16 steps. Walk up over the chord through 2 octaves up from "
     "octave 4 up, one note a hit. Each lasts 70 %. Heard as pluck."),
    ("Up and down", "ends once",
     "Melody: Spread 9 hits over 16 steps. Walk up and down over the chord through 2 octaves up "
     "from octave 4 up, one note a hit. Each lasts 120 %."),
    ("Outside in", "lowest and highest in turns",
     "Melody: Spread 8 hits over 16 steps. Walk outside in over the chord through 2 octaves up "
     "from octave 4 up, one note a hit. Each lasts 100 %. Heard as glass."),
    ("Thirteen against the bar", "drifting, never beginning again",
     "Melody: Spread 8 hits over 13 steps. Walk up and down, ends twice over the chord through 2 "
     "octaves up from octave 4 up, one note a hit, beginning again never."),
    ("Wanderer", "one down, the same, or one up",
     "Melody: Spread 10 hits over 16 steps. Walk wandering over the scale through 2 octaves up "
     "from octave 4 up, one note a hit. Heard as reed."),
    ("Shuffled chord", "each once before any twice",
     "Melody: Spread 11 hits over 16 steps. Walk shuffled over the chord through 2 octaves up "
     "from octave 4 up, one note a hit. Each lasts 70 %. Heard as pluck."),
    ("Triplets over sixteenths", "a second walk breaks each note up",
     "Melody: Spread 4 hits over 16 steps. Walk up over the chord through 1 octave from octave 4 "
     "up, one note a hit. All that sounds is walked again every 1/24 up through 2 octaves. Each "
     "lasts 390 %. Heard as glass."),
    ("Anchored", "the root comes back every beat",
     "Melody: Spread 11 hits over 16 steps. Walk down over the chord through 2 octaves up from "
     "octave 4 up, one note a hit. Every 1 beat the root sounds instead. Each lasts 80 %. Heard "
     "as pluck."),
    ("Chord, then its notes", "all of them on the first hit",
     "Melody: Spread 7 hits over 16 steps. Walk up and down over the chord through 1 octave from "
     "octave 4 up, all of them on the first, beginning again with the chord. Each lasts 150 %."),
    ("Five-note cell", "a scale's corner, against three",
     "Melody: Spread 7 hits over 12 steps. Walk in its own order 1, 3, 2, 5, 4 over the scale "
     "through 1 octave from octave 4 up, one note a hit, beginning again never. Each lasts 70 %. "
     "Heard as pluck."),
]
_MELODIES = [
    ("Seven over five", "a strand of seven degrees, five hits",
     "Melody: Spread 5 hits over 16 steps. Degrees of the key, from octave 5 up, by hit: 0 4 2 5 "
     "1 7 3. Each lasts 140 %."),
    ("Drawn anew", "ranges: other notes each time",
     "Melody: Spread 6 hits over 16 steps. Degrees of the key, from octave 5 up, by hit: 0, 2-5, "
     "4, -2 to 1. Each lasts 110 %. Heard as reed."),
    ("Bent to the chord", "a line that gives way to the harmony",
     "Melody: Spread 7 hits over 16 steps. Degrees bent to the chord, from octave 5 up, by hit: "
     "0 1 2 4 6 5 3. Each lasts 130 %. Heard as glass."),
]
ARPEGGIOS: tuple[StartingRecipe, ...] = tuple(
    written(name, group, about, text)
    for group, table in (("arpeggios", _WALKS), ("melodies", _MELODIES))
    for name, about, text in table)
