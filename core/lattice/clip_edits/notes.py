"""Changes to notes by hand: added, taken away, moved, lengthened, made louder."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.values import Document, NoteNumber, Velocity
from lattice.base.words import many
from lattice.clip.changed import MOST_NOTES, Changed, Places, parted, with_notes
from lattice.clip.document import Clip, ClipNote
from lattice.clip_edits.base import ClipEdit
from lattice.features.rolls import Bend
from lattice.play.events import TICK

Shift = Annotated[float, Field(ge=-20_000, le=20_000)]


class NewNote(Document):
    """A note to be added to a lane of the clip, in beats from the clip's start."""

    start: Annotated[float, Field(ge=0)]
    length: Annotated[float, Field(ge=TICK, le=20_000)]
    pitch: NoteNumber
    velocity: Velocity
    lane: str
    tune: Bend = 0


class AddNotes(ClipEdit):
    """Add notes; each sounds on the channel that its lane has."""

    do: Literal["add_notes"]
    notes: Annotated[list[NewNote], Field(min_length=1, max_length=MOST_NOTES)]

    def apply(self, clip: Clip) -> Changed:
        made, channels = [], {lane.id: clip.channel_of(lane.id) for lane in clip.lanes}
        for note in self.notes:
            if note.lane not in channels:
                raise RecipeError(f'There is no lane "{note.lane[:40]}" in this clip.')
            if note.start >= clip.beats:
                raise RecipeError(f"The clip lasts {float(clip.beats):g} beats; a note begins "
                                  "before its end.")
            made.append(ClipNote(**note.model_dump(), channel=channels[note.lane]))
        return with_notes(clip, clip.notes, made)

    def describe(self, clip: Clip) -> str:
        return _counted(len(self.notes), "added")


class RemoveNotes(ClipEdit):
    """Take notes away."""

    do: Literal["remove_notes"]
    notes: Places

    def apply(self, clip: Clip) -> Changed:
        return with_notes(clip, parted(clip, self.notes)[0], ())

    def describe(self, clip: Clip) -> str:
        return _counted(len(self.notes), "deleted")


class MoveNotes(ClipEdit):
    """Move notes, or copies of them, by so many beats, and those of pitched lanes by semitones or
    by degrees of the key. Within the clip only: all of them move as far as the first and the last
    can."""

    do: Literal["move_notes"]
    notes: Places
    later: Shift = 0
    semitones: Annotated[int, Field(ge=-127, le=127)] = 0
    degrees: Annotated[int, Field(ge=-127, le=127)] = 0
    copy_them: bool = False

    def apply(self, clip: Clip) -> Changed:
        rest, taken = parted(clip, self.notes)
        if not taken:
            return Changed(clip, [])
        first, last = taken[0].start, taken[-1].start
        later = max(-first, min(self.later, float(clip.beats) - TICK - last))
        pitched = clip.pitched
        made = [self._moved(note, later, clip) if note.lane in pitched
                else note.model_copy(update={"start": note.start + later}) for note in taken]
        if any(not 0 <= note.pitch <= 127 for note in made):
            raise RecipeError("A pitch goes from 0 to 127; move the notes less far.")
        return with_notes(clip, [*rest, *taken] if self.copy_them else rest, made)

    def _moved(self, note: ClipNote, later: float, clip: Clip) -> ClipNote:
        pitch = clip.key.from_note(note.pitch, self.degrees) + self.semitones
        return note.model_copy(update={"start": note.start + later, "pitch": pitch})

    def describe(self, clip: Clip) -> str:
        return _counted(len(self.notes), "copied" if self.copy_them else "moved")


class LengthenNotes(ClipEdit):
    """Make notes longer or shorter by so many beats; each stays at least 1/960 long."""

    do: Literal["lengthen_notes"]
    notes: Places
    by: Shift

    def apply(self, clip: Clip) -> Changed:
        rest, taken = parted(clip, self.notes)
        return with_notes(clip, rest, [note.model_copy(update={
            "length": max(TICK, note.length + self.by)}) for note in taken])

    def describe(self, clip: Clip) -> str:
        return _counted(len(self.notes), "lengthened" if self.by > 0 else "shortened")


class LoudenNotes(ClipEdit):
    """Add to the velocities of notes, each staying within 1 to 127, or set them."""

    do: Literal["louden_notes"]
    notes: Places
    by: Annotated[int, Field(ge=-126, le=126)] = 0
    to: Velocity | None = None

    def apply(self, clip: Clip) -> Changed:
        rest, taken = parted(clip, self.notes)
        return with_notes(clip, rest, [note.model_copy(update={
            "velocity": self.to or min(127, max(1, note.velocity + self.by))}) for note in taken])

    def describe(self, clip: Clip) -> str:
        return _counted(len(self.notes), f"velocity {self.to or f'{self.by:+d}'}")


def _counted(notes: int, done: str) -> str:
    return f"{many(notes, 'notes')} {done}"
