"""What a page can offer but does not know by itself, as the core has it: drums by note, what an
empty pattern can begin with, what a new lane can be, rules, lanes that follow others, and
voices."""

from collections.abc import Mapping
from typing import Any, Literal

from lattice import (
    ALSO_CALLED,
    BEGINNINGS,
    FOLLOWING,
    PERCUSSION,
    STANDING,
    STARTS,
    USED_MOST,
    VOICES,
    BeginningName,
    FollowingKind,
    StandingKind,
)
from ninja import Schema
from pydantic import create_model


class FollowingLane(Schema):
    """A lane that can be made to follow another one by a rule; whether a controller is offered
    too that does."""

    rule: FollowingKind
    title: str
    about: str
    controller: bool


class DrumOut(Schema):
    """A drum that a new lane may be: its note, its name, and what else it is called."""

    note: int
    name: str
    also: str


class StandingRule(Schema):
    """A rule by which a new lane's hits may fall."""

    rule: StandingKind
    title: str
    about: str


class BeginningOut(Schema):
    """What a new lane may be besides a drum; `begin` names it."""

    begin: BeginningName
    title: str
    about: str
    group: Literal["drums", "pitches"]


def _of_fields(name: str, about: str | None, fields: Mapping[str, type]) -> type[Schema]:
    required: dict[str, Any] = {field: (kind, ...) for field, kind in fields.items()}
    return create_model(name, __base__=Schema, __doc__=about, **required)


Voices = _of_fields(
    "Voices", "Each built-in voice of pitched lanes, and where its controls stand at first, in "
    "percent.", {name: _of_fields(f"{name.title()}Controls", None,
                                  dict.fromkeys(each.controls, float))
                 for name, each in VOICES.items()})


class Choices(Schema):
    """All that can be chosen."""

    drums: list[DrumOut]
    starts: dict[str, str]
    beginnings: list[BeginningOut]
    standing: list[StandingRule]
    following: list[FollowingLane]
    voices: Voices  # type: ignore[valid-type]


CHOICES = Choices(
    drums=[DrumOut(note=note, name=PERCUSSION[note], also=ALSO_CALLED.get(note, ""))
           for note in dict.fromkeys((*USED_MOST, *PERCUSSION))],
    starts={name: title for name, (title, _) in STARTS.items()},
    beginnings=[BeginningOut(begin=name, title=each.title, about=each.about, group=each.group)
                for name, each in BEGINNINGS.items()],
    standing=[StandingRule(rule=kind, title=rule.lane_title, about=rule.about)
              for kind, rule in STANDING.items()],
    following=[FollowingLane(rule=kind, title=rule.lane_title, about=rule.lane_about,
                             controller=rule.leads_controllers)
               for kind, rule in FOLLOWING.items()],
    voices=Voices.model_validate({name: each.controls for name, each in VOICES.items()}))
