"""A recording of the musician's own that a drum lane is heard by, and what cuts a drum short. Only
a page that makes the sounds reads them; notes and files do not change."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Self

from pydantic import Field, model_validator

from lattice.base.clauses import ClauseKind, Fields, Names, Part
from lattice.base.group import LaneId
from lattice.base.values import Document, Name, Percent, limits
from lattice.base.words import Clause, choice, number, percent
from lattice.features.sound import SoundFields

Tuning = Annotated[float, Field(ge=-24, le=24)]
FadeIn = Annotated[float, Field(ge=0, le=2000)]
FadeOut = Annotated[float, Field(ge=0, le=5000)]
LEAST_HEARD = 1
"""Words leave so many percent of a sound between its ends."""


class OwnSound(Document):
    """A recording, named by the SHA-256 of its file, and how it is trimmed, tuned and faded.

    start, end: percent of its length that are played; tune: semitones, which change its length as
    on a tape; fade_in, fade_out: milliseconds at either end of what is played.
    """

    file: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Name
    start: Percent = 0
    end: Percent = 100
    tune: Tuning = 0
    fade_in: FadeIn = 0
    fade_out: FadeOut = 5

    @model_validator(mode="after")
    def _something_is_left(self) -> Self:
        if self.start >= self.end:
            raise ValueError("A sound is played from a place before the one that it ends at; "
                             f"from {self.start:g} % to {self.end:g} % leaves nothing of it.")
        return self


class Choke(Document):
    """The lane whose hits cut this one's sounds short; none, or one that is not there, cuts
    nothing."""

    by: LaneId | None = None


class OwnSoundFields(SoundFields):
    """A drum lane's recording, in place of the drums of its kit, and what cuts it short."""

    own_sound: OwnSound | None = None
    choke: Choke | None = None

    @property
    def recording(self) -> OwnSound | None:
        """The recording that the lane is heard by as the kind of lane that it is."""
        return self.own_sound if self.kind == "drum" else None

    @property
    def choked_by(self) -> str | None:
        """The lane that cuts it short."""
        return self.choke.by if self.choke and self.kind == "drum" else None


def _parts(lane: OwnSoundFields, names: Names) -> list[Part]:
    own = lane.recording
    if own is None:
        return []
    low, high = limits(Percent)
    return [f"Heard as “{own.name}” from ",
            percent("own_sound.start", "where the sound begins", own.start, low,
                    max(own.start, own.end - LEAST_HEARD)),
            " to ", percent("own_sound.end", "where the sound ends", own.end,
                            min(own.end, own.start + LEAST_HEARD), high),
            ", tuned by ",
            number("own_sound.tune", "tuning in semitones", own.tune, *limits(Tuning),
                   step=0.01, text=f"{own.tune:+g}"),
            " semitones, fading in over ",
            number("own_sound.fade_in", "fade in, in milliseconds", own.fade_in, *limits(FadeIn)),
            " ms and out over ",
            number("own_sound.fade_out", "fade out, in milliseconds", own.fade_out,
                   *limits(FadeOut)), " ms."]


def _choke_parts(lane: OwnSoundFields, names: Names) -> list[Part]:
    others: dict[Any, str] = {"": "no lane", **names}
    by = lane.choked_by or ""
    return ["Cut short by ",
            choice("choke.by", "lane that cuts it short", by if by in others else "", others), "."]


def _choke_written(lane: OwnSoundFields, slot: str, value: Any) -> Fields:
    return {slot: value or None}


class _Recording(ClauseKind[OwnSoundFields]):
    """A recording stays with its lane, and is in no text."""

    def whole(self, lane: OwnSoundFields, names: Names) -> Iterator[Clause]:
        return iter(())


OWN_SOUND = _Recording(
    "own_sound", "own sound", lambda lane: lane.recording is not None, _parts,
    cleared=("own_sound",))
CHOKE = ClauseKind[OwnSoundFields](
    "choke", "cut short", lambda lane: lane.choke is not None and lane.kind == "drum",
    _choke_parts, starts={"choke": {}}, cleared=("choke",),
    possible=lambda lane: lane.kind == "drum",
    about="its sound ends where another lane is struck", group="how it is heard",
    writes=_choke_written)
