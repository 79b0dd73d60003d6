"""A text as what it is made of: words, numbers, names in quotes, and the ends of sentences.

Capitals, line breaks, blanks, commas, brackets and per cent signs carry no meaning by themselves;
dashes, quotes and blanks of all kinds are the same.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from fractions import Fraction
from functools import lru_cache
from typing import Literal, NamedTuple, cast
from unicodedata import category

from lattice.texts.refusal import TextError

LONGEST_TEXT = 100_000
"""Letters that are read at once."""
Kind = Literal["word", "number", "name", "end", "mark"]
_ALIKE = str.maketrans({
    **dict.fromkeys("‐‑‒–—―−﹣－", "-"), **dict.fromkeys("“”„‟«»＂", '"'),
    **dict.fromkeys("’‘‚‛´`", "’"), "'": "’", "♯": "#", "♭": "b", "／": "/", "⁄": "/",
    **dict.fromkeys("\t\u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009"
                    "\u200a\u202f\u205f\u3000\u200b\ufeff\u00ad", " ")})
_TOKENS = re.compile(r"""
    (?P<name> "(?:[^"]|"")*" )
    | (?P<fraction> (?<![\w/]) -? \d{1,9}/\d{1,9} (?![\w/]) )
    | (?P<number> (?: (?<!\w) [+-] )? (?: \d{1,3}(?:,\d{3})+(?!\d) | \d+ ) (?: \.\d+ )? )
      (?: (?:st|nd|rd|th)\b )?
    | (?P<word> [^\W\d_] (?: [\w’#-]* [\w’#] )? )
    | (?P<end> [.!?] )
    | (?P<mark> [^\s,;:()\[\]%] )
    """, re.VERBOSE | re.IGNORECASE)
_APART = re.compile(r"[,;:()\[\]\n]")
_UNUSUAL = re.compile(r"[^ -~\r\n]")
_BEGINNINGS = re.compile(r"(?m)^[ \t]*[>•*][>•* \t]*")
"""What letters and lists put before their lines."""


class Token(NamedTuple):
    """A word, a number, a name in quotes, the end of a sentence, or another mark.

    said: what it reads as, in small letters; [start, end): where it stands; value: of a number;
    apart: whether a comma or another mark sets it apart from what comes before; alike: what it has
    in common with all that read the same, one and many of a thing among them.
    """

    kind: Kind
    said: str
    start: int
    end: int
    value: Fraction | None
    apart: bool
    alike: str


def alike(text: str) -> str:
    """The text, letter for letter, with all kinds of dashes, quotes and blanks the same."""
    return text.translate(_ALIKE)


def checked(text: str) -> str:
    """The text without what letters put before its lines, letter for letter; TextError where it is
    too long, or holds what no text holds."""
    if len(text) > LONGEST_TEXT:
        raise TextError(f"A text takes up to {LONGEST_TEXT:,} letters; this one has "
                        f"{len(text):,}.", LONGEST_TEXT, len(text))
    cleaned = alike(text)
    for found in _UNUSUAL.finditer(cleaned):
        if category(found[0]) in ("Cc", "Cf", "Cs", "Co", "Cn"):
            at = found.start()
            raise TextError(f"There is a letter in it that cannot be seen (U+{ord(found[0]):04X},"
                            f" letter {at + 1:,}); take it out.", at, at + 1)
    return _BEGINNINGS.sub(lambda found: " " * len(found[0]), text)


def tokens(text: str) -> list[Token]:
    """What a text, as `alike` has it, is made of."""
    return list(_found(text))


def _found(text: str) -> Iterator[Token]:
    before = 0
    for match in _TOKENS.finditer(text):
        kind, start, end = match.lastgroup or "", match.start(), match.end()
        raw = match[0]
        if kind == "word" and raw.lower() == "percent":
            continue
        between = text[before:start]
        apart = between not in ("", " ") and bool(_APART.search(between))
        before = end
        if kind in ("fraction", "number"):
            digits = match[kind].replace(",", "")
            value, same = _number(digits)
            number: Kind = "word" if value is None else "number"
            yield Token(number, digits, start, end, value, apart, same)
        elif kind == "end":
            yield Token("end", ".", start, end, None, False, ".")
        else:
            said = raw if kind == "mark" else (unquoted(raw) if kind == "name" else raw).casefold()
            yield Token(cast(Kind, kind), said, start, end, None, apart, _single(said))


def unquoted(raw: str) -> str:
    """The name within quotes, as it was before those within it were doubled."""
    return re.sub(r'([“”"„«»])\1', r"\1", raw[1:-1])


@lru_cache(4096)
def of_literal(text: str) -> tuple[Token, ...]:
    """What a stretch of a sentence is made of."""
    return tuple(tokens(alike(text)))


@lru_cache(4096)
def _number(digits: str) -> tuple[Fraction | None, str]:
    """What digits stand for, and what they have in common with all that stand for the same; those
    over nothing are no number."""
    try:
        value = Fraction(digits)
    except ZeroDivisionError:
        return None, digits
    return value, f"number {value}"


@lru_cache(4096)
def _single(word: str) -> str:
    """A word without what makes it one of many, or tells of many."""
    if word == "are":
        return "is"
    if word.endswith("sses"):
        return word[:-2]
    return word[:-1] if word.endswith("s") and not word.endswith("ss") and len(word) > 2 else word


def begins(row: Sequence[Token], at: int, wanted: Sequence[Token]) -> bool:
    """Whether these tokens stand at a place of a row."""
    return len(row) - at >= len(wanted) and all(
        row[i].alike == each.alike for i, each in enumerate(wanted, at))
