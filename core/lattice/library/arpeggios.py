"""Arpeggios and melodies."""

from __future__ import annotations

from typing import Any

from lattice.library.base import StartingRecipe


def _spread(pulses: int) -> dict[str, Any]:
    return {"kind": "euclid", "pulses": pulses}


_WALKS: list[tuple[str, str, str, dict[str, Any], dict[str, Any]]] = [
    ("Up two octaves", "sixteenths", "pluck", {"octaves": 2}, {"rule": _spread(16), "gate": 70}),
    ("Up and down", "ends once", "bell", {"octaves": 2, "order": "up-down"},
     {"rule": _spread(9), "gate": 120}),
    ("Outside in", "lowest and highest in turns", "glass", {"octaves": 2, "order": "outside-in"},
     {"rule": _spread(8), "gate": 100}),
    ("Thirteen against the bar", "drifting, never beginning again", "bell",
     {"octaves": 2, "order": "up-down-twice", "restart": "never"},
     {"steps": 13, "rule": _spread(8), "gate": 90}),
    ("Wanderer", "one down, the same, or one up", "reed", {"pool": "scale", "order": "wander",
                                                           "octaves": 2},
     {"rule": _spread(10), "gate": 90}),
    ("Shuffled chord", "each once before any twice", "pluck", {"octaves": 2, "order": "shuffle"},
     {"rule": _spread(11), "gate": 70}),
    ("Triplets over sixteenths", "a second walk breaks each note up", "glass",
     {"second": {"step": "1/24", "octaves": 2}}, {"rule": _spread(4), "gate": 390}),
    ("Anchored", "the root comes back every beat", "pluck",
     {"octaves": 2, "order": "down",
      "anchor": {"note": "root", "every": 1, "unit": "beats", "mode": "instead"}},
     {"rule": _spread(11), "gate": 80}),
    ("Chord, then its notes", "all of them on the first hit", "bell",
     {"first": "all", "order": "up-down", "restart": "chord"}, {"rule": _spread(7), "gate": 150}),
    ("Five-note cell", "a scale's corner, against three", "pluck",
     {"pool": "scale", "order": [0, 2, 1, 4, 3], "restart": "never"},
     {"steps": 12, "rule": _spread(7), "gate": 70}),
]
_MELODIES: list[tuple[str, str, str, dict[str, Any]]] = [
    ("Seven over five", "a strand of seven degrees, five hits", "bell",
     {"rule": _spread(5), "gate": 140,
      "strands": {"degree": {"values": [0, 4, 2, 5, 1, 7, 3], "by": "hit"}}}),
    ("Drawn anew", "ranges: other notes each time", "reed",
     {"rule": _spread(6), "gate": 110,
      "strands": {"degree": {"values": [0, [2, 5], 4, [-2, 1]], "by": "hit"}}}),
    ("Bent to the chord", "a line that gives way to the harmony", "glass",
     {"rule": _spread(7), "reads": "bend", "gate": 130,
      "strands": {"degree": {"values": [0, 1, 2, 4, 6, 5, 3], "by": "hit"}}}),
]
ARPEGGIOS: tuple[StartingRecipe, ...] = (
    *(StartingRecipe(name=name, group="arpeggios", about=about, lane={
        "kind": "pitched", "sound": {"by": sound}, "arpeggio": walk} | lane)
      for name, about, sound, walk, lane in _WALKS),
    *(StartingRecipe(name=name, group="melodies", about=about, lane={
        "kind": "pitched", "octave": 5, "sound": {"by": sound}} | lane)
      for name, about, sound, lane in _MELODIES),
)
