"""Notes told as recipes: shorter sentences, and the lanes of a clip, both held against the
playing of them."""

import json
import random
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.base.frame import Swing
from lattice.base.values import to_json
from lattice.cli import main
from lattice.clip.document import Clip, ClipLane, ClipNote
from lattice.clip.taken import Segment, take_clip
from lattice.midi.read import read_midi, song_clip
from lattice.midi.write import to_midi
from lattice.pitch.key import Key
from lattice.play import Performance, play
from lattice.recipe import Recipe, read, with_lane
from lattice.strands.kinds import NUDGE
from lattice.telling.harmony import found_progression
from lattice.telling.lanes import clip_lanes, cut
from lattice.telling.shorter import proposals

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, hand, recipe


def sounds(found: Recipe, passes: int = 16) -> list[tuple[Any, ...]]:
    end = float(passes * found.frame_beats)
    return [(round(note.start, 7), round(note.length, 7), note.pitch, note.velocity, note.channel,
             note.lane) for note in play(found, 0, end)]


def shortest(found: Recipe, lane: str = "lane-0") -> Any:
    return proposals(found, lane)[0].lane


@settings(max_examples=120)
@given(melodic(documents()))
def test_whatever_is_proposed_plays_the_same_notes(document: dict[str, Any]) -> None:
    found = read(document)
    assume(len(play(found, 0, float(found.frame_beats))) < 400)
    heard = sounds(found)
    for lane in found.lanes:
        told = proposals(found, lane.id)
        assert [said.words for said in told] == sorted(said.words for said in told)
        assert any(said.lane == lane for said in told)
        for said in told:
            assert said.words == len(said.sentence.split())
            assert sounds(with_lane(found, said.lane)) == heard


def test_hits_by_hand_are_told_by_the_rule_that_spreads_them() -> None:
    for pulses, steps, turn in ((7, 16, 2), (5, 12, -1), (4, 16, 0), (11, 64, 5), (3, 7, 2)):
        plain = recipe({"rule": euclid(pulses, turn), "steps": steps}, bars=4)
        hits = sorted({round(note.start * 4) for note in play(plain, 0, steps / 4)})
        by_hand = recipe({"rule": hand(*hits), "steps": steps}, bars=4)
        rule = shortest(by_hand).rule
        assert (rule.kind, rule.pulses) == ("euclid", pulses)
        assert sounds(with_lane(by_hand, shortest(by_hand))) == sounds(plain)


def test_four_bars_by_hand_of_one_bar_become_that_bar() -> None:
    spread = [0, 3, 6, 10, 13]
    velocities = [96, 58, 70, 58]
    found = shortest(recipe({"steps": 64, "rule": hand(*(16 * bar + hit for bar in range(4)
                                                         for hit in spread)),
                             "strands": {"velocity": {"values": velocities * 16}}}, bars=4))
    assert (found.rule.kind, found.rule.pulses, found.steps) == ("euclid", 5, 16)
    assert list(found.strands.velocity.values) == velocities


def test_keep_gaps_answers_contours_accents_and_rolls_are_found() -> None:
    often = [cell for cell in range(80) if euclid_hits(7, 16)[cell % 16]]
    rare = shortest(recipe({"steps": 80, "rule": hand(*(
        cell for number, cell in enumerate(often) if number % 5 != 2))}, bars=5))
    assert (rare.rule.kind, rare.rule.pulses, rare.steps) == ("euclid", 7, 16)
    assert (rare.keep.every, rare.keep.first, rare.keep.drop) == (5, 3, True)
    filled = recipe({"rule": hand(0, 3, 8, 10)},
                    {"rule": hand(*(step for step in range(16) if step not in (0, 3, 8, 10)))})
    assert to_json(shortest(filled, "lane-1").rule) == {"kind": "gaps", "of": "lane-0"}
    between = recipe({"rule": hand(0, 3, 8, 11)}, {"step": "1/32", "steps": 32, "rule": hand(
        3, 11, 19, 27)})
    told = [to_json(said.lane.rule) for said in proposals(between, "lane-1")]
    assert {"kind": "answer", "of": "lane-0"} in told
    shaped = shortest(recipe({"rule": hand(*range(16)), "strands": {
        "velocity": {"values": [110, 50, 77, 50] * 4}}}))
    assert shaped.contour.amount >= 98 and shaped.velocity == 110
    stressed = recipe({"rule": hand(*range(15)), "steps": 15, "strands": {
        "velocity": {"values": [110, 80, 80, 80, 80] * 3}}})
    assert any(said.lane.accent and (said.lane.accent.every, said.lane.accent.add) == (5, 30)
               for said in proposals(stressed, "lane-0"))
    struck = recipe({"step": "1/32", "steps": 32, "gate": 50, "rule": hand(
        0, 4, 8, 9, 10, 11, 16, 20, 24, 28)})
    assert any(said.lane.strands.roll for said in proposals(struck, "lane-0"))


