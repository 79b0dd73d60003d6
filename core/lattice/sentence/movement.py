"""The clauses that say which numbers follow paths over bars, and those numbers in their clauses."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from lattice.base.clauses import ClauseSource, Fields, Names, Part, documents
from lattice.base.draws import Draws
from lattice.base.values import limits, tidy
from lattice.base.words import Clause, Offer, Shape, Slot, SlotPath, choice, number, written
from lattice.features.movement import (
    FARTHEST,
    MOST_BARS,
    MOST_PATHS,
    SHAPES,
    PathBars,
    PathSteps,
    WordPath,
    on_word,
)
from lattice.recipe import Lane, Recipe
from lattice.strands.kinds import VALUE

MAY_MOVE = SlotPath()
OPENING_BARS = 4
"""Over so many bars a controller begins to open."""
Moving = Lane | Recipe
"""What has words that may follow a path."""


def moving_in(recipe: Recipe, lane_id: str | None) -> Moving:
    """The lane with this id; without one, the pattern."""
    return recipe if lane_id is None else recipe.lane(lane_id)


def draws_of(lane: Lane | None, recipe: Recipe) -> Draws:
    """The draws by which paths wander."""
    return Draws(recipe.seed, lane.seed, lane.id) if lane else Draws(recipe.seed, 0, "")


def path_for(slot: Slot, shape: Shape = "wave", bars: int = 8) -> WordPath:
    """The path that a word begins with: from its value half of the longer way to a bound. A line of
    a controller goes from its low end to its high one, and so does that of a number among others,
    one a bar if it can."""
    low, high = slot.bounds
    here = float(slot.value)
    if shape == "line" and (slot.kind == "index" or slot.slot == VALUE.name):
        if slot.kind == "index" and high <= MOST_BARS:
            bars = int(high)
        elif slot.kind != "index":
            bars = OPENING_BARS
        return WordPath.model_validate({"word": slot.slot, "shape": shape, "from": low,
                                        "to": high, "bars": bars})
    there = here + (high - here) / 2 if here - low < high - here else here - (here - low) / 2
    return reshaped(WordPath.model_validate({
        "word": slot.slot, "from": here, "to": on_word(there, slot), "bars": bars}), shape, slot)


def reshaped(path: WordPath, shape: Shape, slot: Slot) -> WordPath:
    """The path in another shape; one that is drawn begins as it was."""
    points = path.points if path.drawn or shape != "drawn" else tuple(
        path.value(bar, Draws(0, 0, ""), slot) for bar in range(path.bars))
    return path.model_copy(update={"shape": shape, "points": points})


def shown(slot: Slot, clause: str, path: WordPath, draws: Draws) -> Slot:
    """A word that follows a path: it reads as both of its ends, and is turned from the first."""
    bars = path.round or min(3 * path.bars, 64)
    values = [path.value(bar, draws, slot) for bar in range(bars)]
    unit = " %" if slot.text.endswith(" %") else ""
    ends = values if path.drawn else [on_word(path.first, slot), on_word(path.last, slot)]
    text = f"{written(min(ends))} … {written(max(ends))}{unit}"
    value = tidy(ends[0])
    return replace(slot, value=str(value) if slot.kind == "index" else value, text=text,
                   path=SlotPath(clause, values))


def may_move(part: Part) -> bool:
    """Whether a part of a sentence is a number that may follow a path."""
    return isinstance(part, Slot) and (part.kind == "number" or (
        part.kind == "index" and part.bounds[1] <= FARTHEST))


def numbers_in(source: ClauseSource[Any], document: Moving, names: Names) -> Iterator[Slot]:
    """The numbers in the clauses of a kind."""
    for clause in source.said(document, names):
        yield from (part for part in clause.parts if isinstance(part, Slot) and may_move(part))


@dataclass(frozen=True, slots=True)
class _Words:
    """The words of a document that may follow a path, as they were looked for last: while its
    paths are turned, they are asked for again and again."""

    document: Moving
    names: Names
    words: Mapping[str, Slot]

    def is_of(self, document: Moving) -> bool:
        """Whether they are the words of a document too, which differs in its paths at the most."""
        return type(document) is type(self.document) and all(
            value is self.document.__dict__[name] for name, value in document.__dict__.items()
            if name != "paths")


@dataclass(frozen=True)
class Movement(ClauseSource[Any]):
    """A clause for each number that follows a path; `others` are the kinds of clauses whose numbers
    may."""

    others: Sequence[ClauseSource[Any]]
    last: list[_Words] = field(default_factory=list, init=False, compare=False, repr=False)
    """The words that were looked for last: with the lanes' names, and without."""

    def words(self, document: Moving, names: Names) -> Mapping[str, Slot]:
        """The words that may follow a path, by their fields, with their own values; those that are
        called alike are numbered. Which they are does not hang on the paths."""
        for last in self.last:
            if last.names == names and last.is_of(document):
                return last.words
        found = self._words(document, names)
        self.last[:] = [_Words(document, names, found), *self.last[:1]]
        return found

    def _words(self, document: Moving, names: Names) -> Mapping[str, Slot]:
        found: dict[str, Slot] = {}
        called: Counter[str] = Counter()
        for slot in self._numbers(document, names):
            if slot.slot not in found:
                called[slot.label] += 1
                again = called[slot.label]
                found[slot.slot] = slot if again == 1 else replace(
                    slot, label=f"{slot.label} {again}")
        return found

    def _numbers(self, document: Moving, names: Names) -> Iterator[Slot]:
        """These words, one after another."""
        for source in self.others:
            if source.moves:
                yield from numbers_in(source, document, names)

    def said(self, lane: Moving, names: Names) -> Iterator[Clause]:
        return self._said(lane, names, whole=False)

    def whole(self, lane: Moving, names: Names) -> Iterator[Clause]:
        return self._said(lane, names, whole=True)

    def _said(self, lane: Moving, names: Names, *, whole: bool) -> Iterator[Clause]:
        if not lane.paths:
            return
        words = self.words(lane, names)
        for i, path in enumerate(lane.paths):
            if slot := words.get(path.word):
                parts = list(_parts(i, path, slot, lane.paths, words, whole))
                yield Clause(f"{self.id}.{i}", parts, f"path of the {slot.label}", True)

    def offer(self, lane: Moving) -> Offer | None:
        if len(lane.paths) >= MOST_PATHS or self._next(lane) is None:
            return None
        return Offer(self.id, self.label, "a number that follows a path over bars", "slow movement")

    def _next(self, lane: Moving) -> Slot | None:
        taken = {path.word for path in lane.paths}
        return next((slot for slot in self._numbers(lane, _names(lane))
                     if slot.slot not in taken), None)

    def added(self, lane: Moving) -> Fields:
        slot = self._next(lane)
        assert slot is not None
        return {self.id: documents([*lane.paths, path_for(slot)])}

    def removed(self, lane: Moving, number: int) -> Fields | None:
        if not 0 <= number < len(lane.paths):
            return None
        return {self.id: documents([*lane.paths[:number], *lane.paths[number + 1 :]])}

    def written(self, lane: Moving, slot: str, value: Any) -> Fields:
        _, place, name = slot.split(".")
        path, words = lane.paths[int(place)], self.words(lane, _names(lane))
        if name == "word" and value != path.word:
            changed = path_for(words[value], path.shape, path.bars)
        elif name == "shape" and value != path.shape:
            changed = reshaped(path, value, words[path.word])
        else:
            return {slot: value}
        return {f"{self.id}.{place}": documents([changed])[0]}


