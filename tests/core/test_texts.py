"""Texts: what is said is read, note for note; what people write is understood, or told why not."""

import json
import re
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.cli import main
from lattice.edits.write import WriteLane
from lattice.library.listed import LIBRARY
from lattice.play import Performance
from lattice.recipe import Lane, Recipe, read
from lattice.texts.coming import what_comes
from lattice.texts.patterns import lane_text, pattern_text, read_text
from lattice.texts.refusal import TextError
from lattice.texts.tokens import alike

from tests.core.melodies import melodic
from tests.core.recipes import documents, facts, recipe


@st.composite
def controlling(draw: st.DrawFn) -> dict[str, Any]:
    """Any pattern, some of its lanes moving controllers."""
    document: dict[str, Any] = draw(documents())
    values = st.integers(0, 100) | st.sampled_from([[3, 90], [0, 127]])
    for lane in document["lanes"]:
        if draw(st.booleans()):
            lane.pop("controls", None)
            lane |= {"kind": "control", "lean": draw(st.sampled_from(["even", "low", "high"])),
                     "control": {"number": draw(st.sampled_from([74, 20, "bend", "pressure"])),
                                 "move": draw(st.sampled_from(["step", "glide"])),
                                 "curve": draw(st.sampled_from(["even", "early"]))},
                     "value": draw(st.sampled_from([None, 0, 99])),
                     "by_velocity": draw(st.sampled_from([None, [0, 100]])),
                     "seed": draw(st.sampled_from([0, 2**53 - 1]))}
            if draw(st.booleans()):
                lane["strands"] = {"value": {
                    "values": draw(st.lists(values, min_size=1, max_size=4)),
                    "by": draw(st.sampled_from(["step", "hit"])),
                    "direction": draw(st.sampled_from(["forward", "random"]))}}
    return document


def heard(found: Recipe) -> list[Any]:
    """All that a pattern plays in four passes."""
    performance, end = Performance(found), float(4 * found.frame_beats)
    return [*facts(performance.notes(0, end)), *performance.changes(0, end)]


@settings(max_examples=40)
@given(st.one_of(documents(), melodic(documents()), controlling()))
def test_what_is_said_is_read_and_plays_the_same(document: dict[str, Any]) -> None:
    found = read(document)
    text = pattern_text(found, "Drizzle")
    (pattern,) = read_text(text).patterns
    assert pattern.name == "Drizzle" and pattern_text(pattern.recipe, "Drizzle") == text
    assert heard(pattern.recipe) == heard(found)


@pytest.mark.parametrize("start", [each for each in LIBRARY if each.lane is not None],
                         ids=lambda start: start.name)
def test_the_library_is_said_and_read(start: Any) -> None:
    lane = start.made("it", "It")
    alone = Recipe(lanes=(lane,))
    assert read_text(lane_text(lane, alone)).lanes == (lane,) or heard(
        Recipe(lanes=tuple(read_text(lane_text(lane, alone)).lanes))) == heard(alone)


def one(text: str) -> str:
    """What the one lane of a text says when it is read."""
    (lane,) = read_text(text).lanes
    return lane_text(lane, Recipe(lanes=(lane,)))