def euclid_hits(pulses: int, steps: int) -> list[bool]:
    found = recipe({"rule": euclid(pulses), "steps": steps})
    hits = {round(note.start * 4) for note in play(found, 0, steps / 4)}
    return [step in hits for step in range(steps)]


def test_melodies_are_told_in_key_over_chords_and_as_walks() -> None:
    chromatic = {"kind": "pitched", "steps": 32, "rule": hand(*range(0, 32, 2)),
                 "key": {"root": 0, "scale": "chromatic"}}
    broken = [0, 4, 7, 0, 4, 7, 0, 4, 5, 9, 12, 5, 9, 12, 5, 9]
    line = recipe(chromatic | {"strands": {"degree": {"values": broken, "by": "hit"}}}, bars=2,
                  chords={"text": "I IV"})
    walk = shortest(line).arpeggio
    assert (walk.pool, walk.order, walk.restart) == ("chord", "up", "chord")
    scale = recipe(chromatic | {"strands": {"degree": {"values": [2, 4, 5, 9, 7], "by": "hit"}}})
    assert shortest(scale).key is None
    assert list(shortest(scale).strands.degree.values) == [1, 2, 3, 5, 4]


@pytest.mark.parametrize("lane", [
    {"kind": "pitched", "reads": "bend", "rule": hand(0, 4),
     "strands": {"degree": {"values": [[1, 7]], "by": "hit"}}},
    {"steps": 8, "step": "1/2", "probability": 20, "rule": hand(0, 1),
     "strands": {"velocity": {"values": [100, 50], "by": "hit"}}},
])
def test_chance_is_held_against_chance(lane: dict[str, Any]) -> None:
    """What meets itself after one pass does not, where it draws."""
    found = recipe({"id": "lane-0", **lane}, chords={"text": "IV"})
    for said in proposals(found, "lane-0"):
        assert sounds(with_lane(found, said.lane)) == sounds(found), said.sentence


def test_a_lane_of_64_random_steps_stays_as_it_is_told() -> None:
    chance = random.Random(5)
    found = recipe({"steps": 64, "rule": hand(*sorted(chance.sample(range(64), 30))), "strands": {
        "velocity": {"values": [chance.randint(1, 127) for _ in range(64)]}}}, bars=4)
    for said in proposals(found, "lane-0"):
        assert sounds(with_lane(found, said.lane), 4) == sounds(found, 4)


def notes_of(found: Clip) -> list[tuple[Any, ...]]:
    return sorted((round(note.start, 6), round(note.length, 6), note.pitch, note.velocity,
                   note.channel) for note in found.notes)


def played(found: Recipe, beats: Fraction) -> list[tuple[Any, ...]]:
    return sorted((round(note.start, 6), round(note.length, 6), note.pitch, note.velocity,
                   note.channel) for note in play(found, 0, float(beats)))


@settings(max_examples=100)
@given(melodic(documents()))
def test_the_lanes_of_a_clip_play_its_notes(document: dict[str, Any]) -> None:
    made = read(document)
    beats = 2 * made.frame_beats
    taken = take_clip("Lid", [Segment(made, 0, 0, float(beats))], 0, beats)
    # Lanes come round, and what rings on past the end is cut there.
    inside = taken.with_notes(cut(
        note.model_copy(update={"length": min(note.length, float(beats) - note.start)})
        for note in taken.notes if float(beats) - note.start > 0.02))
    assume(0 < len(inside.notes) < 300)
    try:
        told = clip_lanes(inside, plainly=True).recipe
    except RecipeError as problem:
        assert "choose" in str(problem) or "take it as a clip" in str(problem)
        return
    assert played(told, beats) == notes_of(inside)


def lines(found: Clip | Recipe, beats: Fraction) -> dict[int | str, dict[float, int]]:
    """What each controller is set to, and when."""
    made: dict[int | str, dict[float, int]] = {}
    for each in found.changes if isinstance(found, Clip) else \
            Performance(found).changes(0, float(beats)):
        assert each.channel == 3
        made.setdefault(each.number, {})[round(each.time, 6)] = each.value
    return made


