"""Clips as files: which, in what format, and what they are called."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from io import BytesIO
from typing import Annotated, Any, Literal
from unicodedata import normalize
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

from pydantic import BeforeValidator, Field

from lattice.base.errors import RecipeError
from lattice.base.values import Document
from lattice.clip.document import MOST_BEATS, Clip
from lattice.midi.write import (
    FEWEST_TICKS,
    MOST_TICKS,
    TICKS_PER_BEAT,
    exact_ticks,
    to_midi,
)

LONGEST_NAME = 80
RESERVED = re.compile(r"\A(con|prn|aux|nul|conin\$|conout\$|(com|lpt)[0-9¹²³])(?= *(\.|\Z))",
                      re.IGNORECASE)
"""Names that some systems keep for devices, whatever ending they are given."""
FIRST_YEAR = 1980, 1, 1, 0, 0, 0
"""The date of every file in an archive, so that the same clips give the same bytes."""


def _number(value: Any) -> Any:
    """A number also as an address has it, in digits."""
    return int(value) if isinstance(value, str) and value.isdecimal() else value


class Export(Document):
    """How clips are written. tracks: one a lane, all in one, or each lane as a file of its own;
    ticks: in a quarter note, or the fewest that are exact; rounds: how often a clip is gone
    round; recipe: whether that which made it travels along."""

    format: Annotated[Literal[0, 1], BeforeValidator(_number)] = 1
    tracks: Literal["lanes", "merged", "files"] = "lanes"
    ticks: Annotated[int, Field(ge=FEWEST_TICKS, le=MOST_TICKS)] | Literal[
        "exact"] = TICKS_PER_BEAT
    rounds: Annotated[int, Field(ge=1, le=64)] = 1
    recipe: bool = False


@dataclass(frozen=True, slots=True)
class Leaving:
    """A clip that leaves, and the document of the recipe that made it, if it is known."""

    clip: Clip
    recipe: dict[str, Any] | None = None


def written(leaving: Leaving, export: Export) -> Iterator[tuple[str, bytes]]:
    """The files of a clip, each a name without its ending and the bytes. RecipeError where it
    would be too long, or where no resolution is exact."""
    clip = leaving.clip
    if export.rounds > 1 and clip.beats * export.rounds > MOST_BEATS:
        raise RecipeError(f"“{clip.name}” {export.rounds} times is longer than {MOST_BEATS:,} "
                          "beats; go round fewer times.")
    ticks = exact_ticks(clip) if export.ticks == "exact" else export.ticks
    recipe = leaving.recipe if export.recipe else None
    whole = clip.gone_round(export.rounds)
    if export.tracks == "files":
        for lane in whole.lanes:
            alone = whole.model_copy(update={
                "name": f"{clip.name} {lane.name}"[:LONGEST_NAME], "lanes": (lane,),
                "notes": tuple(note for note in whole.notes if note.lane == lane.id),
                "changes": tuple(each for each in whole.changes if each.lane == lane.id)})
            yield alone.name, to_midi(alone, ticks, format_=export.format, recipe=recipe)
    else:
        yield clip.name, to_midi(whole, ticks, format_=export.format,
                                 merged=export.tracks == "merged", recipe=recipe)


def export_files(clips: Iterable[Leaving], export: Export) -> list[tuple[str, bytes]]:
    """The files of clips, by names that every file system takes, each once."""
    found = [file for leaving in clips for file in written(leaving, export)]
    return list(zip(safe_names([name for name, _ in found], ".mid"),
                    (data for _, data in found), strict=True))


def zipped(found: Sequence[tuple[str, bytes]]) -> bytes:
    """Files in one archive."""
    buffer = BytesIO()
    with ZipFile(buffer, "w", ZIP_DEFLATED) as archive:
        for name, data in found:
            archive.writestr(ZipInfo(name, FIRST_YEAR), data, ZIP_DEFLATED)
    return buffer.getvalue()


PLAIN = str.maketrans({**dict.fromkeys("‐‑‒–—―−", "-"), **dict.fromkeys("‘’‚“”„", "'"),
                       **dict.fromkeys("\u00a0\u2009\u202f", " "), "…": "..."})
"""Signs of print, and what a keyboard has for them."""


def safe_names(names: Sequence[str], ending: str) -> list[str]:
    """Names of files that every file system takes, none twice, also where capitals do not
    count."""
    taken: set[str] = set()
    found = []
    for name in names:
        stem = safe_name(name)
        number = 1
        each = stem
        while each.casefold() in taken:
            number += 1
            each = f"{stem} {number}"
        taken.add(each.casefold())
        found.append(each + ending)
    return found


def safe_name(name: str) -> str:
    """A name without what some file system refuses, of letters written in one way (Unicode's NFC),
    since some take an accent apart from its letter; signs of print are those of a keyboard."""
    name = normalize("NFC", name).translate(PLAIN)
    kept = "".join("-" if letter in '<>:"/\\|?*' else letter for letter in name
                   if letter.isprintable())
    kept = kept.encode("utf-8", "replace").decode()
    while len(kept.encode()) > LONGEST_NAME:
        kept = kept[:-1]
    return RESERVED.sub(r"\1-", kept.strip(" ."), 1) or "clip"
