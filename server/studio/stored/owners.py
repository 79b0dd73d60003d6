"""What a musician owns besides pieces, and has only so much of."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.contrib.auth import get_user_model
from django.db import transaction
from lattice import RecipeError

from studio.models import Piece

MOST_PIECES = 1000


@contextmanager
def owner_locked(owner: int) -> Iterator[None]:
    """Nobody else adds to what this musician owns. Locked before a piece, where both are."""
    with transaction.atomic():
        get_user_model().objects.select_for_update(no_key=True).get(pk=owner)
        yield


def check_pieces(owner: int, more: int) -> None:
    """RecipeError if a musician, who is locked, may not have so many more pieces."""
    if Piece.objects.filter(owner=owner, deleted=None).count() + more > MOST_PIECES:
        raise RecipeError(f"You can have {MOST_PIECES:,} pieces; save some as files and delete "
                          "them first.")
