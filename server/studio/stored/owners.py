"""What a musician owns besides pieces, and has only so much of."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.contrib.auth import get_user_model
from django.db import transaction


@contextmanager
def owner_locked(owner: int) -> Iterator[None]:
    """Nobody else adds to what this musician owns. Locked before a piece, where both are."""
    with transaction.atomic():
        get_user_model().objects.select_for_update(no_key=True).get(pk=owner)
        yield
