"""lattice say: a lane in fewer words."""

from __future__ import annotations

import argparse
import json

from lattice.base.values import to_json
from lattice.cli.documents import RECIPE_HELP, recipe_document
from lattice.recipe import read
from lattice.telling.shorter import proposals


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("recipe", help=RECIPE_HELP)
    command.add_argument("--lane", required=True, metavar="ID", help="the lane's id")


def run(options: argparse.Namespace) -> None:
    """Print the ways to say it."""
    for said in proposals(read(recipe_document(options.recipe)), options.lane):
        print(json.dumps({"words": said.words, "sentence": said.sentence,
                          "lane": to_json(said.lane)}, ensure_ascii=False))
