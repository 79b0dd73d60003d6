"""The recipe: the document that says what a pattern plays, typed and validated.

Positions and lengths are exact. Absent fields have their neutral value, and `to_json` leaves
neutral values out, so documents stay short and readable.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator
from contextlib import contextmanager, suppress
from fractions import Fraction
from functools import cache
from importlib import import_module
from typing import Annotated, Any, ClassVar, Literal, Self, cast

from pydantic import FailFast, Field, TypeAdapter, ValidationError, model_validator

from lattice.base.clauses import NEUTRAL, Fields
from lattice.base.errors import RecipeError, told
from lattice.base.frame import Bars
from lattice.base.group import MAX_LANES
from lattice.base.values import DRUM_CHANNEL, Channel, LaneName, fixed, to_json
from lattice.control.fields import ControlFields
from lattice.features.chance import ChanceFields
from lattice.features.gusts import Gusty, Throw
from lattice.features.human import HumanFields
from lattice.features.loudness import LoudnessFields
from lattice.features.movement import Paths, WordPath, path_of
from lattice.features.own_sound import OwnSoundFields
from lattice.features.recurring import Passes, Recurring, Turn
from lattice.features.timing import TimingFields
from lattice.features.tuning import TuningFields
from lattice.pitch.progression import Harmonised
from lattice.rules.hand import Hand
from lattice.strands.kinds import VALUE
from lattice.time.fields import TimeFields

MOST_FILLS = 8
Tempo = Annotated[float, Field(ge=20, le=400)]


class Lane(ChanceFields, LoudnessFields, TuningFields, TimingFields, HumanFields, ControlFields,
           OwnSoundFields):
    """One voice: a drum, a melodic line, or a controller. It keeps what it says for other kinds.

    Percentages: probability 0-100, its scale 0-200, gate 1-800 of the cell, squeeze 0-100.
    `step` is a fraction of a whole note; `window` names the first and last step that are played.
    """

    name: LaneName
    own_channel: Annotated[Channel | None, Field(alias="channel")] = None
    mute: bool = False
    solo: bool = False

    @property
    def value_path(self) -> WordPath | None:
        """The path along which a controller moves on through its bars, if its value follows one."""
        if self.kind != "control" or self.strands.of(VALUE) or self.sets_by_velocity:
            return None
        return path_of(self.paths, VALUE.name)

    @property
    def channel(self) -> int:
        """The MIDI channel, from 1: where nothing is said, that of drums for drums."""
        return self.own_channel or (DRUM_CHANNEL if self.kind == "drum" else 1)


WHO = ("id", "name", "kind", "note", "own_channel", "mute", "solo", "sound", "own_sound", "choke")
"""What stays of a lane when it plays something else: who it is, and how it sounds."""


class PatternFill(Recurring):
    """What plays in the last `bars` bars of the `turn`-th (from 1) of every `every` passes, or of
    the passes that lead there: each of `lanes` in place of the lane with its id and kind, sounding
    as that does. The others that play notes rest meanwhile, unless they `play`; controllers go on.
    `throw`: by which it was made of what plays; None for one that was kept as a clip."""

    called: ClassVar[str] = "fill"
    name: LaneName
    every: Passes = 4
    turn: Turn = 4
    bars: Bars = 1
    others: Literal["rest", "play"] = "rest"
    throw: Throw | None = None
    lanes: Annotated[tuple[Lane, ...], Field(min_length=1, max_length=MAX_LANES)]

    @model_validator(mode="after")
    def _plays_by_itself(self) -> Self:
        if any(lane.kind == "control" or lane.follows or lane.paths for lane in self.lanes):
            raise ValueError("The lanes of a fill play notes, and follow no lane and no path.")
        return self

    def __hash__(self) -> int:
        """By what is quickly told: as part of a key it is mostly the very same."""
        return hash((self.name, self.every, self.turn, self.bars, self.others, self.throw))

    def begins(self, bars: int) -> int:
        """The first of its bars among those of `every` passes of so many bars."""
        return max(0, self.turn * bars - self.bars)

    def comes_in(self, bar: int, bars: int) -> bool:
        """Whether it plays in a bar, counted from 0, where a pass has so many."""
        place = bar % (self.every * bars)
        return self.begins(bars) <= place < self.turn * bars

    def takes(self, lane: Lane) -> bool:
        """Whether a lane plays something else while it plays, or rests."""
        return lane.kind != "control" and (self.others == "rest" or self._of(lane) is not None)

    def _of(self, lane: Lane) -> Lane | None:
        """What plays in a lane's place."""
        return next((own for own in self.lanes
                     if own.id == lane.id and own.kind == lane.kind), None)

    def instead(self, lane: Lane, begin: Fraction) -> Lane:
        """What a lane plays while it plays, where its first bar begins at so many beats."""
        if not self.takes(lane):
            return lane
        who, own = {name: getattr(lane, name) for name in WHO}, self._of(lane)
        if own is not None:
            return own.model_copy(update=who | {"shift": own.shift + begin / 4})
        resting = Lane(id=lane.id, name=lane.name, rule=Hand(kind="hand"))
        return resting.model_copy(update=who | {
            name: getattr(lane, name) for name in TimeFields.model_fields} | {"paths": ()})


