"""Melodies in the page: voices measured, chords and degrees changed by hand, keys, ports."""

import json
import re
from collections import Counter
from itertools import pairwise
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db

VOICES = ("bell", "pluck", "bass", "pad", "reed", "glass")
MEASURE = """async ([notes, seconds, sets, hertz]) => {
    const sides = await window.jollyRender(notes, seconds, sets, 2)
    const rate = 44100, [samples] = sides
    const level = (from, to, side = samples) => {
        let sum = 0
        for (let i = Math.round(from * rate); i < to * rate; i += 1) sum += side[i] * side[i]
        return Math.sqrt(sum / ((to - from) * rate))
    }
    // The phase of the partial near a frequency, by a windowed sum around a time.
    const phase = (at, f) => {
        const width = Math.round(0.16 * rate), from = Math.round(at * rate)
        let re = 0, im = 0
        for (let i = 0; i < width; i += 1) {
            const x = samples[from + i] * (0.5 - 0.5 * Math.cos(2 * Math.PI * i / width))
            re += x * Math.cos(2 * Math.PI * f * (from + i) / rate)
            im -= x * Math.sin(2 * Math.PI * f * (from + i) / rate)
        }
        return Math.atan2(im, re)
    }
    let cents = null
    if (hertz) {
        // The phase against the frequency that is wanted turns by what is missing.
        const apart = 0.02
        let turned = 0, last = phase(0.5, hertz)
        for (let i = 1; i <= 20; i += 1) {
            const now = phase(0.5 + i * apart, hertz)
            turned += Math.atan2(Math.sin(now - last), Math.cos(now - last))
            last = now
        }
        cents = 1200 * Math.log2(1 + turned / (2 * Math.PI * 20 * apart) / hertz)
    }
    let jump = 0
    for (let i = 1; i < samples.length; i += 1) {
        jump = Math.max(jump, Math.abs(samples[i] - samples[i - 1]))
    }
    const peak = (side) => side.reduce((most, each) => Math.max(most, Math.abs(each)), 0)
    return {
        cents, jump, peak: Math.max(...sides.map(peak)), level: level(0.4, 0.9),
        end: level(seconds - 0.2, seconds), right: level(0.4, 0.9, sides[1]),
        sane: sides.every((side) => side.every(Number.isFinite)),
    }
}"""


def measured(page: Page, notes: list[dict[str, Any]], seconds: float, sets: Any = (),
             hertz: float | None = None) -> dict[str, Any]:
    return dict(page.evaluate(MEASURE, [notes, seconds, list(sets), hertz]))


def sung(by: str, pitch: int, time: float = 0.05, seconds: float = 1, **more: Any) -> dict[
        str, Any]:
    return {"by": by, "pitched": True, "pitch": pitch, "channel": 1, "velocity": 110,
            "time": time, "seconds": seconds, "set": {}} | more


def hertz(pitch: int) -> float:
    return float(440 * 2 ** ((pitch - 69) / 12))


