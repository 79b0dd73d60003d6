"""One clause, read from a text by turning its words.

A clause is said as it stands and held against the text, word by word. Where the text says another
word, that one is given what the text says, by its own bounds and choices; the clause is said again,
and so on until both are alike. So a clause is read by the very definitions that say it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import partial
from itertools import islice
from typing import Any

from lattice.base.clauses import ClauseSource, Fields, Names, Part
from lattice.base.errors import RecipeError
from lattice.base.values import to_fraction, to_sum
from lattice.base.words import COUNTABLE, Slot
from lattice.recipe import Lane, Recipe, changed, edited
from lattice.rules import RULES
from lattice.sentence.worded import lane_with, pattern_with
from lattice.texts.slots import Text
from lattice.texts.tokens import Token, alike, begins, of_literal

MOST_TURNS = 40
"""A clause is said again so often at the most."""
Saying = Lane | Recipe
"""What clauses are read into: a lane, or a pattern."""


@dataclass(frozen=True, slots=True)
class Read:
    """A clause that was read: what has it now, and the token after it; what else it might have
    said there, if it was not read to its end."""

    document: Saying
    end: int
    unsaid: Part | None = None


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

    parts: Sequence[Part]
    end: int
    turns: list[tuple[Slot, Any, int]] = field(default_factory=list)
    stopped: Part | None = None
    may_end: bool = False


def read_form(source: ClauseSource[Any], form: int, document: Saying, names: Names, text: Text,
              at: int, example: Sequence[Part] = ()) -> Read | Miss:
    """What a kind of clause in one of its forms, of which there may be an example, reads from a
    token on."""
    begun = _begun(source, form, document)
    if begun is None:
        return Miss(at, "")
    holding, joined = begun
    found = _turned(source, holding, names, text, at, whole=form > 1, example=example)
    if isinstance(found, Miss):
        return found
    try:
        return Read(joined(found.document), found.end, found.unsaid)
    except RecipeError as problem:
        return Miss(found.end, "", str(problem), at)


def coming(source: ClauseSource[Any], form: int, document: Saying, names: Names, text: Text,
           at: int) -> Part | None:
    """What may come after a text that ends within a clause of a kind, which begins at a token."""
    begun = _begun(source, form, document)
    if begun is None:
        return None
    found = _turned(source, begun[0], names, text, at, whole=form > 1)
    if isinstance(found, Read):
        return found.unsaid
    return found.wants if found.refusal is None and found.at >= len(text.row) else None


def _begun(source: ClauseSource[Any], form: int, document: Saying) -> tuple[
        Saying, Callable[[Saying], Saying]] | None:
    """What a clause may be read into: a document that has it in a form, or as it is; and what joins
    the read document with what was there before. None where it cannot be so."""
    holder = source.gathered
    if form == 0:
        return (document, _as_it_is) if holder is None else None
    bare, join = document, _as_it_is
    if holder is not None:
        before = getattr(document, holder)
        bare = document.model_copy(update={holder: type(before)()})
        join = partial(_joined, holder, before, source.label)
    fields = next(islice(source.begun(bare), form - 1, None), None)
    if fields is None:
        return None
    with suppress(RecipeError):
        return with_fields(bare, fields), join
    return None


def _as_it_is(read: Saying) -> Saying:
    return read


def _joined(holder: str, before: Any, label: str, read: Saying) -> Saying:
    """What was read, with what several of its kind said before it in the same field."""
    after = getattr(read, holder)
    if isinstance(before, dict) and before.keys() & after.keys():
        raise RecipeError(f"What this says of {label} is said before.")
    both = {**before, **after} if isinstance(before, dict) else (*before, *after)
    return read.model_copy(update={holder: both})


def with_fields(document: Saying, fields: Any) -> Saying:
    """A lane or a pattern with documents of fields changed."""
    return edited(document, fields) if isinstance(document, Lane) else changed(document, fields)


def _turned(source: ClauseSource[Any], document: Saying, names: Names, text: Text, at: int, *,
            whole: bool, example: Sequence[Part] = ()) -> Read | Miss:
    """Turn the words of a clause until it says what the text does. whole: it is read to its end,
    and does not stop where the rest goes without saying. example: how a bare lane says it, which is
    mostly how this one does."""
    if example:
        held = _held(example, text, at)
        if read := _at_once(held, source, document, names):
            return read
        document, _ = _turn(held.turns, source, document, names, at)
    for _ in range(MOST_TURNS):
        clause = next(source.whole(document, names), None)
        if clause is None:
            break
        held = _held(clause.parts, text, at)
        if held.turns and (read := _at_once(held, source, document, names)):
            return read
        turned, refused = _turn(held.turns, source, document, names, at)
        if turned is not document and turned != document:
            document = turned
            continue
        if refused is not None:
            return refused
        if held.stopped is None:
            return Read(document, held.end)
        over = text.is_over(held.end) or (
            text.row[held.end].apart and text.row[held.end].said in text.openings)
        if over and held.may_end and not whole:
            return Read(document, min(held.end + text.is_over(held.end), len(text.row)),
                        held.stopped)
        return Miss(held.end, held.stopped, None, at)
    return Miss(at, "", None, at)


def _at_once(held: _Held, source: ClauseSource[Any], document: Saying, names: Names) -> Read | None:
    """What is read by turning all words at once; None where other words follow from that, or what
    is turned does not fit."""
    if held.stopped is not None:
        return None
    with suppress(RecipeError):
        turned = with_values(document, source, {
            slot.slot: slot.accept(value) for slot, value, _ in held.turns}, names)
        if _says(source, turned, names, held):
            return Read(turned, held.end)
    return None


def _says(source: ClauseSource[Any], document: Saying, names: Names, held: _Held) -> bool:
    """Whether a lane or a pattern says what the text does: the words that were held against it,
    around what it has in their places."""
    clause = next(source.whole(document, names), None)
    if clause is None or len(clause.parts) != len(held.parts):
        return False
    values = {slot.slot: value for slot, value, _ in held.turns}
    return all(_stands_for(part, example, values)
               for part, example in zip(clause.parts, held.parts, strict=True))


def _stands_for(part: Part, example: Part, values: Mapping[str, Any]) -> bool:
    """Whether a part of a clause is that of an example, with what is said otherwise."""
    if isinstance(part, str) and isinstance(example, str):
        said, wanted = of_literal(part), of_literal(example)
        return len(said) == len(wanted) and begins(said, 0, wanted)
    if isinstance(part, str) or isinstance(example, str) or part.slot != example.slot:
        return False
    if part.slot not in values:
        return bool(part.value == example.value)
    value = values[part.slot]
    if (part.low, part.high) != (example.low, example.high):
        with suppress(RecipeError):
            part.accept(value)
            return _alike(part, value)
        return False
    return _alike(part, value)


def _turn(turns: Sequence[tuple[Slot, Any, int]], source: ClauseSource[Any], document: Saying,
          names: Names, begun: int) -> tuple[Saying, Miss | None]:
    """The lane or the pattern with words turned, up to a choice, since other words may follow that;
    and the first that was refused."""
    refused: Miss | None = None
    values: dict[str, tuple[Any, Miss]] = {}
    for slot, value, place in turns:
        try:
            values[slot.slot] = slot.accept(value), Miss(place, slot, None, begun)
        except RecipeError as problem:
            refused = refused or Miss(place, slot, str(problem), begun)
            continue
        if slot.kind == "choice":
            break
    with suppress(RecipeError):
        return with_values(document, source, {
            word: value for word, (value, _) in values.items()}, names), refused
    for word, (value, miss) in values.items():  # those that fit by themselves
        try:
            document = with_values(document, source, {word: value}, names)
        except RecipeError as problem:
            if refused is None or miss.at < refused.at:
                refused = replace(miss, refusal=str(problem))
    return document, refused


def _held(parts: Sequence[Part], text: Text, at: int) -> _Held:
    """Hold a clause against a text from a token on. What goes without saying may be left out before
    what is said: "Spread 2 hits over 16 steps turned 4"."""
    held, number = _Held(parts, at), 0
    while number < len(parts):
        part = parts[number]
        if isinstance(part, Slot):
            _hold_word(held, parts, number, text)
        else:
            _hold_words(held, part, text, last=number == len(parts) - 1)
        if held.stopped is None:
            number += 1
            continue
        onward = _onward(parts, number, text, held)
        if onward is None:
            break
        held.stopped, number = None, onward
    return held


def _hold_word(held: _Held, parts: Sequence[Part], number: int, text: Text) -> None:
    """Hold a word that can be changed against the text."""
    part = parts[number]
    assert isinstance(part, Slot)
    said = text.says(part, held.end, _after(parts, number))
    if said is not None:
        if not _alike(part, said.value):
            held.turns.append((part, said.value, held.end))
        held.end = said.end
        held.may_end |= part.kind != "choice" or _pauses(parts, number)
        return
    held.stopped = part
    in_words = part.kind == "number" and not part.names and \
        not any(letter.isdigit() for letter in part.text)  # such as "wholly"
    held.may_end = in_words or (held.may_end and (
        part.kind == "choice" or "," in str(parts[number - 1])))
    nearby = [token for token in text.row[held.end:held.end + 3] if token.value is not None]
    if in_words and nearby:
        held.turns.append((part, float(nearby[0].value or 0), held.end))


def _hold_words(held: _Held, part: str, text: Text, *, last: bool) -> None:
    """Hold a stretch of the sentence against the text; the last one need not end it."""
    row, left_out = text.row, None
    for token in of_literal(part):
        if held.end < len(row) and row[held.end].alike == token.alike:
            held.end, left_out = held.end + 1, None
            held.may_end &= token.said in COUNTABLE
        elif (token.kind == "end" and last) or token.said in COUNTABLE or (
                token.said == "and" and held.end < len(row) and row[held.end].apart):
            left_out = token if left_out is None else left_out
        else:
            held.stopped = part[(left_out or token).start:]
            held.may_end |= token.apart
            return


def _onward(parts: Sequence[Part], number: int, text: Text, held: _Held) -> int | None:
    """The later part with which a text goes on that leaves some out; None where it does not."""
    if not held.may_end or text.is_over(held.end):
        return None
    return next((i for i in range(number + 1, len(parts)) if isinstance(part := parts[i], str)
                 and (words := [word for word in of_literal(part) if word.kind != "end"])
                 and begins(text.row, held.end, words)), None)


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
            return to_sum(str(slot.value)) == to_fraction(value)
        except ValueError:
            return False
    if slot.kind == "text":
        return alike(str(slot.value)).split() == alike(value).split()
    if slot.kind == "index":
        return bool(str(slot.value) == value)
    return bool(slot.value == value)


def with_values(document: Saying, source: ClauseSource[Any], values: Fields,
                names: Names) -> Saying:
    """A lane or a pattern with other values for words of a clause, by their slots."""
    if isinstance(document, Recipe):
        return pattern_with(document, source, values)
    left = dict(values)
    kind = left.pop("rule.kind", None)
    lane = lane_with(document, source, left)
    if kind is None:
        return lane
    rule = RULES[kind].starting([step % 4 == 0 for step in range(lane.steps)], list(names))
    return edited(lane, {"rule": rule.model_dump(mode="json")})
