"""Bass lines and chord lanes that follow the progression, or stay in the key without one."""

from __future__ import annotations

from typing import Any

from lattice.library.base import StartingRecipe


def _pitched(sound: str, octave: int, **lane: Any) -> dict[str, Any]:
    return {"kind": "pitched", "octave": octave, "sound": {"by": sound}} | lane


def _degrees(*values: Any, by: str = "hit") -> dict[str, Any]:
    return {"degree": {"values": list(values), "by": by}}


def _spread(pulses: int, rotation: int = 0) -> dict[str, Any]:
    return {"kind": "euclid", "pulses": pulses, "rotation": rotation}


_BASSES: list[tuple[str, str, dict[str, Any]]] = [
    ("Root on the beat", "the chord's bass, four to the bar",
     {"rule": _spread(4), "reads": "chord"}),
    ("Root and fifth", "in turns", {"rule": _spread(4), "reads": "chord",
                                    "strands": _degrees(0, 2)}),
    ("Octaves", "low and high in turns",
     {"rule": _spread(8), "reads": "chord", "gate": 60,
      "strands": {"octave": {"values": [0, 1], "by": "hit"}}}),
    ("Walk within the chord", "up and down its tones",
     {"rule": _spread(4), "arpeggio": {"order": "up-down", "restart": "chord"}}),
    ("Tresillo bass", "3+3+2", {"steps": 8, "step": "1/8", "rule": _spread(3), "reads": "chord",
                                "strands": _degrees(0, 0, 2)}),
    ("Offbeat bass", "between the beats", {"rule": _spread(4, 2), "reads": "chord", "gate": 80}),
    ("Rolling sixteenths", "three after each beat",
     {"rule": {"kind": "hand", "hits": [1, 2, 3, 5, 6, 7, 9, 10, 11, 13, 14, 15]},
      "reads": "chord", "gate": 60, "contour": {"amount": 50, "shape": [0.6, 0.8, 1]}}),
    ("Gliding bass", "overlapping notes slide",
     {"rule": _spread(5), "reads": "chord", "gate": 230, "strands": _degrees(0, 0, 2, 1),
      "sound": {"by": "bass", "set": {"glide": 35}}}),
    ("Long pedal", "one note, whatever the chord",
     {"steps": 1, "step": "1/1", "rule": _spread(1), "gate": 100}),
    ("From the chord's root", "down the key from each root",
     {"rule": _spread(6), "reads": "chord-root", "strands": _degrees(0, 0, -1, -2)}),
]
_CHORD_LANES: list[tuple[str, str, dict[str, Any]]] = [
    ("Close chords", "as they are spelled", {"voicing": "close"}),
    ("Open chords", "every second note an octave up", {"voicing": "open", "octave": 3}),
    ("Drop-2 chords", "the second from the top an octave down", {"voicing": "drop-2"}),
    ("Smooth chords", "moving as little as can be", {"voicing": "smooth"}),
    ("Offbeat stabs", "short, between the beats",
     {"steps": 16, "step": "1/16", "rule": _spread(4, 2), "gate": 60, "voicing": "smooth",
      "sound": {"by": "pluck"}}),
    ("Strummed", "spread upward, then down",
     {"steps": 4, "step": "1/4", "rule": _spread(4), "gate": 90, "strum": 20,
      "sound": {"by": "pluck"}}),
]
BASSES: tuple[StartingRecipe, ...] = tuple(
    StartingRecipe(name=name, group="basses", about=about,
                   lane=_pitched("bass", 2, near="reads" in lane) | lane)
    for name, about, lane in _BASSES)
CHORD_LANES: tuple[StartingRecipe, ...] = tuple(
    StartingRecipe(name=name, group="chord lanes", about=about,
                   lane=_pitched("pad", 4, steps=2, step="1/2", rule=_spread(2), gate=98,
                                 velocity=66, strands=_degrees({"all": "chord"})) | lane)
    for name, about, lane in _CHORD_LANES)
