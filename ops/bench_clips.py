"""Measure what clips cost in the core alone, and hold many files against readers that are not
ours; run by ./jolly bench clips."""

import random
import resource
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from io import BytesIO
from pathlib import Path
from typing import Any

import mido
from hypothesis import HealthCheck, Phase, given, settings
from lattice import (
    Clip,
    Recipe,
    RecipeError,
    Segment,
    proposals,
    read,
    read_midi,
    song_clip,
    take_clip,
    to_json,
    to_midi,
)

from tests.core.melodies import melodic
from tests.core.readers import by_midicsv, by_mido, by_pretty_midi
from tests.core.recipes import documents

ROUNDS = 9
RECIPES, MUTATED = 1000, 10_000
SLOWEST, LARGEST = 2.0, 200 * 2**20
FILES = Path(__file__).resolve().parents[1] / "tests" / "core" / "files"


def kept(recipe: Recipe, bars: int) -> Clip:
    """The first bars of a recipe as a clip."""
    beats = bars * recipe.bar_beats
    return take_clip("Night Bloom", [Segment(recipe, 0, 0, float(beats))], 0, beats)


def milliseconds(act: Callable[[], Any]) -> float:
    """The median of some rounds."""
    found = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        act()
        found.append(time.perf_counter() - start)
    return 1000 * sorted(found)[ROUNDS // 2]


def lanes(count: int, **more: Any) -> Recipe:
    """A pattern of so many busy lanes."""
    return read({"bars": 4, "lanes": [{
        "id": f"l{i}", "name": f"Lane {i}", "note": 36 + i, "steps": 16,
        "rule": {"kind": "euclid", "pulses": 16 - i % 5}, "vary": {"velocity": [-9, 9]}} | more
        for i in range(count)]})


def figures() -> None:
    """Export, import, and saying it shorter."""
    sixteen = kept(lanes(16), 64)
    print(f"export of 64 bars x 16 lanes, {len(sixteen.notes):,} notes: "
          f"{milliseconds(lambda: to_midi(sixteen)):.0f} ms (goal 150)")
    file = mido.MidiFile(ticks_per_beat=480)
    for channel in range(10):
        file.tracks.append(mido.MidiTrack(message for number in range(5000) for message in (
            mido.Message("note_on", channel=channel, note=40 + number % 40, velocity=90, time=10),
            mido.Message("note_off", channel=channel, note=40 + number % 40, time=20))))
    buffer = BytesIO()
    file.save(file=buffer)
    data = buffer.getvalue()
    theirs = milliseconds(lambda: mido.MidiFile(file=BytesIO(data)))
    ours = milliseconds(lambda: song_clip(read_midi(data), "x"))
    print(f"import of 50,000 notes: {ours:.0f} ms, {ours / theirs:.2f} times mido's own parse "
          "(goal 1.5, and 2,000 ms)")
    generator = random.Random(4)
    for name, hits in (("random", [i for i in range(64) if generator.random() < 0.4]),
                       ("spread", [i * 64 // 19 for i in range(19)])):
        recipe = read({"bars": 4, "lanes": [{
            "id": "drip", "name": "Drip", "steps": 64, "rule": {"kind": "hand", "hits": hits},
            "strands": {"velocity": {"values": [90 + i % 7 * 3 for i in range(64)]}}}]})
        print(f"say it shorter, 64 steps, {name}: "
              f"{milliseconds(partial(proposals, recipe, 'drip')):.0f} ms (goal 300)")


def readers() -> None:
    """What was written of random recipes, as three readers find it."""
    agreed = 0
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "clip.mid"

        @settings(max_examples=RECIPES, database=None, deadline=None, phases=[Phase.generate],
                  suppress_health_check=list(HealthCheck))
        @given(documents() | melodic(documents()))
        def each(document: dict[str, Any]) -> None:
            nonlocal agreed
            taken = kept(read(document | {"tempo": 120}), 4)
            path.write_bytes(to_midi(taken))
            notes = by_mido(path)
            if by_midicsv(path) != notes or by_pretty_midi(path, taken.tempo) != sorted(
                    note[1:] for note in notes):
                raise SystemExit(f"readers differ on {document}")
            agreed += 1

        each()
    print(f"{agreed:,} random recipes: mido, midicsv and pretty_midi find the same notes")


def mutated() -> None:
    """Damaged files: a refusal in a sentence, or a clip."""
    generator = random.Random(9)
    originals = [path.read_bytes() for path in sorted(FILES.glob("*.mid"))]
    originals.append(to_midi(kept(lanes(4), 4), recipe=to_json(lanes(4))))
    refused = taken = 0
    slowest = 0.0
    for _ in range(MUTATED):
        data = bytearray(generator.choice(originals))
        for _ in range(generator.randint(1, 8)):
            at = generator.randrange(len(data))
            way = generator.random()
            if way < 0.7:
                data[at] = generator.randrange(256)
            elif way < 0.85:
                del data[at:at + generator.randint(1, 40)]
            else:
                data[at:at] = generator.randbytes(generator.randint(1, 40))
            if not data:
                break
        start = time.perf_counter()
        try:
            Clip.model_validate(to_json(song_clip(read_midi(bytes(data)), "x")))
            taken += 1
        except RecipeError as problem:
            refused += str(problem).endswith(".")
        slowest = max(slowest, time.perf_counter() - start)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{MUTATED:,} damaged files: {refused:,} refused in a sentence, {taken:,} taken; the "
          f"slowest {slowest:.2f} s (goal {SLOWEST:g}), {peak:.0f} MB in all (goal 200)")


if __name__ == "__main__":
    print("Clips, in the core alone", flush=True)
    mutated()
    figures()
    readers()
    sys.exit(0)
