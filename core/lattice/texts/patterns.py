"""Patterns and lanes as texts: a line for the frame and one for each lane; told, and read."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from lattice.base.clauses import Names
from lattice.base.errors import RecipeError
from lattice.base.group import MAX_LANES, free_id, id_for
from lattice.base.values import LANE_KINDS, to_json
from lattice.recipe import Lane, PatternFill, Recipe, read, with_lane
from lattice.texts.clauses import Saying
from lattice.texts.heads import PATTERN, Head, heads, lane_head, told_name
from lattice.texts.lane import read_sentence, sentence_text
from lattice.texts.openings import blank, openings_of
from lattice.texts.refusal import TextError
from lattice.texts.slots import Text
from lattice.texts.tokens import alike, checked

MOST_PATTERNS = 32
"""So many patterns are read of one text."""
UNNAMED = "Lane"
NOBODY = {"-": "no other lane is here"}
"""What may be followed where there is no other lane."""
STAYS = "note", "own_channel", "mute", "solo", "own_sound"
"""What stays of a lane that is written anew."""
DRAWS_AS = re.compile(r"\bdraws\s+as\s+\"?([a-z0-9][a-z0-9-]{0,39})", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class NamedPattern:
    """A pattern that was read, and its name, empty where it has none."""

    name: str
    recipe: Recipe


@dataclass(frozen=True, slots=True)
class ReadText:
    """What a text holds: lanes, and whole patterns."""

    lanes: Sequence[Lane] = ()
    patterns: Sequence[NamedPattern] = ()


def names_in(recipe: Recipe) -> dict[str, str]:
    """What the lanes of a pattern are called in texts, by their ids: by their names, and of those
    that share one, with their ids too."""
    called = [lane.name.casefold() for lane in recipe.lanes]
    return {lane.id: lane.name if called.count(lane.name.casefold()) == 1
            else f"{lane.name} {lane.id}" for lane in recipe.lanes}


def other_names(recipe: Recipe, lane_id: str) -> Names:
    """What the other lanes of a pattern are called in texts, by their ids."""
    return _others(names_in(recipe), lane_id)


def _others(names: Mapping[str, str], lane_id: str) -> Names:
    return {each: name for each, name in names.items() if each != lane_id}


def lane_text(lane: Lane, recipe: Recipe, *, headed: bool = True) -> str:
    """A lane of a pattern as one line; what it says alone, where it is not `headed`."""
    said = sentence_text(lane, other_names(recipe, lane.id))
    return f"{lane_head(lane)} {said}" if headed else said


def text(recipe: Recipe, lane: str | None = None, *, name: str = "") -> str:
    """A pattern as a text, under its name, or the lane in it that has an id."""
    return pattern_text(recipe, name) if lane is None else lane_text(recipe.lane(lane), recipe)


def pattern_text(recipe: Recipe, name: str) -> str:
    """A pattern as lines: its frame, its lanes, and those of its fills."""
    names = names_in(recipe)
    fills = _told_apart(recipe.fills)
    told = recipe.model_copy(update={"fills": fills})
    head = f"{told_name(name)}, {PATTERN}:" if name else f"{PATTERN.capitalize()}:"
    lines = [f"{head} {sentence_text(told, names)}"]
    lines += [f"{lane_head(lane)} {sentence_text(lane, _others(names, lane.id))}"
              for lane in recipe.lanes]
    lines += [f"{lane_head(lane, fill.name)} {sentence_text(lane, {})}"
              for fill in fills for lane in fill.lanes]
    return "\n".join(lines)


def _told_apart(fills: Sequence[PatternFill]) -> tuple[PatternFill, ...]:
    """Fills, with numbers after names that several have."""
    found: list[PatternFill] = []
    for fill in fills:
        taken = {each.name.casefold() for each in found}
        free = next(name for n in range(1, len(fills) + 2) if (
            name := fill.name if n == 1 else f"{fill.name} {n}").casefold() not in taken)
        found.append(fill.model_copy(update={"name": free}))
    return tuple(found)


@dataclass(slots=True)
class _Section:
    """A lane or a frame in a text: its head, and where its sentence lies."""

    head: Head
    begin: int
    end: int
    lane_id: str = ""


@dataclass(slots=True)
class _Group:
    """A frame with its lanes; without one, lanes by themselves."""

    frame: _Section | None = None
    lanes: list[_Section] = field(default_factory=list)
    fills: list[_Section] = field(default_factory=list)


def read_text(text: str, around: Recipe | None = None) -> ReadText:
    """The lanes and patterns in a text. around: the pattern whose lanes may be followed too.
    TextError with one sentence, and the place, for what cannot be read."""
    cleaned = _something(text)
    groups = _groups(cleaned)
    if sum(len(group.lanes) for group in groups) > MAX_LANES * MOST_PATTERNS or \
            sum(group.frame is not None for group in groups) > MOST_PATTERNS:
        raise TextError(f"A text holds up to {MOST_PATTERNS} patterns; take it apart.", 0,
                        len(text))
    lanes: list[Lane] = []
    patterns: list[NamedPattern] = []
    for group in groups:
        names = _name(group, cleaned, around if group.frame is None else None)
        found = [_lane(each, cleaned, names) for each in group.lanes]
        if group.frame is None:
            lanes += found
        else:
            patterns.append(NamedPattern(group.frame.head.name, _pattern(
                group, group.frame, found, cleaned, names)))
    return ReadText(lanes, patterns)


def _something(text: str) -> str:
    """A text as it is read; TextError where there is nothing in it."""
    cleaned = checked(text)
    if not re.search(r"\w", cleaned):
        raise TextError("Write what a lane plays, such as “Spread 7 hits over 12 steps of 1/16”; "
                        "there is nothing to read yet.", 0, len(text))
    return cleaned


def read_lane(text: str, lane: Lane, recipe: Recipe) -> Lane:
    """A lane of a pattern with what a text says in place of all that it said. A text with a head
    changes what the lane is called and what it is; TextError where it is several lanes, or cannot
    be read."""
    cleaned = _something(text)
    groups = _groups(cleaned)
    sections = [section for group in groups for section in (group.frame, *group.lanes, *group.fills)
                if section is not None]
    if len(sections) != 1 or groups[0].frame is not None or groups[0].fills:
        raise TextError("This is more than one lane; paste it on the lattice instead.",
                        sections[1].head.start if sections[1:] else 0, len(text))
    (section,) = sections
    head, bare = section.head, bare_lane(lane)
    if head.what:
        note = {} if head.note is None else {"note": head.note}
        named = lane.model_copy(update={"name": head.name or lane.name, "kind": head.kind})
        bare = bare_lane(named).model_copy(update=note | {"own_channel": head.channel})
    found = _read(section, _text(section, cleaned), bare, other_names(recipe, lane.id) or NOBODY)
    assert isinstance(found, Lane)
    if found.id != lane.id:
        raise TextError(f"What this lane draws goes by {lane.id} in this pattern.", section.begin,
                        section.end)
    return found


def bare_lane(lane: Lane) -> Lane:
    """A lane that says nothing yet, in the place of another."""
    return blank(lane.id, lane.name, lane.kind).model_copy(update={
        name: getattr(lane, name) for name in STAYS})


def wrong_with(text: str, lane: Lane, recipe: Recipe) -> TextError | None:
    """What of a text that is written for a lane of a pattern cannot be read; None: nothing."""
    try:
        with_lane(recipe, read_lane(text, lane, recipe))
    except TextError as problem:
        return problem
    except RecipeError as problem:
        return TextError(str(problem), 0, len(text))
    return None


def _groups(text: str) -> list[_Group]:
    """What is in a text, in its order."""
    found = [*heads(text)]
    if not found or text[:found[0].start].strip():
        found.insert(0, Head(UNNAMED, "", None, None, 0, 0))
    groups: list[_Group] = []
    for i, head in enumerate(found):
        section = _Section(head, head.end, found[i + 1].start if i + 1 < len(found) else len(text))
        if head.what == PATTERN:
            groups.append(_Group(section))
            continue
        if not groups:
            groups.append(_Group())
        (groups[-1].lanes if head.fill is None else groups[-1].fills).append(section)
    return groups


def _name(group: _Group, text: str, around: Recipe | None) -> dict[str, str]:
    """Give the lanes of a group their ids; what they and those around are called, by their ids."""
    if len(group.lanes) > MAX_LANES:
        raise TextError(f"A pattern has up to {MAX_LANES} lanes; these are "
                        f"{len(group.lanes):,}.", group.lanes[MAX_LANES].head.start,
                        group.lanes[-1].end)
    taken: set[str] = set()
    text = alike(text)
    for section in (*group.lanes, *group.fills):
        drawn = DRAWS_AS.search(text, section.begin, section.end)
        section.lane_id = drawn[1].lower() if drawn else ""
        taken.add(section.lane_id)
    for section in group.lanes:
        if not section.lane_id:
            section.lane_id = free_id(section.head.name, taken)
            taken.add(section.lane_id)
    for section in group.fills:
        section.lane_id = section.lane_id or id_for(section.head.name)
    here = Recipe(lanes=tuple(Lane(id=each.lane_id, name=each.head.name or UNNAMED)
                              for each in group.lanes))
    return (names_in(around) if around else {}) | names_in(here)


def _lane(section: _Section, text: str, names: Mapping[str, str]) -> Lane:
    """The lane that a section is."""
    head = section.head
    kinds = (head.kind,) if head.what else LANE_KINDS
    refused: TextError | None = None
    said = _text(section, text)
    for kind in kinds:
        lane = blank(section.lane_id, head.name or UNNAMED, kind)
        if head.note is not None:
            lane = lane.model_copy(update={"note": head.note})
        if head.channel is not None:
            lane = lane.model_copy(update={"own_channel": head.channel})
        try:
            found = _read(section, said, lane, _others(names, section.lane_id) or NOBODY)
        except TextError as problem:
            if refused is None or problem.start > refused.start:
                refused = problem
        else:
            assert isinstance(found, Lane)
            return found
    assert refused is not None
    raise refused


def _text(section: _Section, text: str) -> Text:
    """What a section says."""
    try:
        return Text(text[section.begin:section.end], {})
    except TextError as problem:
        raise problem.later(section.begin) from None


def _read(section: _Section, said: Text, document: Saying, names: Names) -> Saying:
    """What a section says, put into a lane or a pattern."""
    try:
        return read_sentence(said.opening(openings_of(document)), document, names)
    except TextError as problem:
        raise problem.later(section.begin) from None


def _pattern(group: _Group, frame: _Section, lanes: Sequence[Lane], text: str,
             names: Names) -> Recipe:
    """A whole pattern: its frame, its lanes, and its fills with theirs."""
    recipe = _read(frame, _text(frame, text), Recipe(), names)
    assert isinstance(recipe, Recipe)
    played: dict[str, list[Lane]] = {}
    for section in group.fills:
        played.setdefault((section.head.fill or "").casefold(), []).append(
            _lane(section, text, {}))
    fills = []
    for fill in recipe.fills:
        own = played.pop(fill.name.casefold(), None)
        if own is None:
            raise TextError(f"What the fill {fill.name} plays is not there: a line for each of its "
                            f"lanes begins with “Name, drum, in {fill.name}:”.", frame.begin,
                            frame.end)
        fills.append(fill.model_copy(update={"lanes": tuple(own)}))
    for section in group.fills:
        if (section.head.fill or "").casefold() in played:
            raise TextError(f"The pattern has no fill called {section.head.fill}.",
                            section.head.start, section.head.end)
    made = recipe.model_copy(update={"lanes": tuple(lanes), "fills": tuple(fills)})
    try:
        return read(to_json(made))
    except RecipeError as problem:
        raise TextError(str(problem), frame.head.start, frame.end) from None