@settings(max_examples=60)
@given(st.lists(st.tuples(st.sampled_from([1, 74, 11]), st.integers(0, 31), st.integers(0, 127)),
                min_size=1, unique_by=lambda each: each[:2]), st.sampled_from([0, 0.004]))
def test_controllers_of_a_clip_become_lanes_of_their_own(
        moves: list[tuple[int, int, int]], later: float) -> None:
    """Also where one lane has moved several, since it was given another number while it played."""
    taken = Clip.model_validate({
        "name": "Glow", "tempo": 120, "meter": (4, 4), "beats": 8, "notes": (),
        "lanes": [{"id": "glow", "name": "Glow", "kind": "control"}], "changes": [
            {"time": place / 4 + later, "number": number, "value": value, "channel": 3,
             "lane": "glow"} for number, place, value in sorted(moves, key=lambda each: each[1])]})
    found = clip_lanes(taken).recipe
    assert {lane.control.number for lane in found.lanes if lane.control} == {
        number for number, *_ in moves}
    told = lines(found, taken.beats)
    for number, line in lines(taken, taken.beats).items():
        assert told[number].keys() <= line.keys() | {0}
        for time, value in line.items():
            assert told[number][max(each for each in told[number] if each <= time)] == value


def test_what_moves_too_finely_for_a_lane_is_left_out_and_said() -> None:
    made = recipe({"rule": euclid(4)}, {"kind": "control", "control": {
        "number": 74, "move": "glide"}, "rule": hand(0, 8), "strands": {
            "value": {"values": [0, 127], "by": "hit"}}})
    found = clip_lanes(take_clip("Lid", [Segment(made, 0, 0, 8)], 0, Fraction(8)))
    assert [lane.kind for lane in found.recipe.lanes] == ["drum"]
    assert "Lane 1 moves too finely to be a lane; it is left out." in found.remarks


def test_what_a_recipe_plays_comes_back_as_its_sentences() -> None:
    """Swing, triplets, repetition and drums that stand apart are recognised in the notes alone."""
    made = recipe({"rule": euclid(7), "strands": {"velocity": {"values": [96, 58], "by": "hit"}}},
                  {"rule": euclid(4)}, {"step": "1/12", "steps": 12, "rule": euclid(5)},
                  swing={"grid": "1/16", "percent": 58}, tempo=124)
    data = to_midi(take_clip("Lid", [Segment(made, 0, 0, 16)], 0, Fraction(16)))
    song = read_midi(data)
    found = clip_lanes(song_clip(song, "Lid"), rounded=song.tick / 2, keyed=False)
    assert found.recipe.swing == made.swing and found.recipe.bars == 2
    assert [(lane.rule.kind, lane.rule.pulses, lane.steps, lane.note, lane.gate)  # type: ignore
            for lane in found.recipe.lanes] == [
        ("euclid", 7, 16, 36, 90), ("euclid", 4, 16, 37, 90), ("euclid", 5, 12, 38, 90)]
    assert "triplets" in found.remarks[2] and "repeats every bar" in found.remarks[1]


NAMES = st.builds("{}{}".format, st.sampled_from(["C", "Eb", "F#", "A", "Bb"]), st.sampled_from(
    ["", "m", "7", "m7", "maj7", "dim", "sus4", "9"]))


@given(st.lists(st.tuples(NAMES, st.sampled_from([1, 2, 4])), min_size=1, max_size=4),
       st.sampled_from(["close", "smooth", "open"]), st.sampled_from([40, 95, 104]),
       st.sampled_from([0, 20]))
