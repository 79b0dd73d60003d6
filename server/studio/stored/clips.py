"""Clips on the Shelf, and what is done to their notes: appended states, undo and redo."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from itertools import count
from typing import Any
from uuid import UUID

from django.db.models import Min
from lattice import (
    MOST_CLIPS,
    ClipEdit,
    ClipSaid,
    RecipeError,
    change_clip,
    clip_difference,
    made_different,
    said_anew,
    to_json,
)
from lattice import Clip as Notes

from studio.limits import MOST_WORK
from studio.models import Clip, ClipRevision, Piece
from studio.stored import revisions
from studio.stored.patterns import locked
from studio.worked_out.memory import Memory
from studio.worked_out.thumbs import thumb

MOST_APART = 31
"""After so many states that are kept as differences one is kept whole."""
LONGEST_NAME = 80
"""As the name of a clip in the models."""

_notes: Memory[int, Notes] = Memory(200_000)
"""By the number of notes."""


def notes_of(revision_id: int) -> Notes:
    """The notes of a clip's state; the caller has checked that it may be seen."""
    made, state = [], revision_id
    while (known := _notes.get(state)) is None:
        document, different, parent = ClipRevision.objects.values_list(
            "document", "difference", "parent_id").get(pk=state)
        if document is not None:
            known = _remember(state, Notes.model_validate(document))
            break
        made.append((state, different))
        state = parent
    for later, different in reversed(made):
        known = _remember(later, made_different(known, different))
    return known


def _remember(revision_id: int, notes: Notes) -> Notes:
    return _notes.put(revision_id, notes, len(notes.notes) + len(notes.changes) + 50)


def shelve(piece: Piece, notes: Notes, key: UUID | None = None, **fields: Any) -> Clip:
    """Lay a clip on the Shelf; one that lies there under this key stays."""
    with locked(pk=piece.pk):
        known = piece.clips.filter(key=key).first() if key else None
        if known:
            return known
        check_room(piece)
        first = piece.clips.aggregate(first=Min("place"))["first"]
        fields = {"segments": [], "place": (first or 0) - 1} | fields
        clip = Clip.objects.create(piece=piece, key=key, name=_untaken(piece, notes.name),
                                   **fields)
        _append(clip, notes, "kept")
    return clip


def check_room(piece: Piece) -> None:
    """RecipeError if a piece, which is locked, has as many clips as it may."""
    if piece.clips.filter(deleted=None).count() >= MOST_CLIPS:
        raise RecipeError(f"A Shelf holds up to {MOST_CLIPS:,} clips; delete some first.")


def said_of(clip: Clip) -> dict[str, Any]:
    """What is said of a clip."""
    return {name: getattr(clip, name) for name in ClipSaid.model_fields}


def picture_of(clip: Clip) -> dict[str, Any]:
    """The small picture of a clip as it stands."""
    picture: dict[str, Any] = clip.picture or thumb(notes_of(clip.state))
    return picture


def _untaken(piece: Piece, name: str) -> str:
    """A name that tells a clip from the others on the Shelf: with a number, where it has to."""
    stem = name[:LONGEST_NAME - 6]
    taken = set(piece.clips.filter(deleted=None, name__startswith=stem).values_list("name",
                                                                                   flat=True))
    names = (f"{stem} ({number})" for number in count(2))
    return name if name not in taken else next(each for each in names if each not in taken)


def store(owner: int, clip_id: int, revision: int, edits: Sequence[ClipEdit],
          key: UUID | None = None) -> tuple[Clip, list[int]]:
    """Append one state with the edits made, and tell the places of the notes that were changed;
    StaleEdit if `revision` is not the newest, Http404 if the clip is not this owner's. Edits
    whose `key` was stored before are left as they are."""
    with _locked_clip(owner, clip_id) as clip:
        if revisions.stored_before(clip, revision, key, lambda: _tried(clip, edits)):
            return clip, []
        before = notes_of(revision)
        done = change_clip(before, edits, MOST_WORK)
        if done.clip != before:
            _append(clip, done.clip, "; ".join(edit.describe(before) for edit in edits)[:200], key,
                    before)
    return clip, done.chosen


def move(owner: int, clip_id: int, revision: int, back: bool, key: UUID | None = None) -> Clip:
    """Undo (`back`) or redo one state; StaleEdit and Http404 as for edits."""
    with _locked_clip(owner, clip_id) as clip:
        if revisions.step(clip, revision, back, key):
            _draw(clip, notes_of(clip.state))
    return clip


@contextmanager
def _locked_clip(owner: int, clip_id: int) -> Iterator[Clip]:
    with locked(owner=owner, clips=clip_id, clips__deleted=None):
        yield Clip.objects.select_related("head").defer(
            "head__document", "head__difference").get(pk=clip_id)


def _append(clip: Clip, notes: Notes, label: str, key: UUID | None = None,
            before: Notes | None = None) -> None:
    state = ClipRevision(clip=clip, key=key, label=label)
    if before is not None and clip.head is not None and clip.head.apart < MOST_APART:
        found = clip_difference(before, notes)
        if 2 * said_anew(found) < len(notes.notes) + len(notes.changes):
            state.difference, state.apart = found, clip.head.apart + 1
    if state.difference is None:
        state.document = to_json(notes)
    revisions.append(clip, state)
    _draw(clip, notes)
    _remember(state.pk, notes)


def _draw(clip: Clip, notes: Notes) -> None:
    """Keep the picture of the notes that a clip stands at."""
    clip.picture = thumb(notes)
    clip.save(update_fields=["picture"])


def _tried(clip: Clip, edits: Sequence[ClipEdit]) -> str:
    return "; ".join(edit.describe(notes_of(clip.state)) for edit in edits)
