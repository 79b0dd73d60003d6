"""Changes to a clip by hand: notes added, taken away, moved, lengthened, made louder, and
controllers drawn. Notes are named by their places in the clip, from 0."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.values import Document, NoteNumber, Velocity
from lattice.base.words import many
from lattice.clip.document import Clip, ClipChange, ClipNote
from lattice.control.fields import Number, value_bounds
from lattice.play.events import TICK
from lattice.strands.kinds import Controlled

MOST_NOTES = 20_000
LOOKED_AT = 0.1
"""The work of finding that a note is none of those that change."""
Places = Annotated[list[Annotated[int, Field(ge=0)]], Field(max_length=MOST_NOTES)]
Beats = Annotated[float, Field(ge=-20_000, le=20_000)]


@dataclass(frozen=True, slots=True)
class Changed:
    """A clip after a change, and the places of the notes that were changed or made."""

    clip: Clip
    chosen: list[int]


def with_notes(clip: Clip, kept: Sequence[ClipNote], made: Sequence[ClipNote]) -> Changed:
    """A clip of these notes, those made chosen; RecipeError where they are more than 20,000."""
    if len(kept) + len(made) > MOST_NOTES:
        raise RecipeError(f"A clip holds up to {MOST_NOTES:,} notes; this would make "
                          f"{len(kept) + len(made):,}.")
    done = clip.with_notes([*kept, *made])
    marked = set(map(id, made))
    return Changed(done, [i for i, note in enumerate(done.notes) if id(note) in marked])


def parted(clip: Clip, places: Sequence[int]) -> tuple[list[ClipNote], list[ClipNote]]:
    """The clip's other notes and those with these places; RecipeError for a place that there is
    not."""
    wanted = set(places)
    if wanted and max(wanted) >= len(clip.notes):
        raise RecipeError(f"The clip has {many(len(clip.notes), 'notes')}; choose among them.")
    rest = [note for i, note in enumerate(clip.notes) if i not in wanted]
    return rest, [note for i, note in enumerate(clip.notes) if i in wanted]


class ClipEdit(Document):
    """A change; `do` names its kind."""

    def apply(self, clip: Clip) -> Changed:
        """The clip with the change made; RecipeError if it cannot be."""
        raise NotImplementedError

    def describe(self, clip: Clip) -> str:
        """The change in a few words."""
        raise NotImplementedError

    def work(self, clip: Clip) -> float:
        """How much work it is, in the unit of lattice.results.work: each note is looked at, and
        those that it names are made anew."""
        named = sum(len(getattr(self, name, None) or ()) for name in ("notes", "changes"))
        return LOOKED_AT * (len(clip.notes) + len(clip.changes)) + named


class NewNote(Document):
    """A note to be added to a lane of the clip, in beats from the clip's start."""

    start: Annotated[float, Field(ge=0)]
    length: Annotated[float, Field(ge=TICK, le=20_000)]
    pitch: NoteNumber
    velocity: Velocity
    lane: str


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
    later: Beats = 0
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
    by: Beats

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


class DrawChanges(ClipEdit):
    """Draw a controller anew over [start, end) beats: what it is set to at each time; none leaves
    it as it stands before."""

    do: Literal["draw_changes"]
    lane: str
    number: Number
    start: Annotated[float, Field(ge=0)]
    end: Annotated[float, Field(gt=0)]
    changes: Annotated[list[tuple[Annotated[float, Field(ge=0)], Controlled]],
                       Field(max_length=MOST_NOTES)]

    def apply(self, clip: Clip) -> Changed:
        if clip.lane(self.lane) is None:
            raise RecipeError(f'There is no lane "{self.lane[:40]}" in this clip.')
        low, high = value_bounds(self.number)
        if any(not low <= value <= high for _, value in self.changes):
            raise RecipeError(f"This controller is set to {low} to {high}.")
        end = min(self.end, float(clip.beats))
        if any(not self.start <= time < end for time, _ in self.changes):
            raise RecipeError("A controller is drawn within its stretch and within the clip.")
        kept = [each for each in clip.changes if (each.lane, each.number) != (
            self.lane, self.number) or not self.start <= each.time < self.end]
        channel = clip.channel_of(self.lane)
        made = [ClipChange(time=time, number=self.number, value=value, channel=channel,
                           lane=self.lane) for time, value in self.changes]
        changes = tuple(sorted([*kept, *made], key=lambda each: each.time))
        return Changed(clip.model_copy(update={"changes": changes}), [])

    def describe(self, clip: Clip) -> str:
        return "controller drawn"


def _counted(notes: int, done: str) -> str:
    return f"{many(notes, 'notes')} {done}"
