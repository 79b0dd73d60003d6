"""Every kind of clause that a lane of each kind may have, and a pattern."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from lattice.arpeggio import words as arpeggio
from lattice.base.clauses import ClauseKind, ClauseSource
from lattice.base.frame import Bars, Frame
from lattice.base.values import LaneKind, limits
from lattice.base.words import number
from lattice.control import words as control
from lattice.features import (
    chance,
    controls,
    gusts,
    length,
    loudness,
    own_sound,
    rolls,
    sound,
    timing,
    tuning,
    vary,
)
from lattice.hits import words as hits
from lattice.pitch import words as pitch
from lattice.recipe import Lane, Recipe
from lattice.sentence.fills import FILLS
from lattice.sentence.movement import Movement
from lattice.time import words as time

FRAME = ClauseKind[Frame](
    "frame", "frame", lambda frame: True,
    lambda frame, names: ["A frame of ", number("bars", "bars", frame.bars, *limits(Bars)),
                          " bar." if frame.bars == 1 else " bars."], moves=False)

_HITS: Sequence[ClauseSource[Lane]] = (
    hits.RULE, hits.RULE_PARTS, hits.SPAN, time.WINDOW, time.RESTART, time.SHIFT,
    hits.REVERSE, hits.FLIP, hits.PINS, hits.KEEP)
_LOUDNESS: Sequence[ClauseSource[Lane]] = (
    loudness.VELOCITY, vary.VARY, loudness.ACCENT, loudness.CONTOUR, loudness.SQUEEZE, length.GATE)
_CHANCE: Sequence[ClauseSource[Lane]] = (
    chance.PROBABILITY, chance.SCALE, chance.LINKS, chance.TURNS)
_WALK: Sequence[ClauseSource[Lane]] = (
    arpeggio.ARPEGGIO, arpeggio.ANCHOR, arpeggio.SECOND)
_TIMING: Sequence[ClauseSource[Lane]] = (
    time.RATE_PATH, timing.SWING, timing.STRAIGHT, vary.VARY_TIME)


def _moving(*kinds: ClauseSource[Any]) -> Sequence[ClauseSource[Any]]:
    """Kinds of clauses, and the one that says which of their numbers follow paths."""
    return (*kinds, Movement("paths", "slow movement", kinds, moves=False))


CLAUSES: Mapping[LaneKind, Sequence[ClauseSource[Lane]]] = {
    "drum": _moving(
        *_HITS, *_WALK, pitch.OWN_KEY, pitch.TRANSPOSE, *_LOUDNESS, *_CHANCE, rolls.ROLLS,
        tuning.TUNED, *_TIMING, controls.CONTROLS, sound.KIT, sound.BY_HIT,
        own_sound.OWN_SOUND, own_sound.CHOKE),
    "pitched": _moving(
        *_HITS, pitch.DEGREES, *_WALK, pitch.OWN_KEY, pitch.TRANSPOSE, pitch.NEAR, pitch.VOICING,
        *_LOUDNESS, *_CHANCE, rolls.ROLLS, *_TIMING, controls.CONTROLS, sound.VOICE, sound.BY_HIT),
    "control": _moving(*_HITS, control.CONTROL, control.VALUES, *_CHANCE, *_TIMING),
}
"""Every kind of clause that a lane of each kind may have, in the order in which they are read."""
PATTERN_CLAUSES: Sequence[ClauseSource[Recipe]] = _moving(
    FRAME, pitch.PATTERN_KEY, pitch.CHORDS, timing.PATTERN_SWING, chance.PATTERN_SCALE,
    gusts.GUSTS, FILLS)
"""Every kind of clause that says something of the whole pattern."""
