"""How a lane is heard by the built-in sounds: which voice or kit, and how that is set. Only a page
that makes the sounds reads it; notes and files do not change."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from lattice.base.clauses import ClauseKind, Fields, Names, Part
from lattice.base.values import Document, Percent, limits, to_json
from lattice.base.words import choice, percent
from lattice.features.instruments import INSTRUMENTS, KITS, VOICES
from lattice.pitch.fields import PitchFields

if TYPE_CHECKING:
    InstrumentName = str
else:
    InstrumentName = Literal[(*VOICES, *KITS)]


class Sound(Document):
    """One of the voices or kits, and those of its controls that stand elsewhere than at first."""

    by: InstrumentName
    set: dict[Annotated[str, Field(max_length=20)], Percent] = {}

    @model_validator(mode="after")
    def _controls_are_its_own(self) -> Self:
        unknown = [name for name in self.set if name not in INSTRUMENTS[self.by].controls]
        if unknown:
            raise ValueError(f"The sound “{self.by}” has no control “{unknown[0]}”.")
        return self


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

    @property
    def sound_controls(self) -> dict[str, float]:
        """Where the controls of the sound stand, in percent."""
        sound = self.heard_by
        return INSTRUMENTS[sound.by].controls | sound.set


def _parts(lane: SoundFields, names: Names) -> list[Part]:
    sound = lane.heard_by
    fitting = VOICES if lane.pitched else KITS
    named = {name: (name, each.about) for name, each in fitting.items()}
    parts: list[Part] = ["Heard as " if lane.pitched else "Heard on the kit ",
                         choice("sound.by", "sound", sound.by, named)]
    for name, value in lane.sound_controls.items():
        parts += [f", {name} ", percent(f"sound.{name}", f"{name} of the {sound.by}", value,
                                        *limits(Percent))]
    return [*parts, "."]


def _written(lane: SoundFields, slot: str, value: Any) -> Fields:
    name = slot.removeprefix("sound.")
    if name == "by":
        return {"sound": {"by": value}}
    sound = lane.heard_by
    return {"sound": to_json(sound) | {"set": {**sound.set, name: value}}}


VOICE = ClauseKind[SoundFields]("voice", "voice", lambda lane: lane.pitched, _parts,
                                writes=_written)
KIT = ClauseKind[SoundFields](
    "kit", "kit", lambda lane: lane.heard_by.by != FIRST_KIT.by, _parts,
    starts={"sound": {"by": list(KITS)[1]}}, cleared=("sound",),
    about="another kit to listen with", group="how it is heard", writes=_written)
