"""The command line: recipes and clips in and out as documents, MIDI files and words."""

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
from lattice.base.values import to_json
from lattice.base.words import Slot
from lattice.clip.document import Clip, clip_part
from lattice.clip.taken import Segment, clip
from lattice.cuttings.strip import strip
from lattice.cuttings.wish import Wish
from lattice.measures import measured
from lattice.measures.rhythms import Rhythms
from lattice.midi.export import Export, Leaving, written
from lattice.midi.read import read_midi, song_clip
from lattice.midi.write import FEWEST_TICKS, MOST_TICKS
from lattice.piece import Pieces
from lattice.play import Change, Note, Performance
from lattice.recipe import Recipe, read, refusing
from lattice.results.measured import lane_rhythm, pattern_measures
from lattice.results.meeting import meeting_point
from lattice.results.why import structured
from lattice.sentence import sentence
from lattice.telling.lanes import song_lanes
from lattice.telling.shorter import proposals
from lattice.tools import TOOLS, lay_in
from lattice.tools.base import Tool

MOST_BARS = 4096
RECIPE_HELP = "the recipe's JSON file, or - for standard input"


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
    parser = argparse.ArgumentParser(prog="lattice", description="Play recipes for step patterns, "
                                     "and make clips, words and MIDI files of them.")
    commands = parser.add_subparsers(required=True, metavar="command")
    playing = commands.add_parser("play", help="print the events of a recipe as JSON lines")
    playing.add_argument("recipe", help=RECIPE_HELP)
    writing = commands.add_parser(
        "midi", help="write a recipe or a clip as a Standard MIDI File")
    writing.add_argument("recipe", metavar="document",
                         help="the JSON file of a recipe or a clip, or - for standard input")
    for command in (playing, writing):
        command.add_argument("--bars", default=None, metavar="FROM:TO",
                             help="bars counted from 0, the last one not included")
    playing.set_defaults(run=_play)
    writing.add_argument("-o", "--output", required=True, help="the file to write")
    writing.add_argument("--ticks", default=str(Export().ticks), metavar="N",
                         help=f"per quarter note, {FEWEST_TICKS} to {MOST_TICKS:,} (%(default)s), "
                         'or "exact": the fewest with which no place on the grid is rounded')
    writing.add_argument("--format", type=int, choices=(0, 1), default=1,
                         help="1: several tracks (%(default)s), 0: one")
    writing.add_argument("--merged", action="store_true", help="one track for all lanes")
    writing.add_argument("--rounds", type=int, default=1, metavar="N",
                         help="go round so many times, 1 to 64")
    writing.add_argument("--with-recipe", action="store_true",
                         help="let the recipe travel in the file")
    writing.set_defaults(run=_midi)
    _importing(commands.add_parser(
        "import", help="make a recipe, or a clip, of a Standard MIDI File"))
    saying = commands.add_parser("sentence", help="print a recipe's sentences")
    saying.add_argument("recipe", help=RECIPE_HELP)
    saying.set_defaults(run=_sentence)
    shorter = commands.add_parser(
        "say", help="say a lane shorter: print sentences that play the same notes, as JSON lines, "
        "the shortest first")
    shorter.add_argument("recipe", help=RECIPE_HELP)
    shorter.add_argument("--lane", required=True, metavar="ID", help="the lane's id")
    shorter.set_defaults(run=_say)
    measuring = commands.add_parser(
        "measure", help="print the measures of a lane's rhythm, or of all lanes together, as one "
        "JSON object")
    measuring.add_argument("recipe", help=RECIPE_HELP)
    measuring.add_argument("--lane", metavar="ID", help="the lane's id (all together)")
    measuring.set_defaults(run=_measure)
    growing = commands.add_parser(
        "cuttings", help="grow relatives of a lane, or search all rhythms, and print them with "
        "their measures as JSON lines", description=(
            f"As it stands: “{_said(Wish())}” Further words come with other sources."))
    growing.add_argument("recipe", help=RECIPE_HELP)
    growing.add_argument("--lane", required=True, metavar="ID", help="the lane's id")
    for name, field in Wish.model_fields.items():
        growing.add_argument("--seed" if name == "throw" else f"--{name}", dest=f"word_{name}",
                             metavar="X", help=f"as it stands: {field.default}")
    growing.set_defaults(run=_cuttings)
    _tools(commands.add_parser(
        "tool", help="change the notes of a clip with one of the tools"))
    schema = commands.add_parser("schema", help="print the JSON schema of recipes, or of clips "
                                 "or files of pieces")
    schema.add_argument("--clip", action="store_const", dest="of", const=Clip, default=Recipe,
                        help="of clips")
    schema.add_argument("--piece", action="store_const", dest="of", const=Pieces,
                        help="of files of pieces")
    schema.set_defaults(run=_schema)
    return parser


