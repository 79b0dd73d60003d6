"""Why a hit sounds, or a step does not: as structure, and in words."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from lattice.arpeggio.typed import told_order
from lattice.base.percussion import note_name
from lattice.base.values import to_json
from lattice.base.words import listed, ordinal, written
from lattice.control.line import Knot
from lattice.features.chance import Fate
from lattice.features.gusts import PatternGust
from lattice.features.rolls import Roll, RollFate
from lattice.hits.found import Hit
from lattice.pitch.names import pitch_name, told_note
from lattice.pitch.reading import READING_WORDS
from lattice.play import (
    Cause,
    ControlVoice,
    Note,
    NoteVoice,
    Performance,
    Sounding,
    Voice,
    WalkingVoice,
)
from lattice.recipe import Lane, PatternFill, Recipe
from lattice.strands.kinds import Together
from lattice.strands.reading import placer


def structured(note: Note, performance: Performance) -> dict[str, Any]:
    """What put a note there: rule, pin, keep, probability and draw, link, turns, roll; its reading,
    degree and chord, or the walk's place and pool; anchor, fold; the gust that blows there, or the
    fill that plays."""
    voice = performance.at(note.start).voice(note.lane)
    first, *more = [_cause(cause, voice) for cause in note.causes]
    blown = performance.thrown_at(note.lane, note.start)
    gust = {"gust": {"away": blown[0].away, "throw": blown[1]}} if blown else {}
    fill = performance.filled_at(note.lane, note.start)
    return first | gust | ({"fill": fill.name} if fill else {}) | ({"also": more} if more else {})


def _cause(cause: Cause, voice: Voice) -> dict[str, Any]:
    lane = voice.lane
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
    if hit is not None and isinstance(voice, NoteVoice):
        why |= _pitch_structure(cause, hit, voice)
        if voice.sets:
            why["sets"] = {str(kind.sets): int(read(hit)) for kind, read in voice.sets}
    return why


def _pitch_structure(cause: Cause, hit: Hit, voice: NoteVoice) -> dict[str, Any]:
    lane, why = voice.lane, dict[str, Any]()
    force = voice.pitches.harmony.at(hit.start)
    if force is not None and lane.takes_chord:
        why["chord"] = {"number": force.number + 1, "word": force.chord.word}
    if cause.anchor is not None:
        why["anchor"] = True
    elif isinstance(voice, WalkingVoice):
        walked = voice.walk.at(voice.walk.as_walked(hit))
        pool = voice.arpeggio.pool
        if walked is not None:
            why["walk"] = {"place": walked.place, "at": walked.at,
                           "pool": list(pool) if isinstance(pool, tuple) else pool}
    elif lane.pitched:
        degree = voice.pitches.degree(hit)
        why |= {"reads": lane.reads,
                "degree": degree.document if isinstance(degree, Together) else int(degree)}
    return why


def place_words(beats: Fraction, recipe: Recipe) -> str:
    """A place as bar.beat, with what lies between beats as a fraction: 1.3 or 1.3 + 1/4."""
    bar, rest = divmod(beats, recipe.bar_beats)
    beat_length = recipe.bar_beats / recipe.meter[0]
    beat, between = divmod(rest, beat_length)
    more = f" + {between / beat_length}" if between else ""
    return f"{bar + 1}.{beat + 1}{more}"


def why(recipe: Recipe, lane_id: str, at: float) -> str:
    """Why the cell of a lane that lies at `at` (beats) plays or rests, in one line of words: rule,
    reverse and flip, pin, keep, link, turns, chance and draw, rolls, pitch or value, mute."""
    everything = Performance(recipe)
    blown, fill = everything.thrown_at(lane_id, at), everything.filled_at(lane_id, at)
    performance = everything.at(at)
    recipe = performance.recipe
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
    end = start + time.length(cell)
    step = time.step_at(run, cell)
    rule, pin, is_hit = voice.hits.verdict(run, cell)
    where = place_words(Fraction(start, times.grain), recipe)
    reason = _gust_words(*blown, is_hit) if blown and pin is None else \
        _fill_words(fill, is_hit) if fill else _hit_words(lane, recipe, rule, pin, is_hit)
    words = f"Step {step + 1} at {where}: {reason}"
    if isinstance(voice, NoteVoice):
        found = [each for each in voice.soundings(start / times.grain, end / times.grain)
                 if each.hit is not None and each.hit.cell == cell
                 and each.hit.run.number == run.number]
        words += _notes_words(found, voice, performance, start, end, is_hit)
        sounds = bool(found)
    elif isinstance(voice, ControlVoice):
        values = [(fate, knot) for hit, fate, knot in voice.hits_between(
            start / times.grain, end / times.grain)
            if hit.cell == cell and hit.run.number == run.number]
        words += "".join(_value_words(fate, knot, voice) for fate, knot in values)
        sounds = bool(values)
    if sounds and not performance.audible(lane):
        words += " (muted)" if lane.mute else " (silent while another lane plays solo)"
    return f"{words}."


def _notes_words(found: list[Sounding], voice: NoteVoice, performance: Performance, start: int,
                 end: int, is_hit: bool) -> str:
    """What becomes of a cell in a lane of notes, and at which pitch."""
    words = ""
    plain = next((each for each in found if not each.notes[0].causes[0].anchor), None)
    if plain and plain.hit and plain.fate:
        words += _fate_words(plain.hit, plain.fate, voice)
    words += _stretch_words(voice, start, end)
    if is_hit and isinstance(voice, WalkingVoice) and not (plain and plain.hit):
        words += _pause_words(voice, start, end)
    for each in found:
        if each.fate and not each.fate.covered:
            words += _pitch_words(each, voice) + _set_words(each, voice) + _sound_words(each)
            words += _tuning_words(each, performance) + _heard_words(each.main)
    return words


def _pause_words(voice: WalkingVoice, start: int, end: int) -> str:
    """Why a hit begins no note of the walk: it rests or holds on by the order, or has no pool."""
    hit = next((each.walked for each in voice.walk.between(start, end) if each.walked), None)
    walked = hit and voice.walk.at(hit)
    if not hit or not walked:
        return " · nothing is held, so it is silent"
    place = f" · the walk's {ordinal(walked.place + 1)} hit"
    return f"{place} holds on what sounds" if voice.walk.pauses(hit) == "hold" else \
        f"{place} rests by its order" if isinstance(walked.at, str) else ""


def _set_words(sounding: Sounding, voice: NoteVoice) -> str:
    """What a hit that sounds sets controllers to, and of which range it is drawn."""
    hit, words = sounding.hit, ""
    for kind, read in voice.sets if hit and sounding.sounds else ():
        assert hit is not None
        strand = voice.lane.strand(kind)
        value = strand.values[placer(kind, strand, voice.draws)(hit)]
        words += f" · {kind.word} {int(read(hit))}"
        if isinstance(value, tuple):
            words += f", drawn from {value[0]:g} to {value[1]:g}"
    return words


def _heard_words(note: Note) -> str:
    """How its sound is set for this hit alone."""
    told = [f"{name} {written(value)} %" for name, value in (note.sound or {}).items()]
    return f", heard with {listed(told)}" if told else ""


def _tuning_words(sounding: Sounding, performance: Performance) -> str:
    """By how many semitones its strokes are tuned, and how that leaves."""
    tunes = [note.tune for note in sounding.notes]
    if not any(tunes):
        return ""
    lane = performance.recipe.lane(sounding.main.lane)
    words = f", tuned {tunes[0]:+g}" + (f" to {tunes[-1]:+g}" if len(set(tunes)) > 1 else "")
    if lane.tuned != "bend":
        return words
    unsent = performance.unsent(lane)
    return f"{words} (sent untuned: {unsent})" if unsent else f"{words} by pitch bend"


def _pitch_words(sounding: Sounding, voice: NoteVoice) -> str:
    """Reading, degree and chord, or the walk's place; and the note."""
    hit, lane, note = sounding.hit, voice.lane, sounding.main
    if hit is None or not (lane.pitched or isinstance(voice, WalkingVoice)):
        return ""
    key, words = voice.pitches.harmony.key, ""
    anchor = note.causes[0].anchor
    if anchor is not None:
        words += " · its anchor" + ("" if anchor.draw is None else f", drew {written(anchor.draw)}")
    elif isinstance(voice, WalkingVoice):
        walked = voice.walk.at(voice.walk.as_walked(hit))
        if walked is not None:
            several = isinstance(voice.arpeggio.first, int) and not walked.place
            place = f"the {len(walked.notes)} lowest of the pool" if several else \
                "all of the pool" if walked.at is None else \
                f"note {told_order((walked.at,))} of {len(walked.notes)}"
            words += f" · the walk's {ordinal(walked.place + 1)} hit, {place}"
    else:
        degree = voice.pitches.degree(hit)
        told = READING_WORDS[lane.reads][0]
        words += " · every tone of the chord" \
            if isinstance(degree, Together) and degree.all == "chord" else \
            f" · degrees {' '.join(map(str, degree.all))} {told}" \
            if isinstance(degree, Together) else f" · degree {int(degree)} {told}"
    force = voice.pitches.harmony.at(hit.start)
    if force is not None and lane.takes_chord:
        words += f" (chord {force.number + 1}, {force.chord.word})"
    names = " ".join(pitch_name(each.pitch, key) for each in sounding.notes) \
        if len(sounding.notes) > 1 else told_note(note.pitch, key)
    return f"{words} · {names if lane.pitched else note_name(note.pitch)}"


