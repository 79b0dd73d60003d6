"""lattice read: the recipes of a text."""

from __future__ import annotations

import argparse
import json

from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.cli.documents import json_text, read_patterns, written
from lattice.texts.forms import listed_forms


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("text", nargs="?", help="a text such as “Spread 7 hits over 12 steps of "
                                                 "1/16.”, its file, or - for standard input")
    command.add_argument("--forms", action="store_true",
                         help="print every clause that can be read, with its forms")


def run(options: argparse.Namespace) -> None:
    """Print the recipe; of several patterns, one JSON object a line."""
    if options.forms:
        print(listed_forms())
        return
    if options.text is None:
        raise RecipeError("What is to be read? Give a text, its file, or - for standard input.")
    found = [to_json(recipe) for recipe in read_patterns(written(options.text))]
    if len(found) == 1:
        print(json_text(found[0]).decode(), end="")
    else:
        for each in found:
            print(json.dumps(each, ensure_ascii=False))
