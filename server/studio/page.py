"""The page that the web application lives in."""

from functools import cache
from hashlib import sha256

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils.html import escape
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from studio.stored import links

ROBOTS = ('<meta name="robots" content="noindex, nofollow">'
          '<meta name="referrer" content="no-referrer">')
KEPT_FOR = 60
"""Seconds for which caches keep what a link shows; so long after its end it may be seen at most."""
OUT_OF_DATE = "This page is out of date; load it again."


@require_safe
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The built page; every address that is not the API's leads to it."""
    html = _built()
    if html is None:
        return _unbuilt()
    return HttpResponse(html, headers={"Cache-Control": "no-cache"})


@require_safe
def shared_page(request: HttpRequest, token: str) -> HttpResponse:
    """The same page at a link's address: with what stands for the link where it is pasted, without
    a cookie, not to be indexed. A link that leads nowhere has the plain page."""
    html = _built()
    if html is None:
        return _unbuilt()
    status, head = 200, ROBOTS
    try:
        link = links.found(token)
    except Http404:
        status = 404
    else:
        name = escape(links.shown(link).contents.name)
        about = f"by {escape(link.by)}, in Jolly Lattice" if link.by else "in Jolly Lattice"
        picture = escape(request.build_absolute_uri(f"/api/shared/{link.token}/picture.png"))
        html = html.replace(b"<title>Jolly Lattice</title>",
                            f"<title>{name} · Jolly Lattice</title>".encode(), 1)
        head += (f'<meta property="og:type" content="music.song">'
                 f'<meta property="og:title" content="{name}">'
                 f'<meta property="og:description" content="{about}">'
                 f'<meta property="og:image" content="{picture}">'
                 '<meta name="twitter:card" content="summary_large_image">')
    html = html.replace(b"</head>", f"{head}</head>".encode(), 1)
    return kept_by_caches(HttpResponse(html, status=status))


def kept_by_caches(answer: HttpResponse) -> HttpResponse:
    """What a link shows: caches may keep it for a while, nobody indexes it, and its address is sent
    on to nobody."""
    answer["Cache-Control"] = f"public, max-age={KEPT_FOR}"
    answer["X-Robots-Tag"] = "noindex, nofollow"
    answer["Referrer-Policy"] = "no-referrer"
    return answer


def _built() -> bytes | None:
    try:
        return bytes((settings.WEB_BUILD / "index.html").read_bytes())
    except OSError:
        return None


@cache
def build() -> str:
    """What tells one build of the application from another."""
    return sha256(_built() or b"").hexdigest()[:8]


def _unbuilt() -> HttpResponse:
    return HttpResponse("The web application is not built yet: run ./jolly demo.", status=503,
                        content_type="text/plain")


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
