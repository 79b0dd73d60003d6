"""The page that the web application lives in."""

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

OUT_OF_DATE = "This page is out of date; load it again."


@require_safe
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The built page; every address that is not the API's leads to it."""
    try:
        html = (settings.WEB_BUILD / "index.html").read_bytes()
    except OSError:
        return HttpResponse("The web application is not built yet: run ./jolly demo.", status=503,
                            content_type="text/plain")
    return HttpResponse(html, headers={"Cache-Control": "no-cache"})


@require_safe
def health(request: HttpRequest) -> HttpResponse:
    """For whoever watches over the service: whether this process reaches its database."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        return JsonResponse({"detail": "The store is away."}, status=503)
    return JsonResponse({"detail": "All is well."})


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A request without its token: the page is older than the session."""
    return JsonResponse({"detail": OUT_OF_DATE}, status=403)
