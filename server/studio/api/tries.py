"""How often may be tried what could be guessed: passwords, and names that are taken."""

from collections.abc import Iterator
from contextlib import contextmanager
from hashlib import sha256

from django.core.cache import cache
from django.http import HttpRequest
from lattice import many
from ninja.errors import HttpError
from ninja.throttling import AnonRateThrottle, BaseThrottle

SECONDS = 15 * 60
"""So long after the last one wrong tries are remembered."""
FREE = 5
"""So many wrong passwords for a name from one address are taken without a wait."""
MANY = 50
"""After so many from anywhere, of each address only the first is."""
LONGEST_WAIT = 60
MOST_TAKEN = 10
"""So many names that are taken one address may try to take within SECONDS."""


class PerAddress(AnonRateThrottle):
    """So many calls of one kind a minute from one address, signed in or not."""

    def get_cache_key(self, request: HttpRequest) -> str:
        """Where the count of this address is kept."""
        return self.cache_format % {"scope": request.path, "ident": self.get_ident(request)}


def a_minute(count: int) -> list[BaseThrottle]:
    """So many calls of one kind a minute from one address."""
    return [PerAddress(f"{count}/m")]


@contextmanager
def tries_for(name: str, request: HttpRequest) -> Iterator[None]:
    """One try to sign in as `name`; HttpError 429 where it has to wait, the longer the more wrong
    passwords came from the same address for it, a minute at most. Nobody has to wait for what was
    tried from elsewhere, nor in whose name this browser is signed in already. A name is counted
    whether it exists or not, so that the count tells nothing of it."""
    name = name.strip().casefold()
    if request.user.get_username().casefold() == name:
        yield
        return
    everywhere, here = _place("name", name), _place("name and address", name, _address(request))
    number = _one_more(here)
    free = FREE if cache.get(everywhere, 0) < MANY else 1
    wait = 0 if number <= free else min(LONGEST_WAIT, 2 ** (number - free))
    if wait and not cache.add(f"{here}/turn", 1, wait):  # each wait lets one through
        cache.set(here, number - 1, SECONDS)
        raise HttpError(429, "Too many wrong passwords for this name; wait "
                             f"{many(wait, 'seconds')} and try again.")
    try:
        yield
    except HttpError:
        _one_more(everywhere)
        raise
    cache.delete(here)


def taken_was_tried(request: HttpRequest) -> None:
    """Somebody tried to take a name that is taken; HttpError 429 where an address does so too
    often, since the answer tells who is here."""
    if _one_more(_place("taken", _address(request))) > MOST_TAKEN:
        raise HttpError(429, "Too many names tried; wait a quarter of an hour and try again.")


def _address(request: HttpRequest) -> str:
    return str(AnonRateThrottle("1/m").get_ident(request))


def _place(*parts: str) -> str:
    return f"tries/{sha256(repr(parts).encode()).hexdigest()}"


def _one_more(place: str) -> int:
    """Count one, and tell how many there are now."""
    cache.add(place, 0, SECONDS)
    try:
        number = int(cache.incr(place))
    except ValueError:  # it has just run out
        number = 1
    cache.set(place, number, SECONDS)
    return number
