"""What the lattice shows and the ear hears over a range of time, lane by lane."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, Any

from lattice.play import Note, Performance, Voice

if TYPE_CHECKING:
    from lattice.recipe import Lane


def pictures(performance: Performance, lanes: list[Lane], start: float, end: float) -> dict[
        str, dict[str, Any]]:
    """For each lane of a group: its cells and hits as drawn, and its notes as heard.

    cells, steps: where each cell begins (beats) and the step it plays, from the cell that `start`
    lies in. lengths: one number, or one a cell in a rate path. cycles: where a cycle begins.
    hits: [cell's start, chance in percent, whether it sounds in this pass, strokes], a stroke being
    [start, length, velocity, pitch]. notes: [start, length, pitch, velocity], merged and cut.
    """
    drawn: dict[str, dict[str, Any]] = {}
    heard: list[Note] = []
    for lane in lanes:
        voice, audible = performance.voice(lane.id), performance.audible(lane)
        drawn[lane.id] = picture = _cells(voice, start, end)
        picture["hits"] = hits = []
        grain = performance.times.grain
        for hit, fate, notes in voice.sounds(start, end):
            sounds = fate is None or fate.sounds
            if notes and start <= notes[0].start < end:
                place = hit.start / grain if hit else notes[0].start
                hits.append([place, fate.probability if fate else 100, sounds, [
                    [note.start, note.length, note.velocity, note.pitch] for note in notes]])
            if sounds and audible:
                heard += [note for note in notes if start <= note.start < end]
    for picture in drawn.values():
        picture["notes"] = []
    for note in performance.merged(lanes, heard, end):
        drawn[note.lane]["notes"].append([note.start, note.length, note.pitch, note.velocity])
    return drawn


def _cells(voice: Voice, start: float, end: float) -> dict[str, Any]:
    time, grain = voice.time, voice.times.grain
    begin, stop = voice.times.ticks(Fraction(start)), voice.times.ticks(Fraction(end))
    longest = max(time.path[1]) if time.path else time.cell
    places: list[float] = []
    steps: list[int] = []
    lengths: list[float] = []
    cycles: list[float] = []
    for run in time.runs(begin - longest + 1 - time.shift, stop - time.shift):
        first, after = time.span(run, begin - longest + 1 - time.shift, stop - time.shift)
        if first >= after:
            continue
        starts = [time.start(run, cell) + time.shift for cell in range(first, after)]
        places += [at / grain for at in starts]
        steps += time.steps(run, after)[first - run.begin :] if not time.order else \
            [time.step(run, cell) for cell in range(first, after)]
        if time.path:
            lengths += [time.length(cell) / grain for cell in range(first, after)]
        period = time.period
        cycles += [at / grain for at, cell in zip(starts, range(first, after), strict=True)
                   if (cell % period == 0 if time.order else cell == run.begin)]
    return {"cells": places, "steps": steps, "lengths": lengths or longest / grain,
            "cycles": cycles}
