"""Drums that are tuned: the pitch of a roll on a drum lane, and how it leaves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lattice.base.clauses import ClauseKind, Names, Part
from lattice.base.controllers import Number
from lattice.base.values import half_up
from lattice.base.words import choice
from lattice.features.movement import MovementFields
from lattice.features.rolls import RollFields

Tuned = Literal["unsent", "bend", "notes"]
TUNED_WORDS = {
    "unsent": ("untuned", "the tuning is heard here; files and ports have the drum as it is"),
    "bend": ("by pitch bend", "where no other lane has the channel"),
    "notes": ("as other notes", "here too: the pitch chooses another drum"),
}
RANGES = 2, 12, 24
"""The semitones that pitch bend may be set to reach, either way."""
FULL = 8192
"""Pitch bend goes so far either way, one less upward."""
SET_BY_TUNING: tuple[Number, ...] = 101, 100, 6, "bend"
"""What a tuning sets before a stroke: the registered parameter 0, its range in semitones, and the
bend (MIDI 1.0, registered parameter numbers, MMA 1995)."""


class TuningFields(RollFields, MovementFields):
    """How what a drum lane is tuned by leaves."""

    tuned: Tuned = "unsent"

    @property
    def strikes_drum(self) -> bool:
        """Whether its hits strike the lane's own drum, which a roll may tune."""
        return self.kind == "drum" and self.walks is None

    @property
    def tunable(self) -> bool:
        """Whether the pitch of a roll tunes a drum, and chooses no other note."""
        return self.strikes_drum and self.tuned != "notes"

    @property
    def tuning(self) -> float:
        """How many semitones a stroke is tuned up or down at the most, whatever the bar."""
        if not self.strikes_drum:
            return 0
        ends = [end for roll in self.rolls for end in roll.pitch]
        for path in self.paths:
            if ".pitch." in path.word:
                ends += path.drawn or (path.first, path.last)
        return max(map(abs, ends), default=0)

    def strays(self) -> bool:
        return super().strays() or (self.tuned == "notes" and self.tuning != 0)


def bend_range(semitones: float) -> int | None:
    """The least range of pitch bend that reaches so far; None where none does."""
    return next((reach for reach in RANGES if semitones <= reach), None)


def tuned_by(semitones: float, reach: int) -> Sequence[tuple[Number, int]]:
    """What is set before a stroke that is tuned, with pitch bend reaching so many semitones."""
    bend = min(half_up(semitones * FULL / reach), FULL - 1)
    return list(zip(SET_BY_TUNING, (0, 0, reach, bend), strict=True))


def _present(lane: TuningFields) -> bool:
    return lane.strikes_drum and (lane.tuning != 0 or lane.tuned != "unsent")


def _parts(lane: TuningFields, names: Names) -> list[Part]:
    return ["Tuned strokes leave ", choice("tuned", "how tuned strokes leave", lane.tuned,
                                           TUNED_WORDS), "."]


TUNED = ClauseKind[TuningFields]("tuned", "tuning of strokes", _present, _parts,
                                 forms=lambda lane: ({"tuned": "bend"},))
