"""Hat parts and other small drums."""

from __future__ import annotations

from lattice.library.base import StartingRecipe, written

_PARTS = [
    ("Offbeat hat", "open, between the beats",
     "Open hi-hat: Spread 4 hits over 16 steps of 1/16, turned 2. Velocity 88."),
    ("Breathing sixteenths", "strong and weak as hands play",
     "Closed hi-hat: Spread 16 hits over 16 steps. Velocity 92. Give or take in velocity: -7 to "
     "+7. Contour 1 0.45 0.7 0.45 blended in by 60 %. Each lasts 45 %."),
    ("Twelve over sixteen", "seven of twelve, drifting",
     "Closed hi-hat: Spread 7 hits over 12 steps. Velocity by hit: 96 58 74. Each lasts 55 %."),
    ("Hats with a roll", "three strokes before the bar, half the time",
     "Closed hi-hat: Spread 8 hits over 16 steps. Contour 1 0.45 0.7 0.45 blended in by 40 %. "
     "Each lasts 50 %. Step 15 rolls 3 times, even, velocity 60 % to 110 %, pitch 0 to 0, 50 % "
     "of the time."),
    ("Ratchet", "rolls that grow over the bar",
     "Closed hi-hat: Spread 8 hits over 16 steps. Each lasts 45 %. Roll by hit: 1 1 2 1 1 2 3 4."),
    ("Two hats walk", "closed and pedal in turns, two loudnesses",
     "Closed hi-hat: Spread 16 hits over 16 steps. Walk up over what is held (Closed hi-hat, "
     "Pedal hi-hat) struck 110 60 through 1 octave, one note a hit, as loud as struck, beginning "
     "again in every pass. Each lasts 45 %."),
    ("Shaker triplets", "twelve to the bar, loose",
     "Maracas: Spread 12 hits over 12 steps of 1/12. Velocity 66. Give or take in velocity: -10 "
     "to +10. Contour 1 0.5 0.7 blended in by 50 %. Each lasts 50 %. Give or take in time: -6 % "
     "to +6 %."),
    ("Sparse hat", "a third of the steps, by chance of place",
     "Closed hi-hat: Fill 34 % of 16 steps of 1/16, pulled -40 to the beat. Each lasts 50 %."),
    ("Five over the bar", "fitted, against the beat",
     "Maracas: Spread 5 hits over 5 steps. Fit evenly into 1 bar. Velocity 72."),
    ("Ghost snare", "quiet hits between the beats",
     "Acoustic snare: Spread 5 hits over 16 steps of 1/16, turned 3. Velocity 38. Each lasts 60 "
     "%. Each hit sounds 65 % of the time."),
    ("Kit on a scale", "a kit walked as a scale, the kick on the beat",
     "Bass drum 1: Spread 11 hits over 16 steps. Walk inside out over the scale through 1 "
     "octave, one note a hit, beginning again never. Every 1 beat note Bass drum 1 sounds "
     "instead. Each lasts 60 %."),
]
HATS: tuple[StartingRecipe, ...] = tuple(
    written(name, "hats and small drums", about, text) for name, about, text in _PARTS)
