"""Why a hit sounds, or a step does not: as structure, and in words."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from lattice.base.values import to_json
from lattice.base.words import ordinal
from lattice.features.chance import Fate
from lattice.features.rolls import Roll, RollFate
from lattice.hits.found import Hit
from lattice.play import Cause, Note, Performance, Sounding, Voice
from lattice.recipe import Lane, Recipe


def structured(note: Note, recipe: Recipe) -> dict[str, Any]:
    """What put a note there: rule, pin, keep, probability and draw, link, turns, roll."""
    first, *more = [_cause(cause, recipe.lane(note.lane)) for cause in note.causes]
    return first | ({"also": more} if more else {})


def _cause(cause: Cause, lane: Lane) -> dict[str, Any]:
    why: dict[str, Any] = {"rule": to_json(lane.rule)}
    hit, fate = cause.hit, cause.fate
    if hit is not None:
        why |= {"step": hit.step, "hit": hit.ordinal}
        if hit.pinned:
            why["pin"] = True
        elif lane.keep is not None:
            why["keep"] = to_json(lane.keep)
        if hit.step in lane.turns:
            why["turns"] = list(lane.turns[hit.step])
    if fate is not None:
        why["probability"] = fate.probability
        if fate.draw is not None:
            why["draw"] = round(fate.draw, 3)
        if fate.link is not None:
            why["link"] = {"number": fate.link[0], "mode": fate.link[1]}
    if cause.roll is not None:
        why["roll"] = {"number": cause.roll, "stroke": cause.stroke, "of": cause.strokes}
    return why


def place_words(beats: Fraction, recipe: Recipe) -> str:
    """A place as bar.beat, with what lies between beats as a fraction: 1.3 or 1.3 + 1/4."""
    bar, rest = divmod(beats, recipe.bar_beats)
    beat_length = recipe.bar_beats / recipe.meter[0]
    beat, between = divmod(rest, beat_length)
    more = f" + {between / beat_length}" if between else ""
    return f"{bar + 1}.{beat + 1}{more}"


def why(recipe: Recipe, lane_id: str, at: float) -> str:
    """Why the cell of a lane that lies at `at` (beats) plays or rests, in one line of words:
    rule, reverse and flip, pin, keep, link, turns, chance and draw, rolls, mute."""
    performance = Performance(recipe)
    lane = recipe.lane(lane_id)
    voice = performance.voice(lane_id)
    time, times = voice.time, performance.times
    ticks = times.ticks(Fraction(at)) - time.shift
    longest = time.longest
    # The last run first: a restart cuts the cell before it short.
    for run in reversed(time.runs(ticks - longest + 1, ticks + 1)):
        first, after = time.span(run, ticks - longest + 1, ticks + 1)
        cell = after - 1
        if first <= cell and time.start(run, cell) + time.length(cell) > ticks:
            break
    else:
        return f"{lane.name} is silent here: it plays once and waits for the next pass."
    start = time.start(run, cell) + time.shift
    step = time.step_at(run, cell)
    rule, pin, is_hit = voice.hits.verdict(run, cell)
    where = place_words(Fraction(start, times.grain), recipe)
    words = f"Step {step + 1} at {where}: {_hit_words(lane, recipe, rule, pin, is_hit)}"
    found = next((each for each in voice.soundings(
        start / times.grain, (start + time.length(cell)) / times.grain)
        if each.hit is not None and each.hit.cell == cell
        and each.hit.run.number == run.number), None) if is_hit else None
    if found and found.hit and found.fate:
        words += _fate_words(found.hit, found.fate, voice)
    words += _stretch_words(voice, start, start + time.length(cell))
    if found and found.fate:
        if not found.fate.covered:
            words += _sound_words(found)
        if not performance.audible(lane):
            words += " (muted)" if lane.mute else " (silent while another lane plays solo)"
    return f"{words}."


def _hit_words(lane: Lane, recipe: Recipe, rule: bool, pin: bool | None, is_hit: bool) -> str:
    """What made the cell a hit or not: pin, or rule, reverse, flip and keep."""
    if pin is not None:
        return f"pinned {'on' if pin else 'off'} by hand"
    names = {each.id: each.name for each in recipe.lanes}
    words = lane.rule.reason(rule != lane.flip, lane.steps, names)
    if lane.reverse or lane.flip:
        done = " and ".join(word for word, used in (("reversed", lane.reverse),
                                                    ("flipped", lane.flip)) if used)
        words += f"; {done}, it {'plays' if rule else 'rests'}"
    if rule and lane.keep is not None:
        keep = lane.keep
        start = "" if keep.first == 1 else f" from the {ordinal(keep.first)} on"
        words += (f"; {'dropping' if keep.drop else 'keeping'} every {ordinal(keep.every)} hit"
                  f"{start} {'leaves it' if is_hit else 'takes it away'}")
    return words


def _fate_words(hit: Hit, fate: Fate, voice: Voice) -> str:
    """Link, turns, chance, and the rolls of the step."""
    words = ""
    if fate.link is not None:
        mode = fate.link[1]
        words += f" · linked ({'together' if mode == 'together' else 'only one sounds'})"
        if fate.chosen is not None and fate.chosen != hit.step:
            words += f", step {fate.chosen + 1} was chosen"
    turns = voice.lane.turns.get(hit.step)
    if turns is not None:
        words += f" · {_turn_words('its', turns, fate.turns is None)}"
    words += " · certain" if fate.draw is None else \
        f" · chance {fate.probability:.3g} %, drew {fate.draw:.3g}"
    if fate.sounds:
        for _, roll, rolled in voice.rolls.listed(hit):
            words += f" · {_roll_words('its', roll, rolled)}"
            if rolled.comes_off:
                break
    return words


def _turn_words(whose: str, turns: tuple[int, int], now: bool) -> str:
    return (f"{whose} turn is the {ordinal(turns[0])} of every {turns[1]} passes, "
            f"{'as now' if now else 'not now'}")


def _roll_words(whose: str, roll: Roll, fate: RollFate) -> str:
    words = f"{whose} roll of {roll.strokes} {'comes off' if fate.comes_off else 'stays away'}"
    if fate.draw is not None:
        words += f" (chance {roll.probability:.3g} %, drew {fate.draw:.3g})"
    return f"{words}, {_turn_words('its', roll.turns, fate.turn)}" if roll.turns else words


def _stretch_words(voice: Voice, start: int, end: int) -> str:
    """The rolls over stretches of beats in which a cell begins, or that begin in it."""
    words = ""
    for stretch in voice.rolls.stretches(start, end):
        if stretch.start < end and stretch.end > start:
            words += f" · {_roll_words('the', stretch.roll, stretch.fate)} over this stretch"
            if stretch.fate.comes_off and stretch.start <= start:
                words += " and takes its place"
    return words


def _sound_words(sounding: Sounding) -> str:
    if not sounding.sounds:
        return " → silent"
    count = len(sounding.notes)
    strokes = f", {count} strokes" if count > 1 else ""
    return f" → sounds at velocity {sounding.main.velocity}{strokes}"
