"""What may come next where a text is being written."""

from __future__ import annotations

from collections.abc import Container, Iterator
from contextlib import suppress
from dataclasses import dataclass, replace
from itertools import islice
from typing import Any

from lattice.base.clauses import ClauseSource, Names
from lattice.base.errors import RecipeError
from lattice.base.words import Slot
from lattice.hits.words import RULE
from lattice.recipe import Lane, Recipe
from lattice.texts.clauses import Miss, Saying, coming, with_fields
from lattice.texts.lane import best_clause
from lattice.texts.openings import (
    clause_text,
    examples,
    kinds_of,
    opening_with,
    openings_of,
)
from lattice.texts.patterns import NOBODY, bare_lane, other_names
from lattice.texts.refusal import TextError
from lattice.texts.refused import wanted
from lattice.texts.slots import Text, told, told_label

MOST_OFFERED = 40


@dataclass(frozen=True, slots=True)
class Coming:
    """What may come next: the text that would stand in place of [start, end), and in a few words
    what it does, or the bounds of a number."""

    text: str
    about: str
    start: int
    end: int


def what_comes(written: str, caret: int, lane: Lane, recipe: Recipe) -> list[Coming]:
    """What may come at a place of a text that is written for a lane of a pattern. What a word is
    begun with chooses among it; where it chooses nothing else, the word is taken to be written, and
    what comes after it is offered. Nothing may come after what is no text."""
    document, names = bare_lane(lane), other_names(recipe, lane.id) or NOBODY
    try:
        text = Text(written[:caret], openings_of(document))
    except TextError:
        return []
    last = text.row[-1] if text.row and text.row[-1].end == caret else None
    if last is not None and last.kind == "word":
        text.row.pop()
        meant = [replace(each, start=last.start, end=caret)
                 for each in _coming(text, document, names)
                 if each.text.casefold().startswith(last.said)
                 and each.text.casefold() != last.said]
        if meant:
            return meant[:MOST_OFFERED]
        text.row.append(last)
    return [replace(each, start=caret, end=caret)
            for each in islice(_coming(text, document, names), MOST_OFFERED)]


def _coming(text: Text, document: Saying, names: Names) -> Iterator[Coming]:
    """What may come after a text: what goes on with the clause that is begun, or other clauses."""
    at, known, offered = 0, set[str](), set[str]()
    while at < len(text.row):
        found = best_clause(text, document, names, at)
        over = text.over(at)
        if isinstance(found, Miss):
            if over == len(text.row):
                break
            at = over + 1  # what cannot be read yet may be readable after what follows
            continue
        source, read = found
        if read.end >= len(text.row) == over:
            break
        known |= {source.id} if source.gathered is None else set()
        document, at = read.document, read.end
    begun = opening_with(text.row[at].said, text.openings) if at < len(text.row) else ()
    for opening in begun:
        part = coming(opening.source, opening.form, document, names, text, at)
        for each in _offered(part) if part else ():
            if each.text not in offered:
                offered.add(each.text)
                yield each
    if at >= len(text.row):
        yield from _clauses(document, names, known)
    elif not isinstance(found, Miss):
        yield from (replace(each, text=f". {each.text}")
                    for each in _clauses(read.document, names, known | {source.id}))


def _clauses(document: Saying, names: Names, known: Container[str]) -> Iterator[Coming]:
    """Clauses that may be said, as they begin, but for those that are known: first where hits fall,
    then those that are mostly wanted, then the others."""
    kinds = [(source, source.offer(document)) for source in kinds_of(document)
             if source.id not in known]
    for source, offer in sorted(kinds, key=lambda kind: (
            kind[0].id != RULE.id, not (kind[1] and kind[1].often), kind[1] is None)):
        if offer is None:
            yield from _forms(source, document, names)
            continue
        saying = document
        with suppress(RecipeError):
            saying = with_fields(document, next(source.begun(document), {}))
        *_, last = (None, *source.whole(saying, names))
        if last is not None:
            yield Coming(clause_text(last), offer.about, 0, 0)


def _forms(source: ClauseSource[Any], document: Saying, names: Names) -> Iterator[Coming]:
    """A clause that is always there in each of its forms, and what else may be picked first."""
    said = [clause for _, _, clause in examples(source, document, names)]
    yield from (Coming(clause_text(clause), clause.label, 0, 0) for clause in said)
    first = next((part for part in said[0].parts if part), None) if said else None
    for option in first.options if isinstance(first, Slot) else ():
        if not any(clause_text(clause).startswith(option.label) for clause in said):
            yield Coming(option.label, option.about, 0, 0)


def _offered(part: str | Slot) -> Iterator[Coming]:
    if isinstance(part, str):
        if said := part.strip(" ,:."):
            yield Coming(said, "", 0, 0)
    elif part.kind == "choice":
        for option in part.options:
            yield Coming(told_label(part, option.label), option.about, 0, 0)
    else:
        yield Coming(told(part), wanted(part), 0, 0)
