"""The fields that say which pitches a lane's hits have."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.frame import Frame
from lattice.base.group import Reach, Rounds
from lattice.base.values import Document, LaneKind, NoteNumber
from lattice.pitch.key import Key
from lattice.strands.fields import StrandFields
from lattice.strands.kinds import DEGREE, KINDS, Degree, StrandKind, Together, kind_named, setting

Register = Annotated[int, Field(ge=-1, le=9)]
Semitones = Annotated[int, Field(ge=-48, le=48)]
Strum = Annotated[float, Field(ge=-50, le=50)]
Reads = Literal["key", "chord", "chord-root", "bend"]
Voicing = Literal["close", "open", "drop-2", "smooth"]


class Transpose(Document):
    """Moved before the scale, by degrees, and after it, by semitones."""

    degrees: Degree = 0
    semitones: Semitones = 0


class PitchFields(StrandFields):
    """A drum lane has its `note`; a pitched lane reads degrees, from the register `octave` or the
    note `from` on. near: what is read of the chord goes from chord to chord the near way, a fifth
    either way of the first at most, and not always up from the register. strum: percent of the cell
    over which a chord step is spread, from the lowest note up, or from the highest down where it is
    negative."""

    kind: LaneKind = "drum"
    note: NoteNumber = 36
    octave: Register = 4
    lowest: Annotated[NoteNumber | None, Field(alias="from")] = None
    reads: Reads = "key"
    key: Key | None = None
    transpose: Transpose = Transpose()
    voicing: Voicing = "close"
    near: bool = False
    strum: Strum = 0

    @property
    def pitched(self) -> bool:
        """Whether hits are notes of a key or a chord."""
        return self.kind == "pitched"

    @property
    def reads_degrees(self) -> bool:
        """Whether pitches are read from degrees."""
        return self.pitched

    @property
    def in_scale(self) -> bool:
        """Whether a key says which notes the lane may have."""
        return self.pitched

    def kinds(self) -> list[StrandKind]:
        """The kinds of strands that such a lane reads, and those that set the controllers that it
        sets."""
        return [*(self.strand_kind(kind.name) for kind in KINDS.values()
                  if self.kind in kind.lanes), *self.setting]

    def strand_kind(self, name: str) -> StrandKind:
        """The kind of strand with this name, between the bounds that its values have in this lane;
        RecipeError if there is none."""
        return kind_named(name)

    @property
    def setting(self) -> list[StrandKind]:
        """The kinds of strands that set its controllers."""
        return [setting(number) for number in self.controls] if self.kind != "control" else []

    @property
    def has_register(self) -> bool:
        """Whether its pitches are found from a lowest note on."""
        return self.pitched

    @property
    def bottom(self) -> int:
        """The note that its register begins with, 0 to 127."""
        return self.lowest if self.lowest is not None else 12 * (self.octave + 1)

    def base(self, pitch_class: int) -> int:
        """The lowest note of a pitch class in the lane's register."""
        return self.bottom + (pitch_class - self.bottom) % 12

    @property
    def counts_from_chord(self) -> bool:
        """Whether its degrees are counted from the sounding chord."""
        return self.reads in ("chord", "chord-root")

    @property
    def whole_chords(self) -> bool:
        """Whether a step may sound every tone of the chord."""
        strand = self.strands.of(DEGREE)
        return strand is not None and any(
            isinstance(value, Together) and value.all == "chord" for value in strand.values)

    @property
    def chord_steps(self) -> bool:
        """Whether several degrees may sound on a hit."""
        strand = self.strands.of(DEGREE)
        return strand is not None and any(isinstance(v, Together) for v in strand.values)

    @property
    def takes_chord(self) -> bool:
        """Whether pitches may depend on the sounding chord."""
        strand = self.strands.of(DEGREE)
        return self.reads != "key" or (strand is not None and any(
            isinstance(value, Together) and value.all == "chord" for value in strand.values))

    @property
    def smooth(self) -> bool:
        """Whether a chord step moves from the one before it."""
        return self.voicing == "smooth" and self.chord_steps

    def thickness(self, lasts: float) -> float:
        """About how many notes a hit has, at most, if it lasts so many beats."""
        return 8 if self.pitched and self.chord_steps else 1

    def add_rounds(self, rounds: Rounds) -> None:
        super().add_rounds(rounds)
        if self.pitched and (self.takes_chord or self.smooth):
            rounds.by_chords()

    def add_reach(self, reach: Reach, frame: Frame, cell: float) -> None:
        super().add_reach(reach, frame, cell)
        if self.pitched and self.chord_steps:
            reach.later(cell * abs(self.strum) / 100)

    def strays(self) -> bool:
        return super().strays() or self.pitched
