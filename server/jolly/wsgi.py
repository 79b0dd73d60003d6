"""The application as a WSGI server runs it."""

import gc
import os
from collections.abc import Callable, Iterable
from importlib import import_module
from typing import Any

from django.core.wsgi import get_wsgi_application
from lattice import Document

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jolly.settings")
_answer = get_wsgi_application()
import_module("jolly.urls")  # all of the API, before the first one asks
Document.ready()


def application(environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
    """Django; an answer to HEAD ends after its headers (RFC 9110, 9.3.2), since what followed would
    be read as the beginning of the next answer."""
    answer = _answer(environ, start_response)
    if environ["REQUEST_METHOD"] != "HEAD":
        return answer
    answer.close()
    return []


# What is loaded once need not be looked through again: a full collection would hold up a preview.
gc.collect()
gc.freeze()
# What is kept at hand is large and has no cycles: look through all of it seldom.
gc.set_threshold(2000, 20, 200)
