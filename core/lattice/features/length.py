"""How long notes last: gate, and ties to the next hit."""

from __future__ import annotations

from lattice.base.clauses import ClauseKind, Names, Part
from lattice.base.draws import Draws
from lattice.base.values import Gate, limits
from lattice.base.words import Fold, percent
from lattice.strands.fields import StrandFields
from lattice.strands.kinds import GATE as STRAND
from lattice.strands.kinds import TIE
from lattice.strands.reading import reader
from lattice.strands.words import strand_forms, strand_words, written


class Lengths:
    """The lengths of a lane's notes."""

    def __init__(self, lane: StrandFields, draws: Draws) -> None:
        self.gate = reader(STRAND, lane, draws)
        """Percent of the cell."""
        self.tie = reader(TIE, lane, draws) if lane.strands.of(TIE) else None
        """Whether a hit lasts until the next one, where any hit may."""


def _parts(lane: StrandFields, names: Names) -> list[Part]:
    if lane.strands.of(STRAND):
        return [Fold("Each lasts by the gate strand.",
                     ["Each lasts ", *strand_words(STRAND, lane), "."])]
    return ["Each lasts ", percent("gate", "gate", lane.gate, *limits(Gate)), " of its step."]


GATE = ClauseKind[StrandFields]("gate", "gate", lambda lane: True, _parts,
                                writes=written, forms=lambda lane: strand_forms(STRAND, lane))
