"""Clips as files: names that every file system takes, and the same notes however they leave."""

import io
import re
from collections import Counter
from fractions import Fraction
from typing import Any
from unicodedata import normalize
from zipfile import ZipFile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.clip.document import Clip
from lattice.clip.taken import Segment, take_clip
from lattice.midi.export import Export, Leaving, export_files, safe_names, zipped
from lattice.midi.read import read_midi
from lattice.recipe import Recipe, read
from mido import MidiFile

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, recipe

NAMES = st.text(max_size=120) | st.sampled_from([
    "con", "NUL.mid", "com1", "COM\u00b9", "aux .x", "conin$", "../etc", "a/b\\c", ".", " . ", "",
    "Gr\u00fc\u00dfe", "Gru\u0308\u00dfe", "GR\u00dcSSE", "x" * 300, "\u00e9" * 300, "\ud800"])


@settings(max_examples=300)
@given(st.lists(NAMES, max_size=12))
def test_names_are_taken_by_every_file_system_and_none_twice(names: list[str]) -> None:
    found = safe_names(names, ".mid")
    assert len(found) == len(names)
    # Capitals and the way that an accent is written tell no two files apart.
    assert len({normalize("NFD", name.casefold()) for name in found}) == len(found)
    for name in found:
        stem = name.removesuffix(".mid")
        assert stem and stem.strip(" .") == stem and len(name.encode()) <= 120
        assert stem.isprintable() and not set(stem) & set('<>:"/\\|?*')
        device = re.split(r"[ .]", stem.casefold())[0]
        assert device not in {"con", "prn", "aux", "nul", "conin$", "com1", "com\u00b9", "lpt9"}
    assert safe_names([name.removesuffix(".mid") for name in found], ".mid") == found, "they stay"


def test_names_stay_as_they_are_but_for_what_cannot_be() -> None:
    assert safe_names(["Beacon", "beacon", "Nul.2", "a/b: c", "...", "Fan 2", "fan", "Fan", "L\n1"],
                      "") == ["Beacon", "beacon 2", "Nul-.2", "a-b- c", "clip", "Fan 2", "fan",
                              "Fan 3", "L1"]


def taken(found: Recipe, name: str = "Lid") -> Clip:
    beats = 2 * found.frame_beats
    return take_clip(name, [Segment(found, 0, 0, float(beats))], 0, beats)


def struck(*data: bytes) -> Counter[tuple[int, int, int, int]]:
    """The strokes in files, as mido reads them: tick, channel, pitch, velocity."""
    found: Counter[tuple[int, int, int, int]] = Counter()
    for each in data:
        for track in MidiFile(file=io.BytesIO(each)).tracks:
            at = 0
            for message in track:
                at += message.time
                if message.type == "note_on" and message.velocity:
                    found[at, message.channel, message.note, message.velocity] += 1
    return found


@settings(max_examples=60)
@given(melodic(documents()), st.sampled_from([0, 1]), st.sampled_from([1, 3]), st.booleans())
def test_the_same_notes_leave_in_one_track_in_many_and_in_many_files(
        document: dict[str, Any], format_: int, rounds: int, carries: bool) -> None:
    made = taken(read(document))
    ways = {tracks: export_files([Leaving(made, document)], Export.model_validate(
        {"format": format_, "tracks": tracks, "rounds": rounds, "recipe": carries}))
        for tracks in ("lanes", "merged", "files")}
    assert [len(ways[way]) for way in ("lanes", "merged", "files")] == [1, 1, len(made.lanes)]
    one = struck(ways["lanes"][0][1])
    assert struck(ways["merged"][0][1]) == one
    # Lanes in files of their own do not cut each other, as they do on one channel and pitch.
    assert not one - struck(*(data for _, data in ways["files"]))
    for way in ways.values():
        for _, data in way:
            assert MidiFile(file=io.BytesIO(data)).type == format_
            assert (read_midi(data).recipe == document) is carries
    with ZipFile(io.BytesIO(zipped(ways["files"]))) as archive:
        assert archive.testzip() is None
        assert [(name, archive.read(name)) for name in archive.namelist()] == ways["files"]
    assert zipped(ways["files"]) == zipped(ways["files"]), "the same bytes each time"


def test_what_would_be_too_long_or_has_no_exact_resolution_is_refused() -> None:
    long = taken(recipe({"rule": euclid(4)})).model_copy(update={"beats": Fraction(9000)})
    with pytest.raises(RecipeError, match="go round fewer times"):
        export_files([Leaving(long)], Export(rounds=2))
    exact = Export(ticks="exact")
    odd = taken(recipe({"rule": euclid(5), "steps": 7, "span": "fit"}))
    (_, data), = export_files([Leaving(odd)], exact)
    assert MidiFile(file=io.BytesIO(data)).ticks_per_beat % 7 == 0
    finer = taken(recipe(*({"rule": euclid(5), "steps": steps, "span": "fit"}
                           for steps in (113, 127, 6))))
    with pytest.raises(RecipeError, match="name a number of ticks, such as 960"):
        export_files([Leaving(finer)], exact)