def _value_words(fate: Fate, knot: Knot, voice: ControlVoice) -> str:
    """A controller's value, and its chance."""
    words = " · certain" if fate.draw is None else \
        f" · chance {written(fate.probability)} %, drew {written(fate.draw)}"
    if not fate.sounds:
        return f"{words} → not set"
    moves = "" if voice.control.move == "step" else " and glides on to the next"
    return f"{words} → set to {knot.value}{moves}"


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


def _gust_words(gust: PatternGust, throw: int, is_hit: bool) -> str:
    """What made the cell a hit or not in a pass that a gust blows through."""
    return (f"a gust blows {written(gust.away)} away in this pass, by throw {throw}, and it "
            f"{'plays' if is_hit else 'rests'}")


def _fill_words(fill: PatternFill, is_hit: bool) -> str:
    """What made the cell a hit or not while a fill plays."""
    return f"a fill, “{fill.name}”, plays here every {ordinal(fill.every)} pass, and this " \
        f"{'is one of its hits' if is_hit else 'cell rests in it'}"


def _fate_words(hit: Hit, fate: Fate, voice: NoteVoice) -> str:
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
        f" · chance {written(fate.probability)} %, drew {written(fate.draw)}"
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
        words += f" (chance {written(roll.probability)} %, drew {written(fate.draw)})"
    return f"{words}, {_turn_words('its', roll.turns, fate.turn)}" if roll.turns else words


def _stretch_words(voice: NoteVoice, start: int, end: int) -> str:
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
