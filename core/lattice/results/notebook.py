"""A recipe as notebooks show it: its picture, and its text below."""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from lattice.play import Note, Performance
from lattice.recipe import Lane, Recipe
from lattice.texts.patterns import lane_text, pattern_text

WIDE, HIGH, NAMES = 720, 34, 120
"""Pixels of all bars, of a lane, and of the names before them."""
COLOURS = "#b23f2c", "#2c6a4b", "#b77c0d", "#1f6f8b", "#5d4596", "#9b4a7c", "#4f5a16", "#27406e"


def html(recipe: Recipe) -> str:
    """A recipe in HTML: its first frame as SVG, a mark a note, as high as it is loud and as long as
    it lasts; and each line of its text."""
    lines = [pattern_text(recipe, "").split("\n")[0],
             *(lane_text(lane, recipe) for lane in recipe.lanes)]
    return _svg(recipe) + "".join(f"<p>{escape(line)}</p>" for line in lines)


def _svg(recipe: Recipe) -> str:
    beats = float(recipe.frame_beats)
    notes = Performance(recipe).notes(0, beats)
    rows = "".join(_row(place, lane, [note for note in notes if note.lane == lane.id], beats)
                   for place, lane in enumerate(recipe.lanes))
    bars = "".join(f'<path d="M{NAMES + WIDE * bar / recipe.bars:.1f} 0v{HIGH * len(recipe.lanes)}"'
                   ' stroke="#d9cdb2"/>' for bar in range(recipe.bars + 1))
    return (f'<svg xmlns="http://www.w3.org/2000/svg" width="{NAMES + WIDE}" '
            f'height="{max(1, len(recipe.lanes)) * HIGH}" role="img" '
            f'aria-label="{len(recipe.lanes)} lanes over {recipe.bars} bars">{bars}{rows}</svg>')


def _row(place: int, lane: Lane, notes: list[Note], beats: float) -> str:
    foot = (place + 1) * HIGH - 4
    colour = COLOURS[place % len(COLOURS)]
    return (f'<text x="4" y="{foot - 8}" font-size="13" fill="currentColor">{escape(lane.name)}'
            f'</text><path fill="{colour}" d="{"".join(_wedges(notes, foot, beats))}"/>')


def _wedges(notes: list[Note], foot: int, beats: float) -> Iterator[str]:
    """A wedge a note, that falls off as its sound does."""
    for note in notes:
        x, wide = NAMES + WIDE * note.start / beats, max(1.5, WIDE * note.length / beats)
        high = (HIGH - 8) * note.velocity / 127
        yield f"M{x:.1f} {foot}v{-high:.1f}l{wide:.1f} {high:.1f}z"
