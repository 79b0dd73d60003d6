"""Recordings of a musician's own, each kept once under the SHA-256 of its bytes."""

import hashlib
import io
import json
from dataclasses import dataclass, field
from datetime import datetime

from django.db import connection
from django.db.models import Sum
from django.db.models.functions import Length
from django.http import Http404
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


SAID = """
SELECT piece.id AS piece, piece.name AS place, recipe::text AS text,
    revision.id = pattern.head_id AND pattern.deleted IS NULL AND piece.deleted IS NULL AS now
FROM studio_revision revision JOIN studio_pattern pattern ON pattern.id = revision.pattern_id
    JOIN studio_piece piece ON piece.id = pattern.piece_id WHERE piece.owner_id = %(owner)s
UNION ALL SELECT piece.id, piece.name,
    concat(clip.segments, revision.document, revision.difference),
    clip.deleted IS NULL AND piece.deleted IS NULL
FROM studio_clip clip JOIN studio_piece piece ON piece.id = clip.piece_id
    LEFT JOIN studio_cliprevision revision ON revision.clip_id = clip.id
    WHERE piece.owner_id = %(owner)s
UNION ALL SELECT piece.id, piece.name, link.contents::text, piece.deleted IS NULL
FROM studio_link link JOIN studio_piece piece ON piece.id = link.piece_id
    WHERE piece.owner_id = %(owner)s
UNION ALL SELECT NULL, start.document->>'name', start.document::text, true
FROM studio_ownstart start WHERE start.owner_id = %(owner)s"""
"""All texts of an owner that may name a recording, where each lies, and whether it does so now."""
_NAMED = f"""
SELECT found[1], found[2], place, bool_or(now)
FROM ({SAID}) said, regexp_matches(said.text, %(pattern)s, 'g') found
GROUP BY found[1], found[2], piece, place"""  # noqa: S608
_OWN_SOUND = r'"file": "([0-9a-f]{64})", "name": ("(?:[^"\\]|\\.)*")'
"""As PostgreSQL writes the beginning of what the core says of a recording."""


@dataclass(slots=True)
class Recording:
    """A recording that is kept: what it is called where it is heard, its size in bytes, and the
    names of the pieces and starting recipes that play it now, or did so in a past that can be
    brought back."""

    digest: str
    size: int
    created: datetime
    name: str = ""
    now: set[str] = field(default_factory=set)
    past: set[str] = field(default_factory=set)


def all_of(owner: int) -> list[Recording]:
    """The recordings that somebody keeps, the largest first."""
    found = {digest: Recording(digest, size, created) for digest, size, created in
             SoundFile.objects.filter(owner=owner).annotate(size=Length("data"))
             .values_list("digest", "size", "created")}
    with connection.cursor() as cursor:
        cursor.execute(_NAMED, {"owner": owner, "pattern": _OWN_SOUND})
        for digest, name, where, now in cursor.fetchall():
            if recording := found.get(digest):
                recording.name = json.loads(name)
                (recording.now if now else recording.past).add(where)
    for recording in found.values():
        recording.past -= recording.now
    return sorted(found.values(), key=lambda each: (-each.size, each.digest))


def throw_away(owner: int, digest: str) -> None:
    """Delete a recording for ever; RecipeError with the pieces that play it, if any do."""
    with owner_locked(owner):
        for recording in all_of(owner):
            if recording.digest == digest:
                if recording.now:
                    raise RecipeError(f"“{recording.name}” is played by "
                                      f"{' and '.join(sorted(recording.now))}; give its lanes "
                                      "other sounds first.")
                SoundFile.objects.filter(owner=owner, digest=digest).delete()
                return
    raise Http404
