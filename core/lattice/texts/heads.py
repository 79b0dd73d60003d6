"""The heads of lanes and patterns in a text: "Drip, closed hi-hat:", "Drizzle, pattern:"."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

from lattice.base.notes import note_called
from lattice.base.percussion import ALSO_CALLED, drum_names
from lattice.base.values import DRUM_CHANNEL, LaneKind
from lattice.base.words import quoted
from lattice.recipe import Lane
from lattice.texts.tokens import alike, unquoted

PATTERN, MELODY, CONTROLLER = "pattern", "melody", "controller"
KINDS: dict[str, LaneKind] = {MELODY: "pitched", CONTROLLER: "control"}
PLAIN = re.compile(r"[^\W_][\w’' &/+#-]*")
"""A name that is written without quotes."""


@dataclass(frozen=True, slots=True)
class Head:
    """What begins a lane or a pattern in a text: its name; what it is ("pattern", "melody",
    "controller", or a drum); its channel, and the fill that it plays in, where they are named.
    [start, end): where it stands."""

    name: str
    what: str
    channel: int | None
    fill: str | None
    start: int
    end: int

    @property
    def kind(self) -> LaneKind:
        """The kind of the lane that it begins."""
        return KINDS.get(self.what, "drum")

    @property
    def note(self) -> int | None:
        """The drum that it names; None of a lane of another kind."""
        if self.what in ("", PATTERN, *KINDS):
            return None
        called = note_called(self.what)
        return _drums()[self.what] if called is None else called


def told_name(name: str) -> str:
    """A name as it stands in a text."""
    return name if PLAIN.fullmatch(name) else quoted(name)


def lane_head(lane: Lane, fill: str | None = None) -> str:
    """The head of a lane."""
    what = next((word for word, kind in KINDS.items() if kind == lane.kind), None) or \
        _lowered(drum_names()[lane.note])
    usual = DRUM_CHANNEL if lane.kind == "drum" else 1
    parts = [told_name(lane.name), what]
    if lane.channel != usual:
        parts.append(f"channel {lane.channel}")
    if fill is not None:
        parts.append(f"in {told_name(fill)}")
    return f"{', '.join(parts)}:"


def _lowered(name: str) -> str:
    """The name of a drum within a sentence; notes keep their capital."""
    return name if note_called(name) is not None else name[:1].lower() + name[1:]


def heads(text: str) -> Iterator[Head]:
    """The heads in a text, as `checked` has it."""
    for found in _pattern().finditer(alike(text)):
        name, fill = found["name"], found["fill"]
        yield Head(_named(text, found, "name") if name else "",
                   " ".join(found["what"].casefold().split()),
                   int(found["channel"]) if found["channel"] else None,
                   _named(text, found, "fill") if fill else None, found.start("head"), found.end())


def _named(text: str, found: re.Match[str], group: str) -> str:
    name = text[found.start(group):found.end(group)].strip()
    return unquoted(name) if found[group].startswith('"') else " ".join(name.split())


@cache
def _drums() -> dict[str, int]:
    """The drums by all names that they have, in small letters."""
    also = {name: note for note, name in reversed(ALSO_CALLED.items())}
    named = {name.casefold(): note for note, name in reversed([*enumerate(drum_names())])}
    return also | {alike(name): note for name, note in named.items()}


@cache
def _pattern() -> re.Pattern[str]:
    """A head: at the beginning of a line, or after the end of a sentence."""
    words = sorted((PATTERN, *KINDS, *_drums()), key=len, reverse=True)
    what = "|".join(r"\s+".join(map(re.escape, word.split())) for word in words)
    name = r'"(?:[^"]|"")+"|[^\s",:;.!?][^",:;.!?]{0,79}?'
    return re.compile(
        rf"(?:\A|\n|[.!?])\s*(?P<head>(?:(?P<name>{name})\s*,\s*)?(?P<what>{what})"
        r"(?:\s*,?\s*(?:on\s+)?channel\s+(?P<channel>1[0-6]|[1-9]))?"
        rf"(?:\s*,?\s*in\s+(?P<fill>{name}))?\s*:)", re.IGNORECASE)
