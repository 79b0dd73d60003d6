"""One clause, read from a text by turning its words.

A clause is said as it stands and held against the text, word by word. Where the text says another
word, that one is given what the text says, by its own bounds and choices; the clause is said again,
and so on until both are alike. So a clause is read by the very definitions that say it.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from lattice.base.clauses import ClauseSource, Names, Part
from lattice.base.errors import RecipeError
from lattice.base.values import to_fraction
from lattice.base.words import COUNTABLE, Slot
from lattice.recipe import Lane, Recipe, changed, edited
from lattice.rules import RULES
from lattice.sentence.worded import lane_with, with_word
from lattice.texts.slots import Text
from lattice.texts.tokens import Token, alike, of_literal, same

MOST_TURNS = 40
"""A clause is said again so often at the most."""
Said = Lane | Recipe
"""What clauses are read into: a lane, or a pattern."""


@dataclass(frozen=True, slots=True)
class Read:
    """A clause that was read: what has it now, and the token after it."""

    document: Said
    end: int


@dataclass(frozen=True, slots=True)
class Miss:
    """How far a clause could be read: the token at which it no longer could, what comes there (a
    word, or a stretch of the sentence), and why what stands there is refused, if it is."""

    at: int
    wants: Part
    refusal: str | None = None
    begun: int = 0
    """The token that it began with."""


@dataclass(slots=True)
class _Held:
    """A clause held against a text: the words that the text says otherwise, how far it went, and
    what stopped it (None: nothing). may_end: whether what follows goes without saying there, and
    nothing was begun that it has to end."""

    end: int
    turns: list[tuple[Slot, Any, int]] = field(default_factory=list)
    stopped: Part | None = None
    may_end: bool = False


def read_clause(source: ClauseSource[Any], forms: Collection[int], document: Said, names: Names,
                text: Text, at: int) -> Read | Miss:
    """What a kind of clause reads from a token on; of these forms, the one that reads furthest."""
    best: Read | None = None
    miss: Miss | None = None
    for form, holding, joined in _forms(source, forms, document):
        found = _turned(source, holding, names, text, at, whole=form > 1)
        if isinstance(found, Miss):
            if miss is None or found.at > miss.at:
                miss = found
        elif best is None or found.end > best.end:
            try:
                best = Read(joined(found.document), found.end)
            except RecipeError as problem:
                miss = Miss(found.end, "", str(problem), at)
            else:
                if text.is_over(found.end - 1):
                    break
    return best or miss or Miss(at, "")


def _forms(source: ClauseSource[Any], forms: Collection[int], document: Said) -> Iterator[tuple[
        int, Said, Callable[[Said], Said]]]:
    """What a clause may be read into: a document that has it, as it is or in one of these forms;
    and what joins the read document with what was there before."""
    holder = source.gathered
    if holder is None:
        yield 0, document, _as_it_is
        bare = document
    else:
        before = getattr(document, holder)
        bare = document.model_copy(update={holder: type(before)()})

        def joined(read: Said) -> Said:
            after = getattr(read, holder)
            both = {**before, **after} if isinstance(before, dict) else (*before, *after)
            return read.model_copy(update={holder: both})
    for form, fields in enumerate(source.begun(bare), 1):
        if form in forms:
            try:
                begun = with_fields(bare, fields)
            except RecipeError:
                continue
            yield form, begun, _as_it_is if holder is None else joined


def _as_it_is(read: Said) -> Said:
    return read


def with_fields(document: Said, fields: Any) -> Said:
    """A lane or a pattern with documents of fields changed."""
    return edited(document, fields) if isinstance(document, Lane) else changed(document, fields)


def _turned(source: ClauseSource[Any], document: Said, names: Names, text: Text, at: int, *,
            whole: bool) -> Read | Miss:
    """Turn the words of a clause until it says what the text does. whole: it is read to its end,
    and does not stop where the rest goes without saying."""
    for _ in range(MOST_TURNS):
        clause = next(source.whole(document, names), None)
        if clause is None:
            break
        held = _held(clause.parts, text, at)
        turned, refused = _turn(held.turns, source, document, names, at)
        if turned != document:
            document = turned
            continue
        if refused is not None:
            return refused
        if held.stopped is None:
            return Read(document, held.end)
        over = text.is_over(held.end) or text.row[held.end].apart
        if over and held.may_end and not whole:
            return Read(document, min(held.end + text.is_over(held.end), len(text.row)))
        return Miss(held.end, held.stopped, None, at)
    return Miss(at, "", None, at)


def _turn(turns: Sequence[tuple[Slot, Any, int]], source: ClauseSource[Any], document: Said,
          names: Names, begun: int) -> tuple[Said, Miss | None]:
    """The lane or the pattern with words turned, up to a choice, since other words may follow that;
    and the first that was refused."""
    refused: Miss | None = None
    for slot, value, place in turns:
        try:
            document = with_value(document, source, slot, slot.accept(value), names)
        except RecipeError as problem:
            refused = refused or Miss(place, slot, str(problem), begun)
            continue
        if slot.kind == "choice":
            break
    return document, refused


def _held(parts: Sequence[Part], text: Text, at: int) -> _Held:
    """Hold a clause against a text from a token on."""
    held, row = _Held(at), text.row
    for number, part in enumerate(parts):
        last = number == len(parts) - 1
        if isinstance(part, Slot):
            after = _after(parts, number)
            said = text.says(part, held.end, after)
            if said is None:
                held.stopped = part
                held.may_end &= part.kind == "choice" or "," in str(parts[number - 1])
                nearby = [token for token in row[held.end:held.end + 3] if token.value is not None]
                if part.kind == "number" and not part.names and nearby and \
                        not any(letter.isdigit() for letter in part.text):
                    held.turns.append((part, float(nearby[0].value or 0), held.end))
                return held
            if not _alike(part, said.value):
                held.turns.append((part, said.value, held.end))
            held.end = said.end
            held.may_end = part.kind != "choice" or _pauses(parts, number)
            continue
        for token in of_literal(part):
            if held.end < len(row) and same(row[held.end], token):
                held.end += 1
                held.may_end &= token.said in COUNTABLE
            elif (token.kind == "end" and last) or token.said in COUNTABLE or (
                    token.said == "and" and held.end < len(row) and row[held.end].apart):
                continue
            else:
                held.stopped = part[token.start:]
                held.may_end |= token.apart
                return held
    return held


def _pauses(parts: Sequence[Part], number: int) -> bool:
    """Whether there is a comma after a part of a sentence."""
    return number + 1 < len(parts) and str(parts[number + 1]).startswith((",", "."))


def _after(parts: Sequence[Part], number: int) -> Sequence[Token]:
    """What stands after a word in a sentence."""
    return next((found for part in parts[number + 1:] if isinstance(part, str)
                 and (found := of_literal(part))), ())


def _alike(slot: Slot, value: Any) -> bool:
    """Whether a word says a value already."""
    if slot.kind == "fraction":
        try:
            said = sum(map(to_fraction, str(slot.value).split("+")), Fraction(0))
            return bool(said == to_fraction(value))
        except ValueError:
            return False
    if slot.kind == "text":
        return alike(str(slot.value)).split() == alike(value).split()
    if slot.kind == "index":
        return bool(str(slot.value) == value)
    return bool(slot.value == value)


def with_value(document: Said, source: ClauseSource[Any], slot: Slot, value: Any,
               names: Names) -> Said:
    """A lane or a pattern with another value for a word."""
    if isinstance(document, Recipe):
        return with_word(document, None, source, slot.slot, value)
    if slot.slot == "rule.kind":
        rule = RULES[value].starting([step % 4 == 0 for step in range(document.steps)],
                                     list(names))
        return edited(document, {"rule": rule.model_dump(mode="json")})
    return lane_with(document, source, slot.slot, value)
