"""A recipe as it plays: voices, one for each lane, and all of them together."""

from lattice.play.controlling import ControlVoice
from lattice.play.events import Cause, Change, Note, Sounding, in_order
from lattice.play.performance import Performance, lanes_in_groups, play
from lattice.play.voice import NoteVoice, Voice
from lattice.play.walking import WalkingVoice

__all__ = ["Cause", "Change", "ControlVoice", "Note", "NoteVoice", "Performance", "Sounding",
           "Voice", "WalkingVoice", "in_order", "lanes_in_groups", "play"]