def test_every_voice_is_in_tune_and_ends_in_silence(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    for by in VOICES:
        for pitch in (33, 45, 57, 69, 81, 93):
            found = measured(page, [sung(by, pitch)], 4.5, hertz=hertz(pitch))
            assert found["sane"] and 0.02 < found["peak"] <= 0.99, (by, pitch, found)
            assert abs(found["cents"]) < 3, (by, pitch, found)
            assert found["end"] < 1e-3, (by, pitch, found)
    wall = [sung(by, 45 + 3 * i, 0.05 + 0.1 * j, 2, channel=1 + j, velocity=127)
            for j, by in enumerate(VOICES) for i in range(8)]
    assert measured(page, wall, 3)["peak"] <= 0.99
    # The same note again and again neither clicks nor loses its attack.
    again = [sung("bass", 45, 0.05 + 0.1 * i, 0.3) for i in range(10)]
    assert measured(page, again, 2)["jump"] < 0.35


def test_controllers_shape_what_sounds(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    note = [sung("pad", 57, set={"swell": 0, "bright": 80})]

    def with_set(*sets: Any, pitch: int = 57) -> dict[str, Any]:
        return measured(page, note, 2, sets, hertz(pitch))

    plain = with_set()
    assert with_set([1, 7, 50, 0])["level"] < plain["level"] / 2
    assert with_set([1, 11, 40, 0])["level"] < plain["level"] / 4
    left = with_set([1, 10, 0, 0])
    assert left["right"] < left["level"] / 10
    assert with_set([1, 74, 20, 0])["jump"] < plain["jump"] * 0.6  # darker: less steep
    assert abs(with_set([1, "bend", 8191, 0], pitch=59)["cents"]) < 4
    assert abs(with_set([1, 1, 127, 0])["cents"]) < 60
    short = [sung("pad", 57, seconds=0.2, set={"swell": 0, "fade": 0})]
    held = measured(page, short, 2, [[1, 64, 127, 0], [1, 64, 0, 1.2]])
    assert held["level"] > 10 * measured(page, short, 2)["level"] and held["end"] < 1e-3
    drum = [{"pitch": 42, "channel": 10, "velocity": 110, "time": 0.45, "seconds": 0.3}]
    assert measured(page, drum, 2, [[10, 7, 40, 0]])["level"] < \
        measured(page, drum, 2)["level"] / 2


def lane_of(state: Any, lane: str) -> Any:
    return next(each for each in state["view"]["lanes"] if each["id"] == lane)


def test_chords_by_their_names_are_asked_about_when_the_key_moves_on(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    page.get_by_role("button", name="Chords", exact=True).click()
    page.keyboard.type("Gm7 A/C#")
    page.keyboard.press("Enter")
    studio.settled(lambda state: state["view"]["progression"]["words"] == ["Gm7", "A/C#"])
    asks = page.get_by_role("button", name="move them along")

    def move_to(root: str) -> None:
        page.get_by_role("group", name="Key").get_by_role("spinbutton", name="key").click()
        page.get_by_role("menuitemradio", name=root, exact=True).click()
        expect(asks).to_be_visible()
    move_to("C")
    page.get_by_role("button", name="leave them").click()
    expect(asks).to_have_count(0)
    move_to("D")
    asks.click()
    studio.settled(lambda state: state["view"]["progression"]["words"] == ["Am7", "B/E♭"])
    move_to("C")
    page.get_by_role("button", name="make them numerals").click()
    studio.settled(lambda state: state["view"]["progression"]["words"] == ["v7", "VI/3"])
    for _ in range(2):
        page.keyboard.press("Control+z")
    studio.settled(lambda state: state["view"]["progression"]["root"] == 2)
    expect(asks).to_have_count(0)


def test_key_chords_and_degrees_by_hand(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    key = page.get_by_role("group", name="Key")
    key.get_by_role("spinbutton", name="key").click()
    page.get_by_role("menuitemradio", name="E", exact=True).click()
    before = studio.settled(lambda state: lane_of(state, "root")["scale"]["root"] == 4)
    page.get_by_role("button", name="Chord 1: i7, Em7").click()
    page.get_by_role("menuitemradio", name="IV7 A7").click()
    after = studio.settled(lambda state: state["view"]["progression"]["words"][0] == "IV7")
    bells = [lane_of(state, "bells")["drawn"]["notes"] for state in (before, after)]
    assert bells[0] != bells[1]  # the chord's lane follows, and a drum lane does not
    assert lane_of(before, "drip")["drawn"]["notes"] == lane_of(after, "drip")["drawn"]["notes"]
    end = page.get_by_role("slider", name="Beats of chord 1")
    end.focus()
    page.keyboard.press("ArrowLeft")
    studio.settled(lambda state: state["view"]["progression"]["beats"][0] == "7")

    page.get_by_role("button", name="Root", exact=True).click()
    page.get_by_role("tab", name="degree").click()
    page.get_by_role("button", name="scatter", exact=True).click()
    thrown = studio.settled(lambda state: "scattered" in state["history"]["undo"], "root")
    values = [strand["values"] for strand in thrown["view"]["chosen"]["strands"]
              if strand["kind"] == "degree"]
    page.get_by_role("button", name="scatter", exact=True).click()
    again = studio.settled(lambda state: [
        strand["values"] for strand in state["view"]["chosen"]["strands"]
        if strand["kind"] == "degree"] != values, "root")
    assert again["history"]["undo"]
    page.keyboard.press("Control+z")
    studio.settled(lambda state: [strand["values"] for strand in state["view"]["chosen"]["strands"]
                                  if strand["kind"] == "degree"] == values, "root")


def test_keys_fill_steps_and_feed_an_arpeggio(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    page.get_by_role("button", name="Root", exact=True).click()
    page.get_by_role("button", name="keys", exact=True).click()
    page.get_by_role("radio", name="step by step").click()
    for letter in "adg":
        page.keyboard.down(letter)
    page.wait_for_timeout(400)  # held together, and not one after the other
    for letter in "adg":
        page.keyboard.up(letter)
    state = studio.settled(lambda state: "played in" in state["history"]["undo"], "root")
    first = [strand["values"][0] for strand in state["view"]["chosen"]["strands"]
             if strand["kind"] == "degree"]
    assert len(first[0]["all"]) > 1  # several keys at once are a chord step
    page.get_by_role("button", name="Drip", exact=True).click()
    page.get_by_role("radio", name="hold", exact=True).click()
    page.keyboard.down("a")
    page.keyboard.down("s")
    page.keyboard.up("a")
    page.keyboard.up("s")
    state = studio.settled(lambda state: "walk" in json.dumps(
        state["view"]["chosen"]["sentence"]).lower(), "drip")
    studio.settled(lambda state: len(Counter(
        pitch for _, _, pitch, *_ in lane_of(state, "drip")["drawn"]["notes"])) == 2, "drip")


def test_drums_of_a_walk_are_pads_that_write_its_order(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    page.get_by_role("button", name="+ arpeggio").click()
    page.get_by_role("button", name="keys", exact=True).click()
    pads = page.locator(".pads .tap")
    expect(pads).to_have_count(7)
    page.get_by_role("radio", name="its order").click()
    pads.nth(2).click()
    studio.settled(lambda state: "played" in state["history"]["undo"], "drip")
    page.keyboard.type("a12", delay=80)
    expect(studio.word("arpeggio.order_places")).to_have_text("3, 1, rest, hold")
    # Another scale under the same order, held against the one that stands, and let go again.
    order = [note[2] for note in lane_of(studio.state(), "drip")["drawn"]["notes"]]
    page.get_by_role("button", name="another scale").click()
    expect(page.locator(".lane-words")).to_contain_text("In a key of its own")
    page.get_by_role("button", name="A", exact=True).click()
    expect(page.locator(".lane-words")).not_to_contain_text("In a key of its own")
    # One drum for another, in its place.
    page.get_by_role("button", name="Exchange Closed hi-hat").click()
    page.get_by_role("button", name="Hand clap 39").click()
    state = studio.settled(lambda state: "Hand clap for" in state["history"]["undo"], "drip")
    assert [note[2] for note in lane_of(state, "drip")["drawn"]["notes"]] == [
        39 if pitch == 42 else pitch for pitch in order]
    # Tapped, drums are what is held; the pads stay where they are.
    page.get_by_role("radio", name="hold", exact=True).click()
    names = pads.all_inner_texts()
    pads.nth(1).click()
    pads.nth(4).click()
    studio.settled(lambda state: [each["note"] for each in state["view"]["chosen"]["arpeggio"][
        "held"]] == [38, 39], "drip")
    assert [name.split()[-2:] for name in pads.all_inner_texts()][8:12] == [
        name.split()[-2:] for name in names][8:12]


def test_a_lane_longer_than_the_view_is_stepped_in_by_fast_hands(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    studio.lane("Root")
    studio.type_word("steps", "64")
    studio.word("reads").click()
    page.get_by_role("menuitemradio", name="of the key").click()
    page.get_by_role("button", name="keys", exact=True).click()
    page.get_by_role("radio", name="step by step").click()
    page.get_by_role("button", name="from nothing").click()
    row = "adfg" * 16
    now = page.get_by_role("status", name="Next")
    expect(now).to_have_text("step 1 of 64")
    page.keyboard.press("a")
    expect(now).to_have_text("step 2 of 64")
    page.keyboard.type(row[1:], delay=25)  # down and up: forty keys a second and more
    expect(now).to_have_text("step 1 of 64")
    state = studio.settled(lambda state: "step 64 played in" in state["history"]["undo"], "root")
    assert len(set(degrees(state)[:4])) == 4 and degrees(state) == degrees(state)[:4] * 16
    # A rest, a step back, another note in its place; then the row of pitches alone.
    page.keyboard.press("1")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("j")
    page.get_by_label("only pitches").check()
    page.get_by_role("button", name="from nothing").click()
    for letter in "ah":
        page.keyboard.press(letter)
    state = studio.settled(lambda state: "pitch 2 played in" in state["history"]["undo"], "root")
    assert len(degrees(state)) == 2
    assert len(lane_of(state, "root")["drawn"]["hits"]) == 32, "the rhythm is as it was"


def degrees(state: Any) -> list[Any]:
    """The row of the chosen lane."""
    return next(list(strand["values"]) for strand in state["view"]["chosen"]["strands"]
                if strand["kind"] == "degree")


def test_a_starting_recipe_is_heard_and_taken(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    page.get_by_role("button", name="starting recipes").click()
    page.get_by_label("Find a starting recipe").fill("rumba")
    page.get_by_role("button", name="Hear Rumba clave").click()
    page.get_by_role("button", name="Take Rumba clave into a new lane").click()
    state = studio.settled(lambda state: state["view"]["lanes"][-1]["name"] == "Rumba clave")
    found = [start * 4 for start, *_ in state["view"]["lanes"][-1]["drawn"]["notes"]]
    assert found[:5] == [0, 3, 7, 10, 12]
    page.get_by_role("button", name="starting recipes").click()
    page.get_by_role("button", name="save “Rumba clave”").click()
    page.get_by_label("Name").last.fill("My clave")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Hear My clave")).to_be_visible()
    with page.expect_download() as taking:
        page.get_by_role("button", name="out as JSON").click()
    starts = json.loads(taking.value.path().read_text())["starts"]
    assert [start["name"] for start in starts] == ["My clave"]
    page.get_by_role("button", name="Take away My clave").click()
    expect(page.get_by_role("button", name="Hear My clave")).to_have_count(0)
    page.locator('input[accept^="application/json"]').set_input_files(files=[{
        "name": "s.json", "mimeType": "application/json",
        "buffer": json.dumps({"starts": starts}).encode()}])
    expect(page.get_by_role("button", name="Hear My clave")).to_be_visible()


def test_the_simulated_port_gets_everything_and_every_note_ends(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    page.get_by_role("button", name="ports", exact=True).click()
    page.get_by_label("Port of all lanes").select_option("simulated")
    page.get_by_role("button", name="Close", exact=True).click()
    page.get_by_role("button", name="Play", exact=True).click()
    studio.played(5)
    page.get_by_role("button", name="Mute Pump").click()
    studio.played(8)
    page.get_by_role("button", name="Stop", exact=True).click()
    page.wait_for_timeout(400)
    page.get_by_role("button", name="ports", exact=True).click()
    with page.expect_download() as saving:
        page.get_by_role("button", name="save the list").click()
    events = json.loads(saving.value.path().read_text())["events"]
    sounding: Counter[tuple[int, int]] = Counter()
    kinds: Counter[str] = Counter()
    for event in events:
        status, *data = event["bytes"]
        kinds[event["words"].split()[0]] += 1
        if status & 0xF0 == 0x90:
            sounding[status & 15, data[0]] += 1
            assert sounding[status & 15, data[0]] == 1, "a note begins while it still sounds"
        elif status & 0xF0 == 0x80:
            sounding[status & 15, data[0]] -= 1
    assert not +sounding, "every note that began was ended"
    assert kinds["start"] == kinds["stop"] == 1 and kinds["position"] == 1
    assert kinds["controller"] > 20 and kinds["clock"] > 100
    clocks = [event["milliseconds"] for event in events if event["words"] == "clock"]
    # By the notes, not by the wall: the pump strikes on every beat, 24 clocks apart, however fast
    # the sound card's own clock runs.
    pump = [event["milliseconds"] for event in events if event["bytes"][:2] == [0x99, 36]]
    nearest = [min(range(len(clocks)), key=lambda i, at=at: abs(clocks[i] - at))  # type: ignore[misc]
               for at in pump]
    assert len(pump) >= 4
    assert {after - before for before, after in pairwise(nearest)} == {24}


def test_another_clock_is_followed(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    page.get_by_role("button", name="ports", exact=True).click()
    page.get_by_label("Clock to follow").select_option("simulated clock")
    page.get_by_label("Tempo of the simulated clock").fill("150")
    page.get_by_role("button", name="start it").click()
    expect(page.get_by_text(re.compile(r"following 1(4[5-9]|5[0-5])\."))).to_be_visible()
    page.get_by_role("button", name="stop it").click()
    page.get_by_role("button", name="Close", exact=True).click()
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_visible()
