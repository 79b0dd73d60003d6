"""Other ways to put hits where a lane has them: other rules, shorter cycles, a longer step with
rolls, or another lane followed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property, partial
from typing import Any

from lattice.base.clauses import NEUTRAL, Fields
from lattice.base.draws import Draws
from lattice.base.lately import Lately
from lattice.base.values import StepLength, limits, to_json
from lattice.hits.fields import Every, Keep
from lattice.recipe import Recipe, edited
from lattice.rules import FOLLOWING, RULES, RuleContext
from lattice.rules.euclid import euclid
from lattice.strands.kinds import ROLL
from lattice.telling.target import Target, plain
from lattice.time.fields import StepCount

MOST_EVERY = limits(Every)[1]
MOST_STEPS = limits(StepCount)[1]
LONGEST_STEP = limits(StepLength)[1]
LONGER = 2, 3, 4, 6, 8
"""By how much a step is made longer to see what rolls there are."""
COUNTED = {"pins": {}, "flip": NEUTRAL, "reverse": NEUTRAL, "keep": NEUTRAL}
"""What says nothing any more where hits are named as they come out."""


_heard = Lately[list[Fraction]](256)
"""Where the hits of lanes begin that others may be told by."""


@dataclass(frozen=True)
class Form:
    """The fields that say where hits fall. wider: cells are so many times as long as they were;
    strokes: how often the hits at these places (in beats) are struck, where more than once."""

    fields: Fields
    wider: int = 1
    strokes: dict[Fraction, int] = field(default_factory=dict)


class Cells:
    """Which cells of a lane are hits, where they come round after up to 128: its steps, or as many
    more as its `keep` needs."""

    def __init__(self, target: Target) -> None:
        self.target, self.lane = target, target.lane
        lane, hits = target.lane, target.voice.hits
        forward = lane.direction == "forward" and lane.window is None and not lane.rate_path
        self.movable = forward and lane.span == "cycle" and not (
            lane.links or lane.turns or lane.rolls) and all(
            plain(strand) or strand.by != "step" for strand in lane.strands.used().values())
        """Whether nothing is said of single steps, so that there may be fewer or more of them."""
        cycles = hits.counts()[0] if forward and lane.follows is None else 0
        self.count = cycles * lane.steps
        if self.count > MOST_STEPS or (cycles > 1 and not self.movable):
            self.count = 0
        # What waits for its first kept hit is not the same in each round.
        if lane.keep is not None and lane.keep.first > lane.keep.every:
            self.count = 0
        self.played: list[bool] = [False] * self.count
        for hit in target.hits:
            if hit.run.number == target.hits[0].run.number and hit.cell < self.count:
                self.played[hit.cell] = True

    @cached_property
    def mask(self) -> int:
        """The cells as the bits of a number."""
        return sum(1 << cell for cell, hit in enumerate(self.played) if hit)

    def forms(self) -> Iterator[Form]:
        """Every form that the cells may have, besides the one that they have."""
        if not self.count or not any(self.played):
            return
        lengths = [n for n in range(1, self.count + 1) if self.count % n == 0] \
            if self.movable else [self.count]
        for steps in sorted(lengths, key=lambda n: (n != self.lane.steps, n)):
            bits = self.played[:steps]
            if bits * (self.count // steps) == self.played:
                yield from self._ruled(steps, bits)
            yield from self._kept(steps)
        if self.movable and self.lane.kind != "control":
            for wider in LONGER:
                yield from self._rolled(wider)

    def _ruled(self, steps: int, bits: Sequence[bool]) -> Iterator[Form]:
        """The rules that make just these hits."""
        for rule in self._making(steps, bits):
            yield Form(COUNTED | {"steps": steps, "rule": to_json(rule)})

    def _making(self, steps: int, bits: Sequence[bool]) -> Iterator[Any]:
        lane = edited(self.lane, COUNTED | {"steps": steps, "rule": {"kind": "hand"},
                                            "rolls": []}) if steps != self.lane.steps else self.lane
        context = RuleContext(lane, self.target.recipe, Draws(0, 0, lane.id))
        for kind in RULES.values():
            yield from kind.exactly(bits, context)

    def _kept(self, steps: int) -> Iterator[Form]:
        """Spreads of which every nth hit is kept or dropped, counted on or in each cycle."""
        wanted, whole = self.mask, (1 << self.count) - 1
        repeats = self.count // steps
        one = (1 << steps) - 1
        comb = sum(1 << steps * i for i in range(repeats))
        shortest = steps + 1
        for pulses in range(2, steps + 1):
            spread = sum(1 << step for step, hit in enumerate(euclid(pulses, steps)) if hit)
            seen = set()
            for turn in range(steps):
                turned = (spread << turn | spread >> (steps - turn)) & one
                if turned in seen:
                    break
                seen.add(turned)
                mask = turned * comb & whole
                if wanted & ~mask or mask == wanted:
                    continue
                keep = self._keep(mask, repeats)
                if keep is not None and pulses < shortest:
                    shortest = pulses
                    nearest = turn if turn <= steps // 2 else turn - steps
                    yield Form(COUNTED | {
                        "steps": steps, "keep": to_json(keep),
                        "rule": {"kind": "euclid", "pulses": pulses, "rotation": nearest}})

    def _keep(self, mask: int, repeats: int) -> Keep | None:
        """How the cells are kept of those in a mask; None where no keep does that."""
        numbers = [bool(self.mask >> cell & 1) for cell in range(self.count) if mask >> cell & 1]
        for drop in (False, True):
            chosen = [number for number, stays in enumerate(numbers) if stays != drop]
            if not chosen:
                continue
            every = chosen[1] - chosen[0] if chosen[1:] else len(numbers)
            first = chosen[0] + 1
            if every < 2 or every > MOST_EVERY or first > every:
                continue
            comes_round = len(numbers) % every == 0
            keep = Keep(every=every, first=first, drop=drop, count="on" if comes_round else "cycle")
            if (comes_round or repeats == 1) and all(
                    keep.chooses(number) == stays for number, stays in enumerate(numbers)):
                return keep
        return None

    def _rolled(self, wider: int) -> Iterator[Form]:
        """Hits that follow each other evenly within a longer step, as rolls of one hit."""
        lane = self.lane
        count, step = self.count // wider, lane.step * wider
        if self.count % wider or step > LONGEST_STEP or lane.strands.of(ROLL):
            return
        strokes = []
        for i in range(count):
            inside = self.played[i * wider:(i + 1) * wider]
            hits = sum(inside)
            if hits and (wider % hits or inside != ([True] + [False] * (wider // hits - 1)) * hits):
                return
            strokes.append(hits)
        if max(strokes) < 2:
            return
        beats = 4 * step
        grain = self.target.performance.times.grain
        begin = Fraction(self.target.voice.hits.time.shift, grain)
        rolled = {place: strokes[int((place - begin) // beats) % count]
                  for place in self.target.places if (place - begin) % beats == 0}
        bits = [bool(hits) for hits in strokes]
        for rule in self._making(count, bits):
            yield Form(COUNTED | {"steps": count, "step": str(step), "rule": to_json(rule)},
                       wider, rolled)


def followed(target: Target) -> Iterator[Form]:
    """Another lane of the pattern that this one's hits may be told by."""
    lane, recipe = target.lane, target.whole
    if lane.direction != "forward" or lane.pins or lane.keep or lane.flip or lane.reverse:
        return
    own = list(target.places)
    end = own[-1] + recipe.frame_beats if own else Fraction(0)
    for leader in _leaders(recipe, lane.id):
        leading = recipe.lane(leader)
        heard = _heard.of(leading, *recipe.leaders(leading), also=(recipe.setting, end),
                          make=partial(_places, recipe, leader, end))
        for kind in FOLLOWING.values():
            for rule in kind.between(leader, own, heard):
                yield Form({"rule": to_json(rule)})


def _places(recipe: Recipe, leader: str, end: Fraction) -> list[Fraction]:
    """Where the hits of a lane begin, up to so many beats."""
    other = Target.of(recipe, leader)
    times = other.performance.times
    return [Fraction(hit.start, times.grain)
            for hit in other.voice.hits.between(0, times.ticks(end))]


def _leaders(recipe: Recipe, lane_id: str) -> list[str]:
    """The lanes that a lane may follow: those that do not follow it."""
    return [lane.id for lane in recipe.lanes
            if lane_id not in {each.id for each in (lane, *recipe.leaders(lane))}]


