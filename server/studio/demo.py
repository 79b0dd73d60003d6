"""The demo: "Glasshouse After Dark", music for a night walk through a botanical glasshouse."""

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from lattice import Block, MakeFill, Order, read

from studio.models import Pattern, Piece
from studio.stored import orders, patterns, trail
from studio.worked_out.recipes import recipe_of

DEMO_USER = "glasshouse"


def euclid(pulses: int, rotation: int = 0) -> dict[str, Any]:
    """A spread of hits."""
    return {"kind": "euclid", "pulses": pulses, "rotation": rotation}


def hand(*steps: int) -> dict[str, Any]:
    """Hits by hand, on steps counted from 1."""
    return {"kind": "hand", "hits": [step - 1 for step in steps]}


def lane(name: str, note: int, steps: int, rule: dict[str, Any], **more: Any) -> dict[str, Any]:
    """A lane of the demo."""
    return {"id": name.lower(), "name": name, "note": note, "steps": steps, "rule": rule} | more


def strand(*values: Any, by: str = "hit") -> dict[str, Any]:
    """A strand of values."""
    return {"values": list(values), "by": by}


DRIZZLE = [
    lane("Pump", 36, 16, euclid(4), velocity=112),
    lane("Valve", 38, 16, euclid(2, 4), velocity=98, gate=120),
    lane("Drip", 42, 12, euclid(7), gate=60,
         strands={"velocity": strand(96, 58, 74), "probability": strand(100, 55, 80)},
         vary={"velocity": [-9, 9]}, accent={"every": 3, "add": 24},
         rolls=[{"step": 2, "strokes": 3, "velocity": [100, 55]}]),
    lane("Fan", 70, 5, euclid(4), span="fit", velocity=78,
         strands={"probability": strand(100, 60, by="step")}),
    lane("Fern", 76, 9, euclid(5, 1), velocity=70, gate=70,
         strands={"nudge": strand(0, 6, 12, by="step")}),
    lane("Mist", 54, 12, {"kind": "gaps", "of": "drip"}, keep={"every": 3, "from": 2},
         velocity=62, probability=55),
]
DOWNPOUR = [
    lane("Pump", 36, 16, hand(1, 5, 8, 9, 13), velocity=114),
    lane("Valve", 39, 16, euclid(2, 4), velocity=96),
    lane("Drip", 42, 32, euclid(21), step="1/32", velocity=80, gate=50,
         contour={"amount": 60}, vary={"velocity": [-6, 6]}, probability=85,
         rate_path=[{"start": "3", "beats": "1", "step": "1/24", "human": 70},
                    {"start": "6", "beats": "1", "step": "1/16", "human": 20},
                    {"start": "7", "beats": "1", "step": "1/48", "human": 40}]),
    lane("Fan", 46, 16, euclid(4, 2), velocity=84, gate=150,
         strands={"tie": strand(0, 0, 1, 0)}),
    lane("Fern", 75, 7, euclid(3), span="fit", velocity=72),
    lane("Mist", 69, 16, {"kind": "density", "amount": 45, "pull": -60}, velocity=58,
         vary={"velocity": [-12, 12], "time": [-5, 5]}),
]
IDLE = [
    lane("Pump", 36, 16, hand(1, 4, 8, 11), velocity=110),
    lane("Valve", 38, 16, euclid(2, 4), velocity=100,
         rolls=[{"start": "15/2", "beats": "1/2", "strokes": 6, "velocity": [45, 100],
                 "curve": "gathering", "probability": 60}]),
    lane("Drip", 42, 16, euclid(11), velocity=88, gate=55,
         strands={"velocity": strand(92, 60, 78, 50, 70)}, turns={"14": [2, 2]}),
    lane("Fan", 56, 14, {"kind": "nth", "pulses": 5, "index": "812"}, velocity=66, gate=60,
         swing="straight"),
    lane("Fern", 77, 10, euclid(3, 2), velocity=74, direction="bounce",
         strands={"gate": strand(60, 180, 90)}),
    lane("Mist", 44, 8, {"kind": "answer", "of": "pump", "every": 2, "place": "1/2"},
         velocity=70, step="1/8"),
]
PRESSURE = [
    lane("Pump", 35, 16, euclid(5), velocity=112, pins={"14": True}),
    lane("Valve", 40, 16, euclid(2, 4), velocity=102),
    lane("Drip", 42, 24, euclid(16), step="1/24", velocity=84, gate=50,
         strands={"velocity": strand(90, 52, 66)}, window=[0, 17], direction="bounce"),
    lane("Fan", 49, 16, hand(1), span="once", velocity=80, gate=400, turns={"0": [1, 4]}),
    lane("Fern", 64, 9, euclid(4), velocity=82, direction="bounce-twice",
         links=[{"steps": [2, 4, 7], "mode": "one", "probability": 100}]),
    lane("Mist", 70, 5, euclid(5), span="fit", velocity=54, probability=70,
         paths=[{"word": "probability", "shape": "wave", "from": 70, "to": 20, "bars": 8}]),
]
BUD = [
    lane("Pump", 36, 14, hand(1, 7, 11), velocity=104),
    lane("Valve", 37, 14, hand(5, 13), velocity=86),
    lane("Drip", 42, 7, euclid(4), step="1/8", velocity=76, gate=45, reverse=True),
    lane("Fan", 81, 5, euclid(3), span="fit", fit_bars=2, velocity=64, gate=300),
    lane("Fern", 76, 9, euclid(4), velocity=68, direction="wander",
         swing={"grid": "1/8", "percent": 60}, strands={"octave": strand(0, 0, 1, by="step")}),
    lane("Mist", 69, 14, euclid(9), velocity=50, vary={"velocity": [-14, 14]}, probability=80,
         probability_scale=90, direction="random",
         strands={"roll": strand(1, 1, 1, 2, by="cell")}),
]
OPEN = [
    lane("Pump", 36, 14, euclid(4), velocity=110),
    lane("Valve", 38, 14, hand(5, 12), velocity=96, restart_bars=1),
    lane("Drip", 42, 14, euclid(9), velocity=82, gate=50, flip=True,
         keep={"every": 4, "drop": True},
         rolls=[{"start": "3", "beats": "1/2", "strokes": 3, "velocity": [60, 110]},
                {"start": "6", "beats": "1", "strokes": 6, "velocity": [115, 45],
                 "pitch": [0, -7], "curve": "slackening", "turns": [2, 2]}]),
    lane("Fan", 53, 7, euclid(3), step="1/12", velocity=72, gate=200),
    lane("Fern", 67, 11, euclid(5, 2), velocity=70, direction="backward",
         links=[{"steps": [0, 2, 5], "mode": "together", "probability": 60}]),
    lane("Mist", 54, 14, {"kind": "gaps", "of": "pump"}, keep={"every": 2}, velocity=56,
         shift="1/64", squeeze=40, vary={"velocity": [-20, 20]}),
]

