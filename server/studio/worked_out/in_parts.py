"""An answer taken apart: each part is named by a stamp of what it says, so that what a page has is
named to it, and not sent again."""

from collections.abc import Iterable
from dataclasses import fields
from functools import partial
from typing import Any

import orjson
from lattice import Clause, Lately, Sentence, Slot
from ninja import Schema

from studio.worked_out.look import Chosen, ShownLane, View
from studio.worked_out.written import Divided, Written, json_bytes, named


class InParts(Schema):
    """A View taken apart: `{"part": stamp}` stands in `view`, and in parts, for what is found under
    that stamp among `parts`, or among those that who asked has."""

    view: dict[str, Any]
    parts: dict[str, Any]


def in_parts(view: View, have: Iterable[str]) -> dict[str, Any]:
    """A view as InParts, for one who has these parts."""
    apart = _Apart(have)
    taken = _shallow(view) | {
        "tempo_word": apart.named(view.tempo_word), "sentence": apart.sentence(
            _sentences.of(view.sentence, make=partial(_parts_of, view.sentence))),
        "chords": apart.named(view.chords), "chords_offered": apart.named(view.chords_offered),
        "progressions_offered": apart.named(view.progressions_offered),
        "lanes": [apart.lane(lane) for lane in view.lanes],
        "chosen": view.chosen and apart.chosen(view.chosen)}
    return {"view": taken, "parts": apart.parts}


class _Apart:
    """Takes things apart for one who has some of the parts."""

    def __init__(self, have: Iterable[str]) -> None:
        self._have = frozenset(have)
        self.parts: dict[str, Written] = {}

    def named(self, part: Any) -> orjson.Fragment:
        """What stands for a part."""
        written = part if isinstance(part, Written) else _said(part)
        if written.stamp not in self._have:
            self.parts[written.stamp] = written
            for within in written.within:
                self.named(within)
        return orjson.Fragment(named(written))

    def lane(self, lane: ShownLane) -> orjson.Fragment:
        written: object = lane.drawn
        if not isinstance(written, Divided):
            raise TypeError("A look has its drawn lanes written.")
        drawn = self.named(written.apart)
        return self.named(_lanes.of(lane, make=lambda: _said(_shallow(lane) | {"drawn": drawn})))

    def sentence(self, parts: tuple[list[Written], Written]) -> dict[str, Any]:
        clauses, offers = parts
        return {"clauses": list(map(self.named, clauses)), "offers": self.named(offers)}

    def chosen(self, chosen: Chosen) -> dict[str, Any]:
        return _shallow(chosen) | {
            "sentence": self.sentence(_parts_of(chosen.sentence)),
            "strands": [self.named(_strands.of(strand, make=partial(_said, strand)))
                        for strand in chosen.strands]}


_lanes = Lately[Written](2048)
_strands = Lately[Written](512)
_sentences = Lately[tuple[list[Written], Written]](256)
"""Of patterns; that of the lane whose word is turned is another each time."""


def _said(part: Any) -> Written:
    return Written(json_bytes(part))


def _parts_of(sentence: Sentence) -> tuple[list[Written], Written]:
    """Its clauses, each by itself, and what can be added to it."""
    return list(map(_clause, sentence.clauses)), _said(sentence.offers)


def _clause(clause: Clause) -> Written:
    """A clause, what its words can be picked from apart: that mostly stays while they turn."""
    within = []

    def word(part: str | Slot) -> Any:
        if isinstance(part, str) or not part.options:
            return part
        within.append(_said(part.options))
        return _shallow(part) | {"options": orjson.Fragment(named(within[-1]))}

    return Written(json_bytes(_shallow(clause) | {"parts": list(map(word, clause.parts))}), within)


def _shallow(thing: Any) -> dict[str, Any]:
    return {field.name: getattr(thing, field.name) for field in fields(thing)}
