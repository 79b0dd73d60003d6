"""A recipe as words: clauses with typed, bounded slots, and the clauses that could be added."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar, Self

from lattice.arpeggio import words as arpeggio
from lattice.base.clauses import ClauseKind, ClauseSource, Part
from lattice.base.errors import RecipeError
from lattice.base.frame import Bars, Frame
from lattice.base.values import Document, LaneKind, limits
from lattice.base.words import GROUPS, Clause, Offer, Slot, number
from lattice.control import words as control
from lattice.features import chance, length, loudness, own_sound, rolls, sound, timing, vary
from lattice.hits import words as hits
from lattice.pitch import words as pitch
from lattice.recipe import Lane, Recipe, Tempo, refusing
from lattice.rules import FollowingRule
from lattice.time import words as time

FRAME = ClauseKind[Frame](
    "frame", "frame", lambda frame: True,
    lambda frame, names: ["A frame of ", number("bars", "bars", frame.bars, *limits(Bars)),
                          " bar." if frame.bars == 1 else " bars."])

_HITS: Sequence[ClauseSource[Lane]] = (
    hits.RULE, hits.RULE_PARTS, hits.SPAN, time.WINDOW, time.RESTART, time.SHIFT,
    hits.REVERSE, hits.FLIP, hits.PINS, hits.KEEP)
_LOUDNESS: Sequence[ClauseSource[Lane]] = (
    loudness.VELOCITY, vary.VARY, loudness.ACCENT, loudness.CONTOUR, loudness.SQUEEZE, length.GATE)
_CHANCE: Sequence[ClauseSource[Lane]] = (
    chance.PROBABILITY, chance.SCALE, chance.LINKS, chance.TURNS)
_WALK: Sequence[ClauseSource[Lane]] = (
    arpeggio.ARPEGGIO, arpeggio.ANCHOR, arpeggio.SECOND)
_TIMING: Sequence[ClauseSource[Lane]] = (
    time.RATE_PATH, timing.SWING, timing.STRAIGHT, vary.VARY_TIME)

CLAUSES: Mapping[LaneKind, Sequence[ClauseSource[Lane]]] = {
    "drum": (*_HITS, *_WALK, pitch.OWN_KEY, pitch.TRANSPOSE, *_LOUDNESS, *_CHANCE, rolls.ROLLS,
             *_TIMING, sound.KIT, own_sound.OWN_SOUND, own_sound.CHOKE),
    "pitched": (*_HITS, pitch.DEGREES, *_WALK, pitch.OWN_KEY, pitch.TRANSPOSE,
                pitch.VOICING, *_LOUDNESS, *_CHANCE, rolls.ROLLS, *_TIMING, sound.VOICE),
    "control": (*_HITS, control.CONTROL, control.VALUES, *_CHANCE, *_TIMING),
}
"""Every kind of clause that a lane of each kind may have, in the order in which they are read."""
PATTERN_CLAUSES: Sequence[ClauseSource[Recipe]] = (
    FRAME, pitch.PATTERN_KEY, pitch.CHORDS, timing.PATTERN_SWING, chance.PATTERN_SCALE)
"""Every kind of clause that says something of the whole pattern."""


class Said(Document):
    """A document by itself that says itself: each of its words is called by the field that it
    changes. `label` names it in messages."""

    label: ClassVar[str]

    def parts(self) -> Sequence[Part]:
        """Its sentence."""
        raise NotImplementedError

    @property
    def sentence(self) -> list[Clause]:
        """The words that it says and that can be changed."""
        return [Clause(self.label, self.parts(), self.label, False)]

    def worded(self, name: str, value: Any) -> Self:
        """The document with another value for one of its words; RecipeError if it does not fit."""
        word = next((part for part in self.parts()
                     if isinstance(part, Slot) and part.slot == name), None)
        if word is None:
            raise RecipeError(f"“{self.label}” has no word “{name[:40]}”.")
        with refusing():
            return type(self).model_validate(
                self.model_dump(mode="json") | {name: word.accept(value)})


@dataclass(frozen=True, slots=True)
class Sentence:
    """A lane's recipe in words, or what holds for the whole pattern."""

    clauses: list[Clause]
    offers: list[Offer]

    def text(self) -> str:
        """The sentence as plain text."""
        return " ".join("".join(part if isinstance(part, str) else part.text
                                for part in clause.parts) for clause in self.clauses)


def _said(lane: Lane | None, recipe: Recipe) -> Iterator[tuple[ClauseSource[Any], Clause]]:
    """The clauses that a lane (or the pattern) has, in the order in which they are read, each with
    its kind."""
    if lane is None:
        for kind in PATTERN_CLAUSES:
            yield from ((kind, clause) for clause in kind.said(recipe, {}))
        return
    names = {each.id: each.name for each in recipe.lanes if each.id != lane.id}
    for source in CLAUSES[lane.kind]:
        yield from ((source, clause) for clause in source.said(lane, names))


def sentence(lane: Lane, recipe: Recipe) -> Sentence:
    """The recipe of one lane, in words."""
    offers = [offer for kind in CLAUSES[lane.kind] if (offer := kind.offer(lane))]
    offers.sort(key=lambda offer: GROUPS.index(offer.group))
    return Sentence([clause for _, clause in _said(lane, recipe)], offers)


def pattern_sentence(recipe: Recipe) -> Sentence:
    """What holds for the whole pattern, in words."""
    offers = [offer for kind in PATTERN_CLAUSES if (offer := kind.offer(recipe))]
    return Sentence([clause for _, clause in _said(None, recipe)], offers)


def tempo_word(recipe: Recipe) -> Slot:
    """The tempo, which stands beside the sentences."""
    return number("tempo", "tempo in beats per minute", recipe.tempo, *limits(Tempo))


def word(lane: Lane | None, recipe: Recipe, path: str) -> tuple[Slot, ClauseSource[Any]]:
    """The changeable word with this path in a lane's sentence, or in the pattern's, and the kind of
    clause that it stands in; RecipeError if there is none."""
    for source, clause in _said(lane, recipe):
        for part in clause.parts:
            if isinstance(part, Slot) and part.slot == path:
                return part, source
    raise RecipeError("That word is no longer in the sentence.")


def summary(lane: Lane, recipe: Recipe, hits: int | None) -> str:
    """A lane in a few words, for its head: "7 of 12"; `hits` of a rule that says so of a step."""
    if isinstance(lane.rule, FollowingRule):
        return lane.rule.summary(recipe.lane(lane.rule.of).name)
    pinned = f", {len(lane.pins)} by hand" if lane.pins else ""
    first, last = lane.played
    fitted = " fitted" if lane.span == "fit" else " once" if lane.span == "once" else ""
    return f"{hits} of {last - first + 1}{fitted}{pinned}"