CANOPY = [
    lane("Pump", 36, 16, euclid(4), velocity=108),
    lane("Drip", 42, 16, euclid(11), velocity=78, gate=50,
         strands={"velocity": strand(92, 58, 74)}),
    lane("Root", 36, 16, euclid(6), kind="pitched", channel=2, octave=2, reads="chord", gate=80,
         sound={"by": "bass"}, velocity=104, near=True,
         strands={"degree": strand(0, 0, 2, 0, 1)}),
    lane("Bells", 36, 16, euclid(9), kind="pitched", channel=3, velocity=84, gate=120,
         sound={"by": "bell"}, probability=90, strands={"velocity": strand(96, 64, 78)},
         arpeggio={"pool": "chord", "octaves": 2, "order": "up-down", "restart": "chord",
                   "anchor": {"note": "root", "every": 4, "unit": "beats"}}),
    lane("Pads", 36, 4, hand(1, 3), kind="pitched", channel=4, step="1/2", velocity=62, gate=96,
         sound={"by": "pad"}, voicing="smooth", octave=3,
         strands={"degree": strand({"all": "chord"})}),
    lane("Glow", 36, 8, euclid(8), kind="control", channel=3, step="1/4",
         control={"number": 74, "move": "glide"},
         strands={"value": strand(58, 82, 74, [70, 118], 90, [60, 110])}),
]
CISTERN = [
    lane("Kettle", 36, 16, euclid(11), velocity=96, gate=60,
         arpeggio={"pool": [36, 42, 38, 42, 46], "order": [0, 1, "rest", 2, 1, "hold", 3, [0, 3]],
                   "restart": 8,
                   "anchor": {"note": 36, "every": 4, "unit": "beats", "mode": "instead"}}),
    lane("Lids", 60, 12, euclid(7), velocity=74, gate=50,
         sound={"by": "tin", "set": {"ring": [20, 70]}},
         arpeggio={"pool": "scale", "order": "shuffle", "exchanged": [[62, 75]]},
         strands={"velocity": strand(84, 56, 70)}),
    lane("Root", 36, 16, euclid(5), kind="pitched", channel=2, octave=2, sound={"by": "bass"},
         velocity=100, strands={"degree": strand(0, 0, 4, 0, 3, 6, -1)}),
    lane("Reed", 36, 10, euclid(4, 1), kind="pitched", channel=3, octave=5, gate=150,
         sound={"by": "reed", "set": {"glide": 30}}, velocity=70, reads="bend",
         strands={"degree": strand(0, [2, 4], 1, 5, [-1, 2])}),
    lane("Glass", 36, 8, euclid(3), kind="pitched", channel=4, step="1/8", gate=200,
         sound={"by": "glass"}, velocity=66,
         arpeggio={"pool": "chord", "octaves": 3, "order": "outside-in", "restart": "never",
                   "second": {"step": "1/24", "order": "up", "octaves": 2}}),
    lane("Glow", 36, 10, {"kind": "where", "of": "reed"}, kind="control", channel=3,
         control={"number": 74}, by_velocity=[40, 110]),
    lane("Mist", 36, 4, euclid(4), kind="control", channel=4, step="1/4",
         control={"number": 10, "move": "glide"},
         paths=[{"word": "value", "shape": "wave", "from": 30, "to": 98, "bars": 8}]),
]

