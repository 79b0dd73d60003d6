"""How the body of a request is read: strictly, as JSON that can be stored and answered again."""

from typing import Any

from django.conf import settings
from django.http import HttpRequest
from ninja.parser import Parser

from studio.incoming.strictly import strictly

UNREADABLE = "That request is not JSON; load the page again."
MOST_MB = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // 2**20
TOO_LARGE = f"A request takes up to {MOST_MB} MB; do that in parts."


class StrictParser(Parser):
    """The API's way of reading bodies."""

    def parse_body(self, request: HttpRequest) -> Any:
        """What the body says."""
        return strictly(request.body)
