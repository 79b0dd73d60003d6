"""The demo: "Glasshouse After Dark", music for a night walk through a botanical glasshouse."""

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from lattice import Block, MakeFill, Order, read_text

from studio.models import Pattern, Piece
from studio.stored import orders, patterns, trail

DEMO_USER = "glasshouse"


PIECES = {
    "Sprinklers": """\
Drizzle, pattern: A frame of 1 bar of 4/4 at 124 bpm. In D dorian. Swing 56 % on 1/16. Rerolled to
    7.
Pump, bass drum 1: Spread 4 hits over 16 steps. Velocity 112.
Valve, acoustic snare: Spread 2 hits over 16 steps of 1/16, turned 4. Velocity 98. Each lasts
    120 %.
Drip, closed hi-hat: Spread 7 hits over 12 steps. Velocity by hit: 96 58 74. Give or take in
    velocity: -9 to +9. Accent every 3rd hit by +24. Each lasts 60 %. Each hit sounds by hit: 100
    55 80. Step 3 rolls 3 times, even, velocity 100 % to 55 %.
Fan, maracas: Spread 4 hits over 5 steps. Fit evenly into the frame. Velocity 78. Each hit sounds
    by step: 100 60.
Fern, hi wood block: Spread 5 hits over 9 steps of 1/16, turned 1. Velocity 70. Each lasts 70 %.
    Nudge by step: 0 6 12.
Mist, tambourine: Fill the gaps of Drip wholly with 12 steps. Keep every 3rd hit from the 2nd on,
    counted on. Velocity 62. Each hit sounds 55 % of the time.

Downpour, pattern: A frame of 2 bars of 4/4 at 124 bpm. In D dorian. All chances at 95 %. Rerolled
    to 11.
Pump, bass drum 1: Play steps 1 5 8 9 13 by hand. Velocity 114.
Valve, hand clap: Spread 2 hits over 16 steps of 1/16, turned 4. Velocity 96.
Drip, closed hi-hat: Spread 21 hits over 32 steps of 1/32. Velocity 80. Give or take in velocity:
    -6 to +6. Contour 1 0.45 0.7 0.45 blended in by 60 %. Each lasts 50 %. Each hit sounds 85 % of
    the time. From beat 4 for 1 beat in steps of 1/24, 70 % human. From beat 7 for 1 beat in steps
    of 1/16, 20 % human. From beat 8 for 1 beat in steps of 1/48.
Fan, open hi-hat: Spread 4 hits over 16 steps of 1/16, turned 2. Velocity 84. Each lasts 150 %. Tie
    by hit: 0 0 1 0.
Fern, claves: Spread 3 hits over 7 steps. Fit evenly into the frame. Velocity 72.
Mist, cabasa: Fill 45 % of 16 steps of 1/16, pulled -60 to the beat. Velocity 58. Give or take in
    velocity: -12 to +12. Give or take in time: -5 % to +5 %.
""",
    "Pump Room": """\
Idle, pattern: A frame of 2 bars of 4/4 at 98 bpm. In A minor. Swing 61 % on 1/16. In the 2nd of
    every 4 passes a gust blows 0.4 away over Fern and no other lane, another each time. Rerolled
    to 3.
Pump, bass drum 1: Play steps 1 4 8 11 by hand. Velocity 110.
Valve, acoustic snare: Spread 2 hits over 16 steps of 1/16, turned 4. From beat 8 + 1/2 for 1/2
    beat rolls 6 times (strokes of 1/48), gathering, velocity 45 % to 100 %, pitch 0 to 0, 60 % of
    the time, in every pass.
Drip, closed hi-hat: Spread 11 hits over 16 steps. Velocity by hit: 92 60 78 50 70. Each lasts
    55 %. Step 15 only in the 2nd of every 2 passes.
Fan, cowbell: Take pattern 813 with 5 hits in 14 steps. Velocity 66. Each lasts 60 %. Straight,
    whatever the pattern's swing.
Fern, low wood block: Spread 3 hits over 10 steps of 1/16, turned 2. Cycle freely, bouncing.
    Velocity 74. Each lasts by hit: 60 180 90.
Mist, pedal hi-hat: Answer every 2nd hit of Pump, 1/2 of the way to its next, on 8 steps of 1/8.
    Cycle freely. Velocity 70.

Pressure, pattern: A frame of 1 bar of 4/4 at 98 bpm. In A minor. Rerolled to 5.
Pump, acoustic bass drum: Spread 5 hits over 16 steps. Step 15 plays by hand. Velocity 112.
Valve, electric snare: Spread 2 hits over 16 steps of 1/16, turned 4. Velocity 102.
Drip, closed hi-hat: Spread 16 hits over 24 steps of 1/24. Cycle freely, bouncing. Only steps 1 to
    18. Velocity by hit: 90 52 66. Each lasts 50 %.
Fan, crash cymbal 1: Play step 1 by hand. Once in each pass. Velocity 80. Each lasts 400 %. Step 1
    only in the 1st of every 4 passes.
Fern, low conga: Spread 4 hits over 9 steps. Cycle freely, bouncing, ends twice. Velocity 82. Of
    steps 3 5 8 only one sounds.
Mist, maracas: Spread 5 hits over 5 steps. Fit evenly into the frame. Velocity 54. Each hit sounds
    70 % of the time. Let the chance move in a wave from 70 % to 20 % and back over 8 bars.
""",
    "Night Bloom": """\
Bud, pattern: A frame of 1 bar of 7/8 at 136 bpm. In E phrygian. Rerolled to 21.
Pump, bass drum 1: Play steps 1 7 11 by hand, of 14 steps. Velocity 104.
Valve, side stick: Play steps 5 13 by hand, of 14 steps. Velocity 86.
Drip, closed hi-hat: Spread 4 hits over 7 steps of 1/8. Played in reverse. Velocity 76. Each lasts
    45 %.
Fan, open triangle: Spread 3 hits over 5 steps. Fit evenly into 2 bars. Velocity 64. Each lasts
    300 %.
Fern, hi wood block: Spread 4 hits over 9 steps. Cycle freely, wandering. Octave by step: 0 0 1.
    Velocity 68. Swing of its own: 60 % on 1/8.
Mist, cabasa: Spread 9 hits over 14 steps. Cycle freely, in random order. Velocity 50. Give or take
    in velocity: -14 to +14. Each hit sounds 80 % of the time. All chances are taken at 90 %. Roll
    on through time: 1 1 1 2.

Open, pattern: A frame of 2 bars of 7/8 at 136 bpm. In E phrygian. Swing 54 % on 1/16. Rerolled to
    22.
Pump, bass drum 1: Spread 4 hits over 14 steps. Velocity 110.
Valve, acoustic snare: Play steps 5 12 by hand, of 14 steps. Starts again every 1 bar. Velocity 96.
Drip, closed hi-hat: Spread 9 hits over 14 steps. Flipped: hits rest and rests play. Drop every 4th
    hit. Velocity 82. Each lasts 50 %. From beat 4 for 1/2 beat rolls 3 times (strokes of 1/24),
    even, velocity 60 % to 110 %, pitch 0 to 0, 100 % of the time, in every pass. From beat 7 for 1
    beat rolls 6 times (strokes of 1/24), slackening, velocity 115 % to 45 %, pitch 0 to -7, 100 %
    of the time, in the 2nd of every 2 passes. Tuned strokes leave untuned.
Fan, ride bell: Spread 3 hits over 7 steps of 1/12. Velocity 72. Each lasts 200 %.
Fern, high agogo: Spread 5 hits over 11 steps of 1/16, turned 2. Cycle freely, backward. Velocity
    70. Steps 1 3 6 sound together 60 % of the time.
Mist, tambourine: Fill the gaps of Pump wholly with 14 steps. Shifted by 1/64 of a whole note. Keep
    every 2nd hit. Velocity 56. Give or take in velocity: -20 to +20. Loudness squeezed by 40 %
    toward 56.
""",
    "Canopy Walk": """\
Canopy, pattern: A frame of 2 bars of 4/4 at 118 bpm. In D dorian. Chords i7 IV7 bVII bIII for 8 4
    4 16 beats. Rerolled to 31.
Pump, bass drum 1: Spread 4 hits over 16 steps. Velocity 108.
Drip, closed hi-hat: Spread 11 hits over 16 steps. Velocity by hit: 92 58 74. Each lasts 50 %.
Root, melody, channel 2: Spread 6 hits over 16 steps. Degrees of the chord, from octave 2 up, by
    hit: 0 0 2 0 1. From chord to chord it goes the near way. Velocity 104. Each lasts 80 %. Heard
    as bass.
Bells, melody, channel 3: Spread 9 hits over 16 steps. Walk up and down over the chord through 2
    octaves up from octave 4 up, one note a hit, beginning again with the chord. Every 4 beats the
    root sounds as well. Velocity by hit: 96 64 78. Each lasts 120 %. Each hit sounds 90 % of the
    time.
Pads, melody, channel 4: Play steps 1 3 by hand, of 4 steps of 1/2. Degrees of the key, from octave
    3 up, by hit: chord. Chords lie smooth. Velocity 62. Each lasts 96 %. Heard as pad.
Glow, controller, channel 3: Spread 8 hits over 8 steps of 1/4. Glide brightness (74) evenly.
    Values from their strand, ranges drawn evenly, by hit: 58 82 74 70-118 90 60-110.

Cistern, pattern: A frame of 1 bar of 4/4 at 118 bpm. In D dorian. Swing 55 % on 1/16. Rerolled to
    32.
Kettle, bass drum 1: Spread 11 hits over 16 steps. Walk in its own order 1, 2, rest, 3, 2, hold, 4,
    1 with 4 over notes of its own Bass drum 1, Closed hi-hat, Acoustic snare, Closed hi-hat, Open
    hi-hat through 1 octave, one note a hit, beginning again every so many hits. Every 4 beats note
    Bass drum 1 sounds instead. Velocity 96. Each lasts 60 %.
Lids, hi bongo: Spread 7 hits over 12 steps. Walk shuffled over the scale through 1 octave, one
    note a hit, beginning again in every pass, with Claves for Mute hi conga. Velocity by hit: 84
    56 70. Each lasts 50 %. Heard on the kit tin, ring 20 % to 70 %. Its sound is drawn for each
    hit anew.
Root, melody, channel 2: Spread 5 hits over 16 steps. Degrees of the key, from octave 2 up, by hit:
    0 0 4 0 3 6 -1. Heard as bass.
Reed, melody, channel 3: Spread 4 hits over 10 steps of 1/16, turned 1. Degrees bent to the chord,
    from octave 5 up, by hit: 0, 2-4, 1, 5, -1 to 2. Velocity 70. Each lasts 150 %. Heard as reed,
    bright 50 %, breath 20 %, swell 15 %, glide 30 %.
Glass, melody, channel 4: Spread 3 hits over 8 steps of 1/8. Walk outside in over the chord through
    3 octaves up from octave 4 up, one note a hit, beginning again never. All that sounds is walked
    again every 1/24 up through 2 octaves. Velocity 66. Each lasts 200 %. Heard as glass.
Glow, controller, channel 3: Play where Reed plays, on 10 steps. Cycle freely. Value from Reed’s
    velocity, from 40 to 110.
Mist, controller, channel 4: Spread 4 hits over 4 steps of 1/4. Glide pan (10) evenly. Let the
    value move in a wave from 30 to 98 and back over 8 bars.
""",
}
"""The pieces: the texts of their patterns."""

