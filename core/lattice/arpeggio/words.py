"""The words for an arpeggio: the walk, its anchor, and the second walk."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from typing import Any

from lattice.arpeggio.fields import (
    FINEST,
    Arpeggio,
    ArpeggioFields,
    FirstNotes,
    Held,
    HitCount,
    Octaves,
)
from lattice.arpeggio.orders import ORDERS, order_of
from lattice.arpeggio.typed import (
    LONGEST_STRETCHES,
    read_exchanged,
    read_order,
    read_stretches,
    told_exchanged,
    told_order,
    told_stretches,
)
from lattice.base.clauses import ClauseKind, Fields, Names, Part
from lattice.base.errors import RecipeError
from lattice.base.percussion import drum_names
from lattice.base.values import (
    MAX_DENOMINATOR,
    Beats,
    Gate,
    Percent,
    StepLength,
    Velocity,
    half_up,
    limits,
)
from lattice.base.words import (
    Fold,
    Slot,
    choice,
    fraction,
    many,
    note,
    notes,
    number,
    percent,
    typed,
)
from lattice.pitch.key import Key
from lattice.pitch.names import names_in
from lattice.pitch.words import register_words, register_written

OWN = "own"
POOLS = {"chord": ("the chord", "the tones of the sounding chord"),
         "scale": ("the scale", "the notes of the key"),
         "held": ("what is held", "the notes held on the keys"),
         OWN: ("notes of its own", "any list of notes")}
EXTENDED = {"up": ("up", ""), "down": ("down", ""), "both": ("up and down", "to both sides")}
SOME = "some"
FIRST = {"one": ("one note a hit", ""), "all": ("all of them on the first", "then one note a hit"),
         SOME: ("several on the first", "so many of the lowest, then one note a hit")}
HITS = "hits"
RESTARTS = {"pass": ("in every pass", ""), "chord": ("with the chord", "with each chord anew"),
            "never": ("never", "counted on through time"), HITS: ("every so many hits", "")}
STRUCK = {"lane": ("as loud as the lane says", ""), "held": ("as loud as struck", "")}
ROOT, NOTE = "root", "note"
MODES = {"as-well": ("as well", "together with the walk's note"),
         "instead": ("instead", "in place of the walk's note")}
WALKS = {"on": ("goes on", "as if it had sounded"), "waits": ("waits", "its note comes next"),
         "restarts": ("begins again", "the next hit is its first")}


def _order_words(at: str, label: str, order: Any) -> list[Part]:
    """The words of an order: its name, or a list of places."""
    named = {each.name: (each.label, each.about) for each in ORDERS.values()} | {
        OWN: ("in its own order", "places, rests, holds, several at once")}
    if isinstance(order, str):
        return [choice(at, label, order, named)]
    return [choice(at, label, OWN, named), " ", typed(f"{at}_places", "order", told_order(order))]


def _order_written(at: str, slot: str, value: Any, order: Any) -> Fields | None:
    """Where a word of an order is written; None if it is none."""
    if slot == f"{at}_places":
        return {at: read_order(value)}
    if slot == at and value == OWN:
        known = isinstance(order, str) and order_of(order).period
        return {at: list(known(4)) if known else [0, 2, 1, 3]}
    return None


def _held_words(lane: ArpeggioFields, arpeggio: Arpeggio) -> list[Part]:
    if arpeggio.stretches:
        return [Fold(f", played in, {many(len(arpeggio.stretches), 'times')} a frame", [
            " (", typed("arpeggio.stretches", "what is held", told_stretches(
                arpeggio.stretches, _called(lane)), LONGEST_STRETCHES), ")"])]
    held = [each for each in arpeggio.held if isinstance(each, Held)]
    told = notes("arpeggio.held_notes", "notes held", [each.note for each in held], _called(lane))
    parts: list[Part] = [" (", told if held else replace(told, text="nothing yet"), ")"]
    if arpeggio.struck and held:
        low, high = limits(Velocity)
        struck = [each.velocity for each in held]
        parts.append(Fold("", [" struck ", Slot(
            "arpeggio.struck", "list", "velocities of the notes held", struck,
            " ".join(map(str, struck)), low, high, 1, (), 0)]))
    return parts


def _called(lane: ArpeggioFields) -> Sequence[str]:
    """What notes are called in a lane: by their drums, or in its key."""
    return names_in(lane.key or Key()) if lane.pitched else drum_names()


def _parts(lane: ArpeggioFields, names: Names) -> list[Part]:
    arpeggio = lane.arpeggio
    assert arpeggio is not None
    own = isinstance(arpeggio.pool, tuple)
    parts: list[Part] = [
        "Walk ", *_order_words("arpeggio.order", "order of the walk", arpeggio.order), " over ",
        choice("arpeggio.pool", "pool of the walk", OWN if own else arpeggio.pool, POOLS)]
    if isinstance(arpeggio.pool, tuple):
        parts += [" ", notes("arpeggio.pool_notes", "notes of the pool", arpeggio.pool,
                             _called(lane))]
    if arpeggio.pool == "held":
        parts += _held_words(lane, arpeggio)
    parts += [" through ", number("arpeggio.octaves", "octaves of the walk", arpeggio.octaves,
                                  *limits(Octaves)),
              " octave" if arpeggio.octaves == 1 else " octaves"]
    if arpeggio.octaves > 1:
        parts += [" ", choice("arpeggio.extend", "way of extending", arpeggio.extend, EXTENDED)]
    if lane.has_register:
        parts += [" ", *register_words(lane)]
    counted = isinstance(arpeggio.first, int)
    parts += [", ", choice("arpeggio.first", "first hit of the walk",
                           SOME if counted else arpeggio.first, FIRST)]
    if isinstance(arpeggio.first, int):
        parts += [", ", number("arpeggio.first_notes", "notes on the first hit", arpeggio.first,
                               *limits(FirstNotes)), " of them"]
    if arpeggio.pool == "held":
        parts += [", ", choice("arpeggio.velocities", "velocities of the walk",
                               arpeggio.velocities, STRUCK)]
    counted = isinstance(arpeggio.restart, int)
    parts += [", beginning again ", choice("arpeggio.restart", "restart of the walk",
                                           HITS if counted else arpeggio.restart, RESTARTS)]
    if isinstance(arpeggio.restart, int):
        parts += [", ", number("arpeggio.restart_hits", "hits until the walk restarts",
                               arpeggio.restart, *limits(HitCount))]
    if lane.kind == "drum" and arpeggio.exchanged:
        parts += [", with ", typed("arpeggio.exchanged", "drums that are exchanged",
                                   told_exchanged(arpeggio.exchanged, _called(lane)))]
    return [*parts, "."]


def _written(lane: ArpeggioFields, slot: str, value: Any) -> Fields:
    arpeggio = lane.arpeggio or Arpeggio()
    order = _order_written("arpeggio.order", slot, value, arpeggio.order)
    if order is not None:
        return order
    if slot == "arpeggio.pool" and value == OWN:
        return {slot: [lane.note, 42, 44] if lane.kind == "drum" else [60, 64, 67]}
    if slot == "arpeggio.held_notes":
        velocities = {each.note: each.velocity for each in arpeggio.held if isinstance(each, Held)}
        return {"arpeggio.held": [{"note": note, "velocity": velocities.get(note, 100)}
                                  for note in value]}
    if slot == "arpeggio.struck":
        held = [each.note for each in arpeggio.held if isinstance(each, Held)]
        if len(held) != len(value):
            raise RecipeError(f"{many(len(held), 'notes')} are held; a velocity for each follows "
                              "“struck”.")
        return {"arpeggio.held": [{"note": note, "velocity": velocity}
                                  for note, velocity in zip(held, value, strict=True)]}
    if slot == "arpeggio.stretches":
        return {"arpeggio.held": read_stretches(value, _called(lane))}
    if slot == "arpeggio.exchanged":
        return {slot: read_exchanged(value, _called(lane))}
    if slot == "arpeggio.restart" and value == HITS:
        return {slot: 8}
    if slot in ("arpeggio.first", "arpeggio.first_notes"):
        return {"arpeggio.first": 3 if value == SOME else value}
    if slot == "arpeggio.pool_notes":
        return {"arpeggio.pool": value}
    return {"arpeggio.restart": value} if slot == "arpeggio.restart_hits" else \
        register_written(lane, slot, value)


def _starts(lane: ArpeggioFields) -> dict[str, Any]:
    return {"pool": "scale"} if lane.kind == "drum" else \
        {"pool": "chord", "octaves": 2, "order": "up-down"}


def _forms(lane: ArpeggioFields) -> Iterator[Fields]:
    """Over any pool; over notes with their velocities, and over those of some beats only; with
    drums exchanged."""
    held = {"note": 60}
    stretch = {"start": "0", "beats": "1", "notes": [held]}
    walk = _starts(lane) | {"octaves": 1, "order": "up"}
    for form in (walk, {"pool": "held", "held": [held], "velocities": "held"},
                 {"pool": "held", "held": [stretch]}):
        yield {"arpeggio": form}
        if lane.kind == "drum":
            yield {"arpeggio": form | {"exchanged": [[60, 61]]}}


ARPEGGIO = ClauseKind[ArpeggioFields](
    "arpeggio", "arpeggio", lambda lane: lane.arpeggio is not None, _parts,
    starts=lambda lane: {"arpeggio": _starts(lane)},
    cleared=("arpeggio",), about="the hits walk over a pool of notes", group="which notes",
    often=True, writes=_written, forms=_forms)


def _anchor_parts(lane: ArpeggioFields, names: Names) -> list[Part]:
    anchor = lane.arpeggio and lane.arpeggio.anchor
    assert anchor
    at, every = "arpeggio.anchor", anchor.every
    by_steps = anchor.unit == "steps"
    distance = number(f"{at}.every", "distance of anchors", int(every), 1, 128) if by_steps else \
        fraction(f"{at}.every", "distance of anchors in beats", every, FINEST, limits(Beats)[1],
                 ["1/2", "1", "3/2", "2", "3", "4", "8"])
    parts: list[Part] = ["Every ", distance, " ",
                         choice(f"{at}.unit", "unit of the distance", anchor.unit,
                                {unit: (unit if every > 1 else unit[:-1], "")
                                 for unit in ("steps", "beats")}), " "]
    parts += [choice(f"{at}.note", "anchor", ROOT if anchor.note == ROOT else NOTE,
                     {ROOT: ("the root", "the first note of the pool"),
                      NOTE: ("note", "any note")})]
    if isinstance(anchor.note, int):
        parts += [" ", note(f"{at}.note_number", "note of the anchor", anchor.note, _called(lane))]
    parts += [" sounds ", choice(f"{at}.mode", "way of anchoring", anchor.mode, MODES),
              ", the walk ", choice(f"{at}.walk", "walk at an anchor", anchor.walk,
                                    WALKS if anchor.mode == "instead" else
                                    {name: WALKS[name] for name in ("on", "restarts")})]
    if anchor.velocity is not None:
        parts += [", at velocity ", number(f"{at}.velocity", "velocity of the anchor",
                                           anchor.velocity, *limits(Velocity))]
    return [*parts, ", ", percent(f"{at}.probability", "chance of the anchor", anchor.probability,
                                  *limits(Percent)), " of the time."]


def _anchor_written(lane: ArpeggioFields, slot: str, value: Any) -> Fields:
    at = "arpeggio.anchor"
    anchor = lane.arpeggio.anchor if lane.arpeggio else None
    if slot == f"{at}.unit" and anchor and value != anchor.unit:
        # It stays where it is in time, as far as the other unit goes.
        step = 4 * lane.step
        every = Fraction(min(128, max(1, half_up(float(anchor.every / step))))) \
            if value == "steps" else min(limits(Beats)[1], max(FINEST, anchor.every * step))
        return {slot: value, f"{at}.every": str(every)}
    if slot == f"{at}.note" and value == NOTE:
        return {slot: lane.note if lane.kind == "drum" else 48}
    if slot == f"{at}.mode" and value == "as-well" and anchor and anchor.walk == "waits":
        return {slot: value, f"{at}.walk": "on"}
    return {f"{at}.note" if slot == f"{at}.note_number" else slot: value}


def _anchor(lane: ArpeggioFields) -> dict[str, Any]:
    return {"note": lane.note if lane.kind == "drum" else ROOT,
            "every": 1 if lane.kind == "drum" else 4, "unit": "beats"}


def _anchor_forms(lane: ArpeggioFields) -> Iterator[Fields]:
    """As loud as the hit, and with a velocity of its own."""
    if lane.arpeggio is not None:
        for velocity in ({}, {"velocity": 100}):
            yield {"arpeggio.anchor": _anchor(lane) | velocity}


ANCHOR = ClauseKind[ArpeggioFields](
    "anchor", "anchor", lambda lane: lane.arpeggio is not None and
    lane.arpeggio.anchor is not None, _anchor_parts,
    starts=lambda lane: {"arpeggio.anchor": _anchor(lane)}, forms=_anchor_forms,
    cleared=("arpeggio.anchor",), possible=lambda lane: lane.arpeggio is not None,
    about="a note that always comes back", group="which notes", writes=_anchor_written)


def _second_parts(lane: ArpeggioFields, names: Names) -> list[Part]:
    second = lane.arpeggio and lane.arpeggio.second
    assert second
    at = "arpeggio.second"
    return ["All that sounds is walked again every ",
            fraction(f"{at}.step", "step of the second walk", second.step, *limits(StepLength)),
            " ", *_order_words(f"{at}.order", "order of the second walk", second.order),
            " through ", number(f"{at}.octaves", "octaves of the second walk", second.octaves,
                                *limits(Octaves)),
            " octave" if second.octaves == 1 else " octaves", ", each for ",
            percent(f"{at}.gate", "gate of the second walk", second.gate, *limits(Gate)), "."]


def _second_written(lane: ArpeggioFields, slot: str, value: Any) -> Fields:
    second = lane.arpeggio.second if lane.arpeggio else None
    written = _order_written("arpeggio.second.order", slot, value, second and second.order)
    return {slot: value} if written is None else written


def _second_starts(lane: ArpeggioFields) -> Fields:
    step = (lane.step / 3).limit_denominator(MAX_DENOMINATOR)
    return {"arpeggio.second": {"step": str(max(limits(StepLength)[0], step)), "octaves": 2}}


SECOND = ClauseKind[ArpeggioFields](
    "second", "second walk", lambda lane: lane.arpeggio is not None and
    lane.arpeggio.second is not None, _second_parts, starts=_second_starts,
    forms=lambda lane: [_second_starts(lane)] if lane.arpeggio else [],
    cleared=("arpeggio.second",), possible=lambda lane: lane.arpeggio is not None,
    about="what sounds is broken up again, as triplets over sixteenths", group="which notes",
    writes=_second_written)
