"""The plain engine for pitched lanes and arpeggios: every chord, walk and anchor is gone through
from time 0."""

from bisect import bisect_left, bisect_right
from fractions import Fraction
from functools import cache
from itertools import zip_longest
from math import floor
from typing import Any

from tests.core.naive import Cell, Lane, Naive, folded

SCALES = {"major": [0, 2, 4, 5, 7, 9, 11], "minor-pentatonic": [0, 3, 5, 7, 10],
          "dorian": [0, 2, 3, 5, 7, 9, 10], "whole-tone": [0, 2, 4, 6, 8, 10]}
CHORDS = {  # word: root above the key's, bass above the key's, tones above the root
    "I": (0, 0, [0, 4, 7]), "ii7": (2, 2, [0, 3, 7, 10]), "V9": (7, 7, [0, 4, 7, 10, 14]),
    "bVII": (10, 10, [0, 4, 7]), "IV/3": (5, 9, [0, 4, 7]), "V7/V": (2, 2, [0, 4, 7, 10]),
    "visus4": (9, 9, [0, 5, 7]), "I/D": (0, None, [0, 4, 7])}
Pitch = tuple[int, float]
"""A pitch, and the velocity that holds in place of the lane's (0: none)."""


def ladder(root: int, above: list[int]) -> list[int]:
    """Every pitch far up and down whose class is among those above a root."""
    return _ladder(root % 12, tuple(above))


@cache
def _ladder(root: int, above: tuple[int, ...]) -> list[int]:
    return [p for p in range(-1200, 1300) if (p - root) % 12 in above]


def stepped(pitches: list[int], start: int, steps: int) -> int:
    return pitches[pitches.index(start) + steps]


