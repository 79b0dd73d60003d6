"""lattice import: a recipe, or a clip, of a Standard MIDI File."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.cli.documents import json_text, numbers, two_numbers, write
from lattice.clip.document import clip_part
from lattice.midi.read import read_midi, song_clip
from lattice.recipe import read
from lattice.telling.lanes import song_lanes


def options(command: argparse.ArgumentParser) -> None:
    """What can be said."""
    command.add_argument("file", help="the MIDI file")
    command.add_argument("-o", "--output", default="-",
                         help="the JSON file to write (standard output)")
    command.add_argument("--clip", action="store_true", help="a clip, not lanes")
    command.add_argument("--parts", metavar="N,N", default=None,
                         help="which of its parts, counted from 1 in the order of tracks and "
                         "channels (all)")
    command.add_argument("--bars", metavar="FROM:TO", default=None,
                         help="which bars, counted from 0, the last one not included (all)")
    command.add_argument("--plain", action="store_true",
                         help="leave every hit as it stands: no shorter sentences, and no recipe "
                         "that travels in the file")


def run(options: argparse.Namespace) -> None:
    """Write the document; what was recognised is told beside it."""
    try:
        data = Path(options.file).read_bytes()
    except OSError as problem:
        raise RecipeError(f"{options.file} cannot be read: {problem.strerror}.") from None
    song = read_midi(data)
    whole = options.parts is None and options.bars is None
    if song.recipe is not None and whole and not (options.clip or options.plain):
        write(options.output, json_text(to_json(read(song.recipe))))
        return
    parts = numbers(options.parts)
    found = song_clip(song, Path(options.file).stem[:80] or "clip",
                      None if parts is None else [part - 1 for part in parts])
    if options.bars:
        found = clip_part(found, *two_numbers(options.bars))
    if options.clip:
        document, remarks = to_json(found), song.remarks
    else:
        lanes = song_lanes(song, found, plainly=options.plain)
        document, remarks = to_json(lanes.recipe), lanes.remarks
    for remark in remarks:
        print(remark, file=sys.stderr)
    write(options.output, json_text(document))
