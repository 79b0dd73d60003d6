"""Measure the server's preview in one process; run by ./jolly bench."""

import json
import statistics
import time
from collections.abc import Callable
from functools import partial
from typing import Any

import jolly.wsgi  # noqa: F401  (the application, set up as it is served)
from django.core.management import call_command
from django.test import Client
from lattice import Recipe, read
from lattice.play import play
from lattice.rules.nth import nth_pattern
from studio.demo import demo_user, load
from studio.models import Pattern, Piece
from studio.stored import links, patterns
from studio.worked_out.recipes import recipe_of

PASSES = 4
ROUNDS = 200


def synthetic() -> Recipe:
    """16 lanes of 32 steps with every feature in use."""
    rules: list[dict[str, Any]] = [
        {"kind": "euclid", "pulses": 19, "rotation": 3}, {"kind": "nth", "pulses": 15,
         "index": "40000000"}, {"kind": "density", "amount": 60, "pull": 30},
        {"kind": "gaps", "of": "l0"}]
    return read({"seed": 5, "bars": 2, "swing": {"grid": "1/16", "percent": 58}, "lanes": [{
        "id": f"l{i}", "name": f"Lane {i}", "note": 36 + i, "steps": 32, "rule": rules[i % 4],
        "keep": {"every": 5, "drop": True}, "accent": {"every": 3, "add": 20},
        "contour": {"amount": 40}, "vary": {"velocity": [-9, 9], "time": [-4, 4]},
        "turns": {"3": [1, 2]}, "links": [{"steps": [4, 6, 8], "mode": "together"}],
        "strands": {"velocity": {"values": [96, 58, [60, 80]], "by": "hit"},
                    "probability": {"values": [100, 70, 85, 40, 95], "by": "cell"},
                    "nudge": {"values": [0, 6, -4], "by": "step"}},
        "rolls": [{"step": 2, "strokes": 3, "velocity": [100, 60], "probability": 70}]}
        for i in range(16)]})


def melodic() -> Recipe:
    """16 lanes, 8 of them pitched, 4 with arpeggios, and 2 controllers, over a progression."""
    walks: list[dict[str, Any]] = [
        {"octaves": 2, "order": "up-down", "restart": "chord"},
        {"pool": "scale", "order": "wander", "octaves": 2},
        {"octaves": 2, "order": "outside-in", "restart": "never",
         "anchor": {"note": "root", "every": 1, "unit": "beats"}},
        {"second": {"step": "1/24", "octaves": 2}}]
    lanes: list[dict[str, Any]] = [{
        "id": f"l{i}", "name": f"Lane {i}", "note": 36 + i, "steps": 16 - i % 3,
        "rule": {"kind": "euclid", "pulses": 7 + i % 4},
        "strands": {"velocity": {"values": [96, 58, 74], "by": "hit"}}} for i in range(16)]
    for i, lane in enumerate(lanes[:8]):
        lane |= {"kind": "pitched", "channel": i + 1, "reads": ("chord", "bend")[i % 2]}
        lane["strands"]["degree"] = {"values": [0, 2, {"all": [0, 2, 4]}, 5], "by": "hit"}
    for walk, lane in zip(walks, lanes[:4], strict=True):
        lane["arpeggio"] = walk
    for lane in lanes[-2:]:
        lane |= {"kind": "control", "channel": 1, "control": {"number": 74, "move": "glide"}}
        lane["strands"]["value"] = {"values": [30, [64, 110], 90], "by": "hit"}
    return read({"seed": 6, "key": {"root": 2, "scale": "dorian"}, "lanes": lanes,
                 "chords": {"text": "i7 IV7 bVII bIII", "beats": [4, 2, 2, 8]}})


def figures(run: Callable[[int], Any], rounds: int = ROUNDS) -> tuple[float, float]:
    """Median and 95th percentile in milliseconds, after a warm-up."""
    times = []
    for i in range(rounds + 10):
        begin = time.perf_counter()
        run(i)
        times.append((time.perf_counter() - begin) * 1000)
    return spread(times[10:])


def spread(times: list[float]) -> tuple[float, float]:
    """Median and 95th percentile."""
    return statistics.median(times), sorted(times)[int(len(times) * 0.95)]


