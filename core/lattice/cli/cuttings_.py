"""lattice cuttings: relatives of a lane."""

from __future__ import annotations

import argparse
import json

from lattice.cli.documents import RECIPE_HELP, recipe_document, typed, words
from lattice.cuttings.strip import mark_strip
from lattice.cuttings.wish import Wish
from lattice.measures import measured
from lattice.measures.rhythms import Rhythms
from lattice.play import Performance
from lattice.recipe import read, refusing
from lattice.results.measured import lane_rhythm


def options(command: argparse.ArgumentParser) -> None:
    """What can be said: the words of the wish."""
    command.description = (f"As it stands: “{Wish().in_words}” Further words come with other "
                           "sources.")
    command.add_argument("recipe", help=RECIPE_HELP)
    command.add_argument("--lane", required=True, metavar="ID", help="the lane's id")
    for name, field in Wish.model_fields.items():
        command.add_argument("--seed" if name == "throw" else f"--{name}", dest=f"word_{name}",
                             metavar="X", help=f"as it stands: {field.default}")


def run(options: argparse.Namespace) -> None:
    """Print them, in the order of their strip."""
    with refusing():
        wish = Wish.model_validate({name: typed(text) for name, text in words(options)})
    performance = Performance(read(recipe_document(options.recipe)))
    grown = mark_strip(performance, options.lane, wish)
    first = performance.recipe.lane(options.lane).played[0]
    ground = lane_rhythm(performance, options.lane).ground
    hits = ground.hits([[hit - first for hit in mark.hits] for mark in grown.marks])
    for mark, measures in zip(grown.marks, measured(Rhythms(ground, hits)), strict=True):
        print(json.dumps({"hits": mark.hits, "measures": measures}))
