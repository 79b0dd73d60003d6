"""lattice schema: what is in documents."""

from __future__ import annotations

import argparse
import json

from lattice.clip.document import Clip
from lattice.piece import Pieces
from lattice.recipe import Recipe


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("--clip", action="store_const", dest="of", const=Clip, default=Recipe,
                         help="of clips")
    command.add_argument("--piece", action="store_const", dest="of", const=Pieces,
                         help="of files of pieces")


def run(options: argparse.Namespace) -> None:
    """Print the schema."""
    print(json.dumps(options.of.model_json_schema(), indent=2))
