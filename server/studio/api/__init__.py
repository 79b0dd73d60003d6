"""The typed HTTP API; its OpenAPI document is docs/openapi.json."""

from django.core.exceptions import RequestDataTooBig
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from lattice import RecipeError, told
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from studio.api import (
    account,
    clip_edits,
    clips,
    cuttings,
    heard,
    leaving,
    library,
    links,
    order,
    patterns,
    piece_files,
    pieces,
    session,
    shared,
    sounds,
    telling,
    texts,
    throws,
)
from studio.api.reading import TOO_LARGE, UNREADABLE, StrictParser
from studio.api.signed_in import owner_now
from studio.api.stated import STATED
from studio.incoming.strictly import NotToBeKept, strictly
from studio.page import OUT_OF_DATE

api = NinjaAPI(title="Jolly Lattice", version="1", auth=owner_now, docs_url=None, openapi_url=None,
               parser=StrictParser(), openapi_extra={"x-stated": STATED})
api.add_router("", session.router)
api.add_router("", account.router)
api.add_router("", pieces.router)
api.add_router("", piece_files.router)
api.add_router("", patterns.router)
api.add_router("", cuttings.router)
api.add_router("", order.router)
api.add_router("", heard.router)
api.add_router("", clips.router)
api.add_router("", clip_edits.router)
api.add_router("", leaving.router)
api.add_router("", links.router)
api.add_router("", shared.router)
api.add_router("", library.router)
api.add_router("", sounds.router)
api.add_router("", telling.router)
api.add_router("", texts.router)
api.add_router("", throws.router)


@api.exception_handler(RecipeError)
def refused(request: HttpRequest, problem: RecipeError) -> HttpResponse:
    """What cannot be done, in one sentence."""
    return api.create_response(request, {"detail": str(problem)}, status=422)


@api.exception_handler(ValidationError)
def malformed(request: HttpRequest, problem: ValidationError) -> HttpResponse:
    """A request whose fields do not fit: the first that does not, in one sentence."""
    error = problem.errors[0]
    return api.create_response(request, {"detail": told(error["msg"], *error["loc"][2:])},
                               status=422)


@api.exception_handler(RequestDataTooBig)
def too_large(request: HttpRequest, problem: RequestDataTooBig) -> HttpResponse:
    """More than is read of a request that is no file."""
    return api.create_response(request, {"detail": TOO_LARGE}, status=413)


@api.exception_handler(HttpError)
def turned_away(request: HttpRequest, problem: HttpError) -> HttpResponse:
    """What the framework or a view turned away, the framework's own words made clear."""
    if str(problem) == "Cannot parse request body":
        return _unreadable(request)
    detail = {"CSRF check Failed": OUT_OF_DATE,
              "Too many requests.": "Too many tries; wait a minute and try again.",
              }.get(str(problem), str(problem))
    return api.create_response(request, {"detail": detail}, status=problem.status_code)


def _unreadable(request: HttpRequest) -> HttpResponse:
    """No JSON at all, or JSON with something in it that cannot be kept."""
    try:
        strictly(request.body)
    except NotToBeKept as problem:
        return api.create_response(request, {"detail": str(problem)}, status=422)
    except (ValueError, RecursionError):
        pass
    return api.create_response(request, {"detail": UNREADABLE}, status=400)


@api.exception_handler(AuthenticationError)
def stranger(request: HttpRequest, problem: AuthenticationError) -> HttpResponse:
    """Nobody is signed in."""
    return api.create_response(request, {"detail": "Sign in to go on."}, status=401)


@api.exception_handler(Http404)
def missing(request: HttpRequest, problem: Http404) -> HttpResponse:
    """Not there, or not this owner's: the two look alike."""
    return api.create_response(request, {"detail": "That is not here (any more)."}, status=404)


@api.exception_handler(MemoryError)
def out_of_room(request: HttpRequest, problem: MemoryError) -> HttpResponse:
    """The process may not take more memory; what it has worked on is given back."""
    return api.create_response(request, {
        "detail": "That was more than the server has room for; take fewer bars or lanes."},
        status=503)


@api.exception_handler(OperationalError)
@api.exception_handler(InterfaceError)
def store_away(request: HttpRequest, problem: Exception) -> HttpResponse:
    """The database cannot be reached."""
    return api.create_response(request, {
        "detail": "The store is away; what you made is safe. Try again in a moment."}, status=503)
