"""The Trail: passes as they were played, and clips kept from them."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Self
from uuid import UUID

from django.db import IntegrityError, connection, transaction
from django.http import Http404
from django.shortcuts import get_object_or_404
from lattice import (
    TICK,
    AnyEdit,
    Clip,
    Recipe,
    RecipeError,
    Segment,
    Speed,
    read,
    strangeness,
    take_clip,
    to_json,
)
from ninja import Schema
from pydantic import Field, TypeAdapter, model_validator

from studio import models
from studio.limits import (
    MOST_FOR_A_CLIP,
    MOST_FOR_AN_ORDER,
    MOST_WORK,
    check_count,
    check_edits,
    check_stretches,
)
from studio.stored import clips
from studio.worked_out.recipes import patterns_by_revision, recipe_of, recipe_with
from studio.worked_out.thumbs import thumb

MOST_SEGMENTS = 2000
PARTS_OF_A_BEAT = 12
SHOWN_PASSES = 200
"""So many passes of a pattern are on the Trail, the last ones."""
_edits: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[AnyEdit])
_speed = TypeAdapter(Speed).validate_python


class HeardSegment(Schema):
    """From `at` on the listener's time line: beats [start, end) of a revision with `edits` that
    were only previewed, `speed` of them in a beat of the listener's."""

    revision: int
    edits: list[AnyEdit] = Field(default=[], max_length=64)
    at: float = Field(ge=0, lt=2**31)
    start: float = Field(ge=0, lt=2**31)
    end: float = Field(ge=0, lt=2**31)
    speed: str = Field(default="1", max_length=13)

    @property
    def beats(self) -> float:
        """How long it was heard."""
        return (self.end - self.start) / float(_speed(self.speed))

    @model_validator(mode="after")
    def _lasts(self) -> Self:
        if self.end <= self.start:
            raise ValueError("A segment ends after it starts.")
        _speed(self.speed)
        return self


class HeardPass(Schema):
    """A pass as a page played it; `key` makes sending it twice harmless."""

    key: UUID
    number: int = Field(ge=0, lt=2**31)
    start: float = Field(ge=0, lt=2**31)
    beats: float = Field(ge=TICK, le=1024)
    segments: list[HeardSegment] = Field(min_length=1, max_length=MOST_SEGMENTS)

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if sum(each.beats for each in self.segments) > self.beats + 1e-3:
            raise ValueError("The segments of a pass last no longer than the pass.")
        return self


def remember(pattern_id: int, heard_pass: HeardPass) -> models.TrailPass:
    """Put a pass on the Trail; one that is there already is left as it is. The caller has checked
    that its revisions are of the pattern's piece."""
    entry = entry_of(pattern_id, heard_pass)
    taken = take("", entry.segments, entry.start, Fraction(entry.beats), MOST_WORK)
    entry.picture = thumb(taken)
    try:
        with transaction.atomic():
            entry.ordinal = _heard_one_more(pattern_id)
            entry.save(force_insert=True)
            return entry
    except IntegrityError:  # it was sent before
        return get_object_or_404(models.TrailPass.objects.defer("segments"), pattern_id=pattern_id,
                                 key=heard_pass.key)  # or its pattern has just been deleted


def strange(entries: Sequence[Any]) -> list[float | None]:
    """How strange each of these passes is among those of its `revision` that are as long, told by
    their pictures: which lanes have notes in which twelfths of a beat."""
    alike: dict[tuple[Any, str], list[int]] = {}
    for place, entry in enumerate(entries):
        alike.setdefault((entry.revision, entry.beats), []).append(place)
    found: list[float | None] = [None] * len(entries)
    for places in alike.values():
        parts = float(Fraction(entries[places[0]].beats)) * PARTS_OF_A_BEAT
        told = strangeness([{(lane["id"], round(share * parts)) for lane in entries[place].picture[
            "lanes"] for share, _ in lane["notes"]} for place in places])
        for place, each in zip(places, told, strict=True):
            found[place] = each
    return found


def _heard_one_more(pattern_id: int) -> int:
    """Count a pass in the pattern's piece, and how many it has then; Http404 where it has just been
    deleted for ever."""
    with connection.cursor() as cursor:
        cursor.execute("UPDATE studio_piece SET heard = heard + 1 WHERE id = (SELECT piece_id FROM "
                       "studio_pattern WHERE id = %s) RETURNING heard", (pattern_id,))
        if found := cursor.fetchone():
            return int(found[0])
    raise Http404


def entry_of(pattern_id: int, heard_pass: HeardPass) -> models.TrailPass:
    """A pass as the Trail holds it; it is not stored, and has no picture yet."""
    beats = Fraction(heard_pass.beats).limit_denominator(1024) or Fraction(TICK)
    return models.TrailPass(
        pattern_id=pattern_id, key=heard_pass.key, number=heard_pass.number,
        start=heard_pass.start, beats=str(beats),
        segments=[segment.model_dump(mode="json") for segment in heard_pass.segments])


def check_revisions(pattern: models.Pattern, wanted: set[int]) -> None:
    """RecipeError unless all these revisions are of patterns of this pattern's piece."""
    known = models.Revision.objects.filter(pattern__piece=pattern.piece, pk__in=wanted).count()
    if known != len(wanted):
        raise RecipeError("That pass names a revision that this piece does not have.")


