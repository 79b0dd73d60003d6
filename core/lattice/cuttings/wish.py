"""What relatives are wanted: a small document whose words make its sentence."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Annotated, Literal, Self

from pydantic import Field, create_model, model_validator

from lattice.base.clauses import Part
from lattice.base.values import Percent, limits
from lattice.base.words import choice, counted, number, percent
from lattice.cuttings.families import FAMILIES
from lattice.features.gusts import Throw
from lattice.measures import MEASURES
from lattice.measures.distance import DISTANCES
from lattice.relatives.roles import ROLES
from lattice.sentence import Said

Count = Annotated[int, Field(ge=10, le=1000)]
Stray = Annotated[float, Field(ge=0, le=1)]
Compared = Literal["any", "less", "as", "more"]
Hits = Annotated[int, Field(ge=0, le=128)]
Within = Annotated[int, Field(ge=0, le=128)]

SOURCES = {"now": ("what plays now", "the rhythm of the lane, and others near it"),
           "role": ("the lane's role", "places that its voice likes, whatever plays now"),
           "family": ("a family", "grooves whose lanes belong together"),
           "all": ("all rhythms", "searched through, whatever plays now")}
BEGINS = {"anywhere": ("anywhere", ""), "one": ("on one", "the first step is a hit"),
          "later": ("later than one", "the first step is a rest")}
COMPARED = {"any": ("as it comes", ""), "less": ("less than now", ""), "as": ("as now", ""),
            "more": ("more than now", "")}
TURNS = {"apart": ("each turn by itself", "the same rhythm begun on another step counts again"),
         "once": ("each once, in one of its turns", "however it is turned")}
STAYS = {"pins": ("Pins stay", "all else may go"),
         "beats": ("Hits on the beat stay", "and pins"),
         "hits": ("All hits there now stay", "others only come to them, and pins stay")}
DEGREES = {"stay": ("stay", "each step keeps its own"),
           "contour": ("move and keep their contour", "up where it went up, down where down"),
           "free": ("move freely", "near those that play now")}
ALONG = {name: (each.along.label, each.along.about) for name, each in MEASURES.items()
         if each.along} | {
    name: (each.along.label, each.along.about) for name, each in DISTANCES.items()}
ANYWHERE = "any"
SEARCHED = tuple(name for name, each in MEASURES.items() if each.compared)
"""The measures that a search compares with what plays now."""

if TYPE_CHECKING:
    AlongName = str
    NearName = str

    class _Comparing(Said):
        """A word for each measure that is compared."""
else:
    AlongName = Literal[tuple(ALONG)]
    NearName = Literal[ANYWHERE, *DISTANCES]
    _Comparing = create_model("_Comparing", __base__=Said, **dict.fromkeys(
        SEARCHED, (Compared, "any")))


class Wish(_Comparing):
    """Relatives of a lane: how many, grown from what, how far they stray (0 to 1: the share of the
    steps that are let loose, at most), how dense they are (percent of the steps), what stays, what
    they are laid out by, and the throw that decides chance. Of pitched lanes, what becomes of
    their degrees, and on how many percent of the strong places they become chord tones.

    role: of the voice; "own" is the one that the lane's drum or register suggests.
    fewest, most: hits of rhythms out of all there are; begins: whether their first step is one;
    near: by which distance they are at most `within` away from what plays now, if by any. turns:
    whether rhythms that are one another turned round the circle are shown each or once. The
    measures that a search compares stand by their names, compared with what plays now.
    """

    label = "cuttings"
    count: Count = 200
    source: Literal["now", "role", "family", "all"] = "now"
    role: str = "own"
    family: str = next(iter(FAMILIES))
    fewest: Hits = 5
    most: Hits = 5
    begins: Literal["anywhere", "one", "later"] = "anywhere"
    near: NearName = ANYWHERE
    within: Within = 2
    turns: Literal["apart", "once"] = "apart"
    stray: Stray = 0.3
    low: Percent = 10
    high: Percent = 90
    degrees: Literal["stay", "contour", "free"] = "stay"
    chord: Percent = 60
    stays: Literal["pins", "beats", "hits"] = "pins"
    along: AlongName = "density"
    throw: Throw = 0

    @model_validator(mode="after")
    def _agrees(self) -> Self:
        if self.low > self.high:
            raise ValueError("The lower density goes up to the upper one.")
        if self.fewest > self.most:
            raise ValueError("The fewest hits go up to the most.")
        if self.role not in ("own", *ROLES):
            raise ValueError(f"A role is one of own, {', '.join(ROLES)}.")
        if self.family not in FAMILIES:
            raise ValueError(f"A family is one of {', '.join(FAMILIES)}.")
        return self

    def parts(self) -> Sequence[Part]:
        words: list[Part] = [
            "Grow ", number("count", "relatives a lane", self.count, *limits(Count), step=10),
            " relatives a lane from ", choice("source", "grown from", self.source, SOURCES)]
        if self.source == "role":
            words += [", ", choice("role", "role", self.role, {
                "own": ("its own", "what its drum or register suggests"),
                **{name: (role.label, role.about) for name, role in ROLES.items()}})]
        if self.source == "family":
            words += [", ", choice("family", "family", self.family, {
                name: (family.label, family.about) for name, family in FAMILIES.items()})]
        if self.source == "all":
            words += self._searched()
        else:
            words += [", straying by ", number("stray", "how far they stray", self.stray,
                                               *limits(Stray), step=0.05),
                      ", between ", percent("low", "lower density", self.low, 0, self.high),
                      " and ", percent("high", "upper density", self.high, self.low, 100),
                      " dense"]
        words += [". ", choice("stays", "what stays", self.stays, STAYS),
                  ", degrees ", choice("degrees", "degrees", self.degrees, DEGREES)]
        if self.degrees != "stay":
            words += [", on ", percent("chord", "chord tones on strong places", self.chord,
                                       *limits(Percent)),
                      " of the strong places to chord tones"]
        return [*words, ". Laid out ", choice("along", "laid out", self.along, ALONG), "."]

    def _searched(self) -> list[Part]:
        low, high = limits(Hits)
        words: list[Part] = [
            " of ", number("fewest", "fewest hits", self.fewest, low, self.most), " to ",
            number("most", "most hits", self.most, self.fewest, high), " hits that begin ",
            choice("begins", "the first hit", self.begins, BEGINS)]
        for name in SEARCHED:
            label = MEASURES[name].label
            words += [f", {label} ", choice(name, label, getattr(self, name), COMPARED)]
        words += [", "]
        if self.near != ANYWHERE:
            words += ["at most ", number("within", "how far from now", self.within,
                                         *limits(Within)), " "]
        words += [choice("near", "distance from now", self.near, {
            ANYWHERE: ("however far from now", ""),
            **{name: (f"{counted(self.within, each.counted)} away from now", each.about)
               for name, each in DISTANCES.items()}})]
        return [*words, "; ", choice("turns", "turns", self.turns, TURNS)]
