"""Starting recipes: those that come with the application, and the musician's own."""

from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from lattice import AnyEdit, Name, RecipeError, StartingRecipe, refusing, to_json
from ninja import Router, Schema
from pydantic import Field

from studio.api.answers import json_of
from studio.api.signed_in import FromOwner
from studio.limits import check_edits
from studio.models import OwnStart
from studio.stored.owners import owner_locked
from studio.worked_out.recipes import belongs, recipe_with
from studio.worked_out.starts import ShownStart, library, shown_start

router = Router(tags=["library"])
MOST_OWN = 500
MOST_AT_ONCE = 200


class LibraryOut(Schema):
    """All starting recipes, the musician's own first."""

    starts: list[ShownStart]


class SaveIn(Schema):
    """A lane to save as a starting recipe, as it stands with edits that are tried out."""

    pattern: int
    revision: int
    edits: list[AnyEdit] = Field(default=[], max_length=64)
    lane: str
    name: Name
    with_chords: bool = False


class ImportIn(Schema):
    """Starting recipes as they were taken out."""

    starts: list[dict[str, Any]] = Field(max_length=MOST_AT_ONCE)


def _own(request: FromOwner) -> list[ShownStart]:
    return [shown_start(StartingRecipe.model_validate(own.document), own.id)
            for own in OwnStart.objects.filter(owner=request.auth)]


def _keep(request: FromOwner, starts: list[StartingRecipe]) -> None:
    with owner_locked(request.auth):
        if OwnStart.objects.filter(owner=request.auth).count() + len(starts) > MOST_OWN:
            raise RecipeError(f"You can have {MOST_OWN} starting recipes of your own; take some "
                              "away.")
        OwnStart.objects.bulk_create(
            OwnStart(owner_id=request.auth, document=to_json(start)) for start in starts)


def _all(request: FromOwner) -> HttpResponse:
    return json_of({"starts": [*_own(request), *library()]})


@router.get("/library", response=LibraryOut)
def read_library(request: FromOwner) -> HttpResponse:
    """All starting recipes."""
    return _all(request)


@router.post("/library", response=LibraryOut)
def save_start(request: FromOwner, data: SaveIn) -> HttpResponse:
    """Save a lane as a starting recipe of one's own."""
    if not belongs(data.revision, data.pattern, request.auth):
        raise Http404
    check_edits(data.edits)
    recipe = recipe_with(data.revision, data.edits)
    lane = to_json(recipe.lane(data.lane))
    kept = {name: value for name, value in lane.items()
            if name not in ("id", "name", "channel", "mute", "solo", "seed")}
    with refusing():
        start = StartingRecipe(name=data.name, lane=kept,
                               chords=recipe.chords if data.with_chords else None)
    _keep(request, [start])
    return _all(request)


@router.post("/library/import", response=LibraryOut)
def import_starts(request: FromOwner, data: ImportIn) -> HttpResponse:
    """Take in starting recipes from a file; all of them, or none where one is damaged."""
    starts = []
    for number, document in enumerate(data.starts, 1):
        try:
            with refusing():
                starts.append(StartingRecipe.model_validate(document | {"group": "my own"}))
        except RecipeError as problem:
            raise RecipeError(f"Starting recipe {number} cannot be taken in: {problem}") from None
    _keep(request, starts)
    return _all(request)


@router.delete("/library/{start_id}", response=LibraryOut)
def delete_start(request: FromOwner, start_id: int) -> HttpResponse:
    """Take one of one's own away."""
    get_object_or_404(OwnStart, pk=start_id, owner=request.auth).delete()
    return _all(request)
