"""The engine once more, as plainly as its meaning can be written: everything is walked through from
time 0, cell by cell and hit by hit, with no closed form. Without chance, swing and stretches."""

from collections import Counter
from collections.abc import Callable
from fractions import Fraction
from itertools import combinations, groupby, islice, pairwise, zip_longest
from math import floor
from typing import Any

Lane = dict[str, Any]
Cell = dict[str, Any]
Note = tuple[float, float, int, int, str, float]


def spread(pulses: int, steps: int) -> list[bool]:
    """Bjorklund's algorithm with its groups written out."""
    ones, zeros = [[True]] * pulses, [[False]] * (steps - pulses)
    while len(zeros) > 1 and ones:
        pairs = min(len(ones), len(zeros))
        left = ones[pairs:] or zeros[pairs:]
        ones, zeros = [ones[i] + zeros[i] for i in range(pairs)], left
    return [hit for group in ones + zeros for hit in group]


def period(first: int, last: int, direction: str) -> list[int]:
    steps = list(range(first, last + 1))
    return {"forward": steps, "backward": steps[::-1], "bounce": steps + steps[-2:0:-1],
            "bounce-twice": steps + steps[::-1]}[direction]


def folded(note: int) -> int:
    while not 0 <= note <= 127:
        note += 12 if note < 0 else -12
    return note

CURVES: dict[str, Callable[[float], float]] = {
    "even": lambda u: u, "gathering": lambda u: 1 - (1 - u) ** 1.5,
    "slackening": lambda u: u ** 1.5}


