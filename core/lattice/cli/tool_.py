"""lattice tool: what can be done to the notes of a clip."""

from __future__ import annotations

import argparse

from lattice.base.values import to_json
from lattice.base.words import Slot
from lattice.cli.documents import clip_of, document, json_text, numbers, typed, words, write
from lattice.recipe import refusing
from lattice.tools import TOOLS, lay_in
from lattice.tools.base import Tool


def options(command: argparse.ArgumentParser) -> None:
    """A command for each tool, with its words as options."""
    tools = command.add_subparsers(required=True, metavar="NAME")
    for tool in TOOLS:
        as_it_stands = tool.as_it_stands()
        one = tools.add_parser(as_it_stands.tool, help=tool.about, description=(
            f"{tool.label}: {tool.about}. As it stands: “{as_it_stands.in_words}”"))
        one.add_argument("clip", help="the clip's JSON file, or - for standard input")
        one.add_argument("-o", "--output", default="-",
                         help="the JSON file to write (standard output)")
        one.add_argument("--notes", metavar="N,N", default=None,
                         help="which notes, counted from 0 in the order of time (all)")
        for slot in as_it_stands.parts():
            if isinstance(slot, Slot):
                _word(one, slot)
        if "throw" in tool.model_fields:
            one.add_argument("--throw", dest="word_throw", metavar="N",
                             help="which throw of chance, a whole number")
        one.set_defaults(tool=tool)


def _word(command: argparse.ArgumentParser, slot: Slot) -> None:
    bounds = " | ".join(str(option.value) for option in slot.options) \
        if slot.kind == "choice" else f"{slot.low} to {slot.high}" if slot.low is not None else ""
    command.add_argument(f"--{slot.slot.replace('_', '-')}", dest=f"word_{slot.slot}",
                         metavar="X", help=f"{slot.label}: {bounds} "
                         f"(as it stands: {slot.value})".replace("%", "%%"))


def run(options: argparse.Namespace) -> None:
    """Write the clip with its notes changed."""
    tool: Tool = options.tool.as_it_stands()
    for name, text in words(options):
        tool = _worded(tool, name, text)
    changed = lay_in(clip_of(document(options.clip)), tool, numbers(options.notes))
    write(options.output, json_text(to_json(changed.clip)))


def _worded(tool: Tool, name: str, text: str) -> Tool:
    value = typed(text)
    if name == "throw":
        with refusing():
            return type(tool).model_validate(tool.model_dump(mode="json") | {"throw": value})
    return tool.worded(name, value)
