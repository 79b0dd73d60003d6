"""A recipe as words: clauses with typed, bounded slots, and the clauses that could be added."""

from lattice.sentence.by_bar import BarByBar, by_bar, words_that_move
from lattice.sentence.kinds import CLAUSES, PATTERN_CLAUSES
from lattice.sentence.movement import Moving, moving_in, path_for, reshaped
from lattice.sentence.said import Said
from lattice.sentence.told import (
    Sentence,
    lane_sentence,
    lane_summary,
    pattern_sentence,
    tempo_word,
    word,
)
from lattice.sentence.worded import with_word

__all__ = [
    "CLAUSES",
    "PATTERN_CLAUSES",
    "BarByBar",
    "Moving",
    "Said",
    "Sentence",
    "by_bar",
    "lane_sentence",
    "lane_summary",
    "moving_in",
    "path_for",
    "pattern_sentence",
    "reshaped",
    "tempo_word",
    "with_word",
    "word",
    "words_that_move",
]