class NaivePitch(Naive):
    """A document with pitched lanes, chords and arpeggios, walked through up to `end` beats."""

    def __init__(self, document: dict[str, Any], end: int) -> None:
        super().__init__(document, end)
        self.key: dict[str, Any] = document["key"]
        self.entries: list[tuple[Fraction, Fraction, str]] = []  # begins, the run's begin, word
        chords = document.get("chords")
        at = run = Fraction(0)
        while chords and at < end + 60:
            for i, word in enumerate(chords["text"].split()):
                self.entries.append((at, run, word))
                at += Fraction(chords["beats"][i])
            run = at

    def entry(self, at: Fraction) -> tuple[Fraction, Fraction, str] | None:
        return next((e for e in reversed(self.entries) if e[0] <= at), None)

    def scale(self, lane: Lane) -> tuple[int, list[int]]:
        key = lane.get("key") or self.key
        return key["root"], SCALES[key["scale"]]

    def chord(self, lane: Lane, at: Fraction) -> tuple[int, int, list[int]]:
        """Root, bass and tones above the root of what sounds."""
        entry = self.entry(at)
        if entry is None:
            root, scale = self.scale(lane)
            for triad in ([0, 4, 7], [0, 3, 7], [0, 3, 6], [0, 4, 8]):
                if all(tone in scale for tone in triad):
                    return root, root, triad
            raise AssertionError
        root, bass, tones = CHORDS[entry[2]]
        root += self.key["root"]
        if bass is None:
            tones = [*tones, (2 - root) % 12]
        return root % 12, (2 if bass is None else bass + self.key["root"]) % 12, tones

    def base(self, lane: Lane, pitch_class: int) -> int:
        pitch: int = lane["from"] if "from" in lane else 12 * (lane["octave"] + 1)
        while pitch % 12 != pitch_class % 12:
            pitch += 1
        return pitch

    def near(self, lane: Lane, at: Fraction) -> int:
        """What lies between the chord's place in the register and the one near that before."""
        here = self.entry(at)
        if not lane.get("near") or here is None or lane["reads"] not in ("chord", "chord-root"):
            return 0
        at_first = last = None
        for begins, run, _ in self.entries:
            if run == here[1] and begins <= here[0]:
                root, bass, _tones = self.chord(lane, begins)
                low = self.base(lane, bass if lane["reads"] == "chord" else root)
                if at_first is None:
                    at_first = last = low
                else:
                    places = [p for p in range(at_first - 7, at_first + 8) if (p - low) % 12 == 0]
                    last = sorted(places, key=lambda p: (abs(p - last), p))[0]
        return last - low

    def read(self, lane: Lane, degree: int, at: Fraction) -> int:
        """One degree as a pitch."""
        return self.in_register(lane, degree, at) + self.near(lane, at)

    def in_register(self, lane: Lane, degree: int, at: Fraction) -> int:
        root, scale = self.scale(lane)
        chord_root, bass, tones = self.chord(lane, at)
        in_key = ladder(root, scale)
        in_chord = ladder(chord_root, [tone % 12 for tone in tones])
        if lane["reads"] == "chord":
            return stepped(in_chord, self.base(lane, bass), degree)
        if lane["reads"] == "chord-root":
            start = self.base(lane, chord_root)
            if degree == 0:
                return start
            higher = [p for p in in_key if p > start]
            return higher[degree - 1] if degree > 0 else [p for p in in_key if p < start][degree]
        pitch = stepped(in_key, self.base(lane, root), degree)
        if lane["reads"] == "bend":
            return min(in_chord, key=lambda p: (abs(p - pitch), p))
        return pitch

    def together(self, lane: Lane, step: Any, moved: int, at: Fraction) -> list[int]:
        """The close notes of a chord step."""
        if step["all"] != "chord":
            return sorted({self.in_register(lane, degree + moved, at)
                           for degree in step["all"]})
        root, bass, tones = self.chord(lane, at)
        lowest = self.base(lane, bass)
        spelled = lowest - (bass - root) % 12  # the root at or below the bass
        found = {lowest}
        for tone in tones:
            pitch = spelled + tone
            while pitch <= lowest:
                pitch += 12
            if (pitch - lowest) % 12:
                found.add(pitch)
        return sorted(found)

    def degree(self, lane: Lane, hit: Cell) -> Any:
        strand = lane.get("strands", {}).get("degree")
        if strand is None:
            return lane["degree"]
        number = {"step": hit["step"], "cell": hit["number"], "hit": hit["count"]}[strand["by"]]
        return strand["values"][number % len(strand["values"])]

    def smoothed(self, lane: Lane, hit: Cell) -> list[int] | None:
        """The chord step before a hit, each moved from the one before."""
        known: list[int] | None = None
        place: Any = None
        for each in self.hits(lane, (hit["at"] // self.frame + 2) * self.frame):
            entry = self.entry(each["at"])
            here = (entry[1] if entry else each["at"] // self.frame, each["run"])
            if here != place:
                known, place = None, here
            if each["at"] == hit["at"]:
                return known
            step = self.degree(lane, each)
            if isinstance(step, dict):
                notes = self.together(lane, step, lane["transpose"]["degrees"], each["at"])
                known = nearest(notes, known)
        raise AssertionError

    def pitches(self, lane: Lane, hit: Cell, interval: float) -> list[tuple[int, float, float]]:
        octaves = 12 * int(self.value(lane, "octave", hit, 0))
        if "arpeggio" in lane:
            return [(floor(pitch + interval + 0.5), struck, 0)
                    for pitch, struck in hit["walked"]]
        if lane.get("kind", "drum") == "drum":
            return [(floor(lane["note"] + octaves + interval + 0.5), 0, 0)]
        moved = lane["transpose"]["degrees"] + floor(interval + 0.5 + 1e-9)
        degree = self.degree(lane, hit)
        if isinstance(degree, dict):
            notes = self.together(lane, degree, moved, hit["at"])
            if lane["voicing"] == "smooth":
                notes = nearest(notes, self.smoothed(lane, hit))
            elif lane["voicing"] == "open":
                notes = sorted(note + (12 if i % 2 else 0) for i, note in enumerate(notes))
            elif lane["voicing"] == "drop-2" and len(notes) > 1:
                notes = sorted([*notes[:-2], notes[-2] - 12, notes[-1]])
        else:
            notes = [self.read(lane, degree + moved, hit["at"])]
        last = max(1, len(notes) - 1)
        turn = lane["strum"] < 0
        return [(note + octaves + lane["transpose"]["semitones"], 0,
                 (last - i if turn and len(notes) > 1 else i) / last)
                for i, note in enumerate(notes)]

    # Arpeggios

    def moments(self, lane: Lane, until: Fraction) -> list[Cell]:
        if "arpeggio" not in lane:
            return self.hits(lane, until)
        arpeggio, anchor = lane["arpeggio"], lane["arpeggio"].get("anchor")
        shift = 4 * Fraction(lane.get("shift", "0"))
        hits = {hit["at"]: hit | {"own": hit["count"]} for hit in self.counted(lane, until)}
        anchored = set()
        for cell in self.cells(lane, until) if anchor else ():
            there = cell["number"] % anchor["every"] == 0 if anchor["unit"] == "steps" else \
                cell["start"] % self.frame % Fraction(anchor["every"]) == 0
            if there:
                at = cell["start"] + shift
                anchored.add(at)
                following = lane["rule"]["kind"] in self.FOLLOWING
                whole = (cell["run"], cell["start"] // self.frame) if following else cell["run"]
                hits.setdefault(at, cell | {"at": at, "own": None, "whole": whole, "pinned": False,
                                            "cycle": whole if following else cell["cycle"]})
        moments = [hits[at] for at in sorted(hits)]
        counts: dict[Any, int] = {}
        for each in moments:
            for name, over in (("count", "whole"), ("cycle_count", "cycle")):
                each[name] = counts[name, each[over]] = counts.get((name, each[over]), -1) + 1
        return self.walked(lane, arpeggio, [m for m in moments if m["at"] >= 0], anchored)

    def walked(self, lane: Lane, arpeggio: dict[str, Any], moments: list[Cell],
               anchored: set[Fraction]) -> list[Cell]:
        anchor = arpeggio.get("anchor") or {"walk": "on", "mode": "as-well", "unit": "steps"}
        place, places, again = 0, dict[str, Any](), False
        found: list[Cell] = []
        last: Cell | None = None  # what a hold would hold on
        for each, following in zip_longest(moments, moments[1:]):
            at, here = each["at"], each["at"] in anchored
            entry = self.entry(at)
            each |= {"walked": [], "anchor": []}
            if here:
                each["anchor"] = self.anchor_notes(lane, each, anchor)
            if each["own"] is not None:
                pool, first = self.pool(lane, at), self.first(lane, at)
                now = {"run": each["whole"]}
                if arpeggio["restart"] == "pass" or (
                        anchor["walk"] == "waits" and anchor["unit"] == "beats"):
                    now["pass"] = at // self.frame
                if arpeggio["restart"] == "chord":
                    now["chord"] = entry and entry[0]
                if isinstance(arpeggio["restart"], int):
                    now["n"] = each["own"] // arpeggio["restart"]
                if now != places or again:
                    place, places, again, last = 0, now, False, None
                waits = here and anchor["walk"] == "waits"
                if pool and not waits and not (here and anchor["mode"] == "instead"
                                               and each["anchor"]):
                    by = 12 * int(self.value(lane, "octave", each, 0)) + (
                        0 if lane.get("kind", "drum") == "drum"
                        else lane["transpose"]["semitones"])
                    order = arpeggio["order"]
                    chosen = sorted(first) if place == 0 and arpeggio["first"] == "all" else \
                        (pool if order == "as-played" else sorted(pool))[:arpeggio["first"]] \
                        if place == 0 and arpeggio["first"] != "one" else \
                        walk(order, pool, place)
                    each["walked"] = [(pitch + by, struck) for pitch, struck in chosen]
                    if chosen:
                        last = each
                    elif order[place % len(order)] == "hold" and last and place and \
                            self.has_turn(lane, each):
                        tied = following if self.value(lane, "tie", each, 0) else None
                        last["until"] = float(tied["at"] if tied else at) + (
                            0 if tied else float(each["length"]) * lane["gate"] / 100)
                elif not waits and (not pool or isinstance(arpeggio["order"], str) or isinstance(
                        arpeggio["order"][place % len(arpeggio["order"])], int | list)):
                    last = None
                place += not waits
            again = again or (here and anchor["walk"] == "restarts")
            found.append(each)
        return found

    def anchor_notes(self, lane: Lane, hit: Cell, anchor: dict[str, Any]) -> list[Pitch]:
        if anchor["note"] != "root":
            return [(anchor["note"], anchor["velocity"] or 0)]
        first = self.first(lane, hit["at"])
        by = 12 * int(self.value(lane, "octave", hit, 0)) + (
            0 if lane.get("kind", "drum") == "drum" else lane["transpose"]["semitones"])
        return [(first[0][0] + by, anchor["velocity"] or first[0][1])] if first else []

    def first(self, lane: Lane, at: Fraction) -> list[Pitch]:
        """The pool before it is extended, moved along the key."""
        listed, degrees = self.listed(lane, at), lane["transpose"]["degrees"]
        if lane.get("kind", "drum") == "drum" or degrees == 0:
            return listed
        pitches = ladder(*self.scale(lane))
        moved: dict[int, float] = {}
        for pitch, struck in listed:
            above, from_here = bisect_right(pitches, pitch), bisect_left(pitches, pitch)
            moved[pitches[(above - 1 if degrees > 0 else from_here) + degrees]] = struck
        return list(moved.items())

    def listed(self, lane: Lane, at: Fraction) -> list[Pitch]:
        """The pool as the lane says it."""
        arpeggio, drum = lane["arpeggio"], lane.get("kind", "drum") == "drum"
        root, scale = self.scale(lane)
        if arpeggio["pool"] == "scale":
            low = lane["note"] if drum else self.base(lane, root)
            pitches = ladder(low, scale)
            start = pitches.index(low)
            return [(pitch, 0) for pitch in pitches[start : start + len(scale)]]
        if arpeggio["pool"] == "chord":
            chord_root, bass, tones = self.chord(lane, at)
            low = lane["note"] if drum else self.base(lane, bass)
            while low % 12 != bass:
                low += 1
            classes = {(chord_root + tone) % 12 for tone in tones}
            return [(pitch, 0) for pitch in range(low, low + 12) if pitch % 12 in classes]
        if arpeggio["pool"] == "held":
            held: dict[int, float] = {}
            for each in arpeggio["held"]:
                begins = Fraction(each.get("start", 0))
                if begins <= at % self.frame < begins + Fraction(each.get("beats", 9999)):
                    for note in each.get("notes", [each]):
                        held[note["note"]] = note["velocity"]
            struck = arpeggio["velocities"] == "held"
            return [(note, velocity if struck else 0) for note, velocity in held.items()]
        return [(note, 0) for note in dict.fromkeys(arpeggio["pool"])]

    def pool(self, lane: Lane, at: Fraction) -> list[Pitch]:
        arpeggio = lane["arpeggio"]
        k = arpeggio["octaves"]
        octaves = {"up": range(k), "down": range(1 - k, 1), "both": range(1 - k, k)}
        found: dict[int, float] = {}
        for octave in octaves[arpeggio["extend"]]:
            for pitch, struck in self.first(lane, at):
                found.setdefault(pitch + 12 * octave, struck)
        return list(found.items())

    def sounds(self, lane: Lane, hit: Cell, following: Cell | None) -> list[Any]:
        if "arpeggio" not in lane:
            return super().sounds(lane, hit, following)
        second = lane["arpeggio"].get("second")
        if second is not None:
            return self.second(lane, hit, following, second)
        found = super().sounds(lane, hit, following) if hit["walked"] else []
        if hit["anchor"]:
            plain = {k: v for k, v in lane.items() if k not in ("rolls", "turns")}
            plain["strands"] = {k: v for k, v in lane.get("strands", {}).items() if k != "roll"}
            found += super().sounds(
                plain, hit | {"walked": hit["anchor"], "until": 0}, following)
        return found

    def first_note(self, lane: Lane, hit: Cell) -> float:
        second = lane.get("arpeggio", {}).get("second")
        order = second["order"] if second and isinstance(second["order"], list) else []
        silent = next((i for i, entry in enumerate(order) if entry not in ("rest", "hold")), 0)
        return self.onset(lane, hit) + (
            silent * float(4 * Fraction(second["step"])) if silent else 0)

    def second(self, lane: Lane, hit: Cell, following: Cell | None,
               second: dict[str, Any]) -> list[Any]:
        """Each stroke of the second walk as a hit of its own."""
        its_turn = self.has_turn(lane, hit)
        loud: dict[int, float] = {}
        for pitch, struck in [*hit["anchor"], *(hit["walked"] if its_turn else [])]:
            loud[pitch] = max(loud.get(pitch, 0), self.loudness(lane, hit, struck))
        if not loud:
            return []
        pool: dict[int, float] = {}
        for octave in range(second["octaves"]):
            for pitch, velocity in loud.items():
                pool.setdefault(pitch + 12 * octave, velocity)
        step = float(4 * Fraction(second["step"]))
        at, length = float(hit["at"]), float(hit["length"])
        lasts = length * lane["gate"] / 100
        if self.value(lane, "tie", hit, 0) and following:
            lasts = float(following["at"]) - at
        if its_turn and hit["walked"]:
            lasts = max(lasts, hit.get("until", 0) - at)
        stop = float(hit["stop"] + 4 * Fraction(lane.get("shift", "0"))) \
            if hit["stop"] is not None else None
        nudge = self.value(lane, "nudge", hit, 0) / 100 * length
        found: list[Any] = []
        begun: tuple[int, list[int]] = (0, [])  # the stroke that last began something
        i = 0
        while i == 0 or i * step < lasts - 1e-9:
            begins = at + i * step
            if stop is not None and begins >= stop - 1e-9:
                break
            order = second["order"]
            entry = order[i % len(order)] if isinstance(order, list) else None
            held = begun[0]
            if entry == "hold":
                for place in begun[1]:
                    stroke = found[place]
                    kept = (i - held + second["gate"] / 100) * step
                    if stop is not None:
                        kept = min(kept, stop - (at + held * step) - nudge)
                    found[place] = (stroke[0], max(kept, 1 / 960), *stroke[2:])
            elif entry != "rest":
                begun = (i, [])
            for pitch, velocity in walk(order, list(pool.items()), i):
                kept = step * second["gate"] / 100
                if stop is not None:
                    kept = min(kept, stop - begins - nudge)
                velocity += (100 - velocity) * lane.get("squeeze", 0) / 100
                found.append((max(0.0, begins + nudge), max(kept, 1 / 960), folded(pitch),
                              min(127, max(1, floor(velocity + 0.5 + 1e-9))), lane["id"], 0))
                begun[1].append(len(found) - 1)
            i += 1
        return found


def nearest(notes: list[int], before: list[int] | None) -> list[int]:
    """The smooth voicing: every inversion, near and far, compared with the chord before."""
    if before is None:
        return notes
    found = [notes]
    for by in (12, -12):
        turned = notes
        for _ in notes:
            turned = sorted([*turned[1:], turned[0] + 12] if by > 0
                            else [turned[-1] - 12, *turned[:-1]])
            if len(set(turned)) == len(turned):
                found.append(turned)
    return min(found, key=lambda t: (sum(abs(a - b) for a, b in zip(t, before, strict=False)),
                                     sum(t)))


def walk(order: Any, listed: list[Pitch], place: int) -> list[Pitch]:
    """What a walk plays at a place, told by going through it."""
    pool = listed if order == "as-played" else sorted(listed)
    if order == "all":
        return pool
    m, at, way = len(pool), 0, 1
    if isinstance(order, list):
        entry = order[place % len(order)]
        chord = [] if isinstance(entry, str) else entry if isinstance(entry, list) else [entry]
        return sorted({pool[each % m] for each in chord})
    if order in ("up", "as-played"):
        return [pool[place % m]]
    if order == "down":
        return [pool[-1 - place % m]]
    if order in ("up-down", "down-up"):
        for _ in range(place):
            if m > 1:
                way = -1 if at == m - 1 else 1 if at == 0 else way
                at += way
        return [pool[at if order == "up-down" else m - 1 - at]]
    if order == "up-down-twice":
        return [[*pool, *reversed(pool)][place % (2 * m)]]
    assert order in ("outside-in", "inside-out"), f"{order} is not known here"
    left = list(pool)
    out: list[Any] = []
    while left:
        out.append(left.pop(0 if len(out) % 2 == 0 else -1))
    return [(out if order == "outside-in" else out[::-1])[place % m]]
