"""Whatever is offered, of every kind, can be chosen, applied, told, stored and read back."""

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction
from typing import Any, cast

import pytest
from lattice.arpeggio.orders import ORDERS
from lattice.base.errors import RecipeError
from lattice.base.values import Document, to_json
from lattice.base.words import Slot
from lattice.clip.taken import Segment, take_clip
from lattice.clip_edits import AnyClipEdit, change_clip
from lattice.cuttings.strip import mark_strip
from lattice.cuttings.wish import ALONG, SEARCHED, Wish
from lattice.edits import EDITS, AnyEdit
from lattice.edits.throws import THROWS
from lattice.features.instruments import KITS, VOICES
from lattice.measures import MEASURES
from lattice.play import Performance, play
from lattice.recipe import Recipe, read
from lattice.rules import RULES
from lattice.sentence import lane_sentence
from lattice.tools import TOOLS
from pydantic import BaseModel, TypeAdapter

from tests.core.recipes import euclid, recipe

PIECE = recipe(
    {"id": "pump", "name": "Pump", "note": 36, "steps": 16, "rule": euclid(5)},
    {"id": "drip", "name": "Drip", "note": 42, "steps": 16, "rule": euclid(7)},
    {"id": "fern", "name": "Fern", "kind": "pitched", "channel": 1, "steps": 16, "rule": euclid(6),
     "arpeggio": {"pool": [60, 64, 67], "octaves": 2}})
edits: TypeAdapter[AnyEdit] = TypeAdapter(AnyEdit)
clip_edits: TypeAdapter[Any] = TypeAdapter(AnyClipEdit)


def words_of(document: Recipe, lane: str) -> dict[str, Slot]:
    return {part.slot: part for clause in lane_sentence(document.lane(lane), document).clauses
            for part in clause.parts if isinstance(part, Slot)}


def slots() -> Iterator[tuple[str, str, str]]:
    """A lane, its word, and each thing of a kind that it offers."""
    for name in RULES:
        yield "drip", "rule.kind", name
    for name in ORDERS:
        yield "fern", "arpeggio.order", name
    for name in VOICES:
        yield "fern", "sound.by", name


@pytest.mark.parametrize(("lane", "slot", "name"), slots())
def test_what_a_word_offers(lane: str, slot: str, name: str) -> None:
    offered = words_of(PIECE, lane)[slot]
    assert name in [option.value for option in offered.options]
    changed = edits.validate_json(
        f'{{"do": "set", "lane": "{lane}", "slot": "{slot}", "value": "{name}"}}').apply(PIECE)
    again = read(cast(dict[str, Any], to_json(changed)))
    assert again == changed and words_of(again, lane)[slot].value == name
    assert [note for note in play(again, 0, 8) if note.lane == lane]


@pytest.mark.parametrize("name", KITS)
def test_kits(name: str) -> None:
    heard = edits.validate_python({"do": "add", "lane": "drip", "clause": "kit"}).apply(PIECE)
    heard = edits.validate_python(
        {"do": "set", "lane": "drip", "slot": "sound.by", "value": name}).apply(heard)
    assert read(cast(dict[str, Any], to_json(heard))).lane("drip").heard_by.by == name


@pytest.mark.parametrize("tool", TOOLS)
def test_tools(tool: Any) -> None:
    taken = take_clip("Bud", [Segment(PIECE, 0, 0, 4)], 0, Fraction(4))
    standing = tool.as_it_stands()
    said = clip_edits.validate_python({"do": "lay_in", "tool": standing.model_dump(mode="json")})
    assert said.tool == standing and said.describe(taken).startswith(tool.label)
    made = change_clip(taken, [said]).clip
    assert type(made).model_validate(made.model_dump(mode="json")) == made
    assert standing.in_words.endswith(".")


@pytest.mark.parametrize("throw", THROWS)
def test_throws(throw: Any) -> None:
    said = edits.validate_python({"do": throw.model_fields["do"].default, "throw": 7})
    assert type(said) is throw and throw in EDITS and said.in_words.endswith(".")
    thrown = said.apply(PIECE)
    assert said.describe(PIECE).endswith("thrown")
    assert read(cast(dict[str, Any], to_json(thrown))) == thrown == said.apply(PIECE)


@pytest.mark.parametrize("name", MEASURES)
def test_measures(name: str) -> None:
    measure = MEASURES[name]
    assert measure.told(0) != measure.told(1)
    if name in ALONG:
        laid = mark_strip(Performance(PIECE), "drip", Wish().worded("along", name))
        assert all(mark.words for mark in laid.marks)
    wish = Wish(source="all", fewest=7, most=7)
    if name not in SEARCHED:
        with pytest.raises(RecipeError):
            wish.worded(name, "less")
        return
    more = wish.worded(name, "more")
    assert Wish.model_validate(more.model_dump(mode="json")) == more
    assert measure.label in more.in_words


def test_no_two_documents_share_a_name() -> None:
    """The API's description knows documents by their names alone."""
    def under(kind: type[BaseModel]) -> Iterator[type[BaseModel]]:
        for below in kind.__subclasses__():
            yield below
            yield from under(below)

    named = Counter(kind.__name__ for kind in set(under(Document))
                    if kind.__module__.startswith("lattice."))
    assert not [name for name, count in named.items() if count > 1]