class Naive:
    """A document, walked through up to `end` beats."""

    FOLLOWING = ("gaps", "answer", "where")
    RULES = ("euclid", "nth", "hand", *FOLLOWING)

    def __init__(self, document: dict[str, Any], end: int) -> None:
        self.lanes: list[Lane] = document["lanes"]
        self.bar = Fraction(document["meter"][0] * 4, document["meter"][1])
        self.bars: int = document["bars"]
        self.frame = self.bar * self.bars
        self.end = end

    def notes(self) -> list[Note]:
        """(start, length, pitch, velocity, lane, tune) of all notes, by lanes, not yet merged."""
        found: list[Note] = []
        for lane in self.lanes:
            hits = self.moments(lane, self.end + 6 * self.frame)
            for hit, following in zip_longest(hits, hits[1:]):
                if hit["at"] < self.end + 2:
                    found += self.sounds(lane, hit, following)
        return [note for note in found if note[0] < self.end]

    def changes(self) -> list[tuple[float, str, str, int]]:
        """(time, lane, controller, value) of all that lanes set with their hits, none that repeats
        what the lane has set before."""
        found: list[tuple[float, str, str, int]] = []
        for lane in self.lanes:
            hits = [hit for hit in self.moments(lane, self.end + 6 * self.frame)
                    if hit["at"] < self.end + 2 and self.sounds(lane, hit, None)]
            for number, strand in lane.get("controls", {}).items():
                stands: float | None = None
                for hit in sorted(hits, key=lambda hit: self.first_note(lane, hit)):
                    value = self.valued(strand, hit)
                    if value != stands:
                        found.append((round(self.first_note(lane, hit), 6), lane["id"], number,
                                      int(value)))
                    stands = value
        return [change for change in found if change[0] < self.end]

    def first_note(self, lane: Lane, hit: Cell) -> float:
        """When the first note of a hit begins."""
        return self.onset(lane, hit)

    def onset(self, lane: Lane, hit: Cell) -> float:
        """When a hit sounds, in beats."""
        nudge = self.value(lane, "nudge", hit, 0) / 100
        return max(0.0, float(hit["at"]) + nudge * float(hit["length"]))

    def cells(self, lane: Lane, until: Fraction) -> list[Cell]:
        """Cells in the order of time: start, length, number, step, run, and where the run ends."""
        first, last = lane.get("window") or (0, lane["steps"] - 1)
        steps = period(first, last, lane.get("direction", "forward"))
        own = 4 * Fraction(lane["step"])
        span = lane.get("span", "cycle")
        offset = lane.get("offset", 0) if span == "once" else 0
        length = (lane.get("fit_bars") or self.bars) * self.bar / (last - first + 1) \
            if span == "fit" else own
        path = sorted((Fraction(each["start"]), Fraction(each["start"]) + Fraction(each["beats"]),
                       4 * Fraction(each["step"])) for each in lane.get("rate_path", []))
        framed = bool(path) or span == "once"
        restart = self.frame if framed else lane.get("restart_bars", 0) * self.bar or None
        found, start, run = [], Fraction(0), 0
        while start < until:
            stop = start + restart if restart else until
            at, number = start, 0
            while at < stop and not (span == "once" and not path and number == len(steps)):
                cell = length
                if path:
                    within = at - start
                    inside = [(b, d) for a, b, d in path if a <= within < b]
                    ends = inside[0][0] if inside else min(
                        [a for a, _, _ in path if a > within] + [self.frame])
                    cell = min(inside[0][1] if inside else own, min(ends, self.frame) - within)
                found.append({"start": at, "length": cell, "number": number, "run": run,
                              "step": steps[(number + offset) % len(steps)],
                              "cycle": (run, number // len(steps)),
                              "stop": stop if restart else None})
                at, number = at + cell, number + 1
            start, run = stop, run + 1
        return found

    def rule_hits(self, lane: Lane) -> list[bool]:
        """The rule over all steps, after reverse and flip."""
        rule, count = lane["rule"], lane["steps"]
        if rule["kind"] == "euclid":
            hits = spread(rule["pulses"], count)
            hits = [hits[(i - rule.get("rotation", 0)) % count] for i in range(count)]
        elif rule["kind"] == "nth":
            patterns = combinations(range(count), rule["pulses"])
            places = next(islice(patterns, int(rule.get("index", 0)), None))
            hits = [i in places for i in range(count)]
        else:
            hits = [i in rule.get("hits", ()) for i in range(count)]
        hits = hits[::-1] if lane.get("reverse") else hits
        return [hit != lane.get("flip", False) for hit in hits]

    def onsets(self, lane: Lane, cells: list[Cell], until: Fraction) -> list[Cell]:
        """The cells that are hits before pins, each with its place `at`."""
        rule, shift = lane["rule"], 4 * Fraction(lane.get("shift", "0"))
        cells = [cell | {"at": cell["start"] + shift} for cell in cells]
        if rule["kind"] not in self.FOLLOWING:
            hits = self.rule_hits(lane)
            return [cell for cell in cells if hits[cell["step"]]]
        leader = next(each for each in self.lanes if each["id"] == rule["of"])
        heard = self.hits(leader, until + 3 * self.frame)
        if rule["kind"] == "gaps":
            filled = self.filled(rule.get("amount", 100), cells, [hit["at"] for hit in heard])
            return [cell for cell, fills in zip(cells, filled, strict=True)
                    if fills != lane.get("flip", False)]
        answers = [hit["at"] for hit in heard] if rule["kind"] == "where" else [
            hit["at"] + Fraction(rule.get("place", "1/2")) * (following["at"] - hit["at"])
                   for hit, following in pairwise(heard)
                   if (hit["count"] + 1) % rule.get("every", 1) == 0
                   and following["at"] - hit["at"] <= self.frame]
        return [cell | {"at": at} for at in answers for cell in cells
                if cell["at"] <= at < cell["at"] + cell["length"]
                and (cell["stop"] is None or at < cell["stop"] + shift)]

    def filled(self, amount: float, cells: list[Cell], heard: list[Fraction]) -> list[bool]:
        """Which cells fill a gap: of each frame those furthest from what is heard within it, the
        frame before and the one after."""
        chosen: set[Fraction] = set()
        for _, group in groupby(cells, lambda cell: (cell["run"], cell["start"] // self.frame)):
            frame = list(group)
            low = frame[0]["at"] - self.frame
            high = frame[-1]["at"] + frame[-1]["length"] + self.frame
            near = [at for at in heard if low <= at <= high]
            gaps = [cell["at"] for cell in frame if not any(
                cell["at"] <= at < cell["at"] + cell["length"] for at in heard)]
            gaps.sort(key=lambda gap: -min((abs(at - gap) for at in near), default=0))
            chosen |= set(gaps[: int(len(gaps) * amount / 100 + 0.5)])
        return [cell["at"] in chosen for cell in cells]

    def hits(self, lane: Lane, until: Fraction) -> list[Cell]:
        """The hits after pins and keep, counted."""
        return [hit for hit in self.counted(lane, until) if hit["at"] >= 0]

    def counted(self, lane: Lane, until: Fraction) -> list[Cell]:
        """The same with those before time 0."""
        cells = self.cells(lane, until)
        shift = 4 * Fraction(lane.get("shift", "0"))
        pins = {int(step): on for step, on in lane.get("pins", {}).items()}
        found = [hit | {"pinned": pins.get(hit["step"], False)}
                 for hit in self.onsets(lane, cells, until) if pins.get(hit["step"], True)]
        there = {hit["at"] for hit in found}
        found += [cell | {"at": cell["start"] + shift, "pinned": True} for cell in cells
                  if pins.get(cell["step"]) and cell["start"] + shift not in there]
        found.sort(key=lambda hit: hit["at"])
        for hit in found:  # what a count goes over before it begins anew
            whole = hit["run"]
            if lane["rule"]["kind"] in self.FOLLOWING:
                whole = hit["cycle"] = (hit["run"], (hit["at"] - shift) // self.frame)
            hit["whole"] = whole
        keep, plain = lane.get("keep"), Counter[Any]()
        kept = []
        for hit in found:
            if keep and not hit["pinned"]:
                over = "cycle" if keep["count"] == "cycle" else "whole"
                number = plain[hit[over]] - (keep["from"] - 1)
                plain[hit[over]] += 1
                if (number >= 0 and number % keep["every"] == 0) == keep["drop"]:
                    continue
            kept.append(hit)
        counts = Counter[Any]()
        for hit in kept:
            for name, over in (("count", "whole"), ("cycle_count", "cycle")):
                hit[name] = counts[name, hit[over]]
                counts[name, hit[over]] += 1
        return kept

    def moments(self, lane: Lane, until: Fraction) -> list[Cell]:
        """The places at which a lane sounds: its hits, for a drum."""
        return self.hits(lane, until)

    def pitches(self, lane: Lane, hit: Cell, interval: float) -> list[tuple[int, float, float]]:
        """What begins together on a hit: pitch, the velocity that holds in place of the lane's
        (0: none), and the share of the strum after which it begins; `interval` is a roll's."""
        return [(lane["note"] + floor(interval + 0.5), 0, 0)]

    def value(self, lane: Lane, kind: str, hit: Cell, otherwise: float) -> float:
        """What a strand says for a hit."""
        strand = lane.get("strands", {}).get(kind)
        return otherwise if strand is None else self.valued(strand, hit)

    def valued(self, strand: dict[str, Any], hit: Cell) -> float:
        order = period(0, len(strand["values"]) - 1, strand["direction"])
        number = {"step": hit["step"], "cell": hit["number"], "hit": hit["count"]}[strand["by"]]
        return float(strand["values"][order[number % len(order)]])

    def loudness(self, lane: Lane, hit: Cell, struck: float = 0) -> float:
        velocity = struck or self.value(lane, "velocity", hit, 100)
        if "contour" in lane and not lane.get("rate_path"):
            shape = (1, 0.45, 0.7, 0.45)[hit["count"] % 4]
            velocity *= 1 + lane["contour"]["amount"] / 100 * (shape - 1)
        accent = lane.get("accent")
        if accent:
            number = hit["count"] if accent["count"] == "on" else hit["cycle_count"]
            velocity += accent["add"] if number % accent["every"] == 0 else 0
        return velocity

    def has_turn(self, lane: Lane, hit: Cell) -> bool:
        """Whether it is a hit's turn in its pass."""
        turns = lane.get("turns", {}).get(str(hit["step"]))
        return not turns or int(hit["at"] // self.frame % turns[1]) == turns[0] - 1

    def sounds(self, lane: Lane, hit: Cell, following: Cell | None) -> list[Note]:
        """A hit as one note, or as the strokes of a roll."""
        at, length = float(hit["at"]), float(hit["length"])
        if not self.has_turn(lane, hit):
            return []
        nudge = self.value(lane, "nudge", hit, 0) / 100 * length
        shift = 4 * Fraction(lane.get("shift", "0"))
        stop = float(hit["stop"] + shift) if hit["stop"] is not None else None
        gate = lane["gate"] / 100
        rolled: dict[str, Any] = next(
            (roll for roll in lane.get("rolls", []) if roll["step"] == hit["step"]),
            {"strokes": int(self.value(lane, "roll", hit, 1))})
        strokes: int = rolled["strokes"]
        curve = CURVES[rolled.get("curve", "even")]
        loud = rolled.get("velocity", [100, 100])
        found = []
        for i in range(strokes):
            begins, ends = at + curve(i / strokes) * length, at + curve((i + 1) / strokes) * length
            if stop is not None and begins >= stop - 1e-12:
                break
            lasts = (ends - begins) * gate
            if strokes == 1 and self.value(lane, "tie", hit, 0) and following:
                lasts = float(following["at"]) - at
            if i == strokes - 1:
                lasts = max(lasts, hit.get("until", 0) - begins)
            begins += nudge
            share = i / (strokes - 1) if strokes > 1 else 0
            loud_now = (loud[0] + (loud[1] - loud[0]) * share) / 100
            pitch = rolled.get("pitch", [0, 0])
            interval = pitch[0] + (pitch[1] - pitch[0]) * share
            tunes = lane.get("kind", "drum") == "drum" and "arpeggio" not in lane and \
                lane.get("tuned") != "notes"
            tune, interval = (interval, 0) if tunes else (0, interval)
            for note, struck, strum in self.pitches(lane, hit, interval):
                stroke = self.loudness(lane, hit, struck) * loud_now
                stroke += (100 - stroke) * lane.get("squeeze", 0) / 100
                late = strum * abs(lane.get("strum", 0)) / 100 * length
                kept = lasts if stop is None else min(lasts, stop - begins - late)
                found.append((max(0.0, begins + late), max(kept, 1 / 960), folded(note),
                              min(127, max(1, floor(stroke + 0.5 + 1e-9))), lane["id"], tune))
        return found
