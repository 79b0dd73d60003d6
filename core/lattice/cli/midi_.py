"""lattice midi: a recipe or a clip as a Standard MIDI File."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.cli.documents import bars_option, beats, clip_of, recipe_document, two_numbers, write
from lattice.clip.document import clip_part
from lattice.clip.taken import Segment, take_clip
from lattice.midi.export import Export, Leaving, written
from lattice.midi.write import FEWEST_TICKS, MOST_TICKS
from lattice.recipe import read, refusing


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("recipe", metavar="document",
                         help="the JSON file of a recipe or a clip, or - for standard input")
    bars_option(command)
    command.add_argument("-o", "--output", required=True, help="the file to write")
    command.add_argument("--ticks", default=str(Export().ticks), metavar="N",
                         help=f"per quarter note, {FEWEST_TICKS} to {MOST_TICKS:,} (%(default)s), "
                         'or "exact": the fewest with which no place on the grid is rounded')
    command.add_argument("--format", type=int, choices=(0, 1), default=1,
                         help="1: several tracks (%(default)s), 0: one")
    command.add_argument("--merged", action="store_true", help="one track for all lanes")
    command.add_argument("--rounds", type=int, default=1, metavar="N",
                         help="go round so many times, 1 to 64")
    command.add_argument("--with-recipe", action="store_true",
                         help="let the recipe travel in the file")


def run(options: argparse.Namespace) -> None:
    """Write it."""
    ticks: Any = options.ticks
    if ticks != "exact":
        if not (ticks.isdecimal() and len(ticks) < 7 and FEWEST_TICKS <= int(ticks) <= MOST_TICKS):
            raise RecipeError(f"Ticks per quarter note go from {FEWEST_TICKS} to {MOST_TICKS:,}, "
                              'or are "exact".')
        ticks = int(ticks)
    with refusing():
        export = Export(format=options.format, tracks="merged" if options.merged else "lanes",
                        ticks=ticks, rounds=options.rounds, recipe=options.with_recipe)
    ((_, data),) = written(_leaving(recipe_document(options.recipe), options), export)
    write(options.output, data)


def _leaving(found: Any, options: argparse.Namespace) -> Leaving:
    """A clip as it stands, or what a recipe plays."""
    if isinstance(found, dict) and "notes" in found:
        taken = clip_of(found)
        return Leaving(clip_part(taken, *two_numbers(options.bars)) if options.bars else taken)
    recipe = read(found)
    start, end = beats(options, recipe)
    segment = Segment(recipe, float(start), float(start), float(end))
    name = Path(options.output).stem or "clip"
    return Leaving(take_clip(name, [segment], float(start), end - start), to_json(recipe))
