"""Who is signed in, for requests that come many a second while a word is dragged."""

import time
from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

from studio.memory import Memory

SECONDS = 2.0
"""After a sign-out or a new password elsewhere, a look is still answered for so long at most."""


class RecentlySignedIn(SessionAuth):
    """Django's session, asked of the database once in a while only. For calls that change nothing;
    `request.auth` is the user's id."""

    def __init__(self) -> None:
        super().__init__()
        self._known: Memory[str, tuple[float, int]] = Memory(2048)

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        if not key:
            return None
        now = time.monotonic()
        known = self._known.get(key)
        if known is not None and now - known[0] < SECONDS:
            return known[1]
        user = super().authenticate(request, key)
        if user is None:
            return None
        self._known.put(key, (now, user.pk))
        return user.pk

    def forget(self, key: str | None) -> None:
        """Somebody has just signed out here."""
        self._known.forget(key or "")


recently_signed_in = RecentlySignedIn()
