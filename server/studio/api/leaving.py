"""What leaves: clips, passes, bars and the order, as MIDI files, and as a page renders their
sound."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from lattice import Clip as CoreClip
from lattice import (
    Export,
    Leaving,
    Recipe,
    RecipeError,
    export_files,
    safe_name,
    safe_names,
    to_json,
    zipped,
)
from ninja import Query, Router, Schema

from studio.api.answers import download, json_of
from studio.api.clips import MOST_AT_ONCE, core_clip
from studio.api.heard import TakeIn, stretch_of
from studio.api.listed import Numbers, listed
from studio.api.order import whole_order
from studio.api.owned import clips_of, pattern_of, pieces_of
from studio.api.signed_in import FromOwner
from studio.models import Clip
from studio.stored import orders, trail
from studio.worked_out.clip_look import ClipView, look_at_clip

router = Router(tags=["leaving"])


class Several(Schema):
    """Which clips, by their numbers with commas between; all, where none is named."""

    clips: Numbers = ""


class TakenOut(Schema):
    """What leaves, as it looks and sounds; the names of its file and of a file for each lane,
    without an ending."""

    view: ClipView
    file: str
    lane_files: list[str]


def _taken(clip: CoreClip) -> HttpResponse:
    names = [f"{clip.name} {lane.name}" for lane in clip.lanes]
    return json_of({"view": look_at_clip(clip), "file": safe_name(clip.name),
                    "lane_files": safe_names(names, "")})


def _midi(clip: CoreClip, export: Export, recipe: Recipe | None = None) -> HttpResponse:
    """A clip as a Standard MIDI File; as a .zip, where each lane is a file."""
    found = export_files([_leaving(clip, recipe)], export)
    if export.tracks == "files":
        return download(zipped(found), "application/zip", f"{safe_name(clip.name)}.zip")
    ((name, data),) = found
    return download(data, "audio/midi", name)


def _leaving(clip: CoreClip, recipe: Recipe | None) -> Leaving:
    return Leaving(clip, to_json(recipe) if recipe else None)


def _made_by(clip: Clip, export: Export) -> Recipe | None:
    return trail.made_by(clip) if export.recipe else None


@router.get("/clips/{clip_id}/taken", response=TakenOut)
def take_clip_out(request: FromOwner, clip_id: int) -> HttpResponse:
    """A clip of the Shelf as its sound is rendered."""
    return _taken(core_clip(get_object_or_404(clips_of(request), pk=clip_id, deleted=None)))


@router.post("/patterns/{pattern_id}/taken", response=TakenOut)
def take_bars_out(request: FromOwner, pattern_id: int, data: TakeIn) -> HttpResponse:
    """Passes or bars as their sound is rendered; nothing is stored."""
    return _taken(stretch_of(pattern_of(request, pattern_id), data).taken())


@router.post("/patterns/{pattern_id}/taken/midi")
def bars_midi(request: FromOwner, pattern_id: int, data: TakeIn,
              export: Query[Export]) -> HttpResponse:
    """Passes or bars as a Standard MIDI File; nothing is stored."""
    stretch = stretch_of(pattern_of(request, pattern_id), data)
    return _midi(stretch.taken(), export, stretch.recipe if export.recipe else None)


@router.get("/pieces/{piece_id}/order/taken", response=TakenOut)
def take_order_out(request: FromOwner, piece_id: int) -> HttpResponse:
    """The whole order as its sound is rendered; nothing is stored."""
    return _taken(_whole(request, piece_id))


@router.get("/pieces/{piece_id}/order/midi")
def order_midi(request: FromOwner, piece_id: int, export: Query[Export]) -> HttpResponse:
    """The whole order as a Standard MIDI File; nothing is stored."""
    return _midi(_whole(request, piece_id), export)


def _whole(request: FromOwner, piece_id: int) -> CoreClip:
    piece = get_object_or_404(pieces_of(request).select_related("head"), pk=piece_id, deleted=None)
    return whole_order(orders.order_of(piece), orders.patterns_of(piece), piece.name)


@router.get("/clips/{clip_id}/midi")
def clip_midi(request: FromOwner, clip_id: int, export: Query[Export]) -> HttpResponse:
    """A clip of the Shelf as a Standard MIDI File; as a .zip, where each lane is a file."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    return _midi(core_clip(clip), export, _made_by(clip, export))


@router.get("/pieces/{piece_id}/clips.zip")
def several_clips(request: FromOwner, piece_id: int, several: Query[Several],
                  export: Query[Export]) -> HttpResponse:
    """Clips of a piece as MIDI files in a .zip, in the order of the Shelf."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    clips = piece.clips.filter(deleted=None).select_related("pattern")
    if several.clips:
        clips = clips.filter(pk__in=listed(several.clips))
    if clips.count() > MOST_AT_ONCE:
        raise RecipeError(f"Up to {MOST_AT_ONCE} clips leave at once; choose fewer.")
    found = export_files([_leaving(core_clip(clip), _made_by(clip, export)) for clip in clips],
                         export)
    return download(zipped(found), "application/zip", f"{safe_name(piece.name)}.zip")
