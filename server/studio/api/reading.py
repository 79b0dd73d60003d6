"""How the body of a request is read: strictly, as JSON that can be stored and answered again."""

from typing import Any

from django.http import HttpRequest
from ninja.parser import Parser

from studio.worked_out.strictly import strictly

UNREADABLE = "That request is not JSON; load the page again."


class StrictParser(Parser):
    """The API's way of reading bodies."""

    def parse_body(self, request: HttpRequest) -> Any:
        """What the body says."""
        return strictly(request.body)
