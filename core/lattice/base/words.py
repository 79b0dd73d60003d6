"""Sentences: clauses made of words, some of which can be changed.

A slot is one changeable word. Its `slot` is the path of the field that it changes in the lane's
(or pattern's) document, so that what is shown, its bounds and what is stored are one definition.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from typing import Any, Literal, Self, get_args

from lattice.base.errors import RecipeError
from lattice.base.notes import note_called
from lattice.base.values import tidy, to_fraction, to_sum

Group = Literal["where hits fall", "which notes", "how loud", "how sure", "when",
                "how it is heard", "the lane's shape", "slow movement"]
GROUPS: tuple[Group, ...] = get_args(Group)
SlotKind = Literal["number", "index", "choice", "fraction", "list", "text"]
LONGEST_TEXT = 2000


@dataclass(frozen=True, slots=True)
class Option:
    """One entry of a pick list; `about` says in half a line what it does, where its label does
    not."""

    value: Any
    label: str
    about: str


Shape = Literal["wave", "line", "steps", "wander", "drawn"]
"""The shapes of paths over bars."""


@dataclass(frozen=True, slots=True)
class SlotPath:
    """The path that a number may follow, in one of the `shapes`. `clause`: that which says it, None
    where it follows none; `values`: one for each bar of a round, or of the first rounds of one that
    never comes round."""

    clause: str | None = None
    values: Sequence[float] = ()
    shapes: Sequence[Shape] = field(default_factory=lambda: get_args(Shape))


@dataclass(frozen=True, slots=True)
class Slot:
    """One word that can be changed.

    kind: number (dragged, typed, stepped), index (the same for whole numbers of any size, carried
    as decimal strings), choice (picked), fraction (picked or typed), list (numbers, typed), text
    (typed; of `high` letters at most).
    `label` names it for screen readers and in messages; `text` is how it reads in the sentence;
    `step` is what one arrow key or a few pixels of dragging add.
    """

    slot: str
    kind: SlotKind
    label: str
    value: Any
    text: str
    low: float | str | None
    high: float | str | None
    step: float
    options: Sequence[Option]
    offset: int
    """What people count from where the document counts from 0: 1 for numbers of steps."""
    path: SlotPath | None = None
    """None where the word cannot follow one."""
    names: Sequence[str] = ()
    """What the numbers from `low` on are called, where they have names; they may be typed too."""

    @property
    def bounds(self) -> tuple[float, float]:
        """The range of a number or list."""
        return float(self.low or 0), float(self.high or 0)

    def accept(self, value: Any) -> Any:
        """The value as the document holds it; RecipeError with the range if it does not fit."""
        if self.names and self.kind == "list" and isinstance(value, str):
            value = [self._called(each) for each in _apart(value)]
        elif self.names and isinstance(value, str):
            value = self._called(value)
        if self.kind == "number":
            return self._number(value)
        if self.kind == "index":
            return self._index(value)
        if self.kind == "choice":
            return self._chosen(value)
        if self.kind == "fraction":
            return self._fraction(value)
        if self.kind == "text":
            longest = int(self.high or LONGEST_TEXT)
            if not isinstance(value, str) or not 0 < len(value.strip()) <= longest:
                raise self._refusal(f"a text of up to {longest:,} letters")
            return value.strip()
        whole = self.step == int(self.step)
        wants = f"{'whole ' if whole else ''}numbers from {self.low} to {self.high}"
        if self.names:
            wants = f"names or numbers of notes from {self.names[0]} to {self.names[-1]}"
        types = (int,) if whole else (int, float)
        low, high = self.bounds
        if not isinstance(value, list) or not all(type(v) in types for v in value) or \
                any(not low <= v <= high for v in value):
            raise self._refusal(f"{wants}, such as {self.text}")
        return [v - self.offset for v in value]

    def _chosen(self, value: Any) -> Any:
        """What is chosen by its value, or by what it is called."""
        if value in [option.value for option in self.options]:
            return value
        meant = str(value).strip().lower()
        for option in self.options:
            if option.label.lower() == meant:
                return option.value
        raise self._refusal("one of " + ", ".join(o.label for o in self.options))

    def _called(self, text: str) -> int | str:
        """The number that is meant by a name or a number; what is neither, as it is."""
        text = text.strip()
        if text.isascii() and text.lstrip("-").isdigit():
            return int(text[:9])
        for told in (str.lower, note_called):  # "closed hi-hat", and "Db4" where it is called C♯4
            known = {told(name): i for i, name in reversed([*enumerate(self.names)])}
            if (meant := told(text)) is not None and meant in known:
                return int(self.low or 0) + known[meant]
        note = note_called(text)
        return text if note is None else note

    def _refusal(self, wants: str) -> RecipeError:
        return RecipeError(f"{self.label[:1].upper()}{self.label[1:]} takes {wants}.")

    def _number(self, value: Any) -> int | float:
        low, high = self.bounds
        whole = self.step == int(self.step)
        kind = "a whole number" if whole else "a number"
        wants = f"{kind} from {tidy(low):,} to {tidy(high):,}"
        if self.names:
            wants = f"the name or number of a note from {self.names[0]} to {self.names[-1]}"
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise self._refusal(wants)
        if not low <= value <= high or (whole and value != int(value)):
            raise self._refusal(wants)
        return tidy(value - self.offset)

    def _index(self, value: Any) -> str:
        low, high = int(self.low or 0), int(self.high or 0)
        text = str(value)
        if not (text.isascii() and text.isdigit()) or not low <= int(text[:64]) <= high:
            raise self._refusal(f"a whole number from {low:,} to {high:,}")
        return str(int(text) - self.offset)

    def _fraction(self, value: Any) -> str:
        try:
            fraction = to_sum(value) if isinstance(value, str) else to_fraction(value)
        except ValueError as problem:
            raise RecipeError(str(problem)) from None
        low, high = to_fraction(self.low), to_fraction(self.high)
        if not low <= fraction <= high:
            raise self._refusal(f"a fraction from {low} to {high}")
        return str(fraction - self.offset)


class Fold(str):
    """A stretch of a sentence that is said in short. whole: what stands there in a text, where
    nothing is folded."""

    whole: Sequence[str | Slot]

    def __new__(cls, text: str, whole: Sequence[str | Slot] = ()) -> Self:
        fold = super().__new__(cls, text)
        fold.whole = whole
        return fold


@dataclass(frozen=True, slots=True)
class Clause:
    """A stretch of a lane's sentence: text and slots in turn, what it is called, and whether it
    may be taken away."""

    id: str
    parts: Sequence[str | Slot]
    label: str
    removable: bool

    def __post_init__(self) -> None:
        """What is counted agrees with its number: "1 hit", "2 hits"."""
        parts = list(self.parts)
        for i, (slot, after) in enumerate(pairwise(self.parts)):
            if isinstance(after, str) and isinstance(slot, Slot) and \
                    slot.text in ("1", "-1", "+1") and COUNTED.match(after):
                parts[i + 1] = COUNTED.sub(lambda many: f" {singular(many[1])}", after)
        object.__setattr__(self, "parts", parts)

    @property
    def whole(self) -> list[str | Slot]:
        """Its parts as they stand in a text."""
        found: list[str | Slot] = []
        for part in self.parts:
            found += part.whole if isinstance(part, Fold) else [part]
        return found


@dataclass(frozen=True, slots=True)
class Offer:
    """A clause that is not in use and can be added: its name, what it does in a few words, and
    the group that it is listed in."""

    id: str
    label: str
    about: str
    group: Group
    often: bool = False
    """Whether it is offered before the others."""


def number(slot: str, label: str, value: float, low: float, high: float, *, step: float = 1,
           text: str | None = None) -> Slot:
    """A number from low to high; shown as typed unless `text` says otherwise."""
    shown = written(value) if text is None else text
    return Slot(slot, "number", label, tidy(value), shown, tidy(low), tidy(high), step, (), 0)


def percent(slot: str, label: str, value: float, low: float, high: float) -> Slot:
    """A whole percentage."""
    return number(slot, label, value, low, high, text=f"{written(value)} %")


def choice(slot: str, label: str, value: Any,
           options: Mapping[Any, str] | Mapping[Any, tuple[str, str]]) -> Slot:
    """A word out of a short list; `options` maps values to how they read, and to half a line on
    what they do where one word stands for an idea."""
    entries = _entries(tuple((type(v), v, *(text if isinstance(text, tuple) else (text, "")))
                             for v, text in options.items()))
    text = next(entry.label for entry in entries if entry.value == value)
    return Slot(slot, "choice", label, value, text, None, None, 1, entries, 0)


@lru_cache(1024)
def _entries(options: tuple[tuple[Any, Any, str, str], ...]) -> tuple[Option, ...]:
    """The entries of a pick list by their types (1 is not True), values and texts."""
    return tuple(Option(*option) for _, *option in options)


def index(slot: str, label: str, value: str, count: int) -> Slot:
    """One of `count`, counted from 0 in the document and from 1 in words; numbers of any size, as
    decimal strings."""
    place = int(value) + 1
    return Slot(slot, "index", label, str(place), f"{place:,}", "1", str(count), 1, (), 1)


_COUNTED = ("bars", "beats", "degrees", "hits", "notes", "octaves", "passes", "places",
            "semitones", "steps", "strokes", "times", "values")
COUNTED = re.compile(rf"^ ({'|'.join(_COUNTED)})\b")
"""What numbers in sentences count."""


def singular(word: str) -> str:
    """One of what a plural counts: "hit", "pass"."""
    return word[:-2] if word.endswith("sses") else word[:-1]


COUNTABLE = frozenset((*_COUNTED, *map(singular, _COUNTED)))
"""What numbers count, one of it or many."""


def many(count: float, what: str) -> str:
    """So many of what the plural `what` counts: "1 hit", "0 hits", "-1 degree"."""
    return f"{written(count)} {counted(count, what)}"


def counted(count: float, what: str) -> str:
    """What the plural `what` counts, as it reads after so many: "hit" after 1 or -1."""
    return singular(what) if abs(count) == 1 else what


def listed(words: Sequence[str]) -> str:
    """Several of them, as "16, 15 and 9"."""
    return " and ".join(filter(None, [", ".join(words[:-1]), *words[-1:]]))


def written(value: float) -> str:
    """A number as people read it: with two decimals at most."""
    return str(tidy(round(value, 2)))


def exact(value: float) -> str:
    """A number with as many decimals as it has."""
    return format(Decimal(str(tidy(value))), "f")


def quoted(name: str) -> str:
    """A name in quotes; quotes within it are doubled."""
    doubled = re.sub('[“”"]', lambda found: 2 * found[0], name)
    return f"“{doubled}”"


def ordinal(n: int) -> str:
    """1st, 2nd, 3rd, 4th … 11th … 21st."""
    ending = "th" if n % 100 in (11, 12, 13) else {1: "st", 2: "nd", 3: "rd"}.get(n % 10, "th")
    return f"{n}{ending}"


def nth(slot: str, label: str, value: int, low: int, high: int) -> Slot:
    """A number that reads as an ordinal."""
    return number(slot, label, value, low, high, text=ordinal(value))


def step_number(slot: str, label: str, step: int, low: int, high: int) -> Slot:
    """A step, counted from 0 in the document and from 1 in words; low and high count from 0."""
    return Slot(slot, "number", label, step + 1, str(step + 1), low + 1, high + 1, 1, (),
                1)


def step_list(slot: str, label: str, steps: Sequence[int], count: int) -> Slot:
    """Several steps or places of `count`, counted from 0 in the document and from 1 in words."""
    numbers = [step + 1 for step in steps]
    return Slot(slot, "list", label, numbers, " ".join(map(str, numbers)) or "none", 1, count,
                1, (), 1)


def factors(slot: str, label: str, values: Sequence[float], high: float) -> Slot:
    """Several numbers from 0 to `high`, fractions too."""
    numbers = [tidy(value) for value in values]
    return Slot(slot, "list", label, numbers, " ".join(map(written, values)), 0, tidy(high), 0.05,
                (), 0)


def typed(slot: str, label: str, value: str, longest: int | None = None) -> Slot:
    """A text."""
    return Slot(slot, "text", label, value, value, None, longest, 1, (), 0)


def note(slot: str, label: str, value: int, names: Sequence[str]) -> Slot:
    """A note by its name; `names` are those of all notes."""
    return Slot(slot, "number", label, value, names[value], 0, len(names) - 1, 1, (), 0,
                names=names)


def notes(slot: str, label: str, values: Sequence[int], names: Sequence[str]) -> Slot:
    """Several notes by their names; `names` are those of all that it may be."""
    between = ", " if any(" " in name for name in names) else " "
    text = between.join(names[value] for value in values) or "none"
    return Slot(slot, "list", label, list(values), text, 0, len(names) - 1, 1, (), 0, names=names)


def _apart(text: str) -> list[str]:
    """What is listed in a text: between commas if it has any, else between blanks."""
    return [each for each in (text.split(",") if "," in text else text.split()) if each.strip()]


COMMON_STEPS = ["1/1", "1/2", "1/4", "3/16", "1/6", "1/8", "1/12", "1/16", "1/20", "1/24", "1/32",
                "1/48", "1/64"]
STEP_NAMES = {"1/6": "1/6, quarter triplets", "1/12": "1/12, eighth triplets",
              "1/20": "1/20, quintuplets", "1/24": "1/24, sixteenth triplets",
              "3/16": "3/16, dotted eighths", "1/48": "1/48, 32nd triplets"}


def told_beat(value: Fraction) -> str:
    """A place in beats from 0, as it is counted from 1: "2 + 3/4"."""
    whole, rest = divmod(value + 1, 1)
    return f"{whole} + {rest}" if rest else str(whole)


def beat(slot: str, label: str, value: Fraction, low: Fraction, high: Fraction) -> Slot:
    """A place in beats, counted from 0 in the document and from 1 in words: "2 + 3/4"."""
    text = told_beat(value)
    return Slot(slot, "fraction", label, text, text, str(low + 1), str(high + 1), 1,
                [Option(c, c, "") for c in ("1", "2", "3", "4")], 1)


def fraction(slot: str, label: str, value: Any, low: Fraction, high: Fraction,
             common: Sequence[str] = COMMON_STEPS) -> Slot:
    """An exact fraction, picked from the common ones or typed."""
    return Slot(slot, "fraction", label, str(value), str(value), str(low), str(high), 1,
                _entries(tuple((str, c, STEP_NAMES.get(c, c), "") for c in common)), 0)