def report(title: str, result: tuple[float, float], goal: str) -> None:
    print(f"{title:<58} median {result[0]:7.2f} ms   95 % {result[1]:7.2f} ms   {goal}")


def preview(client: Client, pattern: Pattern) -> Callable[[int], None]:
    """One look at a pattern as a drag asks for it: another value each time, and only what the page
    does not have."""
    recipe = recipe_of(pattern.state)
    beats = float(PASSES * recipe.frame_beats)
    lane = next(lane for lane in recipe.lanes if not lane.follows)
    have: list[str] = []

    def look(i: int) -> None:
        edit = {"do": "set", "lane": lane.id, "slot": "gate", "value": 20 + i % 700}
        body = {"revision": pattern.state, "edits": [edit], "start": 0, "end": beats,
                "chosen": lane.id, "have": have}
        answer = client.post(f"/api/patterns/{pattern.id}/look", data=json.dumps(body),
                             content_type="application/json")
        if answer.status_code != 200:
            raise SystemExit(f"preview was refused: {answer.content!r}")
        if not have:
            have.extend(answer.json()["parts"])

    return look


def _nth(steps: int, turn: int) -> object:
    return nth_pattern(steps // 2, steps, 3 * turn + 1)


def _opened(token: str, tags: dict[str, str] | None, turn: int) -> None:
    """What a page asks for that shows a link: itself, what is shown, and its first bars; with the
    validators that a cache has by now, if there is one."""
    stranger = Client(HTTP_HOST="127.0.0.1")
    shown = f"/api/shared/{token}"
    for path in (f"/l/{token}", shown, f"{shown}/patterns/0/passes/0"):
        tag = tags.get(path) if tags is not None else None
        answer = stranger.get(path, headers={"If-None-Match": tag} if tag else {})
        if answer.status_code != (304 if tag else 200):
            raise SystemExit(f"{path} was answered with {answer.status_code}")
        if tags is not None and "ETag" in answer:
            tags[path] = answer["ETag"]


def main() -> None:
    """Print the figures."""
    call_command("migrate", verbosity=0, interactive=False)
    load()
    client = Client(HTTP_HOST="127.0.0.1")
    client.force_login(demo_user())
    empty = figures(lambda i: client.get("/api/session"))
    report("an empty endpoint", empty, "")
    demo = Pattern.objects.filter(piece__owner=demo_user(), piece__deleted=None, deleted=None)
    largest = max(demo, key=lambda each: len(play(
        recipe_of(each.state), 0, float(PASSES * recipe_of(each.state).frame_beats))))
    piece = Piece.objects.create(owner=demo_user(), name="bench")
    try:
        made = patterns.begin(piece, "synthetic", synthetic())
        sung = patterns.begin(piece, "melodic", melodic())
        for title, pattern in ((f"preview, largest demo pattern ({largest.name})", largest),
                               ("preview, 16 lanes x 32 steps, every feature", made),
                               ("preview, 16 lanes: 8 pitched, 4 arpeggios, 2 controllers", sung)):
            result = figures(preview(client, pattern))
            report(title, result, f"goal 10 and 25; {result[0] / empty[0]:.1f} x empty")
        recipe = recipe_of(made.state)
        frame = float(recipe.frame_beats)
        # In turns, so that a busy moment of the machine falls on both alike.
        took: dict[int, list[float]] = {0: [], 4000: []}
        for _ in range(60):
            for first, times in took.items():
                begin = time.perf_counter()
                play(recipe, first * frame, (first + PASSES) * frame)
                times.append((time.perf_counter() - begin) * 1000)
        for first, times in took.items():
            report(f"core alone, nothing remembered, from pass {first:,}", spread(times), "")
        token = links.make(piece, None, None, "bench", "", True, None).token
        opening: dict[str, dict[str, str] | None] = {
            "a link that is opened, without a cache before it": None,
            "the same by a cache that asks whether anything has changed": {}}
        for title, tags in opening.items():
            report(title, figures(partial(_opened, token, tags)), "of 60 ms at 1,000 a minute")
    finally:
        piece.delete()
    for n in (8, 128):
        result = figures(partial(_nth, n))
        report(f"core: nth pattern of {n} steps", result, "goal 0.2")


if __name__ == "__main__":
    main()
