"""The published schemas, read by a validator that we did not write: what leaves fits them, and what
does not fit them is refused here too."""

import json
from functools import cache
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.clip.document import Clip
from lattice.clip.taken import Segment, take_clip
from lattice.order.document import Block, Order
from lattice.piece import Piece, PieceClip, PiecePattern, Pieces, read_pieces
from lattice.recipe import Recipe, read

from tests.core.melodies import melodic
from tests.core.recipes import documents

DOCS = Path(__file__).parents[2] / "docs"


@cache
def schema(name: str) -> Draft202012Validator:
    found = json.loads((DOCS / f"{name}.schema.json").read_text())
    Draft202012Validator.check_schema(found)
    return Draft202012Validator(found)


def wrong(name: str, document: Any) -> list[str]:
    """What the validator has to say against a document, as it is written in a file."""
    return [f"{each.json_path}: {each.message}" for each in schema(name).iter_errors(
        json.loads(json.dumps(document)))]


def taken(recipe: Recipe) -> Any:
    end = float(2 * recipe.frame_beats)
    return take_clip("Two passes", [Segment(recipe, 0, 0, end)], 0, 2 * recipe.frame_beats)


@given(documents() | melodic(documents()))
def test_what_leaves_fits(document: dict[str, Any]) -> None:
    recipe = read(document)
    kept = taken(recipe)
    whole = Pieces(pieces=(Piece(
        name="Sprinklers", patterns=(PiecePattern(name="Drizzle", recipe=recipe),),
        order=Order(blocks=(Block(pattern=1), Block(pattern=1, degrees=2)), between=(0, 1)),
        clips=(PieceClip(name="Kept", clip=kept, starred=True, tags=("wet",), pattern=0,
                         recipe=recipe),)),))
    assert wrong("recipe", to_json(recipe)) == [] and read(to_json(recipe)) == recipe
    assert wrong("clip", to_json(kept)) == [] and Clip.model_validate(to_json(kept)) == kept
    written = to_json(whole) | {"format": whole.format, "version": whole.version}
    assert wrong("piece", written) == [] and read_pieces(written) == whole


def places(document: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The way to each value of a document."""
    inner = document.items() if isinstance(document, dict) else \
        enumerate(document) if isinstance(document, list) else ()
    return [path, *(place for name, value in inner for place in places(value, (*path, name)))]


def put(document: Any, path: tuple[Any, ...], value: Any) -> Any:
    """The document with another value at a place."""
    if not path:
        return value
    copy = document.copy()
    copy[path[0]] = put(document[path[0]], path[1:], value)
    return copy


OTHERS = st.sampled_from([None, "", "1/0", "nonsense", -1, 0.5, 10**9, 1e300, [], {}, [[]],
                          {"unknown": 1}])


@given(documents() | melodic(documents()), st.data())
def test_what_does_not_fit_is_refused_in_one_sentence(
        document: dict[str, Any], data: st.DataObject) -> None:
    path = data.draw(st.sampled_from(places(document)[1:]))
    broken = put(document, path, data.draw(OTHERS))
    if wrong("recipe", broken):
        with pytest.raises(RecipeError) as refused:
            read(broken)
        assert "\n" not in str(refused.value) and "pydantic" not in str(refused.value)
    else:
        try:
            recipe = read(broken)
        except RecipeError:
            return  # a schema cannot say how one value hangs on another
        assert read(to_json(recipe)) == recipe
