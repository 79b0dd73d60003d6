"""Links that the owner of a piece has made: which there are, their names, and their end."""

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from django.shortcuts import get_object_or_404
from lattice import Name, RecipeError
from ninja import Router, Schema

from studio.api.owned import pieces_of, say_anew
from studio.api.signed_in import FromOwner
from studio.models import Link
from studio.stored import links

router = Router(tags=["links"])


class LinkOut(Schema):
    """A link: its address, the owner's name for it, the name that it is signed with, what it shows,
    and whether that is always as it is."""

    id: int
    address: str
    name: str
    by: str
    shows: Literal["piece", "pattern", "clip"]
    of: str
    follows: bool
    created: datetime


class LinkNamesIn(Schema):
    """What a link is called, and what it is signed with; what is not named stays."""

    name: Name | None = None
    by: Name | Literal[""] | None = None


class LinkIn(Schema):
    """What a link shows: a piece, or a pattern or a clip of it; always as it is (`follows`), or as
    it is now."""

    name: Name
    by: Name | Literal[""] = ""
    pattern: int | None = None
    clip: int | None = None
    follows: bool = False
    key: UUID | None = None


def _out(link: Link) -> dict[str, Any]:
    shows = "clip" if link.clip else "pattern" if link.pattern else "piece"
    return {"id": link.pk, "address": f"/l/{link.token}", "name": link.name, "by": link.by,
            "shows": shows, "of": (link.clip or link.pattern or link.piece).name,
            "follows": link.follows, "created": link.created}


def _links_of(request: FromOwner) -> Any:
    return Link.objects.filter(piece__owner=request.auth, piece__deleted=None) \
        .select_related("piece", "pattern", "clip").defer("contents", "picture")


@router.get("/pieces/{piece_id}/links", response=list[LinkOut])
def list_links(request: FromOwner, piece_id: int) -> list[dict[str, Any]]:
    """The links to a piece and to what is in it, the newest first."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    return [_out(link) for link in _links_of(request).filter(piece=piece)]


@router.post("/pieces/{piece_id}/links", response=LinkOut)
def make_link(request: FromOwner, piece_id: int, data: LinkIn) -> dict[str, Any]:
    """Make a link; `key` makes asking twice harmless."""
    piece = get_object_or_404(pieces_of(request), pk=piece_id, deleted=None)
    if data.pattern is not None and data.clip is not None:
        raise RecipeError("A link shows a piece, or one pattern, or one clip; choose one of them.")
    pattern = None if data.pattern is None else get_object_or_404(
        piece.patterns, pk=data.pattern, deleted=None)
    clip = None if data.clip is None else get_object_or_404(
        piece.clips, pk=data.clip, deleted=None)
    return _out(links.make(piece, pattern, clip, data.name, data.by, data.follows, data.key))


@router.patch("/links/{link_id}", response=LinkOut)
def name_link(request: FromOwner, link_id: int, data: LinkNamesIn) -> dict[str, Any]:
    """Give a link another name, or sign it otherwise."""
    link = get_object_or_404(_links_of(request), pk=link_id)
    say_anew(link, data)
    return _out(link)


@router.delete("/links/{link_id}", response={204: None})
def end_link(request: FromOwner, link_id: int) -> tuple[int, None]:
    """End a link: from now on it leads nowhere."""
    get_object_or_404(_links_of(request), pk=link_id).delete()
    return 204, None
