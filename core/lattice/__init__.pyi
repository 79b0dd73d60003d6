"""The public surface: what is imported from here is loaded when it is asked for."""

from .base.controllers import controller_name
from .base.errors import RecipeError, told
from .base.group import LaneId
from .base.lately import Lately
from .base.percussion import ALSO_CALLED, PERCUSSION, USED_MOST, note_name
from .base.values import Document, LaneKind, Name, to_json
from .base.words import Clause, Slot, many
from .clip.changed import Places
from .clip.difference import clip_difference, made_different, said_anew
from .clip.document import Clip, ClipChange, ClipLane, ClipMark, clip_part
from .clip.joined import joined_clip
from .clip.taken import Segment, take_clip
from .clip.tuning import clip_tunings
from .clip_edits import AnyClipEdit, change_clip
from .clip_edits.base import ClipEdit
from .clip_edits.lay_in import LayIn
from .cuttings.gusts import Gusts
from .cuttings.search import MOST_SEARCHED_STEPS
from .cuttings.strip import Strip, mark_strip
from .cuttings.wish import Wish
from .edits import AnyEdit, Edit, apply_all, describe_all, work_of
from .edits.fills import AddFill, MakeFill, clip_fill
from .edits.melody import Scatter
from .edits.starts import STARTS
from .edits.throws import THROWS, AnyThrow, ThrowEdit
from .features.instruments import INSTRUMENTS, KITS, VOICES
from .features.sound import FIRST_KIT, FIRST_VOICE
from .library.base import StartingRecipe
from .library.beginnings import BEGINNINGS, BeginningName
from .library.listed import LIBRARY
from .midi.export import Export, Leaving, export_files, safe_name, safe_names, zipped
from .midi.read import MOST_MIDI_BYTES, Song, read_midi, song_clip
from .midi.write import to_midi
from .order.document import Block, Order, Speed
from .order.edits import AnyOrderEdit, OrderEdit, change_order
from .order.played import PlacedBlock, check_length, laid_out, order_clip
from .order.words import NamedRecipe, Patterns, block_sentence, block_summary, recipes_of
from .piece import (
    MOST_CLIPS,
    MOST_PATTERNS,
    ClipSaid,
    Contents,
    Piece,
    PieceClip,
    PiecePattern,
    Pieces,
    as_piece,
    check_count,
    read_pieces,
)
from .pitch.offered import (
    OfferedChord,
    OfferedProgression,
    offered_chords,
    offered_progressions,
)
from .pitch.shown import ShownScale, shown_scale
from .play import Note, Performance, lanes_in_groups
from .play.events import TICK
from .recipe import Lane, Recipe, read, refusing
from .results.measured import lane_rhythm, measure_words, pattern_measures
from .results.meeting import lane_frames, meeting, meeting_point
from .results.period import Period, period
from .results.strange import strangeness
from .results.view import (
    Picture,
    ShownChord,
    ShownPool,
    ShownSound,
    ShownSpell,
    first_chord,
    pictures,
    shown_chords,
    shown_pool,
    shown_sound,
    shown_spells,
)
from .results.why import why
from .results.work import LANE_WORK, work
from .rules import FOLLOWING, STANDING, FollowingKind, StandingKind
from .sentence import Sentence, lane_sentence, pattern_sentence, tempo_word
from .strands.shown import ShownStrand, shown_strands
from .telling.lanes import clip_lanes, song_lanes
from .telling.shorter import proposals
from .telling.target import MOST_PASSES, related
from .texts.coming import Coming, what_comes
from .texts.patterns import (
    NamedPattern,
    ReadText,
    lane_text,
    pattern_text,
    read_text,
    text,
    wrong_with,
)
from .texts.refusal import TextError
from .time.grain import timeline
from .tools import TOOLS, AnyTool

__all__ = [
    "ALSO_CALLED", "BEGINNINGS", "FIRST_KIT", "FIRST_VOICE", "FOLLOWING", "INSTRUMENTS", "KITS",
    "LANE_WORK", "LIBRARY", "MOST_CLIPS", "MOST_MIDI_BYTES", "MOST_PASSES", "MOST_PATTERNS",
    "MOST_SEARCHED_STEPS", "PERCUSSION", "STANDING", "STARTS", "THROWS", "TICK", "TOOLS",
    "USED_MOST", "VOICES", "AddFill", "AnyClipEdit", "AnyEdit", "AnyOrderEdit", "AnyThrow",
    "AnyTool", "BeginningName", "Block", "Clause", "Clip", "ClipChange", "ClipEdit", "ClipLane",
    "ClipMark", "ClipSaid", "Coming", "Contents", "Document", "Edit", "Export", "FollowingKind",
    "Gusts", "Lane", "LaneId", "LaneKind", "Lately", "LayIn", "Leaving", "MakeFill", "Name",
    "NamedPattern", "NamedRecipe", "Note", "OfferedChord", "OfferedProgression", "Order",
    "OrderEdit", "Patterns", "Performance", "Period", "Picture", "Piece", "PieceClip",
    "PiecePattern", "Pieces", "PlacedBlock", "Places", "ReadText", "Recipe", "RecipeError",
    "Scatter", "Segment", "Sentence", "ShownChord", "ShownPool", "ShownScale", "ShownSound",
    "ShownSpell", "ShownStrand", "Slot", "Song", "Speed", "StandingKind", "StartingRecipe",
    "Strip", "TextError", "ThrowEdit", "Wish", "apply_all", "as_piece", "block_sentence",
    "block_summary", "change_clip", "change_order", "check_count", "check_length",
    "clip_difference", "clip_fill", "clip_lanes", "clip_part", "clip_tunings", "controller_name",
    "describe_all", "export_files", "first_chord", "joined_clip", "laid_out", "lane_frames",
    "lane_rhythm", "lane_sentence", "lane_text", "lanes_in_groups", "made_different", "many",
    "mark_strip", "measure_words", "meeting", "meeting_point", "note_name", "offered_chords",
    "offered_progressions", "order_clip", "pattern_measures", "pattern_sentence", "pattern_text",
    "period", "pictures", "proposals", "read", "read_midi", "read_pieces", "read_text",
    "recipes_of", "refusing", "related", "safe_name", "safe_names", "said_anew", "shown_chords",
    "shown_pool", "shown_scale", "shown_sound", "shown_spells", "shown_strands", "song_clip",
    "song_lanes", "strangeness", "take_clip", "tempo_word", "text", "timeline", "to_json",
    "to_midi", "told", "what_comes", "why", "work", "work_of", "wrong_with", "zipped",
]
