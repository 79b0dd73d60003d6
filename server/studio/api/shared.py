"""What whoever has a link sees and hears, without an account; answers that caches may keep.

Every answer follows from the state of what is shown and the address that is asked for: it has a
validator, and is worked out once. Unknown, ended and malformed tokens are answered alike.
"""

from collections.abc import Callable, Sequence
from typing import Annotated, Any, TypeVar
from uuid import UUID

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from lattice import (
    Clip,
    Contents,
    LaneId,
    NamedRecipe,
    PieceClip,
    PiecePattern,
    Pieces,
    Segment,
    as_piece,
    safe_name,
    take_clip,
    to_midi,
)
from ninja import Query, Router, Schema

from studio.api.answers import content_disposition, json_of
from studio.api.order import whole_order
from studio.api.patterns import WhyOut, why_told
from studio.api.piece_files import ArrivedOut
from studio.api.signed_in import FromOwner, owner_now
from studio.api.sounds import Digest
from studio.api.tries import a_minute
from studio.limits import MOST_FOR_A_CLIP, check_stretches, fitting_end
from studio.models import Link, SoundFile
from studio.page import build, kept_by_caches
from studio.stored import links, piece_files
from studio.worked_out.clip_look import ClipView, look_at_clip
from studio.worked_out.look import View, look
from studio.worked_out.memory import Memory
from studio.worked_out.thumbs import Thumb, recipe_thumb, thumb

router = Router(tags=["shared"], auth=None)
T = TypeVar("T")
M = TypeVar("M", PiecePattern, PieceClip, Contents)
SharedBeat = Annotated[float, Query(ge=0, lt=2**31)]
SharedPart = Annotated[int, Query(ge=0, lt=256)]
SharedPasses = Annotated[int, Query(ge=1, le=16)]
MOST_PASSES = 64
"""So many passes of a pattern are shown; after them the first comes again."""
_answers: Memory[tuple[str, str], bytes] = Memory(32 * 2**20)


class SharedThing(Schema):
    """A pattern or a clip that is shown."""

    name: str
    thumb: Thumb


class SharedOut(Schema):
    """What a link shows: what it is called and signed with; whether it is always as it is; whether
    there is an order of its patterns."""

    name: str
    by: str
    follows: bool
    patterns: list[SharedThing]
    clips: list[SharedThing]
    order: bool


class CopyIn(Schema):
    """`key` makes copying twice harmless."""

    key: UUID


def _answer(request: HttpRequest, token: str, asked: str, make: Callable[[Contents, Link], bytes],
            kind: str = "application/json",
            named: Callable[[Contents], str] | None = None) -> HttpResponse:
    """What is made of a link's state for what is `asked`, or that it has not changed; a file, where
    it is `named`."""
    link = links.found(token)
    shown = links.shown(link)
    tag = f'"{shown.stamp}-{build()}"'
    if tag in request.headers.get("If-None-Match", ""):
        answer = HttpResponse(status=304)
    else:
        data = _answers.get((shown.stamp, asked))
        if data is None:
            made = make(shown.contents, link)
            data = _answers.put((shown.stamp, asked), made, len(made) + 100)
        answer = HttpResponse(data, content_type=kind)
    answer["ETag"] = tag
    if named is not None:
        answer["Content-Disposition"] = content_disposition(named(shown.contents))
    return kept_by_caches(answer)


def _one(things: Sequence[T], number: int) -> T:
    if not 0 <= number < len(things):
        raise Http404
    return things[number]


def _file(request: HttpRequest, token: str, asked: str, of: Callable[[Contents], M],
          written: Callable[[M], bytes]) -> HttpResponse:
    """A MIDI file of something that is shown, under its name."""
    return _answer(request, token, asked, lambda shown, link: written(of(shown)), "audio/midi",
                   lambda shown: f"{safe_name(of(shown).name)}.mid")


def _json(value: Any) -> bytes:
    return bytes(json_of(value).content)


@router.get("/shared/{token}", response=SharedOut)
def read_shared(request: HttpRequest, token: str) -> HttpResponse:
    """What a link shows."""
    return _answer(request, token, "", lambda shown, link: _json({
        "name": shown.name, "by": link.by, "follows": link.follows,
        "patterns": [{"name": each.name, "thumb": recipe_thumb(each.recipe)}
                     for each in shown.patterns],
        "clips": [{"name": each.name, "thumb": thumb(each.clip)} for each in shown.clips],
        "order": bool(shown.order.blocks)}))


