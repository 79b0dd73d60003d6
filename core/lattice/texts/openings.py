"""What clauses may begin with: the kinds of them in each of their forms, by their first words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass
from functools import cache
from typing import Any

from lattice.base.clauses import ClauseSource, Names, Part
from lattice.base.errors import RecipeError
from lattice.base.values import LaneKind
from lattice.base.words import Clause, Slot
from lattice.features.instruments import KITS
from lattice.recipe import Lane, Recipe, edited
from lattice.sentence.kinds import CLAUSES, PATTERN_CLAUSES
from lattice.texts.clauses import Saying, with_fields
from lattice.texts.slots import told
from lattice.texts.tokens import of_literal

NAMES = {"other": "Other"}
"""What another lane is called in examples."""
FIRST_CONTROLLER = 74
"""What a lane that moves a controller sets where nothing is said: brightness."""


def clause_text(clause: Clause) -> str:
    """A clause as it stands in a text."""
    text = ""
    for part in reversed(clause.parts):
        text = (part if isinstance(part, str) else told(part, text)) + text
    return text


def kinds_of(document: Saying) -> Sequence[ClauseSource[Any]]:
    """The kinds of clauses that a lane may have, or a pattern."""
    return CLAUSES[document.kind] if isinstance(document, Lane) else PATTERN_CLAUSES


def blank(lane_id: str, name: str, kind: LaneKind) -> Lane:
    """A lane that says nothing yet."""
    control = {"control": {"number": FIRST_CONTROLLER}} if kind == "control" else {}
    return Lane.model_validate({"id": lane_id, "name": name, "kind": kind} | control)


def phrases_of(document: Saying) -> Sequence[str]:
    """What may be said of it, a clause in each of its forms."""
    return _phrases(document.kind if isinstance(document, Lane) else None)


Numbered = tuple[str, int]


@dataclass(frozen=True, slots=True)
class Opening:
    """A kind of clause in one of its forms, with an example (from 1; 0: as a lane has it already,
    of which there is none).

    around: the words around those that can be changed, as tokens are alike, each with how often it
    came before; picked: of each word that is picked, what it may begin with.
    """

    source: ClauseSource[Any]
    form: int
    example: Sequence[Part]
    around: frozenset[Numbered]
    picked: Sequence[frozenset[str]]

    def unlike(self, said: Set[Numbered], words: Set[str]) -> tuple[int, int, int, bool]:
        """How unlike a sentence it is: the less it lacks of what it has, and the more it has, the
        likelier the sentence is in this form."""
        lacks = len(self.around - said)
        unpicked = 0 if lacks else sum(map(words.isdisjoint, self.picked))
        return lacks, unpicked, -len(self.around) - len(self.picked), self.form == 0


def _opening(source: ClauseSource[Any], form: int, example: Sequence[Part]) -> Opening:
    around = [token.alike for part in example if isinstance(part, str)
              for token in of_literal(part) if token.kind != "end"]
    picked = [frozenset(label[0].alike for option in part.options
                        if (label := of_literal(option.label)))
              for part in example if isinstance(part, Slot) and part.kind == "choice"]
    return Opening(source, form, example if form else (), frozenset(numbered(around)), picked)


def numbered(words: Iterable[str]) -> Iterator[Numbered]:
    """Words, each with how often it came before."""
    before: Counter[str] = Counter()
    for word in words:
        yield word, before[word]
        before[word] += 1


Openings = Mapping[str, Sequence[Opening]]
"""Kinds of clauses in their forms, by the words that these begin with."""


def openings_of(document: Saying) -> Openings:
    """The kinds of clauses by the words that they may begin with."""
    return _openings(document.kind if isinstance(document, Lane) else None)


@cache
def _phrases(kind: LaneKind | None) -> Sequence[str]:
    return list(dict.fromkeys(
        phrase for document in bare(kind) for source in kinds_of(document)
        for _, _, clause in examples(source, document)
        for phrase in (clause_text(clause), *_first_labels(clause))))


def bare(kind: LaneKind | None) -> list[Saying]:
    """What says little yet: a pattern; a lane of a kind, by itself and with what some kinds of
    clauses hang on."""
    if kind is None:
        return [Recipe()]
    lane = blank("lane", "Lane", kind)
    return [lane, edited(lane, {"arpeggio": {"pool": "scale"}}), edited(lane, {
        "reads": "chord"}), edited(lane, {"strands.degree": {"values": [{"all": "chord"}]}}),
            edited(lane, {"rolls": [{"start": "0", "beats": "1", "strokes": 2}],
                          "strands.velocity": {"values": [100]}}),
            *(edited(lane, {"sound": {"by": kit}}) for kit in KITS)]


@cache
def _openings(kind: LaneKind | None) -> Openings:
    found: dict[str, dict[tuple[str, int], Opening]] = {}
    for document in bare(kind):
        for source in kinds_of(document):
            for form, _, clause in examples(source, document):
                openings = [_opening(source, each, clause.parts)
                            for each in dict.fromkeys((0, form))]
                for word in _first_words(clause):
                    forms = found.setdefault(word, {})
                    for opening in openings:
                        forms.setdefault((source.id, opening.form), opening)
    return {word: list(forms.values()) for word, forms in found.items()}


def examples(source: ClauseSource[Any], document: Saying, names: Names = NAMES) -> Iterator[
        tuple[int, Saying, Clause]]:
    """A kind of clause in each of its forms: the number of that, and what says it."""
    for clause in source.whole(document, names):
        yield 0, document, clause
    for form, fields in enumerate(source.begun(document), 1):
        try:
            begun = with_fields(document, fields)
        except RecipeError:
            continue
        for clause in source.whole(begun, names):
            yield form, begun, clause


def _first_words(clause: Clause) -> Iterator[str]:
    """The words that a clause may begin with."""
    yield from (of_literal(label)[0].said for label in _first_labels(clause))


def _first_labels(clause: Clause) -> Sequence[str]:
    """What a clause may begin with: what it says first, or all that may be picked there."""
    for part in clause.parts:
        labels = [part] if isinstance(part, str) else [option.label for option in part.options]
        if found := [label for label in labels if of_literal(label)]:
            return found
    return ()


def opening_with(word: str, openings: Openings) -> Sequence[Opening]:
    """What may begin with a word, one or many of what it tells of alike."""
    return list({(opening.source.id, opening.form): opening
                 for each in (word, word.removesuffix("s"), f"{word}s")
                 for opening in openings.get(each, ())}.values())