def _names(lane: Moving) -> Names:
    leader = lane.follows if isinstance(lane, Lane) else None
    return {leader: leader} if leader else {}


def _parts(i: int, path: WordPath, slot: Slot, paths: Sequence[WordPath],
           words: Mapping[str, Slot], whole: bool) -> Iterator[Part]:
    at, unit = f"paths.{i}", " %" if slot.text.endswith(" %") else ""
    low, high = (-FARTHEST, FARTHEST) if whole else (tidy(bound) for bound in slot.bounds)
    taken = {each.word for each in paths if each is not path}

    def end(field: str, label: str, value: float) -> Slot:
        if not whole:
            value = on_word(value, slot)
        return number(f"{at}.{field}", f"{label} of the {slot.label}", value, low, high,
                      step=slot.step, text=f"{written(value)}{unit}")

    yield "Let the "
    yield choice(f"{at}.word", "word that moves", path.word,
                 {name: each.label for name, each in words.items() if name not in taken})
    yield " "
    yield choice(f"{at}.shape", "shape of the path", path.shape, SHAPES)
    if path.drawn:
        yield ": "
        points = [point if whole else on_word(point, slot) for point in path.points]
        yield Slot(f"{at}.points", "list", f"values of the {slot.label}", points,
                   " ".join(map(written, points)), low, high, slot.step, (), 0)
        yield ", a bar each."
        return
    yield " between " if path.shape == "wander" else " from "
    yield end("from", "beginning", path.first)
    yield " and " if path.shape == "wander" else " to "
    yield end("to", "far end", path.last)
    if path.shape == "steps":
        yield ", "
        yield number(f"{at}.steps", "number of steps", path.steps, *limits(PathSteps))
        yield " of them,"
    yield " and back over " if path.shape == "wave" else \
        ", to another place every " if path.shape == "wander" else " over "
    yield number(f"{at}.bars", "bars of the path", path.bars, *limits(PathBars))
    yield " bar." if path.bars == 1 else " bars."
