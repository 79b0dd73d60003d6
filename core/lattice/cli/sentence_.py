"""lattice sentence: what a recipe says."""

from __future__ import annotations

import argparse

from lattice.cli.documents import RECIPE_HELP, recipe_document
from lattice.recipe import read
from lattice.results.meeting import meeting_point
from lattice.sentence import lane_sentence
from lattice.texts.patterns import pattern_text


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("recipe", help=RECIPE_HELP)
    command.add_argument("--full", action="store_true",
                         help="the whole pattern as a text that can be read again")


def run(options: argparse.Namespace) -> None:
    """Print a line a lane, and when all of them meet; or the whole text."""
    recipe = read(recipe_document(options.recipe))
    if options.full:
        print(pattern_text(recipe, ""))
        return
    for lane in recipe.lanes:
        print(f"{lane.name}: {lane_sentence(lane, recipe).text()}")
    words = meeting_point(recipe).words()
    print(f"{words[:1].upper()}{words[1:]}.")
