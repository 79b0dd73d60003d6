"""Kinds of clauses: what a lane's sentence may say, and how each is put in and taken away.

A kind takes only the group of fields that it speaks of (or a frame, for what holds in the whole
pattern); `lattice.sentence` puts the kinds of all groups together, since a lane has all groups.
The fields that a kind changes are documents by path; `NEUTRAL` sets a field back.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Final, Generic, TypeVar

from lattice.base.values import Document, to_json
from lattice.base.words import Clause, Group, Offer, Slot

NEUTRAL: Final = object()
Part = str | Slot
Names = Mapping[str, str]
"""The other lanes' names by their ids."""
Fields = Mapping[str, Any]
"""Documents of fields by their paths, as in "vary.velocity"."""

G_contra = TypeVar("G_contra", bound=Document, contravariant=True)
Item = TypeVar("Item")


def documents(parts: Sequence[Document]) -> list[dict[str, Any]]:
    """Parts of a recipe as a list that a field holds."""
    return [to_json(part) for part in parts]


@dataclass(frozen=True)
class ClauseSource(ABC, Generic[G_contra]):
    """A kind of clause. `about` says in a few words what it does, `group` where it is listed among
    those that can be added."""

    id: str
    label: str
    writes: Callable[[G_contra, str, Any], Fields] | None = field(default=None, kw_only=True)
    often: bool = field(default=False, kw_only=True)
    """Whether it is what a lane most often needs next: it is offered before the others."""
    forms: Callable[[G_contra], Iterable[Fields]] | None = field(default=None, kw_only=True)
    """Fields that give a lane the clause in each of the forms that no word turns into another;
    none: those of `added` alone."""
    gathered: str | None = field(default=None, kw_only=True)
    """The field that holds what several clauses of this kind say, where there may be several."""
    moves: bool = field(default=True, kw_only=True)
    """Whether its numbers may follow paths over bars: what is played may, what holds for a lane or
    a pattern as a whole may not."""

    def written(self, lane: G_contra, slot: str, value: Any) -> Fields:
        """The fields that a word's new value is written to: the one that it is called by, unless
        `writes` says where the value goes of a word that is no field by itself."""
        return {slot: value} if self.writes is None else self.writes(lane, slot, value)

    @abstractmethod
    def said(self, lane: G_contra, names: Names) -> Iterator[Clause]:
        """The clauses of this kind that a lane has."""

    def whole(self, lane: G_contra, names: Names) -> Iterator[Clause]:
        """The same as they stand in a text, where nothing is folded or rounded."""
        for clause in self.said(lane, names):
            if parts := clause.whole:
                yield Clause(clause.id, parts, clause.label, clause.removable)

    @abstractmethod
    def offer(self, lane: G_contra) -> Offer | None:
        """What can be added, if it can."""

    @abstractmethod
    def added(self, lane: G_contra) -> Fields:
        """The fields that adding it puts in."""

    @abstractmethod
    def removed(self, lane: G_contra, number: int) -> Fields | None:
        """The fields that taking one away sets; None where there is none with this number."""

    def begun(self, lane: G_contra) -> Iterator[Fields]:
        """The fields that give a lane the clause, in each of its forms."""
        if self.forms is not None:
            yield from self.forms(lane)
        elif self.offer(lane) is not None:
            yield self.added(lane)


@dataclass(frozen=True)
class ClauseKind(ClauseSource[G_contra]):
    """A clause that a lane has once, or not.

    `starts` are the fields that "+ label" puts in (a callable works them out from the lane);
    `cleared` the fields that taking it away sets back to neutral, none if it always stays.
    """

    present: Callable[[G_contra], bool]
    parts: Callable[[G_contra, Names], Sequence[Part]]
    starts: Fields | Callable[[G_contra], Fields] | None = None
    cleared: Sequence[str] = ()
    possible: Callable[[G_contra], bool] = lambda lane: True
    about: str = ""
    group: Group = "the lane's shape"

    def said(self, lane: G_contra, names: Names) -> Iterator[Clause]:
        if self.present(lane) and (parts := self.parts(lane, names)):
            yield Clause(self.id, parts, self.label, bool(self.cleared))

    def offer(self, lane: G_contra) -> Offer | None:
        if self.starts is None or self.present(lane) or not self.possible(lane):
            return None
        return Offer(self.id, self.label, self.about, self.group, self.often)

    def added(self, lane: G_contra) -> Fields:
        return self.starts(lane) if callable(self.starts) else self.starts or {}

    def begun(self, lane: G_contra) -> Iterator[Fields]:
        if self.forms is not None:
            yield from self.forms(lane)
        elif self.starts is not None:
            yield self.added(lane)

    def removed(self, lane: G_contra, number: int) -> Fields | None:
        return dict.fromkeys(self.cleared, NEUTRAL)


@dataclass(frozen=True)
class ClauseList(ClauseSource[G_contra], Generic[G_contra, Item]):
    """A clause of which a lane may have several, one for each of `items`.

    `parts` also takes the number of the item. `another` is the item that "+ label" adds, None where
    they are made elsewhere; `stored` the document of all of them, which `holder` holds.
    """

    holder: str
    items: Callable[[G_contra], Sequence[Item]]
    parts: Callable[[G_contra, Names, int], Sequence[Part]]
    another: Callable[[G_contra], Item] | None
    stored: Callable[[Sequence[Item]], Any]
    about: str = ""
    group: Group = "the lane's shape"

    def __post_init__(self) -> None:
        """What several say is gathered by their holder."""
        object.__setattr__(self, "gathered", self.holder)

    def said(self, lane: G_contra, names: Names) -> Iterator[Clause]:
        for i in range(len(self.items(lane))):
            yield Clause(f"{self.id}.{i}", self.parts(lane, names, i), f"{self.label} {i + 1}",
                         True)

    def offer(self, lane: G_contra) -> Offer | None:
        if self.another is None:
            return None
        return Offer(self.id, self.label, self.about, self.group, self.often)

    def added(self, lane: G_contra) -> Fields:
        assert self.another is not None
        return {self.holder: self.stored([*self.items(lane), self.another(lane)])}

    def removed(self, lane: G_contra, number: int) -> Fields | None:
        items = self.items(lane)
        if not 0 <= number < len(items):
            return None
        return {self.holder: self.stored([*items[:number], *items[number + 1 :]])}
