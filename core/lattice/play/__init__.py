"""A recipe as it plays: voices, one for each lane, and all of them together."""

from lattice.play.events import Cause, Event, Note, Sounding
from lattice.play.performance import Performance, groups, play
from lattice.play.voice import Voice

__all__ = ["Cause", "Event", "Note", "Performance", "Sounding", "Voice", "groups", "play"]
