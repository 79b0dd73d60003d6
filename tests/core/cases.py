"""What the page works out by itself, so that it follows a hand at once, as the core works it out:
`python -m tests.core.cases` prints cases that both have to agree on (web/testing/cases.json)."""

import json
import sys
from collections.abc import Iterator
from dataclasses import asdict
from fractions import Fraction
from typing import Any

from lattice.clip.document import Clip, ClipLane, ClipNote
from lattice.clip_edits import AnyClipEdit, change_clip
from lattice.pitch.key import Key
from lattice.pitch.names import told_note
from lattice.pitch.shown import shown_scale
from pydantic import TypeAdapter

KEYS = [Key(root=root, scale=scale) for root, scale in (
    (0, "major"), (2, "dorian"), (10, "minor"), (6, "minor-pentatonic"), (3, "chromatic"))]
EDIT: TypeAdapter[Any] = TypeAdapter(AnyClipEdit)
NOTES = [(0.0, 0.5, 36, 100, "pump"), (0.25, 1.0, 61, 1, "fern"), (1.5, 0.25, 62, 64, "fern"),
         (1.5, 0.5, 70, 127, "fern"), (3.75, 0.25, 42, 90, "pump")]
TUNED = {3.75: -5.0}
MOVES: list[dict[str, Any]] = [
    *({"do": "move_notes", "later": later} for later in (-9.0, -0.25, 0.25, 9.0)),
    *({"do": "move_notes", "degrees": degrees} for degrees in (-9, -1, 1, 2, 8)),
    {"do": "move_notes", "later": 0.5, "degrees": 1, "semitones": -1},
    {"do": "move_notes", "later": 0.5, "degrees": 2, "copy_them": True},
    *({"do": "lengthen_notes", "by": by} for by in (-4.0, -0.125, 0.5)),
    *({"do": "louden_notes", "by": by} for by in (-126, -5, 5, 126)),
]


def clip_in(key: Key) -> Clip:
    lanes = (ClipLane(id="pump", name="Pump", kind="drum"),
             ClipLane(id="fern", name="Fern", kind="pitched"))
    notes = tuple(ClipNote(start=start, length=length, pitch=pitch, velocity=velocity, lane=lane,
                           channel=10 if lane == "pump" else 1, tune=TUNED.get(start, 0))
                  for start, length, pitch, velocity, lane in NOTES)
    return Clip(name="Bud", tempo=98, meter=(4, 4), beats=Fraction(4), key=key, lanes=lanes,
                notes=notes)


def told(clip: Clip) -> list[list[float]]:
    """The notes as the page has them, in one order for both."""
    places = {lane.id: place for place, lane in enumerate(clip.lanes)}
    return sorted([note.start, note.length, note.pitch, note.velocity, places[note.lane], note.tune]
                  for note in clip.notes)


def moves() -> Iterator[dict[str, Any]]:
    for number, move in enumerate(MOVES):
        for key in KEYS[number % 2::2]:
            chosen = [[1, 2, 3], [0, 2], [4]][number % 3]
            before = clip_in(key)
            after = change_clip(before, [EDIT.validate_python(move | {"notes": chosen})]).clip
            yield {"scale": asdict(shown_scale(key)), "chosen": chosen, "move": move,
                   "before": told(before), "after": told(after)}


def cases() -> dict[str, Any]:
    """Notes and their names in keys, steps up a scale, and notes of a clip before and after they
    were moved."""
    return {
        "names": [{"scale": asdict(shown_scale(key)),
                   "called": [told_note(pitch, key) for pitch in range(128)]} for key in KEYS],
        "steps": [{"scale": asdict(shown_scale(key)), "from": pitch,
                   "to": [key.from_note(pitch, steps) for steps in range(1, 10)]}
                  for key in KEYS for pitch in (60, 61, 63, 67)],
        "moves": list(moves()),
    }


if __name__ == "__main__":
    sys.stdout.write(json.dumps(cases(), separators=(",", ":")) + "\n")
