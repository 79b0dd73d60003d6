"""Hat parts and other small drums."""

from __future__ import annotations

from typing import Any

from lattice.library.base import StartingRecipe


def _spread(pulses: int, rotation: int = 0) -> dict[str, Any]:
    return {"kind": "euclid", "pulses": pulses, "rotation": rotation}


_PARTS: list[tuple[str, str, dict[str, Any]]] = [
    ("Offbeat hat", "open, between the beats",
     {"note": 46, "rule": _spread(4, 2), "velocity": 88, "gate": 90}),
    ("Breathing sixteenths", "strong and weak as hands play",
     {"note": 42, "rule": _spread(16), "velocity": 92, "gate": 45, "contour": {"amount": 60},
      "vary": {"velocity": [-7, 7]}}),
    ("Twelve over sixteen", "seven of twelve, drifting",
     {"note": 42, "steps": 12, "rule": _spread(7), "gate": 55,
      "strands": {"velocity": {"values": [96, 58, 74], "by": "hit"}}}),
    ("Hats with a roll", "three strokes before the bar, half the time",
     {"note": 42, "rule": _spread(8), "gate": 50, "contour": {"amount": 40},
      "rolls": [{"step": 14, "strokes": 3, "velocity": [60, 110], "probability": 50}]}),
    ("Ratchet", "rolls that grow over the bar",
     {"note": 42, "rule": _spread(8), "gate": 45,
      "strands": {"roll": {"values": [1, 1, 2, 1, 1, 2, 3, 4], "by": "hit"}}}),
    ("Two hats walk", "closed and pedal in turns, two loudnesses",
     {"note": 42, "rule": _spread(16), "gate": 45, "arpeggio": {
         "pool": "held", "velocities": "held",
         "held": [{"note": 42, "velocity": 110}, {"note": 44, "velocity": 60}]}}),
    ("Shaker triplets", "twelve to the bar, loose",
     {"note": 70, "steps": 12, "step": "1/12", "rule": _spread(12), "velocity": 66, "gate": 50,
      "vary": {"velocity": [-10, 10], "time": [-6, 6]}, "contour": {
          "amount": 50, "shape": [1, 0.5, 0.7]}}),
    ("Sparse hat", "a third of the steps, by chance of place",
     {"note": 42, "rule": {"kind": "density", "amount": 34, "pull": -40}, "gate": 50}),
    ("Five over the bar", "fitted, against the beat",
     {"note": 70, "steps": 5, "span": "fit", "fit_bars": 1, "rule": _spread(5), "velocity": 72}),
    ("Ghost snare", "quiet hits between the beats",
     {"note": 38, "rule": _spread(5, 3), "velocity": 38, "probability": 65, "gate": 60}),
    ("Kit on a scale", "a kit walked as a scale, the kick on the beat",
     {"note": 36, "rule": _spread(11), "gate": 60, "arpeggio": {
         "pool": "scale", "order": "inside-out", "restart": "never",
         "anchor": {"note": 36, "every": 1, "unit": "beats", "mode": "instead"}}}),
]
HATS: tuple[StartingRecipe, ...] = tuple(
    StartingRecipe(name=name, group="hats and small drums", about=about, lane=lane)
    for name, about, lane in _PARTS)
