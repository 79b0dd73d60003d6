"""The words of a sentence, read from a text: what stands in it for each kind of word."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Any

from lattice.base.notes import note_called
from lattice.base.values import tidy
from lattice.base.words import COUNTABLE, STEP_NAMES, Slot, exact, quoted
from lattice.texts.refusal import TextError
from lattice.texts.tokens import Token, alike, begins, of_literal, tokens, unquoted

FRACTIONS = {"whole": Fraction(1), "half": Fraction(1, 2), "halve": Fraction(1, 2),
             "quarter": Fraction(1, 4), "eighth": Fraction(1, 8), "sixteenth": Fraction(1, 16),
             "thirty-second": Fraction(1, 32), "sixty-fourth": Fraction(1, 64)}
"""Lengths by their names, of which there may be several."""
CALLED = {tuple(token.said.removesuffix("s") for token in of_literal(name.partition(", ")[2])):
          Fraction(length) for length, name in STEP_NAMES.items()}
"""Those with names of more words: "eighth triplets"."""
NUMBER = re.compile(r"[+-]?\d+(?:\.\d+)?")
LONGEST_SENTENCES = 20_000
"""Letters of a lane, or of a frame."""
NOTHING = "none", "nothing"
JOINING = "and", "&", "+"


def _goes_on(slot: Slot, after: str) -> bool:
    """Whether what was picked and the words after it are something else that may be picked."""
    said = of_literal(slot.text)
    if not said:
        return False
    labels = _beginning(tuple(option.label for option in slot.options))
    longer = [row[len(said):] for _, row in labels.get(said[0].alike, ())
              if len(row) > len(said) and begins(row, 0, said)]
    return any(begins(of_literal(after), 0, rest) for rest in longer)


@dataclass(frozen=True, slots=True)
class Said:
    """What a text says for a word: the value as it is typed, and the token after it."""

    value: Any
    end: int


def needs_quotes(slot: Slot, label: str) -> bool:
    """Whether what may be picked would not read as itself: it holds the end of a sentence, or
    another reads the same."""
    said = of_literal(label)
    return not said or any(token.kind in ("end", "name", "mark") for token in said) or any(
        option.label != label and of_literal(option.label) == said for option in slot.options)


def told_label(slot: Slot, label: str) -> str:
    """What may be picked as it reads in a text: quoted where it would not read as itself."""
    return quoted(label) if needs_quotes(slot, label) else label


def told(slot: Slot, after: str = "") -> str:
    """How a word reads in a text: exactly, and quoted where it would not read as itself, also with
    what comes `after` it: a lane "Drip" before "wholly", where another is called "Drip wholly"."""
    if slot.kind == "choice":
        return quoted(slot.text) if _goes_on(slot, after) else told_label(slot, slot.text)
    if slot.kind == "text":
        ended = any(token.kind in ("end", "name") for token in of_literal(slot.text))
        return quoted(slot.text) if ended else slot.text
    if slot.kind == "index":
        return str(slot.value)
    if slot.kind == "list" and slot.value and not slot.names:
        return " ".join(exact(value) for value in slot.value)
    found = NUMBER.search(slot.text) if slot.kind == "number" and not slot.names else None
    if found is None or float(found[0]) == slot.value:
        return slot.text
    sign = "+" if found[0].startswith("+") and slot.value >= 0 else ""
    return f"{slot.text[:found.start()]}{sign}{exact(slot.value)}{slot.text[found.end():]}"


class Text:
    """A text, and what it is made of. openings: the words that a clause may begin with."""

    __slots__ = ("openings", "row", "written")

    def __init__(self, written: str, openings: Mapping[str, Any]) -> None:
        if len(written) > LONGEST_SENTENCES:
            raise TextError(f"What one lane says takes up to {LONGEST_SENTENCES:,} letters; these "
                            f"are {len(written):,}.", LONGEST_SENTENCES, len(written))
        self.written, self.openings = written, openings
        self.row = tokens(alike(written))

    def opening(self, openings: Mapping[str, Any]) -> Text:
        """The same text, where clauses may begin otherwise."""
        other = copy(self)
        other.openings = openings
        return other

    def raw(self, begin: int, end: int) -> str:
        """The text from one token to the one before another on one line, dashes and the like as
        they are usual."""
        stretch = self.written[self.row[begin].start:self.row[end - 1].end] if begin < end else ""
        return " ".join(alike(stretch).split())

    def is_over(self, at: int) -> bool:
        """Whether a sentence is over at a token, or the text is."""
        return at >= len(self.row) or self.row[at].kind == "end"

    def over(self, at: int) -> int:
        """The token at which the sentence that a token stands in is over."""
        while not self.is_over(at):
            at += 1
        return at

    def says(self, slot: Slot, at: int, after: Sequence[Token]) -> Said | None:
        """What it says for a word from a token on; `after` is what stands after the word in the
        sentence. None where it says nothing."""
        if self.is_over(at):
            return None
        return READERS[slot.kind](self, slot, at, after)

    def index_of(self, wanted: Sequence[Token], at: int) -> int | None:
        """Where these tokens stand next, before the sentence is over."""
        while not self.is_over(at):
            if begins(self.row, at, wanted):
                return at
            at += 1
        return None


def _choice(text: Text, slot: Slot, at: int, after: Sequence[Token]) -> Said | None:
    """The longest of what may be picked; what is picked already, of several alike."""
    token = text.row[at]
    if token.kind == "name":
        return next((Said(option.value, at + 1) for option in slot.options
                     if token.said == alike(option.label).casefold()), None)
    best: Said | None = None
    labels = tuple(option.label for option in slot.options)
    for number, label in _beginning(labels).get(token.alike, ()):
        option, end = slot.options[number], at + len(label)
        if begins(text.row, at, label) and not needs_quotes(slot, option.label) and (
                best is None or end > best.end or (
                    end == best.end and option.value == slot.value)):
            best = Said(option.value, end)
    return best


@lru_cache(512)
def _beginning(labels: tuple[str, ...]) -> Mapping[str, Sequence[tuple[int, Sequence[Token]]]]:
    """What may be picked by what it begins with: which of the labels it is, whole or but for what
    they have in brackets."""
    found: dict[str, list[tuple[int, Sequence[Token]]]] = {}
    for number, label in enumerate(labels):
        for row in dict.fromkeys((of_literal(label), of_literal(label.partition(" (")[0]))):
            if row:
                found.setdefault(row[0].alike, []).append((number, row))
    return found


def _number(text: Text, slot: Slot, at: int, after: Sequence[Token]) -> Said | None:
    """A number, the name of a note, or the words that stand for the number that it is."""
    if slot.names:
        return _named(text, slot.names, int(slot.low or 0), at)
    said = of_literal(told(slot))
    if begins(text.row, at, said):
        return Said(slot.value, at + len(said))
    if text.row[at].said == "+" and not text.is_over(at + 1):
        at += 1
    value = text.row[at].value
    return None if value is None else Said(tidy(float(value)), at + 1)


def _index(text: Text, slot: Slot, at: int, after: Sequence[Token]) -> Said | None:
    value = text.row[at].value
    return None if value is None or value.denominator > 1 else Said(str(value), at + 1)


def _fraction(text: Text, slot: Slot, at: int, after: Sequence[Token]) -> Said | None:
    """A fraction, a sum of a number and a fraction, or a length by its name."""
    row, value = text.row, text.row[at].value
    if value is None:
        for words, length in CALLED.items():
            end = at + len(words)
            if tuple(token.said.removesuffix("s") for token in row[at:end]) == words:
                return Said(str(length), end)
        length = FRACTIONS.get(row[at].said.removesuffix("s"), Fraction(0))
        return Said(str(length), at + 1) if length else None
    end = at + 1
    if end + 1 < len(row) and row[end].said == "+" and row[end + 1].value is not None:
        value += row[end + 1].value or 0
        end += 2
    if value.denominator > 10**6 or value.numerator > 10**6:
        return None
    for words, length in CALLED.items():
        if value == length and begins(row, end, of_literal(" ".join(words))):
            end += len(words)
    return Said(str(value), end)


def _list(text: Text, slot: Slot, at: int, after: Sequence[Token]) -> Said | None:
    """Numbers, or names of notes, one after another; what they count may stand before them."""
    if text.row[at].said in NOTHING:
        yet = not text.is_over(at + 1) and text.row[at + 1].said == "yet"
        return Said([], at + 1 + yet)
    if text.row[at].said in COUNTABLE:
        at += 1
    values: list[Any] = []
    while not text.is_over(at):
        if values and text.row[at].said in JOINING:
            found = _entry(text, slot, at + 1)
        else:
            found = _entry(text, slot, at)
        if found is None:
            break
        values.append(found.value)
        at = found.end
    return Said(values, at) if values else None


def _entry(text: Text, slot: Slot, at: int) -> Said | None:
    if text.is_over(at):
        return None
    if slot.names:
        return _named(text, slot.names, int(slot.low or 0), at)
    value = text.row[at].value
    return None if value is None else Said(tidy(float(value)), at + 1)


def _text(text: Text, slot: Slot, at: int, after: Sequence[Token]) -> Said | None:
    """All that stands up to what comes after it in the sentence; at a sentence's end, up to its
    end, or to a comma after which another clause begins."""
    if text.row[at].kind == "name":
        return Said(unquoted(text.written[text.row[at].start:text.row[at].end]), at + 1)
    wanted = [token for token in after if token.kind != "end"]
    end = text.index_of(wanted, at + 1) if wanted else None
    if end is None:
        end = at + 1
        while not text.is_over(end) and not (
                text.row[end].apart and text.row[end].said in text.openings):
            end += 1
    return Said(text.raw(at, end), end)


def _named(text: Text, names: Sequence[str], low: int, at: int) -> Said | None:
    """A note by the longest name that stands there, or by its number."""
    row = text.row
    for length in range(min(_longest(tuple(names)), len(row) - at), 0, -1):
        words = tuple(token.said for token in row[at:at + length])
        number = _numbered(tuple(names)).get(words)
        if number is not None:
            return Said(low + number, at + length)
    sounds = note_called(row[at].said)
    if sounds is not None:  # spelled otherwise than here, or a note where names are drums
        return Said(low + _sounding(tuple(names)).get(sounds, sounds), at + 1)
    value = row[at].value
    return None if value is None else Said(tidy(float(value)), at + 1)


@lru_cache(64)
def _numbered(names: tuple[str, ...]) -> Mapping[tuple[str, ...], int]:
    return {tuple(token.said for token in of_literal(name)): number
            for number, name in reversed([*enumerate(names)])}


@lru_cache(64)
def _sounding(names: tuple[str, ...]) -> Mapping[int, int]:
    """The numbers of names of notes, by what they sound as."""
    return {sounds: number for number, name in enumerate(names)
            if (sounds := note_called(name)) is not None}


@lru_cache(64)
def _longest(names: tuple[str, ...]) -> int:
    return max(map(len, _numbered(names)))


READERS: Mapping[str, Callable[[Text, Slot, int, Sequence[Token]], Said | None]] = {
    "choice": _choice, "number": _number, "index": _index, "fraction": _fraction, "list": _list,
    "text": _text}
"""How each kind of word is read."""