def _importing(command: argparse.ArgumentParser) -> None:
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
    command.set_defaults(run=_import)


def _tools(command: argparse.ArgumentParser) -> None:
    """A command for each tool, with its words as options."""
    tools = command.add_subparsers(required=True, metavar="NAME")
    for tool in TOOLS:
        as_it_stands = tool.as_it_stands()
        words = [part for part in as_it_stands.parts() if isinstance(part, Slot)]
        one = tools.add_parser(as_it_stands.tool, help=tool.about, description=(
            f"{tool.label}: {tool.about}. As it stands: “{_said(as_it_stands)}”"))
        one.add_argument("clip", help="the clip's JSON file, or - for standard input")
        one.add_argument("-o", "--output", default="-",
                         help="the JSON file to write (standard output)")
        one.add_argument("--notes", metavar="N,N", default=None,
                         help="which notes, counted from 0 in the order of time (all)")
        for slot in words:
            bounds = " | ".join(str(option.value) for option in slot.options) \
                if slot.kind == "choice" else \
                f"{slot.low} to {slot.high}" if slot.low is not None else ""
            one.add_argument(f"--{slot.slot.replace('_', '-')}", dest=f"word_{slot.slot}",
                             metavar="X", help=f"{slot.label}: {bounds} "
                             f"(as it stands: {slot.value})".replace("%", "%%"))
        if "throw" in tool.model_fields:
            one.add_argument("--throw", dest="word_throw", metavar="N",
                             help="which throw of chance, a whole number")
        one.set_defaults(run=_tool, tool=tool)


def _said(sentence: Tool | Wish) -> str:
    return "".join(part if isinstance(part, str) else part.text for part in sentence.parts())


def _document(name: str) -> Any:
    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text(encoding="utf-8")
        return json.loads(text)
    except OSError as problem:
        raise RecipeError(f"{name} cannot be read: {problem.strerror}.") from None
    except (ValueError, RecursionError) as problem:
        raise RecipeError(f"{name} is not JSON: {problem}.") from None


def _write(name: str, data: bytes) -> None:
    if name == "-":
        sys.stdout.write(data.decode())
        return
    try:
        Path(name).write_bytes(data)
    except (OSError, ValueError) as problem:
        why = getattr(problem, "strerror", None) or "no file can have that name"
        raise RecipeError(f"{name!r} cannot be written: {why}.") from None


def _json(document: Any) -> bytes:
    return (json.dumps(document, indent=1, ensure_ascii=False) + "\n").encode()


def _clip(document: Any) -> Clip:
    if not isinstance(document, dict):
        raise RecipeError("A clip is one JSON object; `lattice schema --clip` prints what is in "
                          "it.")
    with refusing():
        return Clip.model_validate(document)


def _range(text: str) -> tuple[int, int]:
    """Two numbers, FROM:TO."""
    first, separator, last = text.partition(":")
    if not (separator and first.isdecimal() and last.isdecimal()
            and len(text) < 20 and int(first) < int(last)):
        raise RecipeError('Bars are written FROM:TO, such as "0:4", counted from 0.')
    if int(last) - int(first) > MOST_BARS:
        raise RecipeError(f"At most {MOST_BARS} bars can be asked for at once.")
    return int(first), int(last)


def _numbers(text: str | None) -> list[int] | None:
    """Numbers with commas between them."""
    if text is None:
        return None
    parts = text.split(",")
    if not all(part.strip().isdecimal() and len(part) < 10 for part in parts):
        raise RecipeError(f"“{text[:40]}” is not a list of whole numbers, such as 1,3,4.")
    return [int(part) for part in parts]


def _bars(options: argparse.Namespace, recipe: Recipe) -> tuple[Fraction, Fraction]:
    """The range in beats."""
    first, last = _range(options.bars or f"0:{recipe.bars}")
    return first * recipe.bar_beats, last * recipe.bar_beats


def event(found: Note | Change, performance: Performance) -> dict[str, Any]:
    """A note or a change of a controller as the command line prints it."""
    if isinstance(found, Change):
        return {"type": "control", "time": found.time, "number": found.number,
                "value": found.value, "channel": found.channel, "lane": found.lane}
    return {"type": "note", "start": found.start, "grid": str(found.grid), "length": found.length,
            "pitch": found.pitch, "velocity": found.velocity, "channel": found.channel,
            "lane": found.lane, "cell": found.cell, "why": structured(found, performance)}


def _play(options: argparse.Namespace) -> None:
    recipe = read(_document(options.recipe))
    start, end = map(float, _bars(options, recipe))
    performance = Performance(recipe)
    changes: Iterable[Note | Change] = performance.changes(start, end)
    for found in merge(changes, performance.notes(start, end), key=lambda each: each.time):
        print(json.dumps(event(found, performance)))


