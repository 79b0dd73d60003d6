"""One clip: look at it, try a tool on its notes, edit it, undo and redo."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from lattice import TOOLS, AnyClipEdit, AnyTool, Clause, LayIn, Places, change_clip
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import HistoryOut, changed, json_of
from studio.api.clips import ClipOut, clip_out, core_clip
from studio.api.owned import clips_of
from studio.api.signed_in import FromOwner
from studio.limits import MOST_WORK
from studio.models import Clip, ClipRevision
from studio.stored import clips
from studio.stored.revisions import history_of
from studio.worked_out.clip_look import ClipView, look_at_clip

router = Router(tags=["clips"])


class ToolOut(Schema):
    """A tool that can be used: its document as it begins, and what it does in a few words."""

    tool: AnyTool
    label: str
    about: str


class ClipState(Schema):
    """A clip as it stands: as it lies on the Shelf, its newest state and its past, the places of
    the notes that were just changed, a view of it, and the tools for it."""

    id: int
    revision: int
    shelved: ClipOut
    history: HistoryOut
    chosen: list[int]
    view: ClipView
    tools: list[ToolOut]


class ClipStale(Schema):
    """The clip was changed elsewhere: what was tried, and the newer state."""

    detail: str
    tried: str
    state: ClipState


class ClipEditIn(Schema):
    """Changes to store on a state; `key` makes sending them twice harmless."""

    revision: int
    edits: list[AnyClipEdit] = Field(min_length=1, max_length=64)
    key: UUID | None = None


class ClipStepIn(Schema):
    """A state to go back or forward from."""

    revision: int
    key: UUID | None = None


class TryIn(Schema):
    """A tool to try on the notes with these places, or on all; `slot` names a word of it that
    takes a new `value` first."""

    revision: int
    tool: AnyTool
    notes: Places | None = None
    slot: str | None = None
    value: Any = None


class Tried(Schema):
    """A tool as it stands, its sentence, and the clip as it would be; chosen: the places of the
    notes that it made; begins: where what it does begins, in beats."""

    tool: AnyTool
    sentence: list[Clause]
    view: ClipView
    chosen: list[int]
    begins: float


def _state(clip: Clip, chosen: Sequence[int] = ()) -> dict[str, Any]:
    return {"id": clip.pk, "revision": clip.state, "shelved": clip_out(clip),
            "history": history_of(clip), "chosen": list(chosen),
            "view": look_at_clip(core_clip(clip)),
            "tools": [{"tool": kind.as_it_stands().model_dump(mode="json"), "label": kind.label,
                       "about": kind.about} for kind in TOOLS]}


def _moved(owner: int, clip_id: int, data: ClipStepIn, back: bool) -> HttpResponse:
    return changed("This clip",
                   lambda: clips.move(owner, clip_id, data.revision, back, data.key), _state)


@router.get("/clips/{clip_id}/state", response=ClipState)
def read_clip(request: FromOwner, clip_id: int) -> HttpResponse:
    """A clip as it stands."""
    return json_of(_state(get_object_or_404(clips_of(request), pk=clip_id, deleted=None)))


@router.post("/clips/{clip_id}/try", response=Tried)
def try_tool(request: FromOwner, clip_id: int, data: TryIn) -> HttpResponse:
    """A tool's sentence, and the clip with it laid in; nothing is stored."""
    clip = get_object_or_404(clips_of(request), pk=clip_id, deleted=None)
    if not ClipRevision.objects.filter(pk=data.revision, clip=clip).exists():
        raise Http404
    tool = data.tool if data.slot is None else data.tool.worded(data.slot, data.value)
    laying = LayIn(do="lay_in", tool=tool, notes=data.notes)
    before = clips.notes_of(data.revision)
    done = change_clip(before, [laying], MOST_WORK)
    return json_of({"tool": tool.model_dump(mode="json"), "sentence": tool.sentence,
                    "view": look_at_clip(done.clip.model_copy(update={"name": clip.name})),
                    "chosen": done.chosen,
                    "begins": laying.begins(before)})


@router.post("/clips/{clip_id}/edits", response={200: ClipState, 409: ClipStale})
def edit_clip(request: FromOwner, clip_id: int, data: ClipEditIn) -> HttpResponse:
    """Store changes as one state; 409 with the newer state if the clip has moved on."""
    made: list[int] = []

    def change() -> Clip:
        clip, places = clips.store(request.auth, clip_id, data.revision, data.edits, data.key)
        made.extend(places)
        return clip

    return changed("This clip", change, lambda clip: _state(clip, made))


@router.post("/clips/{clip_id}/undo", response={200: ClipState, 409: ClipStale})
def undo_clip(request: FromOwner, clip_id: int, data: ClipStepIn) -> HttpResponse:
    """Go back one state."""
    return _moved(request.auth, clip_id, data, True)


@router.post("/clips/{clip_id}/redo", response={200: ClipState, 409: ClipStale})
def redo_clip(request: FromOwner, clip_id: int, data: ClipStepIn) -> HttpResponse:
    """Go forward one state."""
    return _moved(request.auth, clip_id, data, False)
