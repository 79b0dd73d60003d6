"""Say it shorter: the shortest sentence that plays exactly the same notes."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import islice
from typing import Any

from lattice.base.clauses import Fields
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.hits.found import LaneHits
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, edited, with_lane
from lattice.sentence import lane_sentence
from lattice.strands.kinds import (
    DEGREE,
    GATE,
    NUDGE,
    ROLL,
    StrandKind,
    Together,
    Value,
    numbers,
)
from lattice.telling.forms import Cells, Form, followed
from lattice.telling.pitches import readings, walks
from lattice.telling.swings import swings
from lattice.telling.target import Target
from lattice.telling.values import Place, ways

MOST = 6
"""So many proposals are made, besides the lane as it stands."""
MOST_TRIED = 24
"""So many that turn out to play otherwise are passed over."""
MOST_FORMS = 16
"""The hits of so many forms are worked out."""


@dataclass(frozen=True, slots=True)
class Way:
    """A lane in full: its sentence with the values of its strands, and how many words that is."""

    lane: Lane
    sentence: str
    words: int


def in_full(lane: Lane, recipe: Recipe) -> Way:
    """A lane's sentence and, after it, each strand with its values."""
    rows = [f" {(kind.word or kind.name).capitalize()} by {strand.by}: "
            f"{' '.join(_value(value) for value in strand.values)}."
            for kind in lane.kinds()
            if (strand := lane.own(kind)) is not None
            and not (kind is DEGREE and lane.walks)]
    text = lane_sentence(lane, recipe).text() + "".join(rows)
    return Way(lane, text, len(text.split()))


def _value(value: Value) -> str:
    if isinstance(value, Together):
        return "chord" if value.all == "chord" else "+".join(map(str, value.all))
    if isinstance(value, tuple):
        return f"{value[0]:g}-{value[1]:g}"
    return f"{value:g}"


def proposals(recipe: Recipe, lane_id: str, most: int = MOST) -> list[Way]:
    """Ways to say a lane that play exactly the same, proved by playing, the shortest first; the
    lane as it stands is always among them. Compared are the first 16 passes, draws too.
    RecipeError where there is no such lane."""
    target = Target.of(recipe, lane_id)
    own = recipe.lane(lane_id)
    plain = in_full(own, recipe)
    found = {_key(own): plain}
    for lane in _candidates(target):
        said = in_full(lane.model_copy(update={"mute": own.mute, "solo": own.solo}),
                       with_lane(recipe, lane))
        found.setdefault(_key(said.lane), said)
    bar = recipe.bar_beats
    ordered = sorted(found.values(), key=lambda said: (
        said.words, said is not plain, said.lane.steps * said.lane.cell_beats(recipe) < bar,
        said.lane.steps, len(said.sentence)))
    proved: list[Way] = []
    manners: set[Hashable] = set()
    tried = 0
    for said in ordered:
        manner = _manner(said.lane)
        if said is plain:
            proved.append(said)
        elif manner not in manners and len(proved) < most and tried < MOST_TRIED:
            tried += 1
            if target.proves(said.lane):
                proved.append(said)
                manners.add(manner)
    return proved


def _key(lane: Lane) -> str:
    return str(to_json(lane))


def _manner(lane: Lane) -> Hashable:
    """How a lane is told, whatever its numbers are; of one manner, one proposal is enough."""
    return (lane.rule.kind, lane.follows, lane.keep is None, lane.step, lane.accent is None,
            lane.contour is None, lane.reads, lane.key is None, lane.arpeggio is None,
            str(lane.swing))


def _candidates(target: Target) -> Iterator[Lane]:
    """Lanes that may play the same."""
    if not target.hits:
        return
    ways_to_read = [({}, {}), *((reading.fields, {DEGREE: reading.degrees})
                                for reading in readings(target))]
    ways_to_walk = list(islice(walks(target), 4))
    ways_to_swing = [({}, {}), *swings(target)]
    for form in islice(_forms(target), MOST_FORMS):
        try:
            shaped = edited(target.lane, form.fields)
        except RecipeError:
            continue
        places = _places(target, shaped, form)
        if places is None:
            continue
        for swing, timed in ways_to_swing[: 1 if form.wider > 1 else None]:
            for fields, values in ways_to_read:
                yield from _filled(target, form, places, {**fields, **swing},
                                   {**target.values, **values, **timed})
        for fields in ways_to_walk:
            values = {kind: each for kind, each in target.values.items() if kind is not DEGREE}
            yield from _filled(target, form, places, fields, values)


def _forms(target: Target) -> Iterator[Form]:
    yield Form({})
    yield from followed(target)
    yield from Cells(target).forms()


def _places(target: Target, lane: Lane, form: Form) -> list[tuple[int, Place]] | None:
    """For each hit that a form has, the number of the target's hit at its place, and how it is
    counted; None where it has others than the target, but for those that are strokes of a roll."""
    hits = _hits(target.recipe if lane.follows is None else _with_leaders(target.whole, lane), lane)
    times = hits.times
    end = (target.hits[-1].start + 1) * times.grain // target.performance.times.grain
    found = []
    for hit in hits.between(0, max(end, 1)):
        number = target.places.get(Fraction(hit.start, times.grain))
        if number is None:
            return None
        found.append((number, (hit.step, hit.cell, hit.ordinal)))
    if not form.strokes and len(found) != len(target.hits):
        return None
    return found


def _with_leaders(recipe: Recipe, lane: Lane) -> Recipe:
    """The recipe with a lane and those that it follows alone."""
    needed = {lane.id, lane.follows, *(each.id for each in recipe.leaders(lane))}
    return recipe.model_copy(update={
        "lanes": tuple(each for each in recipe.lanes if each.id in needed)})


def _hits(recipe: Recipe, lane: Lane) -> LaneHits:
    return Performance(with_lane(recipe, lane)).voice(lane.id).hits


def _filled(target: Target, form: Form, places: Sequence[tuple[int, Place]], fields: Fields,
            values: Mapping[StrandKind, Sequence[Value]]) -> Iterator[Lane]:
    """A form with each kind of value said in the shortest way; and once more for each further way
    that there is for one of them."""
    each_way: list[list[Fields]] = []
    counted = [place for _, place in places]
    for kind, row in values.items():
        wanted = _wanted(target, form, kind, [row[number] for number, _ in places], places)
        found = list(ways(kind, counted, wanted))
        if not found:
            return
        each_way.append(found)
    shortest: dict[str, Any] = {name: value for way in each_way for name, value in way[0].items()}
    base = dict(fields) | dict(form.fields)
    yield from _made(target.lane, shortest | base)
    for found in each_way:
        for other in found[1:]:
            yield from _made(target.lane, shortest | dict(other) | base)


def _wanted(target: Target, form: Form, kind: StrandKind, row: list[Value],
            places: Sequence[tuple[int, Place]]) -> list[Value]:
    """Values for the cells that a form has: percent of a longer step, and rolls."""
    if form.wider == 1:
        return row
    hits, grain = target.hits, target.performance.times.grain
    strokes = [form.strokes.get(Fraction(hits[number].start, grain), 1) for number, _ in places]
    if kind is ROLL:
        return [float(each) for each in strokes]
    if kind is GATE:
        return [round(value * each / form.wider, 9)
                for value, each in zip(numbers(row), strokes, strict=True)]
    if kind is NUDGE:
        return [round(value / form.wider, 9) for value in numbers(row)]
    return row


def _made(lane: Lane, fields: Fields) -> Iterator[Lane]:
    try:
        yield edited(lane, fields)
    except RecipeError:
        return
