"""Changes to a recipe: each a small document, each giving a new recipe or a clear refusal."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from lattice.edits.adapt import Adapt
from lattice.edits.base import Edit
from lattice.edits.chords import SetChords
from lattice.edits.copied import PasteLanes
from lattice.edits.lanes import (
    AddLane,
    DuplicateLane,
    MoveLane,
    RemoveLane,
    Reroll,
    SayLane,
    SetLane,
    SetPattern,
    TurnInto,
)
from lattice.edits.melody import Hold, Move, PlayIn, PlayStep, Scatter, SetArpeggio
from lattice.edits.movement import FollowPath
from lattice.edits.own_sound import HearAs, Trim
from lattice.edits.plant import AddAnswering, Gust, Plant
from lattice.edits.starts import Start
from lattice.edits.steps import (
    LayPath,
    LinkSteps,
    Paste,
    Put,
    RollCells,
    RollStep,
    RollStretch,
    TakeTurns,
    Unpin,
)
from lattice.edits.strands import CopyStrand, ReadStrand, SetStrand, ShapeStrand, Touch
from lattice.edits.take import Take
from lattice.edits.throws import (
    ThrowDrums,
    ThrowHits,
    ThrowScale,
    ThrowSounds,
    ThrowValues,
)
from lattice.edits.words import AddClause, RemoveClause, SetSlot, TurnSlot
from lattice.recipe import Recipe

AnyEdit = Annotated[
    SetSlot | TurnSlot | AddClause | RemoveClause | FollowPath | Put | Unpin | Paste | RollStep
    | RollStretch | RollCells | LinkSteps | TakeTurns | LayPath | SetStrand | ReadStrand
    | ShapeStrand | CopyStrand | Touch | Scatter | PlayIn | PlayStep | Hold | SetArpeggio
    | Move | Take
    | SetLane | SayLane | HearAs | Trim | TurnInto | SetPattern | SetChords | Start | AddLane
    | Plant | Gust | AddAnswering | DuplicateLane | PasteLanes | RemoveLane | MoveLane | Reroll
    | Adapt | ThrowHits | ThrowValues | ThrowDrums | ThrowSounds | ThrowScale,
    Field(discriminator="do")]


def apply_all(recipe: Recipe, edits: Sequence[Edit]) -> Recipe:
    """The recipe with the edits made one after another."""
    for edit in edits:
        recipe = edit.apply(recipe)
    return recipe


def describe_all(recipe: Recipe, edits: Sequence[Edit]) -> str:
    """What edits made one after another do, in words."""
    words = []
    for place, edit in enumerate(edits):
        words.append(edit.describe(recipe))
        if place < len(edits) - 1:
            recipe = edit.apply(recipe)
    return "; ".join(words)


CHANGE = 40.0
"""The work of changing one lane, in the unit of lattice.results.work."""


def work_of(edits: Sequence[Edit]) -> float:
    """The work of making edits."""
    return CHANGE * sum(edit.changes for edit in edits)
