"""Documents and files as the command line reads and writes them."""

from __future__ import annotations

import argparse
import json
import sys
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, Any

from lattice.base.errors import RecipeError
from lattice.base.values import to_json

if TYPE_CHECKING:
    from lattice.clip.document import Clip
    from lattice.recipe import Recipe

MOST_BARS = 4096
RECIPE_HELP = "the recipe: a file of JSON or of text, - for standard input, or a text itself"


def document(name: str) -> Any:
    """The JSON in a file, or in what comes in where the name is "-"."""
    return _json(name, _content(name))


def recipe_document(name: str) -> Any:
    """The document of a recipe that is JSON or a text, in a file, in what comes in, or named
    itself."""
    text = written(name)
    if text.lstrip()[:1] in ("{", "["):
        return _json(name, text)
    patterns = read_patterns(text)
    if len(patterns) > 1:
        raise RecipeError(f"These are {len(patterns)} patterns; give one at a time.")
    return to_json(patterns[0])


def written(name: str) -> str:
    """What is in a file, in what comes in where the name is "-", or, where no file is called so
    and there are blanks in it, the name itself."""
    return name if " " in name and not _is_file(name) else _content(name)


def read_patterns(text: str) -> list[Recipe]:
    """The patterns of a text; lanes by themselves are one."""
    from lattice.recipe import Recipe
    from lattice.texts.patterns import read_text

    found = read_text(text)
    alone = [Recipe(lanes=tuple(found.lanes))] if found.lanes else []
    return alone + [each.recipe for each in found.patterns]


def _is_file(name: str) -> bool:
    try:
        return Path(name).is_file()
    except (OSError, ValueError):
        return False


def _content(name: str) -> str:
    try:
        return sys.stdin.read() if name == "-" else Path(name).read_text(encoding="utf-8")
    except OSError as problem:
        raise RecipeError(f"{name} cannot be read: {problem.strerror}.") from None
    except ValueError as problem:
        raise RecipeError(f"{name} cannot be read: {problem}.") from None


def _json(name: str, text: str) -> Any:
    try:
        return json.loads(text)
    except (ValueError, RecursionError) as problem:
        raise RecipeError(f"{name} is not JSON: {problem}.") from None


def write(name: str, data: bytes) -> None:
    """Write a file, or to what goes out where the name is "-"."""
    if name == "-":
        sys.stdout.write(data.decode())
        return
    try:
        Path(name).write_bytes(data)
    except (OSError, ValueError) as problem:
        why = getattr(problem, "strerror", None) or "no file can have that name"
        raise RecipeError(f"{name!r} cannot be written: {why}.") from None


def json_text(document: Any) -> bytes:
    """A document as it lies in a file."""
    return (json.dumps(document, indent=1, ensure_ascii=False) + "\n").encode()


def clip_of(document: Any) -> Clip:
    """The clip that a document is."""
    from lattice.clip.document import Clip
    from lattice.recipe import refusing

    if not isinstance(document, dict):
        raise RecipeError("A clip is one JSON object; `lattice schema --clip` prints what is in "
                          "it.")
    with refusing():
        return Clip.model_validate(document)


def bars_option(command: argparse.ArgumentParser) -> None:
    """--bars of a recipe."""
    command.add_argument("--bars", default=None, metavar="FROM:TO",
                         help="bars counted from 0, the last one not included")


def two_numbers(text: str) -> tuple[int, int]:
    """Bars written FROM:TO."""
    first, separator, last = text.partition(":")
    if not (separator and first.isdecimal() and last.isdecimal()
            and len(text) < 20 and int(first) < int(last)):
        raise RecipeError('Bars are written FROM:TO, such as "0:4", counted from 0.')
    if int(last) - int(first) > MOST_BARS:
        raise RecipeError(f"At most {MOST_BARS} bars can be asked for at once.")
    return int(first), int(last)


def beats(options: argparse.Namespace, recipe: Recipe) -> tuple[Fraction, Fraction]:
    """The range of --bars in beats."""
    first, last = two_numbers(options.bars or f"0:{recipe.bars}")
    return first * recipe.bar_beats, last * recipe.bar_beats


def numbers(text: str | None) -> list[int] | None:
    """Numbers with commas between them."""
    if text is None:
        return None
    parts = text.split(",")
    if not all(part.strip().isdecimal() and len(part) < 10 for part in parts):
        raise RecipeError(f"“{text[:40]}” is not a list of whole numbers, such as 1,3,4.")
    return [int(part) for part in parts]


def words(options: argparse.Namespace) -> list[tuple[str, str]]:
    """The words of a sentence that are given as options, by their fields."""
    return [(name.removeprefix("word_"), text) for name, text in vars(options).items()
            if name.startswith("word_") and text is not None]


def typed(text: str) -> Any:
    """A word as it is typed: a number, or what is no number."""
    try:
        return json.loads(text)
    except ValueError:
        return text
