"""Recordings of a musician's own, each kept once under the SHA-256 of its bytes."""

import hashlib
import io

from django.db.models import Sum
from django.db.models.functions import Length
from django.utils import timezone
from lattice import RecipeError
from tinytag import TinyTag, TinyTagException

from studio.limits import MOST_SOUND
from studio.models import SoundFile
from studio.stored.owners import owner_locked

MIB = 2**20
MOST_OF_ONE = 500 * MIB
LONGEST_SECONDS = 120
BEGINNINGS = {b"RIFF": "audio/wav", b"fLaC": "audio/flac", b"OggS": "audio/ogg",
              b"ID3": "audio/mpeg", b"\xff": "audio/mpeg"}
"""How the files of the formats begin that are taken, and what these are called on the web."""
NO_SOUND = "That is no sound that can be read here; drop a WAV, FLAC, OGG or MP3 file."


def read(data: bytes) -> tuple[str, float]:
    """The kind of a recording and its seconds; RecipeError where it is none, or too long."""
    try:
        tag = TinyTag.get(file_obj=io.BytesIO(data), tags=False)
    except TinyTagException:
        raise RecipeError(NO_SOUND) from None
    kind = next((kind for start, kind in BEGINNINGS.items() if data.startswith(start)), None)
    if kind is None or not tag.duration or tag.duration <= 0:
        raise RecipeError(NO_SOUND)
    if tag.duration > LONGEST_SECONDS:
        raise RecipeError(f"A sound lasts {LONGEST_SECONDS} seconds at most, this one "
                          f"{tag.duration:,.0f}; cut it shorter first.")
    return kind, tag.duration


def keep(owner: int, digest: str, data: bytes) -> float:
    """Keep a recording, and tell its seconds; keeping it again changes nothing. RecipeError where
    it is too large, damaged, no sound, or one too many."""
    if len(data) > MOST_SOUND:
        raise RecipeError(f"A sound takes up to {MOST_SOUND // MIB} MB; make the file smaller.")
    if hashlib.sha256(data).hexdigest() != digest:
        raise RecipeError("The sound arrived damaged; drop it once more.")
    kind, seconds = read(data)
    kept = SoundFile.objects.filter(owner=owner)
    with owner_locked(owner):
        # One that is there counts as new again, so that it is not cleared before it is used.
        if not kept.filter(digest=digest).update(created=timezone.now()):
            total = kept.aggregate(total=Sum(Length("data")))["total"] or 0
            if total + len(data) > MOST_OF_ONE:
                raise RecipeError(f"Your sounds take {MOST_OF_ONE // MIB} MB already, as much as "
                                  "fits here; use one that you have dropped before.")
            SoundFile.objects.get_or_create(owner_id=owner, digest=digest,
                                            defaults={"kind": kind, "data": data})
    return seconds
