"""The words for strands, as they stand whole in a text: "Velocity by hit, backward: 96 64 78-90."
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import Any

from lattice.base.clauses import ClauseKind, Fields, Names, Part
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.base.words import Fold, choice, exact, nth, typed
from lattice.strands.fields import MOST_VALUES, Strand, StrandFields
from lattice.strands.kinds import KINDS, StrandKind, Together, Value
from lattice.strands.shown import BY, BY_CHANCE, DIRECTION_WORDS

WHOLE_CHORD = "chord"
LONGEST = MOST_VALUES * 40
"""Letters that the values of a strand take."""
ENTRY = re.compile(r"""
    (?P<chord> chord\b )
    | (?P<first> [+-]?\d+ (?: \.\d+ )? )
      (?: (?: - | \s+ (?: - | to ) \s+ ) (?P<last> [+-]?\d+ (?: \.\d+ )? )
        | (?P<others> (?: \s* (?: \+ | \bwith\b | \band\b ) \s* [+-]?\d+ )+ ) )?
    """, re.VERBOSE | re.IGNORECASE)
"""One value: a chord step, a range, or a number."""


def told_values(values: Sequence[Value]) -> str:
    """The values of a strand: numbers, ranges as 78-90 or -5 to 3, chord steps as 0 with 2 with 4,
    or "chord"."""
    told = [_told(value) for value in values]
    return (", " if any(" " in each for each in told) else " ").join(told)


def _told(value: Value) -> str:
    if isinstance(value, Together):
        return WHOLE_CHORD if value.all == "chord" else " with ".join(map(str, value.all))
    if isinstance(value, tuple):
        low, high = map(exact, value)
        return f"{low}-{high}" if value[0] >= 0 else f"{low} to {high}"
    return exact(value)


def read_values(text: str, kind: StrandKind) -> list[Any]:
    """The values, as documents, that are meant by a text as `told_values` writes it; commas may be
    left out. RecipeError with what is not read."""
    found: list[Any] = []
    at = 0
    while at < len(text):
        if text[at] in " ,;\t\r\n":
            at += 1
            continue
        entry = ENTRY.match(text, at)
        if entry is None:
            word = re.split(r"[\s,;]", text[at:at + 30])[0]
            raise RecipeError(f"“{word}” is no value of a strand. It takes numbers from "
                              f"{kind.low:g} to {kind.high:g}, and ranges such as 78-90.")
        found.append(_read(entry))
        at = entry.end()
    if not 0 < len(found) <= MOST_VALUES:
        raise RecipeError(f"A strand has 1 to {MOST_VALUES} values.")
    return found


def _read(entry: re.Match[str]) -> Any:
    if entry["chord"]:
        return {"all": WHOLE_CHORD}
    if entry["others"]:
        return {"all": [int(float(entry["first"])), *map(int, re.findall(r"-?\d+",
                                                                        entry["others"]))]}
    first = _number(entry["first"])
    return [first, _number(entry["last"])] if entry["last"] else first


def _number(text: str) -> int | float:
    return float(text) if "." in text else int(text)


def strand_words(kind: StrandKind, lane: StrandFields, at: str | None = None) -> list[Part]:
    """How a lane's strand is read, and its values: "by hit, backward: 96 64 78-90"."""
    strand, at = lane.strand(kind), at or kind.path
    parts: list[Part] = [choice(f"{at}.by", "way of reading", strand.by, BY)]
    if strand.direction != "forward":
        parts += [", ", choice(f"{at}.direction", "direction of the strand", strand.direction,
                               DIRECTION_WORDS | {"random": BY_CHANCE[strand.by]})]
    if strand.window:
        count = len(strand.values)
        parts += [", from the ", nth(f"{at}.first", "first value read", strand.window[0] + 1,
                                     1, count),
                  " to the ", nth(f"{at}.last", "last value read", strand.window[1] + 1, 1, count)]
    return [*parts, ": ", typed(f"{at}.values", f"values of the {kind.word or kind.name}",
                                told_values(strand.values), LONGEST)]


def strand_written(kind: StrandKind, strand: Strand, word: str, value: Any) -> Fields:
    """The fields that a word of a strand is written to; `word` is its last name."""
    document = to_json(strand)
    if word == "values":
        document["values"] = read_values(value, kind)
        document.pop("spare", None)
    elif word in ("first", "last"):
        first, last = strand.read
        document["window"] = [value - 1, max(last, value - 1)] if word == "first" else \
            [min(first, value - 1), value - 1]
    else:
        document[word] = value
    return {kind.path: document}


def strand_forms(kind: StrandKind, lane: StrandFields) -> Iterator[Fields]:
    """What a lane is given for each form in which a strand can be said."""
    value = kind.neutral if kind.neutral is not None else lane.single(kind)
    for direction in ("forward", "backward"):
        for window in ({}, {"window": [0, 0]}):
            yield {kind.path: {"values": [value], "direction": direction} | window}


def written(lane: StrandFields, slot: str, value: Any) -> Fields:
    """Where a word is written that is one of a strand ("strands.velocity.by"), or another."""
    parent, _, word = slot.rpartition(".")
    kind = KINDS.get(parent.removeprefix("strands."))
    if kind is None:
        return {slot: value}
    return strand_written(kind, lane.strand(kind), word, value)


def strand_clause(kind: StrandKind) -> ClauseKind[StrandFields]:
    """The clause of a kind of strand that has no single value: said in texts only."""
    def present(lane: StrandFields) -> bool:
        return lane.own(kind) is not None

    def parts(lane: StrandFields, names: Names) -> list[Part]:
        return [Fold("", [f"{kind.name.capitalize()} ", *strand_words(kind, lane), "."])]

    return ClauseKind[StrandFields](
        f"{kind.name}-strand", f"{kind.name} strand", present, parts,
        forms=lambda lane: strand_forms(kind, lane), writes=written, moves=False)


ROLL, NUDGE, OCTAVE, TIE = (strand_clause(KINDS[name]) for name in (
    "roll", "nudge", "octave", "tie"))