@pytest.mark.parametrize(("written", "said"), [
    ("spread 7 hits\n over 12 steps of sixteenths, KEEP every 3rd; accent every 3 hit by +24",
     "Spread 7 hits over 12 steps of 1/16, turned 0. Cycle freely, forward. Keep every 3rd hit "
     "from the 1st on, counted on. Velocity 100. Accent every 3rd hit by +24 from the 1st on"),
    ("Velocity by hit: 96, 58, 78–90. Each hit sounds 55 percent of the time. Spread 3 hits over 8 "
     "steps of eighth triplets.", "Spread 3 hits over 8 steps of 1/12, turned 0. Cycle freely, "
     "forward. Velocity by hit: 96 58 78-90. Each lasts 90 % of its step. Each hit sounds 55 % of"),
    ("Play 1, 5 and 9 by hand", "Play steps 1 5 9 by hand, of 16 steps of 1/16."),
    ("Play none by hand. Step 3 plays by hand. Steps 4 5 are silent by hand.",
     "Play none by hand, of 16 steps of 1/16. Cycle freely, forward. Step 3 plays by hand. Steps 4 "
     "5 are silent by hand."),
    ("Take pattern 3 with 4 hits in 7 steps", "Take pattern 3 with 4 hits in 7 steps of 1/16."),
    ("Give or take in velocity: −9 to +9.", "Give or take in velocity: -9 to +9."),
    ("Reed, melody on channel 3: Degrees of the key, from octave 3 up, by hit: 0, 2+4, -1 to 2.",
     "Reed, melody, channel 3: Play none by hand, of 16 steps of 1/16. Cycle freely, forward. "
     "Degrees of the key, from octave 3 up, by hit: 0, 2 with 4, -1 to 2."),
    ("Reed, melody: In a key of its own Db minor. Walk up over notes of its own C3 E♭3 F#3 through "
     "1 octave", "Walk up over notes of its own C3 D♯3 F♯3 through 1 octave, one note a hit, "
     "beginning again in every pass. In a key of its own, D♭ minor."),
    ("Drip, closed hat: Shifted by -1/32.", "Drip, closed hi-hat: Play none by hand, of 16 steps "
     "of 1/16. Cycle freely, forward. Shifted by -1/32 of a whole note."),
    ("“Dr. Drip”, closed hat: Velocity 3", "“Dr. Drip”, closed hi-hat: "),
    ("Value 3. Glide brightness early.", "Lane, controller: "),
])
def test_people_write_as_they_speak(written: str, said: str) -> None:
    assert said in one(written)


@pytest.mark.parametrize(("written", "place", "why"), [
    ("Spread 7 hits over", "", "After “Spread 7 hits over” comes a number from 1 to 128 (steps)."),
    ("Spread 7 hits ovr 12", "ovr", "After “Spread 7 hits” comes “over”, not “ovr”."),
    ("evry 3rd hit", "evry 3rd hit", "“evry 3rd hit” is not known; did you mean “Keep every 3rd "
     "hit”?"),
    ("Spread 3 hits over 8 steps. Acsent every 3rd hit by +24.", "Acsent every 3rd",
     "“Acsent every 3rd” is not known; did you mean “Accent every 3rd”?"),
    ("Spread 17 hits over 8 steps", "17", "Hits takes a whole number from 0 to 8."),
    ("Velocity 200", "200", "Velocity takes a whole number from 1 to 127."),
    ("Velocity by hit: 96 loud", "loud", "“loud” is no value of a strand. It takes numbers from 1 "
     "to 127, and ranges such as 78-90."),
    ("Velocity 90. Velocity 80.", "Velocity 80.", "“Velocity 80.” is said for the second time; a "
     "lane has this once."),
    ("Drip, closed hat: Spread 3 hits over 8 steps\nMist, claves: Fill the gaps of Fern", "Fern",
     "After “Fill the gaps of” comes other lane: “Drip”, not “Fern”."),
    ("Mist, claves: Fill the gaps of Fern", "Fern", "After “Fill the gaps of” comes other lane: "
     "“no other lane is here”, not “Fern”."),
    ("Drizzle, pattern: A frame of 40 bars.", "40", "Bars takes a whole number from 1 to 16."),
    ("Drizzle, pattern: 2 bars of 5/4.", "2 bars of", "“2 bars of” is not known; did you mean “A "
     "frame of 1 bar of”?"),
    ("Drizzle, pattern: A frame of 1 bar.\nMist, claves: Play where Mist plays", "Mist", "After "
     "“Play where” comes other lane: “no other lane is here”, not “Mist”."),
    ("Spread 3 hits \u202eover 8", "\u202e", "There is a letter in it that cannot be seen (U+202E, "
     "letter 15); take it out."),
    ("  \n . ", "  \n . ", "Write what a lane plays, such as “Spread 7 hits over 12 steps of "
     "1/16”; there is nothing to read yet."),
    ("Walk " * 100_000, "", "A text takes up to 100,000 letters; this one has 500,000."),
])
def test_what_cannot_be_read_is_told_with_its_place(written: str, place: str, why: str) -> None:
    with pytest.raises(TextError) as refused:
        read_text(written)
    assert str(refused.value) == why
    assert written[refused.value.start : refused.value.end] == place or len(written) > 9999