def take(name: str, segments: list[dict[str, Any]], start: float, beats: Fraction,
         most: float = MOST_FOR_A_CLIP) -> Clip:
    """The clip that segments make (see lattice.clip.clip); RecipeError if it is more work than
    `most`."""
    patterns = patterns_by_revision({each["revision"] for each in segments})
    check_count((len(recipe_of(segment["revision"]).lanes) for segment in segments), most)
    edits = [_edits_of(segment) for segment in segments]
    check_edits([edit for each in edits for edit in each])
    stretches = [Segment(recipe_with(segment["revision"], each), segment["at"],
                         segment["start"], segment["end"], _speed(segment.get("speed", "1")),
                         pattern=patterns[segment["revision"]])
                 for segment, each in zip(segments, edits, strict=True)]
    check_stretches(((each.recipe, each.start, each.end) for each in stretches), most)
    return take_clip(name, stretches, start, beats)


def _edits_of(segment: dict[str, Any]) -> list[AnyEdit]:
    return _edits.validate_python(segment["edits"])


def made_by(kept: models.Clip) -> Recipe | None:
    """The recipe that a clip was taken from, as it was at the clip's end; None where it was not
    taken from a pattern."""
    if not kept.segments:
        return None
    last = kept.segments[-1]
    return read(last["recipe"]) if "recipe" in last else _played_last(kept.segments)


def _played_last(segments: Sequence[dict[str, Any]]) -> Recipe:
    return recipe_with(segments[-1]["revision"], _edits_of(segments[-1]))


def known_by(recipe: Recipe | None) -> list[dict[str, Any]]:
    """The segments of a clip that came in with the recipe that made it."""
    return [{"recipe": to_json(recipe)}] if recipe else []


def in_a_row(entries: list[models.TrailPass]) -> tuple[list[dict[str, Any]], Fraction]:
    """The segments of passes laid one after another from beat 0, and how long they last."""
    segments: list[dict[str, Any]] = []
    total = Fraction(0)
    for entry in entries:
        at = float(total)
        segments += [segment | {"at": segment["at"] - entry.start + at}
                     for segment in entry.segments]
        total += Fraction(entry.beats)
    return segments, total


@dataclass(frozen=True, slots=True)
class Stretch:
    """What a clip is to be made of: `beats` of these segments, from `start` on the listener's time
    line, under a name; `most` is the work that it may take."""

    name: str
    segments: list[dict[str, Any]]
    start: float
    beats: Fraction
    most: float = MOST_FOR_A_CLIP

    def taken(self) -> Clip:
        """The clip, note for note."""
        return take(self.name, self.segments, self.start, self.beats, self.most)

    @property
    def recipe(self) -> Recipe:
        """What played at its end."""
        return _played_last(self.segments)


def of_passes(pattern: models.Pattern, entries: list[models.TrailPass], first_bar: int,
              bars: int | None) -> Stretch:
    """Passes that follow each other, as they were heard; or so many `bars` of them from `first_bar`
    (from 1) on. RecipeError if there are not so many."""
    segments, total = in_a_row(entries)
    numbers = [entry.ordinal for entry in entries]
    name = f"pass {numbers[0]}" if len(numbers) == 1 else f"passes {numbers[0]}–{numbers[-1]}"
    in_order = numbers == list(range(numbers[0], numbers[0] + len(numbers)))
    if not in_order or len({entry.pattern_id for entry in entries}) > 1:
        name = f"{len(numbers)} passes as played"
    start, beats = Fraction(0), total
    if bars is not None:
        bar = recipe_of(segments[-1]["revision"]).bar_beats
        start, beats = (first_bar - 1) * bar, bars * bar
        if start + beats > total:
            raise RecipeError(f"These passes have {int(total / bar)} bars.")
        last = first_bar + bars - 1
        name += f", bar {first_bar}" if bars == 1 else f", bars {first_bar}–{last}"
    return Stretch(f"{pattern.name}, {name}", segments, float(start), beats,
                   MOST_FOR_AN_ORDER if len(entries) > 1 else MOST_FOR_A_CLIP)


def of_bars(pattern: models.Pattern, revision: int, edits: Sequence[AnyEdit], start: float,
            bars: int) -> Stretch:
    """So many bars of a revision with edits that are tried out on it, from a beat on."""
    check_revisions(pattern, {revision})
    recipe = recipe_of(revision)
    beats = bars * recipe.bar_beats
    first = int(start / recipe.bar_beats) + 1
    span = f"bar {first}" if bars == 1 else f"bars {first}–{first + bars - 1}"
    segment = {"revision": revision, "edits": [each.model_dump(mode="json") for each in edits],
               "at": start, "start": start, "end": start + float(beats)}
    return Stretch(f"{pattern.name}, {span}", [segment], start, beats)


def keep(pattern: models.Pattern, stretch: Stretch, key: UUID | None = None,
         passes: Sequence[int] = ()) -> models.Clip:
    """Lay a clip of a stretch on the Shelf; one that lies there under this key stays. `passes`:
    those of the Trail that it was made of."""
    kept = clips.shelve(pattern.piece, stretch.taken(), key, pattern=pattern,
                        segments=stretch.segments)
    models.TrailPass.objects.filter(pk__in=passes).update(kept=True)
    return kept
