"""A lane's sentence, the pattern's, and each word in them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from lattice.base.clauses import ClauseSource, Names, Part
from lattice.base.draws import Draws
from lattice.base.errors import RecipeError
from lattice.base.lately import Lately
from lattice.base.values import limits
from lattice.base.words import GROUPS, Clause, Offer, Slot, number
from lattice.features.movement import WordPath
from lattice.recipe import Lane, Recipe, Tempo
from lattice.rules import FollowingRule
from lattice.sentence.kinds import CLAUSES, PATTERN_CLAUSES
from lattice.sentence.movement import MAY_MOVE, draws_of, may_move, shown


@dataclass(frozen=True, slots=True)
class Sentence:
    """A lane's recipe in words, or what holds for the whole pattern."""

    clauses: list[Clause]
    offers: list[Offer]

    def text(self) -> str:
        """The sentence as plain text."""
        return " ".join("".join(part if isinstance(part, str) else part.text
                                for part in clause.parts) for clause in self.clauses)


def other_names(recipe: Recipe, lane_id: str | None) -> Names:
    """What the other lanes are called, by their ids; of a pattern, all of them."""
    return {each.id: each.name for each in recipe.lanes if each.id != lane_id}


def _said(lane: Lane | None, recipe: Recipe) -> Iterator[tuple[ClauseSource[Any], Clause]]:
    """The clauses that a lane (or the pattern) has, in the order in which they are read, each with
    its kind."""
    moving: Lane | Recipe = lane or recipe
    names = other_names(recipe, lane.id if lane else None)
    paths = {path.word: (f"paths.{i}", path) for i, path in enumerate(moving.paths)}
    draws = draws_of(lane, recipe)
    kinds: Sequence[ClauseSource[Any]] = CLAUSES[lane.kind] if lane else PATTERN_CLAUSES
    for kind in kinds:
        for clause in kind.said(moving, names):
            if not any(clause.parts):
                continue
            if kind.moves:
                clause = replace(clause, parts=[_moving(part, paths, draws)
                                                for part in clause.parts])
            yield kind, clause


def _moving(part: Part, paths: Mapping[str, tuple[str, WordPath]], draws: Draws) -> Part:
    """A part of a sentence; a number with the path that it follows or may follow."""
    if isinstance(part, str) or not may_move(part):
        return part
    if part.slot in paths:
        return shown(part, *paths[part.slot], draws)
    return replace(part, path=MAY_MOVE)


def lane_sentence(lane: Lane, recipe: Recipe) -> Sentence:
    """The recipe of one lane, in words."""
    offers = [offer for kind in CLAUSES[lane.kind] if (offer := kind.offer(lane))]
    offers.sort(key=lambda offer: (not offer.often, GROUPS.index(offer.group)))
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
    words = _words.of(lane, recipe, make=lambda: {
        part.slot: (part, source) for source, clause in _said(lane, recipe)
        for part in clause.parts if isinstance(part, Slot)})
    if path not in words:
        raise RecipeError("That word is no longer in the sentence.")
    return words[path]


_words = Lately[dict[str, tuple[Slot, ClauseSource[Any]]]](128)


def lane_summary(lane: Lane, recipe: Recipe, hits: int | None) -> str:
    """A lane in a few words, for its head: "7 of 12"; `hits` of a rule that says so of a step."""
    if isinstance(lane.rule, FollowingRule):
        return lane.rule.summary(recipe.lane(lane.rule.of).name)
    pinned = f", {len(lane.pins)} by hand" if lane.pins else ""
    first, last = lane.played
    fitted = " fitted" if lane.span == "fit" else " once" if lane.span == "once" else ""
    return f"{hits} of {last - first + 1}{fitted}{pinned}"