WORDS = re.findall(r"\S+", "Spread 7 hits over 12 steps of 1/16 . , Velocity by hit : 96 58 Keep "
                   "every 3rd “ ” Drip melody Walk up the chord Step rolls Let move in a pattern "
                   "closed hi-hat 1/0 99999999999 -")


@settings(max_examples=150)
@given(st.text(max_size=80) | st.lists(st.sampled_from(WORDS), max_size=14).map(" ".join))
def test_any_text_is_read_or_refused_in_a_sentence(text: str) -> None:
    try:
        found = read_text(text)
    except TextError as problem:
        assert 0 <= problem.start <= problem.end <= len(text)
        assert str(problem).endswith((".", "?")) and "\n" not in str(problem)
    else:
        assert all(isinstance(lane, Lane) for lane in found.lanes)


SPRINKLERS = recipe(
    {"id": "drip-2", "name": "Drip", "note": 42, "seed": 5, "strands": {
        "velocity": {"values": [96, 58.0, [60, 90]], "by": "hit", "direction": "bounce",
                     "window": [1, 2]}, "tie": {"values": [0, 1], "by": "cell"}}},
    {"id": "drip", "name": "Drip", "rule": {"kind": "gaps", "of": "drip-2", "amount": 40}},
    {"id": "mist", "name": "Mist: a “haze”, 2nd.", "kind": "pitched", "channel": 5},
    bars=2, meter=[7, 8], tempo=98.25, seed=7, key={"root": 1, "scale": [0, 2, 3, 7]},
    chords={"text": "i7 | bVII", "beats": ["1"]}, swing={"grid": "1/16", "percent": 56.125},
    gusts=[{"lanes": ["drip"], "throw": 3}],
    fills=[{"name": "Hail", "bars": 2, "others": "play", "lanes": [
        {"id": "drip-2", "name": "Drip", "note": 42, "rule": {"kind": "hand", "hits": [3]}}]}])


def by_mail(text: str) -> str:
    """A text as a letter brings it: quoted, lines broken, other blanks, quotes and dashes."""
    wrapped = re.sub(r"(.{30,50}?) ", r"\1\r\n> ", text)
    return "> " + wrapped.replace("\n", "\n").replace("“", '"').replace("”", '"').replace(
        " of ", "\u00a0of ").replace("-", "–")


@pytest.mark.parametrize("sent", [str, by_mail, lambda text: text.replace("\n", " "),
                                  lambda text: f"\n\n{text.replace('velocity', 'VELOCITY')}\n"])
def test_a_pattern_is_sent_and_comes_back(sent: Any) -> None:
    text = pattern_text(SPRINKLERS, "Drizzle")
    (pattern,) = read_text(sent(text)).patterns
    assert heard(pattern.recipe) == heard(SPRINKLERS)
    assert alike(pattern_text(pattern.recipe, "Drizzle")) == alike(text)


def test_a_name_is_told_from_a_longer_one() -> None:
    known = recipe({"id": "drip", "name": "Drip"}, {"id": "drip-wholly", "name": "Drip wholly"},
                   {"id": "mist", "name": "Mist", "rule": {"kind": "gaps", "of": "drip"}})
    text = pattern_text(known, "Drizzle")
    assert "Fill the gaps of “Drip” wholly with 16 steps" in text
    assert read_text(text).patterns[0].recipe.lane("mist").follows == "drip"


def test_several_patterns_and_lanes_among_others() -> None:
    both = pattern_text(SPRINKLERS, "Drizzle") + "\n\n" + pattern_text(recipe({}), "Downpour")
    assert [pattern.name for pattern in read_text(both).patterns] == ["Drizzle", "Downpour"]
    follower = lane_text(SPRINKLERS.lane("drip"), SPRINKLERS)
    (lane,) = read_text(follower, SPRINKLERS).lanes
    assert lane == SPRINKLERS.lane("drip")
    with pytest.raises(TextError, match="comes other lane"):
        read_text(follower)


