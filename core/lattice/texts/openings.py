"""What clauses may begin with: the kinds of them in each of their forms, by their first words."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from functools import cache
from typing import Any

from lattice.base.clauses import ClauseSource, Names
from lattice.base.errors import RecipeError
from lattice.base.values import LaneKind
from lattice.base.words import Clause
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


Openings = Mapping[str, Sequence[tuple[ClauseSource[Any], Collection[int]]]]
"""Kinds of clauses, and which of their forms (from 1; 0: as a lane has it already), by the words
that these begin with."""


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
    found: dict[str, dict[str, tuple[ClauseSource[Any], set[int]]]] = {}
    for document in bare(kind):
        for source in kinds_of(document):
            for form, _, clause in examples(source, document):
                for word in _first_words(clause):
                    _, forms = found.setdefault(word, {}).setdefault(source.id, (source, {0}))
                    forms.add(form)
    return {word: list(sources.values()) for word, sources in found.items()}


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


def opening_with(word: str, openings: Openings) -> Iterator[tuple[
        ClauseSource[Any], Collection[int]]]:
    """What may begin with a word, one or many of what it tells of alike."""
    found: dict[str, tuple[ClauseSource[Any], Collection[int]]] = {}
    for each in (word, word.removesuffix("s"), f"{word}s"):
        for source, forms in openings.get(each, ()):
            _, before = found.get(source.id, (source, ()))
            found[source.id] = source, {*before, *forms}
    yield from found.values()
