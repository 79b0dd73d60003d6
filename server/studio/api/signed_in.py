"""Who is signed in, for requests that come many a second while a word is dragged."""

import time
from collections import OrderedDict
from threading import Lock
from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

SECONDS = 2.0
"""After a sign-out or a new password elsewhere, a look is still answered for so long at most."""
_MOST_KEPT = 512


class RecentlySignedIn(SessionAuth):
    """Django's session, asked of the database once in a while only. For calls that change nothing;
    `request.auth` is the user's id."""

    def __init__(self) -> None:
        super().__init__()
        self._known: OrderedDict[str, tuple[float, int]] = OrderedDict()
        self._lock = Lock()

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        if not key:
            return None
        now = time.monotonic()
        with self._lock:
            seen, owner = self._known.get(key, (now - SECONDS, 0))
        if now - seen < SECONDS:
            return owner
        user = super().authenticate(request, key)
        if user is None:
            return None
        with self._lock:
            self._known[key] = (now, user.pk)
            while len(self._known) > _MOST_KEPT:
                self._known.popitem(last=False)
        return user.pk

    def forget(self, key: str | None) -> None:
        """Somebody has just signed out here."""
        with self._lock:
            self._known.pop(key or "", None)


recently_signed_in = RecentlySignedIn()
