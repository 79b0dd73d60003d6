"""The command line: `lattice play`, `lattice midi`, `lattice sentence` and `lattice schema`."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterable
from fractions import Fraction
from heapq import merge
from pathlib import Path
from typing import Any

from lattice.base.errors import RecipeError
from lattice.clip.taken import Segment, clip
from lattice.play import Change, Note, Performance
from lattice.recipe import Recipe, read
from lattice.results.meeting import meeting_point
from lattice.results.midi import TICKS_PER_BEAT, to_midi
from lattice.results.why import structured
from lattice.sentence import sentence

MOST_BARS = 4096


def main(arguments: list[str] | None = None) -> int:
    """Run the command; returns the exit code (2 for what the user can put right)."""
    options = _parser().parse_args(arguments)
    try:
        options.run(options)
    except RecipeError as problem:
        print(f"lattice: {problem}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stderr.close()
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="lattice", description="Play recipes for step patterns.")
    commands = parser.add_subparsers(required=True, metavar="command")
    playing = commands.add_parser("play", help="print the events of a recipe as JSON lines")
    writing = commands.add_parser("midi", help="write a recipe as a Standard MIDI File")
    for command in (playing, writing):
        command.add_argument("recipe", help="the recipe's JSON file, or - for standard input")
        command.add_argument("--bars", default=None, metavar="FROM:TO",
                             help="bars counted from 0, the last one not included")
    playing.set_defaults(run=_play)
    writing.add_argument("-o", "--output", required=True, help="the file to write")
    writing.add_argument("--ticks", type=int, default=TICKS_PER_BEAT, help="per quarter note")
    writing.set_defaults(run=_midi)
    saying = commands.add_parser("sentence", help="print a recipe's sentences")
    saying.add_argument("recipe", help="the recipe's JSON file, or - for standard input")
    saying.set_defaults(run=_sentence)
    schema = commands.add_parser("schema", help="print the recipe's JSON schema")
    schema.set_defaults(run=lambda options: print(json.dumps(Recipe.model_json_schema(), indent=2)))
    return parser


def _recipe(options: argparse.Namespace) -> Recipe:
    try:
        text = sys.stdin.read() if options.recipe == "-" else \
            Path(options.recipe).read_text(encoding="utf-8")
        return read(json.loads(text))
    except OSError as problem:
        raise RecipeError(f"{options.recipe} cannot be read: {problem.strerror}.") from None
    except ValueError as problem:
        if isinstance(problem, RecipeError):
            raise
        raise RecipeError(f"{options.recipe} is not JSON: {problem}.") from None


def _bars(options: argparse.Namespace, recipe: Recipe) -> tuple[Fraction, Fraction]:
    """The range in beats."""
    first, separator, last = (options.bars or f"0:{recipe.bars}").partition(":")
    if not (separator and first.isdigit() and last.isdigit() and int(first) < int(last)):
        raise RecipeError('Bars are written FROM:TO, such as "0:4", counted from 0.')
    if int(last) - int(first) > MOST_BARS:
        raise RecipeError(f"At most {MOST_BARS} bars can be asked for at once.")
    return int(first) * recipe.bar_beats, int(last) * recipe.bar_beats


def event(found: Note | Change, performance: Performance) -> dict[str, Any]:
    """A note or a change of a controller as the command line prints it."""
    if isinstance(found, Change):
        return {"type": "control", "time": found.time, "number": found.number,
                "value": found.value, "channel": found.channel, "lane": found.lane}
    return {"type": "note", "start": found.start, "grid": str(found.grid), "length": found.length,
            "pitch": found.pitch, "velocity": found.velocity, "channel": found.channel,
            "lane": found.lane, "cell": found.cell, "why": structured(found, performance)}


def _play(options: argparse.Namespace) -> None:
    recipe = _recipe(options)
    start, end = map(float, _bars(options, recipe))
    performance = Performance(recipe)
    changes: Iterable[Note | Change] = performance.changes(start, end)
    for found in merge(changes, performance.notes(start, end), key=lambda each: each.time):
        print(json.dumps(event(found, performance)))


def _midi(options: argparse.Namespace) -> None:
    recipe = _recipe(options)
    if not 24 <= options.ticks <= 32767:
        raise RecipeError("Ticks per quarter note go from 24 to 32,767.")
    start, end = _bars(options, recipe)
    segment = Segment(recipe, float(start), float(start), float(end))
    name = Path(options.output).stem
    data = to_midi(clip(name, [segment], float(start), end - start), options.ticks)
    try:
        Path(options.output).write_bytes(data)
    except (OSError, ValueError) as problem:
        why = getattr(problem, "strerror", None) or "no file can have that name"
        raise RecipeError(f"{options.output!r} cannot be written: {why}.") from None


def _sentence(options: argparse.Namespace) -> None:
    recipe = _recipe(options)
    for lane in recipe.lanes:
        print(f"{lane.name}: {sentence(lane, recipe).text()}")
    print(meeting_point(recipe).words()[:1].upper() + meeting_point(recipe).words()[1:] + ".")
