"""What is told of a text that cannot be read: one sentence, with the place and what could stand
there."""

from __future__ import annotations

import re
from collections.abc import Sequence
from difflib import SequenceMatcher

from lattice.base.words import Slot
from lattice.texts.clauses import Miss
from lattice.texts.refusal import TextError
from lattice.texts.slots import Text
from lattice.texts.tokens import Token, of_literal

MOST_OFFERED = 8
NEAR = 0.72
"""So alike are words of which one is taken for the other mistyped."""
WORDS_BEFORE = 4
WORDS_LEFT_OUT = 3
"""So many words at the beginning of a phrase may be missing in what is meant by it."""
LONGEST_WORD = 40
"""Letters of what is not known that are looked at."""


def wanted(part: str | Slot) -> str:
    """What may stand in a place of a sentence, in words."""
    if isinstance(part, str):
        return f"“{part.strip(' ,:')}”"
    if part.names:
        return f"{part.label}: names of notes from {part.names[0]} to {part.names[-1]}"
    if part.kind == "choice":
        labels = [f"“{option.label}”" for option in part.options]
        more = f" or {len(labels) - MOST_OFFERED} more" if len(labels) > MOST_OFFERED else ""
        return f"{part.label}: {', '.join(labels[:MOST_OFFERED])}{more}"
    if part.kind == "text":
        return f"{part.label}, such as {part.text[:40]}"
    what = {"number": "a number", "index": "a whole number", "fraction": "a fraction",
            "list": "numbers"}[part.kind]
    return f"{what} from {part.low} to {part.high} ({part.label})"


def refusal(text: Text, miss: Miss, phrases: Sequence[str]) -> TextError:
    """Why a clause could not be read; `phrases` are those that may be said instead."""
    row, at = text.row, miss.at
    start, end = _place(text, at)
    if miss.refusal is not None:
        named = re.search("“(.+?)”", miss.refusal)
        found = text.written.find(named[1], start) if named else -1
        if named and 0 <= found < row[text.over(at) - 1].end:
            start, end = found, found + len(named[1])
        return TextError(miss.refusal, start, end)
    here = _short(text.raw(at, at + 1)) if at < len(row) else ""
    if at == miss.begun:
        over = text.over(at)
        meant, words = _meant(row[at:min(at + 4, over)], phrases)
        did = f"; did you mean “{meant}”?" if meant else "."
        last = min(at + (words or 3), over)
        return TextError(f"“{_short(text.raw(at, last))}” is not known{did}", start,
                         row[last - 1].end, [meant] if meant else [])
    before = _short(text.raw(max(miss.begun, at - WORDS_BEFORE), at))
    instead = f", not “{here}”" if here else ""
    offers = [option.label for option in miss.wants.options[:MOST_OFFERED]] \
        if isinstance(miss.wants, Slot) else [miss.wants.strip()]
    return TextError(f"After “{before}” comes {wanted(miss.wants)}{instead}.", start, end, offers)


def said_again(text: Text, begin: int, end: int) -> TextError:
    """A clause that a lane has once and that is said before."""
    return TextError(f"“{text.raw(begin, end)[:60]}” is said for the second time; a lane has this "
                     "once.", text.row[begin].start, text.row[end - 1].end)


def _short(words: str) -> str:
    return words if len(words) <= 2 * LONGEST_WORD else f"{words[:2 * LONGEST_WORD]} …"


def _place(text: Text, at: int) -> tuple[int, int]:
    if at < len(text.row):
        return text.row[at].start, text.row[at].end
    return len(text.written), len(text.written)


def _meant(unknown: Sequence[Token], phrases: Sequence[str]) -> tuple[str, int]:
    """The phrase that words are most like, up to what they are like, and how many words those are;
    "" and 0 where none is near."""
    best = NEAR, "", 0
    for phrase in phrases:
        row = of_literal(phrase)
        for length in range(1, min(len(unknown), 3) + 1):
            if all(token.kind == "number" for token in unknown[:length]):
                continue  # numbers alone are like no phrase
            said = " ".join(token.said for token in unknown[:length])[:LONGEST_WORD]
            for begin in range(min(WORDS_LEFT_OUT + 1, len(row) - length + 1)):
                window = " ".join(token.said for token in row[begin:begin + length])
                alikeness = SequenceMatcher(None, said, window).ratio() + length / 100
                if alikeness > best[0]:
                    more = min(len(row), begin + length + (said == window))
                    best = alikeness, phrase[:row[more - 1].end], length
    return best[1:]