def test_the_chords_that_are_played_become_the_progression(
        words: list[tuple[str, int]], voicing: str, gate: int, strum: int) -> None:
    chords = {"text": " ".join(word for word, _ in words),
              "beats": [beats for _, beats in words]}
    step = {"steps": 4, "step": "1/4", "rule": hand(0, 1, 2, 3), "gate": gate}
    made = recipe(step | {"kind": "pitched", "voicing": voicing, "strum": strum,
                          "strands": {"degree": {"values": [{"all": "chord"}], "by": "hit"}}},
                  {"kind": "pitched", "octave": 6, "channel": 2, "rule": euclid(16)},
                  chords=chords)
    beats = 4 * sum(beats for _, beats in words)  # whole bars, and four times round
    data = to_midi(take_clip("Lid", [Segment(made, 0, 0, beats)], 0, Fraction(beats)))
    clip = song_clip(read_midi(data), "Lid")
    found = found_progression([[note for note in clip.notes if note.lane == lane.id]
                               for lane in clip.lanes], Key(), Fraction(1), Fraction(4), beats // 4)
    assert found
    meant, told = Performance(made), Performance(recipe(chords=to_json(found)))
    for beat in range(beats):
        assert tones(meant, beat) == tones(told, beat)


def test_an_imported_file_brings_its_chords() -> None:
    pads = recipe({"kind": "pitched", "steps": 1, "step": "1/1", "rule": hand(0), "strands": {
        "degree": {"values": [{"all": "chord"}]}}}, chords={"text": "Am F C G"})
    found = clip_lanes(take_clip("Lid", [Segment(pads, 0, 0, 32)], 0, Fraction(32)))
    assert found.recipe.chords and found.recipe.chords.text == "Am F C G"
    assert found.recipe.chords.beats is None and found.recipe.bars == 4
    assert found.remarks[-1] == "Its chords: Am F C G."
    line = recipe({"kind": "pitched", "rule": euclid(16), "strands": {
        "degree": {"values": [0, 2, 4, 5]}}})
    assert clip_lanes(take_clip("Lid", [Segment(line, 0, 0, 4)], 0, Fraction(4))).recipe.chords is \
        None


def tones(performance: Performance, beat: int) -> set[int]:
    """The pitch classes of the chord in force."""
    assert performance.progression
    chord = performance.progression.at(beat * performance.times.grain).chord
    return {(chord.root + tone) % 12 for tone in chord.tones}


def test_played_in_notes_keep_their_places_and_are_told_so() -> None:
    chance = random.Random(2)
    starts = [step / 4 + chance.uniform(-0.03, 0.03) for step in range(1, 31, 2)]
    loose = Clip(name="Fern", tempo=120, meter=(4, 4), beats=Fraction(8), lanes=(
        ClipLane(id="fern", name="Fern", kind="pitched"),), notes=tuple(
        ClipNote(start=start, length=chance.uniform(0.1, 3), pitch=60 + i % 5, velocity=90 + i,
                 channel=2, lane="fern") for i, start in enumerate(starts)))
    found = clip_lanes(loose, plainly=True)
    assert {lane.step for lane in found.recipe.lanes} <= {Fraction(1, 16), Fraction(1, 8)}
    assert "played in by hand, up to" in found.remarks[0]
    firm = loose.with_notes([note.model_copy(update={"start": round(4 * note.start) / 4})
                             if note.start > 4 else note for note in loose.notes])
    assert "played in by hand in bar 1, up to" in clip_lanes(firm, plainly=True).remarks[0]
    assert played(found.recipe, Fraction(8)) == notes_of(loose.with_notes(cut(loose.notes)))


@pytest.mark.parametrize("meter", [(7, 8), (5, 8), (3, 8), (5, 4)])
@pytest.mark.parametrize("bars", [1, 3])
@pytest.mark.parametrize("each", [Fraction(1, 3), Fraction(1, 5)])
def test_steps_that_a_bar_is_no_whole_number_of_stay_in_it(meter: tuple[int, int], bars: int,
                                                           each: Fraction) -> None:
    beats = Fraction(4 * meter[0], meter[1]) * bars
    places = [n * each for n in range(int(beats / each)) if n % 4]
    odd = Clip(name="Lid", tempo=120, meter=meter, beats=beats, lanes=(
        ClipLane(id="lid", name="Lid", kind="drum"),), notes=tuple(
        ClipNote(start=float(place), length=0.1, pitch=42, velocity=60 + i, channel=10, lane="lid")
        for i, place in enumerate(places)))
    found = clip_lanes(odd).recipe
    heard = [(round(note.start, 6), note.velocity) for note in play(found, 0, float(2 * beats))]
    assert heard == [(round(float(place + beats * k), 6), 60 + i)
                     for k in (0, 1) for i, place in enumerate(places)]


def test_sixteen_bars_that_do_not_repeat_are_lanes_one_after_another() -> None:
    chance = random.Random(4)
    long = Clip(name="Mist", tempo=120, meter=(4, 4), beats=Fraction(64), lanes=(
        ClipLane(id="mist", name="Mist", kind="pitched"),), notes=tuple(
        ClipNote(start=i / 4, length=0.2, pitch=chance.randint(50, 70), velocity=80, channel=1,
                 lane="mist") for i in range(256)))
    found = clip_lanes(long).recipe
    assert len(found.lanes) > 1 and found.bars == 16
    assert played(found, Fraction(64)) == notes_of(long)
    with pytest.raises(RecipeError, match="choose up to 16 bars"):
        clip_lanes(long.model_copy(update={"beats": Fraction(128), "notes": tuple(
            note.model_copy(update={"start": note.start + 64 * i, "pitch": note.pitch + i})
            for i in range(2) for note in long.notes)}))


def test_the_command_line_imports_says_and_changes(tmp_path: Path,
                                                   capsys: pytest.CaptureFixture[str]) -> None:
    def run(*words: str) -> str:
        assert main([str(tmp_path / word) if "." in word and not word.startswith("-") else word
                     for word in words]) == 0
        return capsys.readouterr().out
    made = recipe({"rule": hand(0, 2, 5, 7, 9, 12, 14)}, tempo=100)
    (tmp_path / "lid.json").write_text(json.dumps(to_json(made)))
    run("midi", "lid.json", "-o", "lid.mid", "--bars", "0:4", "--with-recipe")
    assert read(json.loads(run("import", "lid.mid"))) == made
    run("import", "lid.mid", "--plain", "-o", "plain.json")
    assert json.loads((tmp_path / "plain.json").read_text())["lanes"][0]["rule"]["kind"] == "hand"
    said = [json.loads(line) for line in run("say", "lid.json", "--lane", "lane-0").splitlines()]
    assert [set(each) for each in said] == [{"words", "sentence", "lane"}] * len(said)
    assert said[0]["lane"]["rule"] == {"kind": "euclid", "pulses": 7, "rotation": 2}
    run("import", "lid.mid", "--clip", "-o", "clip.json")
    turned = json.loads(run("tool", "louder", "clip.json", "--scale", "50", "--add", "0"))
    assert {note["velocity"] for note in turned["notes"]} == {50}
    run("midi", "clip.json", "-o", "again.mid", "--ticks", "exact", "--format", "0")
    again = read_midi((tmp_path / "again.mid").read_bytes())
    assert again.tick == 0.25 and len(again.parts[0].notes) == 28
    for words in (["say", "lid.json", "--lane", "no"], ["import", "lid.json"],
                  ["tool", "louder", "clip.json", "--scale", "4000"], ["midi", "clip.json", "-o",
                   "x.mid", "--ticks", "7"], ["import", "lid.mid", "--parts", "9", "--clip"],
                  ["import", "lid.mid", "--bars", "2:9", "--clip"]):
        words = [str(tmp_path / word) if "." in word else word for word in words]
        assert main(words) == 2
        assert capsys.readouterr().err.count("\n") == 1


@pytest.mark.parametrize(("percent", "grid", "steps"), [
    (60, "1/16", 16), (66.6, "1/16", 12), (58, "1/8", 16), (62, "1/8", 32)])
def test_nudges_that_are_a_swing_are_told_as_that(percent: float, grid: str, steps: int) -> None:
    swinging = recipe({"steps": steps, "rule": hand(*range(steps)), "gate": 90,
                       "swing": {"grid": grid, "percent": percent}})
    notes = play(swinging, 0, steps / 4)
    nudged = recipe({"steps": steps, "rule": hand(*range(steps)), "strands": {
        "nudge": {"values": [round(400 * (note.start - i / 4), 9)
                             for i, note in enumerate(notes)]},
        "gate": {"values": [round(400 * note.length, 9) for note in notes]}}})
    assert sounds(nudged) == sounds(swinging)
    found = shortest(nudged)
    assert isinstance(found.swing, Swing) and abs(found.swing.percent - percent) < 1e-3
    assert (str(found.swing.grid), found.gate) == (grid, 90)
    assert sounds(with_lane(nudged, found)) == sounds(nudged)
    # In a pattern that swings so, the lane that stayed straight follows it again.
    straight = nudged.model_copy(update={"swing": swinging.lanes[0].swing, "lanes": (
        nudged.lanes[0].model_copy(update={"swing": "straight"}),)})
    assert shortest(straight).swing == "follow"
    late = recipe({"rule": euclid(16), "strands": {"nudge": {"values": [0, -20]}}})
    assert shortest(late).swing == "follow" and shortest(late).strand(NUDGE).values == (0, -20)