@router.get("/shared/{token}/patterns/{number}/passes/{passing}", response=View)
def see_pass(request: HttpRequest, token: str, number: int, passing: int, part: SharedPart = 0,
             chosen: LaneId | None = None) -> HttpResponse:
    """A pass of a pattern, both counted from 0, with the sentence of a lane; where it is too much
    for one view, the next `part` goes on from where the one before was shortened."""
    def seen(shown: Contents, link: Link) -> bytes:
        recipe = _one(shown.patterns, number).recipe
        frame = float(recipe.frame_beats)
        start = passing % MOST_PASSES * frame
        end = start + frame
        for _ in range(part):
            start = fitting_end(recipe, start, end)
            if start >= end:
                raise Http404
        known = chosen if any(lane.id == chosen for lane in recipe.lanes) else None
        return _json(look(recipe, start, end, known))
    return _answer(request, token, f"{number}/{passing % MOST_PASSES}/{part}/{chosen}", seen)


@router.get("/shared/{token}/patterns/{number}/why", response=WhyOut, throttle=a_minute(300))
def tell_why_shared(request: HttpRequest, token: str, number: int, lane: LaneId,
                    at: SharedBeat) -> HttpResponse:
    """Why a cell of a pattern plays or rests."""
    def told(shown: Contents, link: Link) -> bytes:
        return _json(why_told(_one(shown.patterns, number).recipe, lane, at))
    return _answer(request, token, f"{number}/why/{lane}/{at}", told)


@router.get("/shared/{token}/patterns/{number}/midi")
def shared_midi(request: HttpRequest, token: str, number: int,
                passes: SharedPasses = 1) -> HttpResponse:
    """The first passes of a pattern as a MIDI file."""
    def written(pattern: PiecePattern) -> bytes:
        beats = passes * pattern.recipe.frame_beats
        check_stretches([(pattern.recipe, 0, float(beats))], MOST_FOR_A_CLIP)
        return to_midi(take_clip(pattern.name, [Segment(pattern.recipe, 0, 0, float(beats))], 0,
                                 beats))
    return _file(request, token, f"{number}/midi/{passes}",
                 lambda shown: _one(shown.patterns, number), written)


@router.get("/shared/{token}/clips/{number}", response=ClipView)
def see_clip(request: HttpRequest, token: str, number: int) -> HttpResponse:
    """A clip."""
    return _answer(request, token, f"clip/{number}", lambda shown, link: _json(
        look_at_clip(_one(shown.clips, number).clip)))


@router.get("/shared/{token}/clips/{number}/midi")
def shared_clip_midi(request: HttpRequest, token: str, number: int) -> HttpResponse:
    """A clip as a MIDI file."""
    return _file(request, token, f"clip/{number}/midi", lambda shown: _one(shown.clips, number),
                 lambda clip: to_midi(clip.clip))


@router.get("/shared/{token}/order", response=ClipView)
def see_order(request: HttpRequest, token: str) -> HttpResponse:
    """All that the order of a piece plays, as one clip."""
    return _answer(request, token, "order", lambda shown, link: _json(look_at_clip(_order(shown))))


@router.get("/shared/{token}/order/midi")
def shared_order_midi(request: HttpRequest, token: str) -> HttpResponse:
    """All that the order of a piece plays, as a MIDI file."""
    return _file(request, token, "order/midi", lambda shown: shown,
                 lambda shown: to_midi(_order(shown)))


def _order(shown: Contents) -> Clip:
    patterns = {number: NamedRecipe(each.name, each.recipe)
                for number, each in enumerate(shown.patterns, 1)}
    return whole_order(shown.order, patterns, shown.name)


@router.get("/shared/{token}/picture.png")
def see_picture(request: HttpRequest, token: str) -> HttpResponse:
    """The picture that stands for a link where it is pasted."""
    return _answer(request, token, "picture", lambda shown, link: links.picture(link, shown),
                   "image/png")


@router.get("/shared/{token}/sounds/{digest}")
def read_shared_sound(request: HttpRequest, token: str, digest: Digest) -> HttpResponse:
    """A recording that what is shown is heard by."""
    def sound(shown: Contents, link: Link) -> bytes:
        if digest not in shown.recordings:
            raise Http404
        return bytes(get_object_or_404(SoundFile, owner=link.piece.owner_id, digest=digest).data)
    return _answer(request, token, f"sound/{digest}", sound, "application/octet-stream")


@router.post("/shared/{token}/copy", response=ArrivedOut, auth=owner_now)
def copy_shared(request: FromOwner, token: str, data: CopyIn) -> dict[str, Any]:
    """A piece of one's own, of what a link shows."""
    link = links.found(token)
    shown = links.shown(link).contents
    pieces = Pieces(pieces=(as_piece(shown),))
    sounds = piece_files.recordings(link.piece.owner_id, pieces)
    (made,) = piece_files.arrive(request.auth, pieces, sounds, data.key)
    return {"id": made.pk, "name": made.name}
