"""What was heard: the Trail of a pattern, and Keep."""

from fractions import Fraction
from typing import Any
from uuid import UUID

from django.db.models import F
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from lattice import AnyEdit, RecipeError
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import json_of
from studio.api.clips import ClipOut, clip_out
from studio.api.owned import pattern_of
from studio.api.signed_in import FromOwner
from studio.models import Pattern, TrailPass
from studio.stored import trail
from studio.worked_out.clip_look import ClipView, look_at_clip
from studio.worked_out.recipes import belongs
from studio.worked_out.thumbs import Thumb

router = Router(tags=["heard"])
MOST_BARS = 256
"""So many bars can be kept as one clip."""


class TrailOut(Schema):
    """A pass on the Trail; `number` is its own on the Trails of the piece, from 1, and `passing`
    which pass of the pattern it was, from 1; strange: how many notes it is from what passes of its
    recipe usually are, where the whole Trail is asked for and there are three of them."""

    id: int
    number: int
    passing: int
    beats: float
    thumb: Thumb
    kept: bool
    strange: float | None = None


class TakeIn(Schema):
    """What to take: passes of the Trail, of this pattern and of others of its piece, and after them
    one that is still `running`, as far as it was heard; or so many `bars` of them from `first_bar`
    on. Without passes, so many bars of a revision, with `edits` that are tried out on it, from beat
    `start` on."""

    passes: list[int] = Field(default=[], max_length=1024)
    first_bar: int = Field(default=1, ge=1, le=4096)
    running: trail.HeardPass | None = None
    bars: int | None = Field(default=None, ge=1, le=MOST_BARS)
    revision: int | None = None
    edits: list[AnyEdit] = Field(default=[], max_length=64)
    start: float = Field(default=0, ge=0, lt=2**31)


class KeepIn(TakeIn):
    """What to keep; `key` makes keeping twice harmless."""

    key: UUID | None = None


@router.get("/patterns/{pattern_id}/trail", response=list[TrailOut])
def read_trail(request: FromOwner, pattern_id: int) -> list[dict[str, Any]]:
    """The last passes that were played, the newest last."""
    entries = list(reversed(pattern_of(request, pattern_id).trail.defer("segments").annotate(
        revision=F("segments__0__revision")).order_by("-id")[:trail.SHOWN_PASSES]))
    return [_trail_out(entry) | {"strange": strange}
            for entry, strange in zip(entries, trail.strange(entries), strict=True)]


def _trail_out(entry: Any) -> dict[str, Any]:
    return {"id": entry.id, "number": entry.ordinal, "passing": entry.number + 1,
            "beats": float(Fraction(entry.beats)), "thumb": entry.picture, "kept": entry.kept}


@router.post("/patterns/{pattern_id}/trail", response=TrailOut)
def add_to_trail(request: FromOwner, pattern_id: int, data: trail.HeardPass) -> HttpResponse:
    """Put a pass that was played on the Trail."""
    known = {segment.revision for segment in data.segments}
    if not all(belongs(revision, pattern_id, request.auth) for revision in known):
        trail.check_revisions(pattern_of(request, pattern_id), known)
    return json_of(_trail_out(trail.remember(pattern_id, data)))


@router.get("/patterns/{pattern_id}/trail/{pass_id}", response=ClipView)
def hear_again(request: FromOwner, pattern_id: int, pass_id: int) -> ClipView:
    """A pass as it was heard, note for note and by the sounds of its lanes."""
    entry = get_object_or_404(pattern_of(request, pattern_id).trail, pk=pass_id)
    segments, beats = trail.in_a_row([entry])
    return look_at_clip(trail.take("", segments, 0, beats))


@router.post("/patterns/{pattern_id}/keep", response=ClipOut)
def keep(request: FromOwner, pattern_id: int, data: KeepIn) -> dict[str, Any]:
    """Make a clip of passes that were heard, or of bars still to come."""
    pattern = pattern_of(request, pattern_id)
    kept = pattern.piece.clips.filter(key=data.key).first() if data.key else None
    return clip_out(kept or trail.keep(pattern, stretch_of(pattern, data), data.key, data.passes))


def stretch_of(pattern: Pattern, data: TakeIn) -> trail.Stretch:
    """What a clip of passes or bars is to be made of."""
    if not (data.passes or data.running):
        revision = data.revision if data.revision is not None else pattern.state
        return trail.of_bars(pattern, revision, data.edits, data.start, data.bars or 1)
    entries = list(TrailPass.objects.filter(pattern__piece=pattern.piece, pk__in=data.passes))
    if len(entries) != len(set(data.passes)):
        raise RecipeError("One of these passes is not on the Trail any more.")
    if data.running:
        trail.check_revisions(pattern, {each.revision for each in data.running.segments})
        running = trail.entry_of(pattern.pk, data.running)
        # It may have come to its end meanwhile, and have its number: the one after the others.
        running.ordinal = (entries[-1].ordinal if entries else pattern.piece.heard) + 1
        entries.append(running)
    return trail.of_passes(pattern, entries, data.first_bar, data.bars)
