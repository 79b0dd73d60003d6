"""Links: what whoever has one is shown, as it was when it was made, or always as it is."""

from dataclasses import dataclass
from hashlib import sha256
from secrets import token_urlsafe
from typing import Any
from uuid import UUID

from django.http import Http404
from lattice import Contents, RecipeError, to_json

from studio.models import Clip, Link, Pattern, Piece
from studio.stored import piece_files
from studio.stored.patterns import locked
from studio.worked_out.link_picture import link_picture
from studio.worked_out.memory import Memory

MOST_LINKS = 100
"""Of one piece."""
_shown: Memory[str, Contents] = Memory(64)


@dataclass(frozen=True, slots=True)
class Shown:
    """What a link shows; the same stamp says that it is the same."""

    stamp: str
    contents: Contents


def make(piece: Piece, pattern: Pattern | None, clip: Clip | None, name: str, by: str,
         follows: bool, key: UUID | None) -> Link:
    """A link to a piece, or to one pattern or clip of it; one that was made under this key
    stays."""
    with locked(pk=piece.pk):
        known = piece.links.filter(key=key).first() if key else None
        if known:
            return known
        if piece.links.count() >= MOST_LINKS:
            raise RecipeError(f"A piece has up to {MOST_LINKS} links; end some first.")
        token = token_urlsafe(32)
        link = Link(piece=piece, pattern=pattern, clip=clip, name=name, by=by, key=key,
                    token=token, digest=_digest(token), follows=follows)
        if not follows:
            link.contents = to_json(_contents(link))
        link.save()
    return link


def found(token: str) -> Link:
    """The link with this token; Http404 where there is none, or where what it shows was
    deleted."""
    link = Link.objects.select_related("piece", "pattern", "clip").defer("contents", "picture") \
        .filter(digest=_digest(token), piece__deleted=None).first()
    things = (link.pattern, link.clip) if link else ()
    if link is None or any(thing and thing.deleted for thing in things):
        raise Http404
    return link


def shown(link: Link) -> Shown:
    """What a link shows."""
    state = _state(link)
    contents = _shown.get(state) or _shown.put(state, _contents(link))
    return Shown(sha256(repr((state, link.by)).encode()).hexdigest()[:32], contents)


def picture(link: Link, contents: Contents) -> bytes:
    """The picture that stands for a link, as a PNG; worked out once for each state of what it
    shows."""
    state = sha256(_state(link).encode()).hexdigest()
    pictured = Link.objects.filter(pk=link.pk, pictured=state)
    known = pictured.values_list("picture", flat=True).first()
    if known is not None:
        return bytes(known)
    made = link_picture(contents)
    Link.objects.filter(pk=link.pk).update(picture=made, pictured=state)
    return made


def _digest(token: str) -> str:
    """What a token is found by, whatever it is made of, in the same time."""
    return sha256(token.encode("utf-8", "surrogatepass")).hexdigest()


def _state(link: Link) -> str:
    """What tells one state of what a link shows from another."""
    if not link.follows:
        return f"link {link.pk}"
    thing = link.clip or link.pattern or link.piece
    states: list[Any] = [type(thing).__name__, thing.pk, thing.name, thing.state]
    if thing is link.piece:
        for things in (link.piece.patterns, link.piece.clips):
            states += things.filter(deleted=None).values_list("name", "head_id")
    return repr(states)


def _contents(link: Link) -> Contents:
    if link.pk and not link.follows:
        return Contents.model_validate(link.contents)
    if link.clip:
        clip = piece_files.clip_document(link.clip, {}).model_copy(update={"recipe": None})
        return Contents(name=link.clip.name, clips=(clip,))
    if link.pattern:
        return Contents(name=link.pattern.name,
                        patterns=(piece_files.pattern_document(link.pattern),))
    return piece_files.piece_document(link.piece)
