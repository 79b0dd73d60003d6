"""Chance: whether a hit sounds. Probability, links between steps, and turns."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal, get_args

from pydantic import AfterValidator, Field

from lattice.base.clauses import ClauseKind, ClauseList, Fields, Names, Part, documents
from lattice.base.draws import Draws, purposes
from lattice.base.frame import Frame
from lattice.base.group import Rounds
from lattice.base.values import Document, Percent, Scale, StepNumber, limits
from lattice.base.words import Fold, choice, nth, number, percent, step_list, step_number
from lattice.hits.found import Hit, LaneHits
from lattice.strands.fields import StrandFields
from lattice.strands.kinds import PROBABILITY as STRAND
from lattice.strands.reading import reader
from lattice.strands.words import strand_forms, strand_words, written
from lattice.time.fields import StepCount

MOST_PASSES = 128
"""Of so many passes a turn may be one."""


def _in_order(turns: tuple[int, int]) -> tuple[int, int]:
    if not 1 <= turns[0] <= turns[1] <= MOST_PASSES:
        raise ValueError(f"Turns are k of n, with k from 1 to n and n up to {MOST_PASSES}.")
    return turns


Turns = Annotated[tuple[int, int], AfterValidator(_in_order)]
"""(k, n): only in every n-th pass, the k-th of each n."""


def is_turn(turns: tuple[int, int], passing: int) -> bool:
    """Whether it is the turn in this pass, counted from 0."""
    return passing % turns[1] == turns[0] - 1


LinkMode = Literal["together", "one"]


class Link(Document):
    """Steps that share a fate: `together` one probability and one draw per cycle for all; `one`,
    a draw per cycle chooses one of those that are hits."""

    steps: Annotated[tuple[StepNumber, ...], Field(min_length=1, max_length=128)]
    mode: LinkMode
    probability: Percent = 100


class ChanceFields(StrandFields):
    """What decides, besides the probability, whether hits sound."""

    probability_scale: Scale = 100
    links: Annotated[tuple[Link, ...], Field(max_length=64)] = ()
    turns: dict[StepNumber, Turns] = {}

    def add_rounds(self, rounds: Rounds) -> None:
        super().add_rounds(rounds)
        for _, passes in self.turns.values():
            rounds.by_pass(passes)


@dataclass(slots=True)
class Fate:
    """Whether a hit sounds, and what decided it; probability and draw in percent."""

    sounds: bool
    probability: float
    draw: float | None = None
    link: tuple[int, str] | None = None
    """The number of the link (from 0) and its mode."""
    chosen: int | None = None
    """The step that a link of mode `one` chose."""
    turns: tuple[int, int] | None = None
    """The turns that kept the hit silent."""
    covered: bool = False
    """Whether a roll over a stretch of beats takes the hit's place."""


