"""Clips on the Shelf: their names, tags, stars and order."""

from datetime import datetime
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone
from lattice import Clip as CoreClip
from lattice import (
    ClipSaid,
    Name,
    RecipeError,
    joined_clip,
    safe_name,
)
from ninja import Router, Schema
from pydantic import Field, create_model

from studio.api.owned import clips_of, say_anew
from studio.api.signed_in import FromOwner
from studio.models import Clip, Piece
from studio.stored.clips import (
    LONGEST_NAME,
    check_room,
    notes_of,
    picture_of,
    said_of,
    shelve,
)
from studio.stored.patterns import locked
from studio.worked_out.thumbs import Thumb

router = Router(tags=["clips"])
MOST_AT_ONCE = 500


if TYPE_CHECKING:
    class _AllSaid(Schema):
        """All that is said of a clip."""

    class _SomeSaid(Schema):
        """Some of it, or nothing."""
else:
    _AllSaid, _SomeSaid = (create_model("_Said", __base__=Schema, **{
        name: of(field.rebuild_annotation()) for name, field in ClipSaid.model_fields.items()})
        for of in (lambda kind: (kind, ...), lambda kind: (kind | None, None)))


class ClipOut(_AllSaid):
    """A clip on the Shelf; `revision` is the state that it stands at, `file` its name as a MIDI
    file, `of` tells where it came from, and `recipe` whether the lanes that made it are known."""

    id: int
    revision: int
    name: str
    file: str
    thumb: Thumb
    created: datetime
    of: str
    recipe: bool


class ClipChangesIn(_SomeSaid):
    """What is said of a clip; what is not named stays."""

    name: Name | None = None


class OrderIn(Schema):
    """The clips of a Shelf, the first first."""

    clips: list[int] = Field(max_length=10_000)


class JoinIn(Schema):
    """Clips to be joined end to end, the first first."""

    clips: list[int] = Field(min_length=1, max_length=MOST_AT_ONCE)
    key: UUID | None = None


def core_clip(clip: Clip) -> CoreClip:
    """The clip's notes, under the name that it has now."""
    return notes_of(clip.state).model_copy(update={"name": clip.name})


def clip_out(clip: Clip) -> dict[str, Any]:
    """A clip as the API shows it."""
    return {"id": clip.pk, "revision": clip.state, "name": clip.name,
            "file": f"{safe_name(clip.name)}.mid", "thumb": picture_of(clip), **said_of(clip),
            "created": clip.created, "of": taken_from(clip), "recipe": bool(clip.segments)}


def taken_from(clip: Clip) -> str:
    """Where a clip came from, in words."""
    pattern = f"from {clip.pattern.name}, " if clip.pattern else ""
    return f"{pattern}{clip.created:%-d %b}"


@router.patch("/clips/{clip_id}", response=ClipOut)
def change_clip(request: FromOwner, clip_id: int, data: ClipChangesIn) -> dict[str, Any]:
    """Give a clip another name or other tags, or a star."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    say_anew(clip, data)
    return clip_out(clip)


@router.post("/pieces/{piece_id}/shelf/join", response=ClipOut)
def join_clips(request: FromOwner, piece_id: int, data: JoinIn) -> dict[str, Any]:
    """Join clips of a Shelf end to end into one that lies on it."""
    piece = get_object_or_404(Piece, pk=piece_id, owner=request.auth, deleted=None)
    found = {clip.pk: clip for clip in piece.clips.filter(pk__in=data.clips, deleted=None)}
    if len(found) < len(set(data.clips)):
        raise RecipeError("A clip that was chosen is not on the Shelf any more; choose anew.")
    clips = [core_clip(found[number]) for number in data.clips]
    others = "" if len(clips) == 1 else f" and {clips[1].name}" if len(clips) == 2 else \
        f" and {len(clips) - 1} more"
    name = f"{clips[0].name[:LONGEST_NAME - len(others)]}{others}"[:LONGEST_NAME]
    return clip_out(shelve(piece, joined_clip(clips, name), data.key))


@router.put("/pieces/{piece_id}/shelf", response={204: None})
def order_shelf(request: FromOwner, piece_id: int, data: OrderIn) -> tuple[int, None]:
    """Lay the clips of a Shelf in another order; those that are not named stay before them."""
    piece = get_object_or_404(Piece, pk=piece_id, owner=request.auth, deleted=None)
    places = {number: place for place, number in enumerate(data.clips)}
    with transaction.atomic():
        clips = list(piece.clips.filter(pk__in=places))
        for clip in clips:
            clip.place = places[clip.pk]
        Clip.objects.bulk_update(clips, ["place"])
    return 204, None


@router.delete("/clips/{clip_id}", response={204: None})
def delete_clip(request: FromOwner, clip_id: int) -> tuple[int, None]:
    """Take a clip off the Shelf; it can be brought back."""
    clip = get_object_or_404(clips_of(request), pk=clip_id)
    clip.deleted = clip.deleted or timezone.now()
    clip.save(update_fields=["deleted"])
    return 204, None


@router.post("/clips/{clip_id}/restore", response=ClipOut)
def restore_clip(request: FromOwner, clip_id: int) -> dict[str, Any]:
    """Bring a deleted clip back."""
    with locked(owner=request.auth, clips=clip_id) as piece:
        clip = get_object_or_404(clips_of(request), pk=clip_id)
        if clip.deleted:
            check_room(piece)
            clip.deleted = None
            clip.save(update_fields=["deleted"])
    return clip_out(clip)
