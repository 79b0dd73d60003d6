"""The command line: recipes and clips in and out as documents, MIDI files and words. Each command
is a file of its own, which is read when it is asked for."""

from __future__ import annotations

import argparse
import sys
from importlib import import_module

from lattice.base.errors import RecipeError

COMMANDS = {
    "play": "print the events of a recipe as JSON lines",
    "midi": "write a recipe or a clip as a Standard MIDI File",
    "import": "make a recipe, or a clip, of a Standard MIDI File",
    "sentence": "print a recipe's sentences",
    "read": "read a text: print the recipe that it says",
    "say": "say a lane shorter: print sentences that play the same notes, as JSON lines, the "
           "shortest first",
    "measure": "print the measures of a lane's rhythm, or of all lanes together, as one JSON "
               "object",
    "cuttings": "grow relatives of a lane, or search all rhythms, and print them with their "
                "measures as JSON lines",
    "tool": "change the notes of a clip with one of the tools",
    "schema": "print the JSON schema of recipes, or of clips or files of pieces",
}


def main(arguments: list[str] | None = None) -> int:
    """Run a command; returns the exit code (2 for what the user can put right)."""
    given = sys.argv[1:] if arguments is None else arguments
    options = _parser(given[0] if given else "").parse_args(given)
    try:
        options.run(options)
    except RecipeError as problem:
        print(f"lattice: {problem}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stderr.close()
    return 0


def _parser(wanted: str) -> argparse.ArgumentParser:
    """All commands by their names; the one that is wanted with its options."""
    parser = argparse.ArgumentParser(prog="lattice", description="Play recipes for step patterns, "
                                     "and make clips, words and MIDI files of them.")
    commands = parser.add_subparsers(required=True, metavar="command")
    for name, about in COMMANDS.items():
        command = commands.add_parser(name, help=about)
        if name == wanted:
            module = import_module(f"lattice.cli.{name}_")
            command.set_defaults(run=module.run)
            module.options(command)
    return parser
