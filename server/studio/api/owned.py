"""What belongs to whoever asks; all else is not there for them."""

from django.db.models import Model, QuerySet
from django.shortcuts import get_object_or_404
from ninja import Schema

from studio.api.signed_in import FromOwner
from studio.models import Clip, Pattern, Piece


def say_anew(thing: Model, data: Schema) -> None:
    """Let something have what is said of it; what is not named stays."""
    said = {name: value for name, value in data.model_dump().items() if value is not None}
    for name, value in said.items():
        setattr(thing, name, value)
    thing.save(update_fields=list(said))


def pieces_of(request: FromOwner) -> QuerySet[Piece]:
    """The signed-in owner's pieces, the deleted ones too."""
    return Piece.objects.filter(owner=request.auth)


def patterns_of(request: FromOwner) -> QuerySet[Pattern]:
    """The signed-in owner's patterns, the deleted ones too, but none of a deleted piece."""
    return Pattern.objects.filter(piece__owner=request.auth, piece__deleted=None) \
        .select_related("head", "piece").defer("head__recipe")


def pattern_of(request: FromOwner, pattern_id: int) -> Pattern:
    """The signed-in owner's pattern; Http404 where it is not theirs, or deleted."""
    return get_object_or_404(patterns_of(request), pk=pattern_id, deleted=None)


def clips_of(request: FromOwner) -> QuerySet[Clip]:
    """The signed-in owner's clips, the deleted ones too, but none of a deleted piece."""
    return Clip.objects.filter(piece__owner=request.auth, piece__deleted=None) \
        .select_related("pattern")
