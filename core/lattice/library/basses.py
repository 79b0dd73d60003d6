"""Bass lines and chord lanes that follow the progression, or stay in the key without one."""

from __future__ import annotations

from lattice.library.base import StartingRecipe, written

_BASSES = [
    ("Root on the beat", "the chord's bass, four to the bar",
     "Melody: Spread 4 hits over 16 steps. Degree 0, of the chord, from octave 2 up. From chord "
     "to chord it goes the near way. Heard as bass."),
    ("Root and fifth", "in turns",
     "Melody: Spread 4 hits over 16 steps. Degrees of the chord, from octave 2 up, by hit: 0 2. "
     "From chord to chord it goes the near way. Heard as bass."),
    ("Octaves", "low and high in turns",
     "Melody: Spread 8 hits over 16 steps. Degree 0, of the chord, from octave 2 up. Octave by "
     "hit: 0 1. From chord to chord it goes the near way. Each lasts 60 %. Heard as bass."),
    ("Walk within the chord", "up and down its tones",
     "Melody: Spread 4 hits over 16 steps. Walk up and down over the chord through 1 octave from "
     "octave 2 up, one note a hit, beginning again with the chord. Heard as bass."),
    ("Tresillo bass", "3+3+2",
     "Melody: Spread 3 hits over 8 steps of 1/8. Degrees of the chord, from octave 2 up, by hit: "
     "0 0 2. From chord to chord it goes the near way. Heard as bass."),
    ("Offbeat bass", "between the beats",
     "Melody: Spread 4 hits over 16 steps of 1/16, turned 2. Degree 0, of the chord, from octave "
     "2 up. From chord to chord it goes the near way. Each lasts 80 %. Heard as bass."),
    ("Rolling sixteenths", "three after each beat",
     "Melody: Play steps 2 3 4 6 7 8 10 11 12 14 15 16 by hand. Degree 0, of the chord, from "
     "octave 2 up. From chord to chord it goes the near way. Contour 0.6 0.8 1 blended in by 50 "
     "%. Each lasts 60 %. Heard as bass."),
    ("Gliding bass", "overlapping notes slide",
     "Melody: Spread 5 hits over 16 steps. Degrees of the chord, from octave 2 up, by hit: 0 0 2 "
     "1. From chord to chord it goes the near way. Each lasts 230 %. Heard as bass, bright 40 %, "
     "punch 45 %, growl 20 %, glide 35 %."),
    ("Long pedal", "one note, whatever the chord",
     "Melody: Spread 1 hit over 1 step of 1. Degree 0, of the key, from octave 2 up. Each lasts "
     "100 %. Heard as bass."),
    ("From the chord's root", "down the key from each root",
     "Melody: Spread 6 hits over 16 steps. Degrees from the chord's root, from octave 2 up, by "
     "hit: 0 0 -1 -2. From chord to chord it goes the near way. Heard as bass."),
]
_CHORD_LANES = [
    ("Close chords", "as they are spelled",
     "Melody: Spread 2 hits over 2 steps of 1/2. Degrees of the key, from octave 4 up, by hit: "
     "chord. Chords lie close. Velocity 66. Each lasts 98 %. Heard as pad."),
    ("Open chords", "every second note an octave up",
     "Melody: Spread 2 hits over 2 steps of 1/2. Degrees of the key, from octave 3 up, by hit: "
     "chord. Chords lie open. Velocity 66. Each lasts 98 %. Heard as pad."),
    ("Drop-2 chords", "the second from the top an octave down",
     "Melody: Spread 2 hits over 2 steps of 1/2. Degrees of the key, from octave 4 up, by hit: "
     "chord. Chords lie drop 2. Velocity 66. Each lasts 98 %. Heard as pad."),
    ("Smooth chords", "moving as little as can be",
     "Melody: Spread 2 hits over 2 steps of 1/2. Degrees of the key, from octave 4 up, by hit: "
     "chord. Chords lie smooth. Velocity 66. Each lasts 98 %. Heard as pad."),
    ("Offbeat stabs", "short, between the beats",
     "Melody: Spread 4 hits over 16 steps of 1/16, turned 2. Degrees of the key, from octave 4 "
     "up, by hit: chord. Chords lie smooth. Velocity 66. Each lasts 60 %. Heard as pluck."),
    ("Strummed", "spread upward, then down",
     "Melody: Spread 4 hits over 4 steps of 1/4. Degrees of the key, from octave 4 up, by hit: "
     "chord. Chords lie close, strummed over 20 % of the step. Velocity 66. Heard as pluck."),
]
BASSES: tuple[StartingRecipe, ...] = tuple(
    written(name, "basses", about, text) for name, about, text in _BASSES)
CHORD_LANES: tuple[StartingRecipe, ...] = tuple(
    written(name, "chord lanes", about, text) for name, about, text in _CHORD_LANES)
