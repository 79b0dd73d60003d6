"""What nobody can come back to is cleared away, while people play: deleted things after thirty
days, passes that no Trail shows any more, states and recordings that nothing names."""

from collections.abc import Iterator, Mapping
from contextlib import suppress
from datetime import datetime, timedelta
from typing import Any

from django.db import connection, transaction
from django.http import Http404
from django.utils import timezone

from studio.models import (
    ClipRevision,
    OrderRevision,
    Piece,
    Revision,
    SoundFile,
    State,
    TrailPass,
)
from studio.stored.owners import owner_locked
from studio.stored.patterns import locked
from studio.stored.sounds import SAID
from studio.stored.trail import SHOWN_PASSES

TO_COME_BACK = timedelta(days=30)
"""So long what was deleted can be brought back."""
IN_USE = timedelta(days=1)
"""So long a page may still play what nothing names any more, or not yet."""

_NAMED = """
SELECT (segment->>'revision')::bigint FROM studio_clip clip, jsonb_array_elements(clip.segments)
    segment WHERE clip.piece_id = %(piece)s
UNION SELECT (segment->>'revision')::bigint FROM studio_trailpass heard JOIN studio_pattern pattern
    ON pattern.id = heard.pattern_id, jsonb_array_elements(heard.segments) segment
    WHERE pattern.piece_id = %(piece)s"""
_PASSES = """
DELETE FROM studio_trailpass WHERE id IN (SELECT id FROM (
    SELECT id, row_number() OVER (PARTITION BY pattern_id ORDER BY id DESC) AS back
    FROM studio_trailpass WHERE pattern_id IN (SELECT id FROM studio_pattern WHERE piece_id = %s))
    numbered WHERE back > %s) AND created < %s"""
_SOUND = f"SELECT EXISTS (SELECT 1 FROM ({SAID}) said WHERE said.text LIKE %(like)s)"  # noqa: S608


def clear() -> None:
    """Clear everything that has run out; each piece and each musician's recordings by itself."""
    now = timezone.now()
    for piece in Piece.objects.filter(deleted__lt=now - TO_COME_BACK):
        with transaction.atomic():
            remove_piece(piece)
    for number in Piece.objects.filter(deleted=None).values_list("pk", flat=True):
        with suppress(Http404), locked(pk=number) as piece:  # it may have been deleted meanwhile
            _clear_piece(piece, now)
    for sound in SoundFile.objects.filter(created__lt=now - IN_USE).defer("data"):
        with owner_locked(sound.owner_id), connection.cursor() as cursor:
            cursor.execute(_SOUND, {"owner": sound.owner_id, "like": f"%{sound.digest}%"})
            if cursor.fetchone() == (False,):  # nor has it been dropped anew
                SoundFile.objects.filter(pk=sound.pk, created__lt=now - IN_USE).delete()


def remove_piece(piece: Piece) -> None:
    """Delete a piece with all that is in it, for ever; within a transaction."""
    _remove(piece.clips.all(), ClipRevision, "clip")
    _remove(piece.patterns.all(), Revision, "pattern")
    _remove(Piece.objects.filter(pk=piece.pk), OrderRevision, "piece")


def _clear_piece(piece: Piece, now: datetime) -> None:
    """What has run out in a piece, which is locked."""
    old = {"deleted__lt": now - TO_COME_BACK}
    TrailPass.objects.filter(pattern__in=piece.patterns.filter(**old)).delete()
    _remove(piece.clips.filter(**old), ClipRevision, "clip")
    with connection.cursor() as cursor:
        cursor.execute(_PASSES, (piece.pk, SHOWN_PASSES, now - IN_USE))
        cursor.execute(_NAMED, {"piece": piece.pk})
        named = {number for number, in cursor.fetchall()}
    _remove(piece.patterns.filter(**old).exclude(revisions__in=named), Revision, "pattern")
    heads = [set(things.exclude(head=None).values_list("head_id", flat=True)) for things in (
        Piece.objects.filter(pk=piece.pk), piece.patterns.all(), piece.clips.all())]
    _clear_states(OrderRevision.objects.filter(piece=piece), heads[0], set(), now)
    _clear_states(Revision.objects.filter(pattern__piece=piece), heads[1], named, now)
    _clear_states(ClipRevision.objects.filter(clip__piece=piece), heads[2], set(), now)


def _clear_states(states: Any, heads: set[int], named: set[int], now: datetime) -> None:
    """States that neither undo nor redo leads to from a head, nor anything names."""
    rows = list(states.order_by("id").values_list("id", "parent_id", "created"))
    parents = {number: parent for number, parent, _ in rows}
    newest = {parent: number for number, parent, _ in rows}
    kept = named.union(*(_along(way, head) for head in heads for way in (parents, newest)))
    gone = [number for number, _, created in rows
            if number not in kept and created < now - IN_USE]
    if gone:
        states.filter(parent__in=gone).exclude(pk__in=gone).update(parent=None)
        _delete(states.model, states.filter(pk__in=gone))


def _along(next_of: Mapping[Any, int | None], number: int | None) -> Iterator[int]:
    while number is not None:
        yield number
        number = next_of.get(number)


def _remove(things: Any, states: type[State], of: str) -> None:
    """Things with all their states, each of which names one as `of`."""
    numbers = list(things.values_list("pk", flat=True))
    things.model.objects.filter(pk__in=numbers).update(head=None)
    _delete(states, states._default_manager.filter(**{f"{of}__in": numbers}))
    things.model.objects.filter(pk__in=numbers).delete()


def _delete(kind: type[State], states: Any) -> None:
    """States, in whatever order they follow each other: what names them is looked at when the
    transaction ends."""
    with connection.cursor() as cursor:
        cursor.execute(f"DELETE FROM {kind._meta.db_table} WHERE id = ANY(%s)",  # noqa: S608
                       (list(states.values_list("pk", flat=True)),))
