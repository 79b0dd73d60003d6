"""lattice play: the events of a recipe."""

from __future__ import annotations

import argparse
import json
from typing import Any

from lattice.cli.documents import RECIPE_HELP, bars_option, beats, recipe_document
from lattice.play import Change, Note, Performance, in_order
from lattice.recipe import read
from lattice.results.why import structured


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("recipe", help=RECIPE_HELP)
    bars_option(command)


def event(found: Note | Change, performance: Performance) -> dict[str, Any]:
    """A note or a change of a controller as it is printed."""
    if isinstance(found, Change):
        return {"type": "control", "time": found.time, "number": found.number,
                "value": found.value, "channel": found.channel, "lane": found.lane}
    return {"type": "note", "start": found.start, "grid": str(found.grid), "length": found.length,
            "pitch": found.pitch, "tune": found.tune, "velocity": found.velocity,
            "channel": found.channel, "lane": found.lane, "cell": found.cell,
            **({"sound": found.sound} if found.sound else {}),
            "why": structured(found, performance)}


def run(options: argparse.Namespace) -> None:
    """Print them, in the order of time."""
    recipe = read(recipe_document(options.recipe))
    start, end = map(float, beats(options, recipe))
    performance = Performance(recipe)
    for found in in_order(performance.notes(start, end), performance.changes(start, end)):
        print(json.dumps(event(found, performance)))
