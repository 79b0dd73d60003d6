"""Recordings of the musician's own: each is kept once, under the SHA-256 of its bytes."""

from typing import Annotated

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Path, Router, Schema

from studio.api.signed_in import FromOwner
from studio.limits import MOST_SOUND
from studio.models import SoundFile
from studio.stored import sounds

router = Router(tags=["sounds"])
Digest = Annotated[str, Path(pattern=r"^[0-9a-f]{64}$")]


class SoundOut(Schema):
    """A recording that is kept: what it is called by, and its length in seconds."""

    file: str
    seconds: float


@router.put("/sounds/{digest}", response=SoundOut, openapi_extra={"requestBody": {
    "required": True,
    "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}})
def keep_sound(request: FromOwner, digest: Digest) -> SoundOut:
    """Keep a recording (the body) under its SHA-256; keeping it again changes nothing."""
    seconds = sounds.keep(request.auth, digest, request.read(MOST_SOUND + 1))
    return SoundOut(file=digest, seconds=seconds)


@router.delete("/sounds/{digest}", response={204: None})
def throw_sound_away(request: FromOwner, digest: Digest) -> tuple[int, None]:
    """Delete a recording for ever, where nothing plays it."""
    sounds.throw_away(request.auth, digest)
    return 204, None


@router.get("/sounds/{digest}", response={200: bytes}, openapi_extra={"responses": {200: {
    "description": "The file as it was dropped",
    "content": {"audio/*": {"schema": {"type": "string", "format": "binary"}}}}}})
def read_sound(request: FromOwner, digest: Digest) -> HttpResponse:
    """A recording as it was dropped."""
    sound = get_object_or_404(SoundFile, owner=request.auth, digest=digest)
    answer = HttpResponse(bytes(sound.data), content_type=sound.kind)
    # Its name is its content, so it never changes.
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    answer["Content-Disposition"] = "attachment"
    return answer