def _midi(options: argparse.Namespace) -> None:
    ticks: Any = options.ticks
    if ticks != "exact":
        if not (ticks.isdecimal() and len(ticks) < 7 and FEWEST_TICKS <= int(ticks) <= MOST_TICKS):
            raise RecipeError(f"Ticks per quarter note go from {FEWEST_TICKS} to {MOST_TICKS:,}, "
                              'or are "exact".')
        ticks = int(ticks)
    with refusing():
        export = Export(format=options.format, tracks="merged" if options.merged else "lanes",
                        ticks=ticks, rounds=options.rounds, recipe=options.with_recipe)
    leaving = _leaving(_document(options.recipe), options)
    ((_, data),) = written(leaving, export)
    _write(options.output, data)


def _leaving(document: Any, options: argparse.Namespace) -> Leaving:
    """A clip as it stands, or what a recipe plays."""
    if isinstance(document, dict) and "notes" in document:
        found = _clip(document)
        if options.bars:
            first, last = _range(options.bars)
            found = clip_part(found, first, last)
        return Leaving(found)
    recipe = read(document)
    start, end = _bars(options, recipe)
    segment = Segment(recipe, float(start), float(start), float(end))
    return Leaving(clip(Path(options.output).stem or "clip", [segment], float(start), end - start),
                   to_json(recipe))


def _import(options: argparse.Namespace) -> None:
    try:
        data = Path(options.file).read_bytes()
    except OSError as problem:
        raise RecipeError(f"{options.file} cannot be read: {problem.strerror}.") from None
    song = read_midi(data)
    whole = options.parts is None and options.bars is None
    if song.recipe is not None and whole and not (options.clip or options.plain):
        _write(options.output, _json(to_json(read(song.recipe))))
        return
    parts = _numbers(options.parts)
    found = song_clip(song, Path(options.file).stem[:80] or "clip",
                      None if parts is None else [part - 1 for part in parts])
    if options.bars:
        found = clip_part(found, *_range(options.bars))
    if options.clip:
        document, remarks = to_json(found), song.remarks
    else:
        lanes = song_lanes(song, found, plainly=options.plain)
        document, remarks = to_json(lanes.recipe), lanes.remarks
    for remark in remarks:
        print(remark, file=sys.stderr)
    _write(options.output, _json(document))


def _say(options: argparse.Namespace) -> None:
    for said in proposals(read(_document(options.recipe)), options.lane):
        print(json.dumps({"words": said.words, "sentence": said.sentence,
                          "lane": to_json(said.lane)}, ensure_ascii=False))


def _measure(options: argparse.Namespace) -> None:
    performance = Performance(read(_document(options.recipe)))
    print(json.dumps(pattern_measures(performance) if options.lane is None else
                     lane_rhythm(performance, options.lane).measures))


def _cuttings(options: argparse.Namespace) -> None:
    with refusing():
        wish = Wish.model_validate({name: _typed(text) for name, text in _words(options)})
    performance = Performance(read(_document(options.recipe)))
    grown = strip(performance, options.lane, wish)
    first = performance.recipe.lane(options.lane).played[0]
    ground = lane_rhythm(performance, options.lane).ground
    hits = ground.hits([[hit - first for hit in mark.hits] for mark in grown.marks])
    for mark, measures in zip(grown.marks, measured(Rhythms(ground, hits)), strict=True):
        print(json.dumps({"hits": mark.hits, "measures": measures}))


def _words(options: argparse.Namespace) -> list[tuple[str, str]]:
    """The words of a sentence that are given as options, by their fields."""
    return [(name.removeprefix("word_"), text) for name, text in vars(options).items()
            if name.startswith("word_") and text is not None]


def _typed(text: str) -> Any:
    """A word as it is typed: a number, or what is no number."""
    try:
        return json.loads(text)
    except ValueError:
        return text


def _tool(options: argparse.Namespace) -> None:
    tool: Tool = options.tool.as_it_stands()
    for name, text in _words(options):
        tool = _worded(tool, name, text)
    changed = lay_in(_clip(_document(options.clip)), tool, _numbers(options.notes))
    _write(options.output, _json(to_json(changed.clip)))


def _worded(tool: Tool, name: str, text: str) -> Tool:
    value = _typed(text)
    if name == "throw":
        with refusing():
            return type(tool).model_validate(tool.model_dump(mode="json") | {"throw": value})
    return tool.worded(name, value)


def _sentence(options: argparse.Namespace) -> None:
    recipe = read(_document(options.recipe))
    for lane in recipe.lanes:
        print(f"{lane.name}: {sentence(lane, recipe).text()}")
    print(meeting_point(recipe).words()[:1].upper() + meeting_point(recipe).words()[1:] + ".")


def _schema(options: argparse.Namespace) -> None:
    print(json.dumps(options.of.model_json_schema(), indent=2))
