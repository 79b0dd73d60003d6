"""Gusts that come by themselves: in some passes, lanes play relatives of themselves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar

from pydantic import Field

from lattice.base.clauses import NEUTRAL, ClauseList, Fields, Names, Part, documents
from lattice.base.frame import Frame
from lattice.base.group import MAX_LANES, LaneId
from lattice.base.values import limits
from lattice.base.words import choice, number
from lattice.features.recurring import Passes, Recurring, Turn

MOST_GUSTS = 8
FIRST_AWAY = 0.4
"""How far away a gust is at first."""
NOBODY = ""
"""What is picked for lanes where no lane is meant: all of them, or no further one."""

Away = Annotated[float, Field(ge=0.05, le=1)]
Throw = Annotated[int, Field(ge=1 - 2**53, le=2**53 - 1)]


class PatternGust(Recurring):
    """A gust in the `turn`-th (from 1) of every `every` passes, `away` from what plays (0 to 1: the
    share of the steps that is let loose), over these lanes, or over all where none is named. Its
    throw is the number of the pass, counted from 0, so that each time another blows, or always
    this one. A lane that is not there is not blown about."""

    called: ClassVar[str] = "gust"
    every: Passes = 8
    turn: Turn = 8
    away: Away = FIRST_AWAY
    lanes: Annotated[tuple[LaneId, ...] | None, Field(min_length=1, max_length=MAX_LANES)] = None
    throw: Throw | None = None

    def comes_in(self, passing: int) -> bool:
        """Whether it comes in a pass, counted from 0."""
        return passing % self.every == self.turn - 1

    def over(self, lane_id: str) -> bool:
        """Whether it blows over a lane."""
        return self.lanes is None or lane_id in self.lanes

    def thrown(self, passing: int) -> int:
        """Its throw in a pass, counted from 0."""
        return passing if self.throw is None else self.throw


class Gusty(Frame):
    """A frame through which gusts come by themselves."""

    gusts: Annotated[tuple[PatternGust, ...], Field(max_length=MOST_GUSTS)] = ()

    def gust_over(self, lane_id: str, passing: int) -> PatternGust | None:
        """The gust that blows a lane about in a pass: of several, the first."""
        return next((gust for gust in self.gusts
                     if gust.comes_in(passing) and gust.over(lane_id)), None)


def _parts(frame: Gusty, names: Names, i: int) -> Sequence[Part]:
    gust, at = frame.gusts[i], f"gusts.{i}"
    parts: list[Part] = [
        *gust.when(at), "a gust blows ",
        number(f"{at}.away", "how far the gust is away", gust.away, *limits(Away), step=0.05),
        " away over "]
    named = gust.lanes or ()
    for place, lane_id in enumerate(named):
        free = {each: (name, "") for each, name in names.items()
                if each == lane_id or each not in named}
        parts += [choice(f"{at}.lanes.{place}", f"lane {place + 1} of the gust", lane_id,
                         {lane_id: ("a lane that is gone", ""), **free,
                          NOBODY: ("not this one", "")}), ", "]
    others = {each: (name, "") for each, name in names.items() if each not in named}
    first, about = ("no other lane", "") if named else ("all lanes", "that play notes")
    if named:
        parts[-1] = " and "
    parts += [choice(f"{at}.lanes.{len(named)}", "another lane of the gust" if named else
                     "lanes of the gust", NOBODY, {NOBODY: (first, about), **others}), ", ",
              choice(f"{at}.same", "which gust", gust.throw is not None,
                     {False: ("another each time", ""),
                      True: ("the same each time", "by the throw that is said")})]
    if gust.throw is not None:
        low, high = limits(Throw)
        parts += [" by throw ", number(f"{at}.throw", "throw of the gust", gust.throw, low, high)]
    return [*parts, "."]


def _written(frame: Gusty, slot: str, value: Any) -> Fields:
    _, number_, field, *place = slot.split(".")
    gust = frame.gusts[int(number_)]
    if field == "same":
        return {f"gusts.{number_}.throw": gust.turn - 1 if value else NEUTRAL}
    if field == "lanes":
        named = list(gust.lanes or ())
        named[int(place[0]) : int(place[0]) + 1] = [value] if value else []
        return {f"gusts.{number_}.lanes": named or NEUTRAL}
    return {slot: value}


def without_lane(gusts: Sequence[PatternGust], lane_id: str) -> tuple[PatternGust, ...]:
    """Gusts as they are when a lane has gone: those that blew over it alone go too."""
    left = ((gust, gust.lanes and tuple(each for each in gust.lanes if each != lane_id))
            for gust in gusts)
    return tuple(gust.model_copy(update={"lanes": lanes}) for gust, lanes in left if lanes != ())


GUSTS = ClauseList[Gusty, PatternGust](
    "gusts", "gusts", "gusts", lambda frame: frame.gusts, _parts, lambda frame: PatternGust(),
    documents, writes=_written, moves=False,
    about="passes in which lanes play relatives of themselves", group="how sure")