def test_the_command_line_reads_texts(capsys: pytest.CaptureFixture[str], tmp_path: Any) -> None:
    assert main(["read", "Spread 7 hits over 12 steps of 1/16."]) == 0
    (lane,) = json.loads(capsys.readouterr().out)["lanes"]
    assert lane["rule"] == {"kind": "euclid", "pulses": 7}
    (tmp_path / "rain.txt").write_text(text := pattern_text(SPRINKLERS, "Drizzle"))
    assert main(["sentence", "--full", str(tmp_path / "rain.txt")]) == 0
    assert capsys.readouterr().out.splitlines()[1:] == text.splitlines()[1:]
    assert main(["play", "Spread 3 hits over 4 steps of 1/4."]) == 0
    assert len(capsys.readouterr().out.splitlines()) == 3
    assert main(["midi", str(tmp_path / "rain.txt"), "-o", str(tmp_path / "rain.mid")]) == 0
    assert main(["read", "Sprad 7 hits"]) == 2
    assert capsys.readouterr().err == "lattice: “Sprad” is not known; did you mean “Spread”?\n"


def test_the_lanes_of_the_guide_can_be_written() -> None:
    page = (Path(__file__).parents[2] / "docs" / "guide" / "9-writing.md").read_text()
    lanes = read_text(re.findall(r"```\n(.+?)```", page, re.S)[0]).lanes
    assert len(lanes) == 10 and lanes[5].follows == "drip"


def test_what_may_come_next_is_offered() -> None:
    around = recipe({"id": "it", "name": "It"}, {"id": "drip", "name": "Drip"})

    def offered(text: str) -> list[str]:
        return [each.text for each in what_comes(text, len(text), around.lane("it"), around)]

    assert offered("Fill the gaps of ") == ["Drip"]
    assert offered("Spread 7 hits over") == ["16"]
    assert offered("Velocity by") == ["by step", "by hit"]
    assert offered("Spread 3 hits over 8 steps. Acc")[0].startswith("Accent every 3rd")
    assert not any(each.startswith("Spread") for each in offered("Spread 3 hits over 8 steps. "))
    (number,) = what_comes("Each hit sounds 75 of", 15, around.lane("it"), around)[:1]
    assert (number.text, number.about) == ("75 %", "a number from 0 to 100 (chance)")


def test_a_lane_is_written_as_one_change() -> None:
    found = read(SPRINKLERS.model_dump(mode="json", by_alias=True))
    written = WriteLane(do="write", lane="mist", text="Spread 3 hits over 8 steps.").apply(found)
    mist = written.lane("mist")
    assert (mist.kind, mist.channel, mist.name, mist.steps) == (
        "pitched", 5, found.lane("mist").name, 8)
    named = WriteLane(do="write", lane="mist", text="Rain, claves: Velocity 3.").apply(found)
    assert (named.lane("mist").name, named.lane("mist").note) == ("Rain", 75)
    for wrong in ("Velocity 300", "A, claves: Velocity 3.\nB, claves: Velocity 3.",
                  "Fill the gaps of Drip drip. Fill 30 % of 8 steps."):
        with pytest.raises(RecipeError):
            WriteLane(do="write", lane="mist", text=wrong).apply(found)


def test_a_notebook_shows_picture_and_text() -> None:
    page = recipe({"name": "<b>Drip", "rule": {"kind": "euclid", "pulses": 4}})._repr_html_()
    wedges = re.findall(r' d="([^"]*)"', page)[-1]
    assert wedges.count("z") == 4 and "<b>" not in page
    assert "Spread 4 hits over 16 steps of 1/16" in page


def test_nothing_is_said_twice() -> None:
    for twice in ("Step 3 plays by hand. Step 3 is silent by hand.",
                  "Each hit sets brightness to 3. Each hit sets brightness to 9."):
        with pytest.raises(TextError, match="is said before"):
            read_text(twice)