ORDERS: dict[str, tuple[tuple[int, int] | None, list[tuple[str, dict[str, Any]]]]] = {
    "Sprinklers": ((2, 3), [
        ("Drizzle", {"count": 2}), ("Downpour", {}), ("Drizzle", {"first": 2}),
        ("Downpour", {"speed": "1/2", "without": ["mist"]}), ("Drizzle", {"count": 2})]),
    "Night Bloom": (None, [
        ("Bud", {"count": 4}), ("Open", {"count": 2}), ("Bud", {"count": 2, "speed": "3/2"}),
        ("Open", {"count": 1, "unit": "bars"})]),
    "Canopy Walk": (None, [
        ("Canopy", {"count": 2}), ("Cistern", {"count": 4}), ("Canopy", {"degrees": 3}),
        ("Canopy", {"key": {"root": 2, "scale": "minor"}, "without": ["drip"]})]),
}
"""The order of a piece's patterns: its brackets, and its blocks by their patterns' names."""

FILLS = {"Idle": 3}
"""Patterns whose last bar is a fill in every fourth pass, and by which throw."""


def demo_user() -> User:
    """The demo's account; nobody knows its password, as it has none."""
    user, made = User.objects.get_or_create(username=DEMO_USER)
    if made:
        user.set_unusable_password()
        user.save()
    return user


@transaction.atomic
def load() -> bool:
    """Make the demo's pieces, unless its account has pieces already; whether it did."""
    user = demo_user()
    if Piece.objects.filter(owner=user).exists():
        return False
    for name, text in PIECES.items():
        piece = Piece.objects.create(owner=user, name=name)
        for read in read_text(text).patterns:
            pattern_name, recipe = read.name, read.recipe
            if pattern_name in FILLS:
                recipe = MakeFill(do="make_fill", throw=FILLS[pattern_name]).apply(recipe)
            pattern = patterns.begin(piece, pattern_name, recipe)
            _shelve(pattern, 4 if pattern_name in ("Drizzle", "Idle") else 2)
        if name in ORDERS:
            between, blocks = ORDERS[name]
            numbers = {pattern.name: pattern.pk for pattern in piece.patterns.all()}
            orders.begin(piece, Order(between=between, blocks=tuple(
                Block.model_validate({"pattern": numbers[pattern]} | fields)
                for pattern, fields in blocks)))
    return True


def _shelve(pattern: Pattern, bars: int) -> None:
    """Put the pattern's first bars on the Shelf."""
    trail.keep(pattern, trail.of_bars(pattern, pattern.state, [], 0, bars))