class Recipe(Harmonised, Gusty):
    """A pattern: its frame (`bars` of `meter` at `tempo`), its seed, and its lanes."""

    version: Literal[1] = 1
    tempo: Tempo = 120
    paths: Paths = ()
    fills: Annotated[tuple[PatternFill, ...], Field(max_length=MOST_FILLS)] = ()
    lanes: Annotated[tuple[Lane, ...], FailFast(), Field(max_length=MAX_LANES)] = ()

    @model_validator(mode="after")
    def _lanes_agree(self) -> Self:
        ids = [lane.id for lane in self.lanes]
        for lane_id in ids:
            if ids.count(lane_id) > 1:
                raise ValueError(f'Two lanes have the id "{lane_id}".')
        try:
            self.playing_order()
        except RecipeError as problem:
            raise ValueError(str(problem)) from None
        return self

    def _repr_html_(self) -> str:
        """As notebooks show it, which ask the recipe itself."""
        page: str = import_module("lattice.results.notebook").html(self)
        return page

    @property
    def setting(self) -> tuple[Hashable, ...]:
        """All that decides what a lane plays, besides the lanes themselves: every field but the
        tempo."""
        return self._without("version", "tempo", "lanes")

    @property
    def still(self) -> tuple[Hashable, ...]:
        """The setting without what is another from pass to pass or from bar to bar."""
        return self._without("version", "tempo", "lanes", "paths", "gusts", "fills")

    def _without(self, *names: str) -> tuple[Hashable, ...]:
        """All fields but these, as part of a key."""
        return tuple(fixed(getattr(self, name)) for name in Recipe.model_fields
                     if name not in names)

    def lane(self, lane_id: str) -> Lane:
        """The lane with this id; RecipeError if there is none."""
        for lane in self.lanes:
            if lane.id == lane_id:
                return lane
        raise RecipeError(f'There is no lane "{lane_id}" in this pattern.')

    def fill_in(self, bar: int) -> PatternFill | None:
        """The fill that plays in a bar, counted from 0: of several, the first."""
        return next((fill for fill in self.fills if fill.comes_in(bar, self.bars)), None)

    def fills_without(self, lane_id: str) -> tuple[PatternFill, ...]:
        """Its fills as they are when a lane has gone; those in which nothing else plays go too."""
        left = ((fill, tuple(lane for lane in fill.lanes if lane.id != lane_id))
                for fill in self.fills)
        return tuple(fill.model_copy(update={"lanes": lanes}) for fill, lanes in left if lanes)

    def leaders(self, lane: Lane) -> list[Lane]:
        """The lanes that a lane follows, the one that it looks at first."""
        found: list[Lane] = []
        while lane.follows is not None:
            lane = self.lane(lane.follows)
            found.append(lane)
        return found

    def and_followers(self, lane_ids: Iterable[str]) -> frozenset[str]:
        """These lanes, and those that follow one of them, directly or not."""
        reached = set(lane_ids)
        for lane in self.playing_order() if reached else ():
            if lane.follows in reached:
                reached.add(lane.id)
        return frozenset(reached)

    def playing_order(self) -> list[Lane]:
        """The lanes, each after the one it follows; RecipeError naming those in a circle."""
        by_id = {lane.id: lane for lane in self.lanes}
        done: dict[str, Lane] = {}
        for lane in self.lanes:
            chain: list[Lane] = []
            current: Lane | None = lane
            while current is not None and current.id not in done:
                if current in chain:
                    names = " and ".join(each.name for each in chain[chain.index(current) :])
                    raise RecipeError(f"{names} would follow each other in a circle.")
                chain.append(current)
                if current.follows is not None and current.follows not in by_id:
                    raise RecipeError(
                        f'{current.name} follows a lane "{current.follows}" that is not here.'
                    )
                current = by_id[current.follows] if current.follows is not None else None
            done.update((each.id, each) for each in reversed(chain))
        return list(done.values())