PIECES: list[tuple[str, dict[str, Any], dict[str, tuple[dict[str, Any], list[dict[str, Any]]]]]] = [
    ("Sprinklers", {"tempo": 124, "key": {"root": 2, "scale": "dorian"}}, {
        "Drizzle": ({"seed": 7, "swing": {"grid": "1/16", "percent": 56}}, DRIZZLE),
        "Downpour": ({"seed": 11, "bars": 2, "probability_scale": 95}, DOWNPOUR)}),
    ("Pump Room", {"tempo": 98, "key": {"root": 9, "scale": "minor"}}, {
        "Idle": ({"seed": 3, "bars": 2, "swing": {"grid": "1/16", "percent": 61},
                  "gusts": [{"every": 4, "from": 2, "lanes": ["fern"]}]}, IDLE),
        "Pressure": ({"seed": 5}, PRESSURE)}),
    ("Night Bloom", {"tempo": 136, "meter": [7, 8], "key": {"root": 4, "scale": "phrygian"}}, {
        "Bud": ({"seed": 21}, BUD),
        "Open": ({"seed": 22, "bars": 2, "swing": {"grid": "1/16", "percent": 54}}, OPEN)}),
    ("Canopy Walk", {"tempo": 118, "key": {"root": 2, "scale": "dorian"}}, {
        "Canopy": ({"seed": 31, "bars": 2, "chords": {
            "text": "i7 IV7 bVII bIII", "beats": [8, 4, 4, 16]}}, CANOPY),
        "Cistern": ({"seed": 32, "swing": {"grid": "1/16", "percent": 55}}, CISTERN)}),
]

ORDERS: dict[str, tuple[tuple[int, int] | None, list[tuple[str, dict[str, Any]]]]] = {
    "Sprinklers": ((2, 3), [
        ("Drizzle", {"count": 2}), ("Downpour", {}), ("Drizzle", {"first": 2}),
        ("Downpour", {"speed": "1/2", "without": ["mist"]}), ("Drizzle", {"count": 2})]),
    "Night Bloom": (None, [
        ("Bud", {"count": 4}), ("Open", {"count": 2}), ("Bud", {"count": 2, "speed": "3/2"}),
        ("Open", {"count": 1, "unit": "bars"})]),
    "Canopy Walk": (None, [
        ("Canopy", {"count": 2}), ("Cistern", {"count": 4}), ("Canopy", {"degrees": 3}),
        ("Canopy", {"key": {"root": 2, "scale": "minor"}, "without": ["drip"]})]),
}
"""The order of a piece's patterns: its brackets, and its blocks by their patterns' names."""

FILLS = {"Idle": 3}
"""Patterns whose last bar is a fill in every fourth pass, and by which throw."""


def demo_user() -> User:
    """The demo's account; nobody knows its password, as it has none."""
    user, made = User.objects.get_or_create(username=DEMO_USER)
    if made:
        user.set_unusable_password()
        user.save()
    return user


@transaction.atomic
def load() -> bool:
    """Make the demo's pieces, unless its account has pieces already; whether it did."""
    user = demo_user()
    if Piece.objects.filter(owner=user).exists():
        return False
    for name, shared, contents in PIECES:
        piece = Piece.objects.create(owner=user, name=name)
        for pattern_name, (own, lanes) in contents.items():
            recipe = read(shared | own | {"lanes": lanes})
            if pattern_name in FILLS:
                recipe = MakeFill(do="make_fill", throw=FILLS[pattern_name]).apply(recipe)
            pattern = patterns.begin(piece, pattern_name, recipe)
            _shelve(pattern, 4 if pattern_name in ("Drizzle", "Idle") else 2)
        if name in ORDERS:
            between, blocks = ORDERS[name]
            numbers = {pattern.name: pattern.pk for pattern in piece.patterns.all()}
            orders.begin(piece, Order(between=between, blocks=tuple(
                Block.model_validate({"pattern": numbers[pattern]} | fields)
                for pattern, fields in blocks)))
    return True


def _shelve(pattern: Pattern, bars: int) -> None:
    """Put the pattern's first bars on the Shelf."""
    recipe = recipe_of(pattern.state)
    beats = bars * recipe.bar_beats
    segment = {"revision": pattern.state, "edits": [], "at": 0, "start": 0, "end": float(beats)}
    trail.shelve(pattern, [segment], 0, beats, f"{pattern.name}, bars 1–{bars}")
