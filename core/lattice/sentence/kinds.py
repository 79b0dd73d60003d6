"""Every kind of clause that a lane of each kind may have, and a pattern."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from lattice.arpeggio import words as arpeggio
from lattice.base.clauses import ClauseSource
from lattice.base.values import LaneKind
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
from lattice.sentence.frame import FRAME, ID, PATTERN_SEED, SEED
from lattice.sentence.movement import Movement
from lattice.strands import words as strands
from lattice.time import words as time

_HITS: Sequence[ClauseSource[Lane]] = (
    hits.RULE, hits.RULE_PARTS, hits.SPAN, time.WINDOW, time.RESTART, time.SHIFT,
    hits.REVERSE, hits.FLIP, hits.PINS, hits.KEEP)
_LOUDNESS: Sequence[ClauseSource[Lane]] = (
    loudness.VELOCITY, vary.VARY, loudness.ACCENT, loudness.CONTOUR, loudness.SQUEEZE, length.GATE,
    strands.TIE)
_CHANCE: Sequence[ClauseSource[Lane]] = (
    chance.PROBABILITY, chance.SCALE, chance.LINKS, chance.TURNS)
_WALK: Sequence[ClauseSource[Lane]] = (
    arpeggio.ARPEGGIO, arpeggio.ANCHOR, arpeggio.SECOND)
_TIMING: Sequence[ClauseSource[Lane]] = (
    strands.NUDGE, time.RATE_PATH, timing.SWING, timing.STRAIGHT, vary.VARY_TIME)
_DRAWS: Sequence[ClauseSource[Lane]] = (SEED, ID)


def _moving(*kinds: ClauseSource[Any]) -> Sequence[ClauseSource[Any]]:
    """Kinds of clauses, and the one that says which of their numbers follow paths."""
    return (*kinds, Movement("paths", "slow movement", kinds, gathered="paths", moves=False))


CLAUSES: Mapping[LaneKind, Sequence[ClauseSource[Lane]]] = {
    "drum": _moving(
        *_HITS, *_WALK, strands.OCTAVE, pitch.OWN_KEY, pitch.TRANSPOSE, *_LOUDNESS, *_CHANCE,
        rolls.ROLLS, rolls.RESTS, strands.ROLL, tuning.TUNED, *_TIMING, controls.CONTROLS,
        sound.KIT, sound.BY_HIT, own_sound.OWN_SOUND, own_sound.CHOKE, *_DRAWS),
    "pitched": _moving(
        *_HITS, pitch.DEGREES, *_WALK, strands.OCTAVE, pitch.OWN_KEY, pitch.TRANSPOSE,
        pitch.NEAR, pitch.VOICING, *_LOUDNESS, *_CHANCE, rolls.ROLLS, rolls.RESTS, strands.ROLL,
        *_TIMING, controls.CONTROLS, sound.VOICE, sound.BY_HIT, *_DRAWS),
    "control": _moving(*_HITS, control.CONTROL, control.VALUES, *_CHANCE, *_TIMING, *_DRAWS),
}
"""Every kind of clause that a lane of each kind may have, in the order in which they are read."""
PATTERN_CLAUSES: Sequence[ClauseSource[Recipe]] = _moving(
    FRAME, pitch.PATTERN_KEY, pitch.CHORDS, timing.PATTERN_SWING, chance.PATTERN_SCALE,
    gusts.GUSTS, FILLS, PATTERN_SEED)
"""Every kind of clause that says something of the whole pattern."""