class Chance:
    """Decides for each hit of a lane whether it sounds."""

    def __init__(self, lane: ChanceFields, pattern_scale: float, draws: Draws,
                 hits: LaneHits) -> None:
        self.lane, self.draws, self.hits = lane, draws, hits
        self.scale = lane.probability_scale * pattern_scale / 10_000
        self.read = reader(STRAND, lane, draws)
        self.link_purposes = purposes(f"link {min(link.steps)}" for link in lane.links)
        self.links = {step: (number, link) for number, link in reversed(list(enumerate(lane.links)))
                      for step in link.steps}

    def fate(self, hit: Hit) -> Fate:
        """What becomes of a hit."""
        turns = self.lane.turns.get(hit.step)
        linked = self.links.get(hit.step)
        if linked and linked[1].mode == "together":
            number, link = linked
            probability = self._scaled(link.probability)
            fate = self._drawn(probability, self.link_purposes[number],
                               *self.hits.cycle_of(hit))
            fate.link = (number, link.mode)
        else:
            fate = self._drawn(self._scaled(self.read(hit)), "chance", hit.run.number, hit.cell)
            if linked:
                self._choose(fate, hit, *linked)
        if turns and not is_turn(turns, hit.start // self.hits.times.frame):
            fate.sounds, fate.turns = False, turns
        return fate

    def _scaled(self, probability: float) -> float:
        return min(100.0, probability * self.scale)

    def _drawn(self, probability: float, purpose: str, *index: int) -> Fate:
        if probability >= 100:
            return Fate(True, probability)
        draw = 100 * self.draws(purpose, *index)
        return Fate(draw < probability, probability, draw)

    def _choose(self, fate: Fate, hit: Hit, number: int, link: Link) -> None:
        among = [step for step in self.hits.steps_hit_in_cycle(hit) if step in link.steps]
        draw = self.draws(self.link_purposes[number], *self.hits.cycle_of(hit))
        fate.link, fate.chosen = (number, link.mode), among[int(draw * len(among))]
        fate.sounds = fate.sounds and fate.chosen == hit.step


def _probability_parts(lane: ChanceFields, names: Names) -> list[Part]:
    if lane.strands.of(STRAND) is not None:
        return [Fold("The chance of each hit is its strand's.",
                     ["Each hit sounds ", *strand_words(STRAND, lane), "."])]
    return ["Each hit sounds ", percent("probability", "chance", lane.probability,
                                        *limits(Percent)), " of the time."]


PROBABILITY = ClauseKind[ChanceFields](
    "probability", "chance",
    lambda lane: lane.probability != 100 or lane.strands.of(STRAND) is not None,
    _probability_parts, starts={"probability": 75},
    cleared=("probability", "strands.probability"), writes=written,
    forms=lambda lane: ({"probability": 75}, *strand_forms(STRAND, lane)),
    about="each hit sounds only some of the time", group="how sure", often=True)
SCALE = ClauseKind[ChanceFields](
    "chance-scale", "chance scale", lambda lane: lane.probability_scale != 100,
    lambda lane, names: ["All chances are taken at ", percent(
        "probability_scale", "chance scale", lane.probability_scale, *limits(Scale)), "."],
    starts={"probability_scale": 80}, cleared=("probability_scale",),
    about="all of the lane's chances raised or lowered together", group="how sure")
PATTERN_SCALE = ClauseKind[Frame](
    "chance-scale", "chance scale", lambda frame: frame.probability_scale != 100,
    lambda frame, names: ["All chances at ", percent(
        "probability_scale", "chance scale", frame.probability_scale, *limits(Scale)), "."],
    starts={"probability_scale": 80}, cleared=("probability_scale",),
    about="all chances raised or lowered together", group="how sure")


def _link_parts(lane: ChanceFields, names: Names, i: int) -> list[Part]:
    link = lane.links[i]
    parts: list[Part] = [
        "Of steps " if link.mode == "one" else "Steps ",
        step_list(f"links.{i}.steps", "linked steps", link.steps, limits(StepCount)[1]), " ",
        choice(f"links.{i}.mode", "kind of link", link.mode,
               {"together": ("sound together", "all of them or none, by one chance"),
                "one": ("only one sounds", "in each cycle one of them, by chance")}),
    ]
    if link.mode == "together":
        parts += [" ", percent(f"links.{i}.probability", "chance of the link",
                               link.probability, *limits(Percent)), " of the time"]
    return [*parts, "."]


def _link(lane: ChanceFields, mode: LinkMode) -> Link:
    return Link(steps=(0, min(1, lane.steps - 1)), mode=mode, probability=50)


LINKS = ClauseList[ChanceFields, Link](
    "links", "linked steps", "links", lambda lane: lane.links, _link_parts,
    lambda lane: _link(lane, "together"), documents,
    forms=lambda lane: ({"links": documents([_link(lane, mode)])} for mode in get_args(LinkMode)),
    about="steps that sound together, or only one of them", group="how sure")


def _turns(lane: ChanceFields) -> list[tuple[int, tuple[int, int]]]:
    return sorted(lane.turns.items())


def _turns_parts(lane: ChanceFields, names: Names, i: int) -> list[Part]:
    step, (k, n) = _turns(lane)[i]
    return [
        "Step ", step_number(f"turns.{step}.step", "step with turns", step, *limits(StepNumber)),
        " only in the ", nth(f"turns.{step}.0", "turn", k, 1, n), " of every ",
        number(f"turns.{step}.1", "number of passes", n, k, MOST_PASSES), " passes.",
    ]


def _next_turn(lane: ChanceFields) -> tuple[int, tuple[int, int]]:
    """Turns for the first step that has none."""
    free = next((step for step in range(lane.steps) if step not in lane.turns), 0)
    return free, lane.turns.get(free, (1, 2))


def _turns_written(lane: ChanceFields, slot: str, value: Any) -> Fields:
    """Another step takes over the turns of the one before."""
    _, step, word = slot.split(".")
    if word != "step":
        return {slot: value}
    moved = {value if each == int(step) else each: turns for each, turns in lane.turns.items()}
    return {"turns": {str(each): list(turns) for each, turns in moved.items()}}


TURNS = ClauseList[ChanceFields, tuple[int, tuple[int, int]]](
    "turns", "turns", "turns", _turns, _turns_parts, _next_turn,
    lambda turns: {str(step): list(each) for step, each in turns}, writes=_turns_written,
    about="a step that sounds in every nth pass only", group="how sure")