def read(document: Any) -> Recipe:
    """The recipe in a JSON document; RecipeError with one sentence for what does not fit."""
    if not isinstance(document, dict):
        raise RecipeError("A recipe is one JSON object; `lattice schema` prints what is in it.")
    with refusing():
        return Recipe.model_validate(document)


@contextmanager
def refusing() -> Iterator[None]:
    """What does not fit into a document is refused: what is wrong first, and where, as one
    sentence in a RecipeError."""
    try:
        yield
    except ValidationError as problem:
        error = problem.errors(include_url=False, include_context=False)[0]
        raise RecipeError(told(error["msg"], *error["loc"])) from None


def set_path(document: Any, path: str, value: Any) -> None:
    """Set a.b.0-style paths in a document; a neutral value takes the field out."""
    *parents, last = path.split(".")
    for name in parents:
        document = document[int(name)] if isinstance(document, list) else \
            document.setdefault(name, {})
    if isinstance(document, list):
        document[int(last)] = value
    elif value is NEUTRAL:
        document.pop(last, None)
    else:
        document[last] = value


def edited(lane: Lane, fields: Fields) -> Lane:
    """The lane with documents of fields changed, by their paths; what is in the others stays the
    very same objects, and is not looked at again but for what it has to do with the changed."""
    documents: dict[str, Any] = {}
    for path, value in fields.items():
        word, inside, rest = path.partition(".")
        name = _NAMES.get(word, word)
        if inside and name not in documents:
            dumped = lane.model_dump(mode="json", by_alias=True, include={name})
            documents |= {name: dumped[word]} if word in dumped else {}
        set_path(documents, f"{name}{inside}{rest}", value)
        if value is NEUTRAL and not inside:
            documents[name] = Lane.model_fields[name].get_default(call_default_factory=True)
    with suppress(ValueError, KeyError):
        return _agreeing(lane.model_copy(update={
            name: _field(name).validate_python(document) for name, document in documents.items()}))
    with refusing():  # which tells what does not fit
        return Lane.model_validate(lane.__dict__ | documents)


_NAMES = {field.alias: name for name, field in Lane.model_fields.items() if field.alias}
"""What a lane's fields are called here, of those that documents call otherwise."""
_AGREEING = [each.func for each in Lane.__pydantic_decorators__.model_validators.values()]
"""What fields have to do with each other."""


@cache
def _field(name: str) -> TypeAdapter[Any]:
    """How the document of a field is read; KeyError where a lane has no such field."""
    field = Lane.model_fields[name]
    return TypeAdapter(cast(Any, Annotated[
        field.annotation, *field.metadata, Field(discriminator=field.discriminator)]))


def _agreeing(lane: Lane) -> Lane:
    """The lane, if its fields fit together; ValueError if they do not."""
    for agrees in _AGREEING:
        agrees(lane)
    return lane


def changed(recipe: Recipe, fields: Fields) -> Recipe:
    """The recipe with fields of its own changed; its lanes stay the very same objects."""
    document = to_json(recipe.model_copy(update={"lanes": ()}))
    for path, value in fields.items():
        set_path(document, path, value)
    return read(document).model_copy(update={"lanes": recipe.lanes})


def with_lane(recipe: Recipe, lane: Lane) -> Recipe:
    """The recipe with a lane in place of the one that has its id."""
    changed = recipe.model_copy(update={
        "lanes": tuple(lane if each.id == lane.id else each for each in recipe.lanes)})
    if lane.follows != recipe.lane(lane.id).follows:
        changed.playing_order()
    return changed
