"""A lane's sentence as text: told whole, and read."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from lattice.base.clauses import ClauseSource, Names
from lattice.base.errors import RecipeError
from lattice.texts.clauses import Miss, Read, Saying, read_form, with_fields
from lattice.texts.openings import clause_text, kinds_of, numbered, opening_with, phrases_of
from lattice.texts.refusal import TextError
from lattice.texts.refused import refusal, said_again
from lattice.texts.slots import Text

MOST_CLAUSES = 600
MOST_ROUNDS = 8
"""So often clauses are tried again that may hang on others."""


def sentence_text(document: Saying, names: Names) -> str:
    """All that a lane or a pattern says."""
    return " ".join(clause_text(clause) for source in kinds_of(document)
                    for clause in source.whole(document, names))


def read_sentence(text: Text, document: Saying, names: Names) -> Saying:
    """The lane, or the pattern, with all that a text says; TextError with what it says that cannot
    be read. Clauses may stand in any order: one that hangs on another is read after it."""
    waiting, known, count = list(_starts(text)), set[str](), 0
    for _ in range(MOST_ROUNDS):
        if not waiting:
            break
        missed: list[Miss] = []
        for start in waiting:
            at = start
            while at == start or not text.is_over(at - 1):
                found = best_clause(text, document, names, at)
                if isinstance(found, Miss):
                    if not opening_with(text.row[at].said, text.openings):
                        raise refusal(text, found, phrases_of(document))
                    missed.append(found)
                    break
                source, read = found
                if source.id in known:
                    raise said_again(text, at, read.end)
                if source.gathered is None:
                    known.add(source.id)
                document, at = read.document, read.end
                count += 1
                if count > MOST_CLAUSES:
                    raise TextError(f"A lane says up to {MOST_CLAUSES} things.",
                                    text.row[start].start, text.row[at - 1].end)
                if at >= len(text.row):
                    break
        left = [miss.begun for miss in missed]
        if left == waiting:
            break
        waiting = left
    if waiting:
        raise refusal(text, missed[0], phrases_of(document))
    try:
        return with_fields(document, {})  # what was gathered has to hold together
    except RecipeError as problem:
        raise TextError(str(problem), 0, len(text.written)) from None


def _starts(text: Text) -> Iterator[int]:
    """Where its sentences begin."""
    for at, token in enumerate(text.row):
        if token.kind != "end" and (at == 0 or text.row[at - 1].kind == "end"):
            yield at


def best_clause(text: Text, document: Saying, names: Names, at: int) -> tuple[
        ClauseSource[Any], Read] | Miss:
    """The kind of clause that reads furthest from a token on, and what it reads; else how far any
    could. What is likest is tried first."""
    words = [token.alike for token in text.row[at:text.over(at)]]
    said = set(numbered(words)), set(words)
    openings = enumerate(opening_with(text.row[at].said, text.openings))
    best: tuple[ClauseSource[Any], Read] | None = None
    misses = [(-1, Miss(at, "", None, at))]
    for place, each in sorted(openings, key=lambda one: one[1].unlike(*said)):
        found = read_form(each.source, each.form, document, names, text, at, each.example)
        if isinstance(found, Miss):
            misses.append((place, found))
        elif best is None or found.end > best[1].end:
            best = each.source, found
            if text.is_over(found.end - 1):
                break
    return best or max(misses, key=lambda one: (one[1].at, -one[0]))[1]
