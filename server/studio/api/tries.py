"""How often a password may be guessed for one name, from wherever."""

from collections.abc import Iterator
from contextlib import contextmanager
from hashlib import sha256

from django.core.cache import cache
from ninja.errors import HttpError

MOST_TRIES = 10
SECONDS = 5 * 60


class TooManyTries(Exception):
    """The wrong password was given too often for this name."""

    def __init__(self) -> None:
        super().__init__("Too many wrong passwords for this name; wait five minutes and try "
                         "again.")


@contextmanager
def tries_for(name: str) -> Iterator[None]:
    """One try to sign in as `name`; TooManyTries after ten that were refused within five minutes.
    The name is counted whether it exists or not, so that the count tells nothing of it."""
    key = f"tries/{sha256(name.strip().casefold().encode()).hexdigest()}"
    if cache.get(key, 0) >= MOST_TRIES:
        raise TooManyTries
    try:
        yield
    except HttpError:
        cache.add(key, 0, SECONDS)
        try:
            cache.incr(key)
        except ValueError:  # it has just run out
            cache.set(key, 1, SECONDS)
        raise
    cache.delete(key)
