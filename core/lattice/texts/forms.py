"""Every clause that a text may have, with its forms, as it is listed in docs/text.md."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from lattice.base.clauses import ClauseSource
from lattice.base.errors import RecipeError
from lattice.base.values import LaneKind
from lattice.base.words import Clause, Slot
from lattice.texts.clauses import Saying, with_values
from lattice.texts.openings import NAMES, bare, examples, kinds_of
from lattice.texts.refused import wanted
from lattice.texts.slots import told

INTRODUCTION = """\
# Texts

<!-- Written by `./jolly api` from the definitions of the clauses (`lattice read --forms`). -->

A recipe can be written, sent and read again: **what is said can be read**. There is no second
grammar. A clause is read by saying it as it stands, and giving each of its words what the text has
in its place, by that word's own bounds and choices, until both are alike; so a new rule or clause
is read without a line of its own.

    Drizzle, pattern: A frame of 1 bar of 4/4 at 124 bpm. In D dorian. Swing 56 % on 1/16.
    Pump, bass drum 1: Spread 4 hits over 16 steps of 1/16, turned 0.
    Drip, closed hi-hat: Spread 7 hits over 12 steps. Velocity by hit: 96 58 74. Keep every 3rd.
    Reed, melody, channel 3: Spread 3 hits over 8 steps of 1/8. Degrees of the key, from octave
    4 up, by hit: 0 2 4.

- A line for the frame begins with the pattern's name and “pattern:”, one for a lane with its name
  and what it is: a drum by its name (General MIDI's, or a usual one such as “closed hat”),
  “melody” or “controller”. A channel that is not the usual one follows (“channel 3”), and what
  plays in a fill names it (“in Hail”). A name that would not read as one stands in quotes, quotes
  within it doubled. Without a beginning, a text is one lane.
- Clauses may stand in any order. What is not said is neutral, and so is the end of a clause after a
  comma or a number: “Keep every 3rd.”
- Capitals, line breaks, blanks, commas, brackets and % carry no meaning; “percent”, “3rd” or “3”,
  “sixteenths” or 1/16, all dashes and quotes, sharps and flats in both signs are read. Marks of
  letters before lines (>) are left out. One of a thing and many are the same: “step”, “steps”.
- Strands stand whole: numbers, ranges (78-90, or -5 to 3), several degrees at once (0 with 2 with
  4), the whole chord (chord).
- What cannot be read is told in one sentence with its place and what could stand there; nothing is
  guessed. A text takes up to 100,000 letters.

Left out, since it is not played: mute and solo, colours, a recording of one's own and its name,
values that wait behind a shortened strand, and what a lane keeps for another kind of lane. What
draws go by is said where it does not follow from the name: “Rerolled to 5. Draws as drip-2.”

Words that can be changed are **bold**; below each clause is what they take.
"""
HEADINGS: tuple[tuple[LaneKind | None, str], ...] = (
    (None, "Patterns"), ("drum", "Lanes"), ("pitched", "Lanes of melodies, besides"),
    ("control", "Lanes that move controllers, besides"))


def listed_forms() -> str:
    """All clauses with their forms, in Markdown."""
    known: set[str] = set()
    lines = [INTRODUCTION]
    for kind, heading in HEADINGS:
        lines.append(f"## {heading}\n")
        for document in bare(kind):
            for source in kinds_of(document):
                clauses = [each for _, saying, clause in examples(source, document)
                           for each in _and_turned(source, saying, clause)]
                if clauses and source.id not in known:
                    known.add(source.id)
                    lines += _told(source, clauses)
    return "\n".join(lines)


def _and_turned(source: ClauseSource[Any], document: Saying, clause: Clause) -> Iterator[Clause]:
    """A clause; and if it begins with a word that is picked, with each other that may be."""
    yield clause
    first = next((part for part in clause.parts if part != ""), None)
    if not isinstance(first, Slot) or source.gathered is not None:
        return
    for option in first.options:
        try:
            turned = with_values(document, source, {first.slot: option.value}, NAMES)
        except RecipeError:
            continue
        yield from source.whole(turned, NAMES)


def _told(source: ClauseSource[Any], clauses: list[Clause]) -> Iterator[str]:
    yield f"### {source.label}\n"
    said = {"".join(part if isinstance(part, str) else f"**{told(part)}**"
                    for part in clause.parts): clause for clause in clauses}
    yield from (f"> {form}\n" for form in said)
    slots: dict[str, Slot] = {}
    for clause in said.values():
        for part in clause.parts:
            if isinstance(part, Slot):
                slots.setdefault(part.label, part)
    yield from (f"- {label}: {_takes(slot)}" for label, slot in slots.items())
    yield ""


def _takes(slot: Slot) -> str:
    """What a word takes."""
    if slot.kind == "text":
        return f"such as {slot.text}"
    if slot.kind == "choice":
        return ", ".join(f"“{option.label}”" for option in slot.options)
    return wanted(slot).removesuffix(f" ({slot.label})").removeprefix(f"{slot.label}: ")
