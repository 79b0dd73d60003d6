"""A fill from a loop."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.clauses import Part
from lattice.base.errors import RecipeError
from lattice.base.values import Lasting, Percent, half_up, limits
from lattice.base.words import fraction, number, percent
from lattice.clip.document import MOST_BEATS
from lattice.tools.base import ChanceTool, Chosen, Made
from lattice.tools.split import Split
from lattice.tools.stir import Stir, stirred

Rounds = Annotated[int, Field(ge=1, le=32)]
Strokes = Annotated[int, Field(ge=2, le=8)]


class Fill(ChanceTool):
    """Play the clip round so many times, and in the last beats of the last stir a share of the
    notes and split another into strokes. Works on the whole clip, whatever is chosen."""

    tool: Literal["fill"] = "fill"
    place = 150
    label = "make a fill"
    about = "the loop goes round, and ends otherwise"
    rounds: Rounds = 4
    beats: Lasting = Fraction(4)
    stir: Percent = 50
    split: Percent = 20
    strokes: Strokes = 3

    @property
    def effort(self) -> float:
        return self.rounds * super().effort

    def parts(self) -> Sequence[Part]:
        return ["Play it ", number("rounds", "times", self.rounds, *limits(Rounds)),
                f" {'time' if self.rounds == 1 else 'times'}; in the last ",
                fraction("beats", "beats of the fill", self.beats, Fraction(1, 4), Fraction(64),
                         ["1", "2", "4", "8"]),
                " beats stir ", percent("stir", "share stirred", self.stir, *limits(Percent)),
                " of the notes and split ",
                percent("split", "share split", self.split, *limits(Percent)), " into ",
                number("strokes", "strokes", self.strokes, *limits(Strokes)), " strokes."]

    def begins(self, chosen: Chosen) -> float:
        return max(0.0, float(chosen.clip.beats * self.rounds - self.beats))

    def laid(self, chosen: Chosen) -> Made:
        clip = chosen.clip
        if clip.beats * self.rounds > MOST_BEATS:
            raise RecipeError(f"A clip lasts up to {MOST_BEATS:,} beats; play it fewer times.")
        long = clip.gone_round(self.rounds)
        beats, notes = long.beats, long.notes
        begin = self.begins(chosen)
        calm = [note for note in notes if note.start < begin - 1e-9]
        last = notes[len(calm):]
        busy = stirred(Stir(share=self.stir, steps=3, throw=self.throw),
                       Chosen(long, last, begin, float(beats), False), last)
        order = sorted(busy, key=lambda note: self.draw(note, "split"))
        count = half_up(len(order) * self.split / 100)
        strokes = Split(strokes=self.strokes, first=70, last=110).laid(
            Chosen(long, tuple(order[:count]), begin, float(beats), False)).notes
        return Made([*calm, *strokes, *order[count:]], long)

