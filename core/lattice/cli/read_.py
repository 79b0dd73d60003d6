"""lattice read: the recipes of a text."""

from __future__ import annotations

import argparse
import json

from lattice.base.values import to_json
from lattice.cli.documents import json_text, read_patterns, written


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("text", help="a text such as “Spread 7 hits over 12 steps of 1/16.”, its "
                                      "file, or - for standard input")


def run(options: argparse.Namespace) -> None:
    """Print the recipe; of several patterns, one JSON object a line."""
    found = [to_json(recipe) for recipe in read_patterns(written(options.text))]
    if len(found) == 1:
        print(json_text(found[0]).decode(), end="")
    else:
        for each in found:
            print(json.dumps(each, ensure_ascii=False))
