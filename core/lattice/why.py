"""Why a hit sounds, or a step does not: as structure, and in words."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, Any

from lattice.play import Cause, Note, Performance
from lattice.recipe import to_json

if TYPE_CHECKING:
    from lattice.chance import Fate
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
    """Why the cell of a lane that lies at `at` (beats) plays or rests, in one line of words."""
    performance = Performance(recipe)
    lane = recipe.lane(lane_id)
    voice = performance.voice(lane_id)
    time, times = voice.time, performance.times
    ticks = int(at * times.grain) - time.shift
    longest = max(time.path[1]) if time.path else time.cell
    for run in time.runs(ticks - longest + 1, ticks + 1):
        first, after = time.span(run, ticks - longest + 1, ticks + 1)
        cell = after - 1
        if first <= cell and time.start(run, cell) + time.length(cell) > ticks:
            break
    else:
        return f"{lane.name} is silent here: it plays once and waits for the next pass."
    start = time.start(run, cell) + time.shift
    step = time.steps(run, cell + 1)[-1]
    rule, pin, is_hit = voice.hits.verdict(run, cell)
    names = {each.id: each.name for each in recipe.lanes}
    reason = lane.rule.reason(rule, lane.steps, names)
    if pin is not None:
        reason = f"pinned {'on' if pin else 'off'} by hand"
    elif lane.reverse or lane.flip:
        done = " and ".join(word for word, used in (("reversed", lane.reverse),
                                                    ("flipped", lane.flip)) if used)
        reason = f"{lane.rule.reason(rule != lane.flip, lane.steps, names)}; {done}, it " + \
            ("plays" if rule else "rests")
    elif rule and not is_hit:
        assert lane.keep is not None
        verb = "drops" if lane.keep.drop else "keeps"
        reason += f"; keep {verb} every {lane.keep.every}, and this one is gone"
    where = place_words(Fraction(start, times.grain), recipe)
    words = f"Step {step + 1} at {where}: {reason}"
    if is_hit:
        begins, ends = start / times.grain, (start + time.length(cell)) / times.grain
        late = (voice.reach + voice.cell_beats) * 2
        for hit, fate, notes in voice.sounds(begins - late, ends + late):
            if hit is not None and fate is not None and hit.cell == cell and \
                    hit.run.number == run.number:
                return f"{words}{_fate_words(hit.step, fate, lane, notes)}."
    return f"{words}."


def _fate_words(step: int, fate: Fate, lane: Lane, notes: list[Note]) -> str:
    words = ""
    if fate.link is not None:
        mode = fate.link[1]
        words += f" · linked ({'together' if mode == 'together' else 'only one sounds'})"
        if fate.chosen is not None and fate.chosen != step:
            words += f", step {fate.chosen + 1} was chosen"
    if fate.turns is not None:
        words += f" · its turn is the {fate.turns[0]} of every {fate.turns[1]} passes"
    if fate.draw is None:
        words += " · certain"
    else:
        words += f" · chance {fate.probability:.3g} %, drew {fate.draw:.3g}"
    if fate.covered:
        return f"{words} → a roll over this stretch takes its place"
    words += " → sounds" if fate.sounds else " → silent"
    if fate.sounds:
        strokes = f", a roll of {len(notes)}" if len(notes) > 1 else ""
        words += f" at velocity {notes[0].velocity}{strokes}" if notes else ""
    if lane.mute:
        words += " (muted)"
    return words
