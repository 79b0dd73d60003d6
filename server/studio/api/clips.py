"""Clips on the Shelf: rename, delete and bring back, and take out as MIDI."""

import re
from io import BytesIO
from typing import Any
from zipfile import ZIP_DEFLATED, ZipFile

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from lattice.clip.document import Clip as CoreClip
from lattice.midi.write import to_midi
from ninja import Router, Schema

from studio.api.names import NameIn
from studio.models import Clip, Piece
from studio.stored.clips import notes_of
from studio.worked_out.thumbs import Thumb, thumb

router = Router(tags=["clips"])


class ClipOut(Schema):
    """A clip on the Shelf; `file` is its name as a MIDI file."""

    id: int
    name: str
    file: str
    thumb: Thumb


def core_clip(clip: Clip) -> CoreClip:
    """The clip's notes, under the name that it has now."""
    return notes_of(clip.head_id).model_copy(update={"name": clip.name})


def clip_out(clip: Clip) -> dict[str, Any]:
    """A clip as the API shows it."""
    return {"id": clip.id, "name": clip.name, "file": file_name(clip.name),
            "thumb": thumb(core_clip(clip))}


def file_name(name: str) -> str:
    """A name that every file system takes, for a MIDI file."""
    stem = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-")[:60]
    return f"{stem or 'clip'}.mid"


def clips_of(request: HttpRequest) -> QuerySet[Clip]:
    """The signed-in owner's clips, the deleted ones too, but none of a deleted piece."""
    return Clip.objects.filter(piece__owner=request.auth, piece__deleted=None)


@router.patch("/clips/{clip_id}", response=ClipOut)
def rename_clip(request: HttpRequest, clip_id: int, data: NameIn) -> dict[str, Any]:
    """Give a clip another name."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    clip.name = data.name
    clip.save(update_fields=["name"])
    return clip_out(clip)


@router.delete("/clips/{clip_id}", response={204: None})
def delete_clip(request: HttpRequest, clip_id: int) -> tuple[int, None]:
    """Take a clip off the Shelf; it can be brought back."""
    clip = get_object_or_404(clips_of(request), pk=clip_id)
    clip.deleted = clip.deleted or timezone.now()
    clip.save(update_fields=["deleted"])
    return 204, None


@router.post("/clips/{clip_id}/restore", response=ClipOut)
def restore_clip(request: HttpRequest, clip_id: int) -> dict[str, Any]:
    """Bring a deleted clip back."""
    clip = get_object_or_404(clips_of(request), pk=clip_id)
    clip.deleted = None
    clip.save(update_fields=["deleted"])
    return clip_out(clip)


def _download(data: bytes, content_type: str, name: str) -> HttpResponse:
    return HttpResponse(data, content_type=content_type, headers={
        "Content-Disposition": f'attachment; filename="{name}"', "Cache-Control": "no-store"})


@router.get("/clips/{clip_id}/midi")
def clip_midi(request: HttpRequest, clip_id: int) -> HttpResponse:
    """The clip as a Standard MIDI File."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    return _download(to_midi(core_clip(clip)), "audio/midi", file_name(clip.name))


@router.get("/pieces/{piece_id}/clips.zip")
def all_clips(request: HttpRequest, piece_id: int) -> HttpResponse:
    """All clips of a piece as MIDI files in a .zip."""
    piece = get_object_or_404(Piece, pk=piece_id, owner=request.auth, deleted=None)
    buffer, used = BytesIO(), set()
    with ZipFile(buffer, "w", ZIP_DEFLATED) as archive:
        for clip in piece.clips.filter(deleted=None).order_by("id"):
            name = file_name(clip.name)
            if name in used:
                name = f"{name.removesuffix('.mid')}-{clip.id}.mid"
            used.add(name)
            archive.writestr(name, to_midi(core_clip(clip)))
    return _download(buffer.getvalue(), "application/zip",
                     f"{file_name(piece.name).removesuffix('.mid')}.zip")
