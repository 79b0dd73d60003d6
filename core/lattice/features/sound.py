"""How a lane is heard by the built-in sounds: which voice or kit, and how that is set. Only a page
that makes the sounds reads it; notes and files do not change."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from lattice.base.clauses import ClauseKind, Fields, Names, Part
from lattice.base.draws import Draws
from lattice.base.values import Document, Percent, limits
from lattice.base.words import choice, percent
from lattice.features.instruments import INSTRUMENTS, KITS, VOICES
from lattice.pitch.fields import PitchFields

if TYPE_CHECKING:
    InstrumentName = str
else:
    InstrumentName = Literal[(*VOICES, *KITS)]


ASIDE = 20
"""So far from where it stood a control's range goes at first, in percent."""


class Sound(Document):
    """One of the voices or kits, and those of its controls that stand elsewhere than at first: in
    percent, or [lowest, highest] for a range that is drawn from for each hit anew."""

    by: InstrumentName
    set: dict[Annotated[str, Field(max_length=20)], Percent | tuple[Percent, Percent]] = {}

    @model_validator(mode="after")
    def _controls_are_its_own(self) -> Self:
        unknown = [name for name in self.set if name not in INSTRUMENTS[self.by].controls]
        if unknown:
            raise ValueError(f"The sound “{self.by}” has no control “{unknown[0]}”.")
        if any(isinstance(each, tuple) and each[0] > each[1] for each in self.set.values()):
            raise ValueError("A range of a sound’s control goes from its lower end to its higher.")
        return self

    @property
    def controls(self) -> dict[str, float | tuple[float, float]]:
        """Where all its controls stand, in percent."""
        return {**INSTRUMENTS[self.by].controls, **self.set}

    @property
    def middles(self) -> dict[str, float]:
        """The same, ranges in their middle."""
        return {name: sum(each) / 2 if isinstance(each, tuple) else each
                for name, each in self.controls.items()}

    @property
    def ranges(self) -> bool:
        """Whether controls are drawn for each hit."""
        return any(isinstance(each, tuple) for each in self.set.values())

    def drawn(self, draws: Draws, run: int, cell: int) -> dict[str, float]:
        """Where its controls stand at a hit, in percent and tenths of one."""
        return {name: round(draws.within(*each, f"sound {name}", run, cell, 0, 0), 1)
                if isinstance(each, tuple) else each for name, each in self.controls.items()}


FIRST_VOICE, FIRST_KIT = Sound(by=next(iter(VOICES))), Sound(by=next(iter(KITS)))
"""What a lane is heard by where nothing is said."""


class SoundFields(PitchFields):
    """What the lane is heard by; none: the first voice or kit of its kind. One of another kind of
    lane waits until the lane is of that kind again."""

    sound: Sound | None = None

    @property
    def heard_by(self) -> Sound:
        """What the lane is heard by as the kind of lane that it is."""
        fitting = VOICES if self.pitched else KITS
        if self.sound is not None and self.sound.by in fitting:
            return self.sound
        return FIRST_VOICE if self.pitched else FIRST_KIT


def _parts(lane: SoundFields, names: Names) -> list[Part]:
    sound = lane.heard_by
    fitting = VOICES if lane.pitched else KITS
    named = {name: (name, each.about) for name, each in fitting.items()}
    parts: list[Part] = ["Heard as " if lane.pitched else "Heard on the kit ",
                         choice("sound.by", "sound", sound.by, named)]
    bounds = limits(Percent)
    for name, value in sound.controls.items():
        low, high = value if isinstance(value, tuple) else (value, value)
        called = f"{name} of the {sound.by}"
        if not sound.ranges:
            parts += [f", {name} ", percent(f"sound.{name}", called, low, *bounds)]
        else:
            parts += [f", {name} ", percent(f"sound.{name}", f"lowest {called}", low, *bounds),
                      " to ", percent(f"sound.{name}.to", f"highest {called}", high, *bounds)]
    return [*parts, "."]


def _written(lane: SoundFields, slot: str, value: Any) -> Fields:
    name, _, high = slot.removeprefix("sound.").partition(".")
    sound = lane.heard_by
    if name == "by":
        other = Sound(by=value)
        return _in_ranges(other) if sound.ranges else _set(other, {})
    before = sound.controls[name]
    ends = before if isinstance(before, tuple) else (before, before)
    if sound.ranges:
        value = (min(ends[0], value), value) if high else (value, max(ends[1], value))
    return _set(sound, {**sound.set, name: value})


def _set(sound: Sound, controls: Mapping[str, Any]) -> Fields:
    return {"sound": {"by": sound.by} | ({"set": dict(controls)} if controls else {})}


def _in_ranges(sound: Sound) -> Fields:
    """Every control in a range about where it stands."""
    low, high = limits(Percent)
    return _set(sound, {name: (max(low, middle - ASIDE), min(high, middle + ASIDE))
                        for name, middle in sound.middles.items()})


class _ByHit(ClauseKind[SoundFields]):
    """Without it every control stands in the middle of its range."""

    def removed(self, lane: SoundFields, number: int) -> Fields:
        return _set(lane.heard_by, lane.heard_by.middles)


VOICE = ClauseKind[SoundFields]("voice", "voice", lambda lane: lane.pitched, _parts,
                                writes=_written, forms=lambda lane: [_in_ranges(FIRST_VOICE)])
KIT = ClauseKind[SoundFields](
    "kit", "kit", lambda lane: lane.heard_by.by != FIRST_KIT.by, _parts,
    starts={"sound": {"by": list(KITS)[1]}}, cleared=("sound",),
    about="another kit to listen with", group="how it is heard", writes=_written,
    forms=lambda lane: (fields for kit in list(KITS)[1:] for fields in (
        {"sound": {"by": kit}}, _in_ranges(Sound(by=kit)))))
BY_HIT = _ByHit(
    "sound-by-hit", "a sound for each hit", lambda lane: lane.heard_by.ranges,
    lambda lane, names: ["Its sound is drawn for each hit anew."],
    starts=lambda lane: _in_ranges(lane.heard_by),
    cleared=("sound",), possible=lambda lane: bool(lane.heard_by.controls),
    about="ring, strike and the like from ranges", group="how it is heard")
