"""lattice measure: the measures of rhythms."""

from __future__ import annotations

import argparse
import json

from lattice.cli.documents import RECIPE_HELP, recipe_document
from lattice.play import Performance
from lattice.recipe import read
from lattice.results.measured import lane_rhythm, pattern_measures


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("recipe", help=RECIPE_HELP)
    command.add_argument("--lane", metavar="ID", help="the lane's id (all together)")


def run(options: argparse.Namespace) -> None:
    """Print them."""
    performance = Performance(read(recipe_document(options.recipe)))
    print(json.dumps(pattern_measures(performance) if options.lane is None else
                     lane_rhythm(performance, options.lane).measures))
