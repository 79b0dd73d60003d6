"""Sound, by numbers: every drum and every demo piece, rendered in the browser and measured."""

from typing import Any

import pytest
from lattice import PERCUSSION
from playwright.sync_api import Page, expect
from studio.demo import PIECES

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db

MEASURE = """async ([notes, seconds]) => {
    const [samples] = await window.jollyRender(notes, seconds)
    let peak = 0, first = -1, end = 0
    samples.forEach((sample, i) => {
        const loud = Math.abs(sample)
        peak = Math.max(peak, loud)
        if (loud > 1e-3) { if (first < 0) first = i / 44100; end = i / 44100 }
    })
    // The loudest stretch of 60 ms, as an effective value.
    const width = Math.round(0.06 * 44100)
    let most = 0
    for (let from = 0; from + width < samples.length; from += width >> 1) {
        let sum = 0
        for (let i = from; i < from + width; i += 1) sum += samples[i] * samples[i]
        most = Math.max(most, Math.sqrt(sum / width))
    }
    return { peak, first, end, level: most, sane: samples.every(Number.isFinite) }
}"""


def measured(page: Page, notes: list[dict[str, Any]], seconds: float) -> dict[str, Any]:
    return dict(page.evaluate(MEASURE, [notes, seconds]))


def struck(pitch: int, velocity: int = 100, time: float = 0.05, seconds: float = 0.3) -> dict[
        str, Any]:
    return {"pitch": pitch, "channel": 10, "velocity": velocity, "time": time, "seconds": seconds}


def test_every_sound_of_the_kit_is_heard_and_none_drowns_the_others(studio: Studio) -> None:
    studio.own_copy()
    levels = {}
    for note in [*PERCUSSION, 24, 100]:
        found = measured(studio.page, [struck(note)], 2.5)
        assert found["sane"] and 0.03 < found["peak"] <= 0.99, (note, found)
        assert 0.04 < found["first"] < 0.08, (note, found)
        assert found["end"] < 2.2, "it dies away"
        levels[note] = found["level"]
    middle = sorted(levels.values())[len(levels) // 2]
    far = {note: level / middle for note, level in levels.items() if not 0.4 < level / middle < 2}
    assert far == {}, "within 8 dB of each other at equal velocity"
    soft = measured(studio.page, [struck(38, velocity=30)], 1)
    loud = measured(studio.page, [struck(38, velocity=127)], 1)
    assert soft["level"] < loud["level"] / 3


CROSSINGS = """async (note) => {
    const [samples] = await window.jollyRender([note], 0.3)
    const part = samples.slice(0.08 * 44100, 0.14 * 44100)
    return part.reduce((count, sample, i) => count + (i > 0 && sample > 0 && part[i - 1] <= 0), 0)
}"""


def test_a_drum_is_tuned_in_semitones(studio: Studio) -> None:
    studio.own_copy()
    plain, high, low = (studio.page.evaluate(CROSSINGS, struck(53) | {"tune": tune})
                        for tune in (0, 12, -12))
    assert abs(plain - 1250 * 0.06) <= 1, "a bell at 1,250 Hz"
    assert abs(high - 2 * plain) <= 2 and abs(low - plain / 2) <= 1


def test_the_demo_pieces_never_clip_nor_does_a_wall_of_drums(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    there = {piece["name"]: piece["patterns"] for piece in studio.api("GET", "pieces")}
    patterns = [pattern["id"] for name in PIECES for pattern in there[name]]
    assert len(patterns) >= 6
    for pattern in patterns:
        view = studio.api("POST", f"patterns/{pattern}/state", {"end": 16})["view"]
        beat = 60 / view["tempo"]
        notes = [struck(pitch, velocity, 0.05 + start * beat, length * beat) | {
                     "by": lane["sound"]["by"], "set": lane["sound"]["set"], "lane": lane["id"],
                     "channel": lane["channel"], "pitched": lane["kind"] == "pitched"}
                 for lane in view["lanes"] if lane["kind"] != "control"
                 for start, length, pitch, velocity, _ in lane["drawn"]["notes"]]
        found = measured(page, notes, 16 * beat + 2)
        assert found["sane"] and 0.1 < found["peak"] <= 0.99, (pattern, found)
    wall = [struck(note, 127, 0.05 + 0.25 * i) for i in range(4) for note in range(35, 82)]
    assert measured(page, wall, 3)["peak"] <= 0.99


def test_the_volume_is_remembered_and_a_lane_has_a_level_of_its_own(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    volume = page.get_by_role("slider", name="Volume")
    volume.focus()
    page.keyboard.press("Home")
    expect(volume).to_have_attribute("aria-valuetext", "0 %")
    page.reload()
    page.locator("canvas.row").first.wait_for()
    expect(volume).to_have_attribute("aria-valuetext", "0 %")
    page.get_by_role("button", name="More for Pump").click()
    page.get_by_role("menuitem", name="Level: 100 %").click()
    page.get_by_label("Percent, 0 to 200").fill("900")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("from 0 to 200 percent")
    page.get_by_label("Percent, 0 to 200").fill("40")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="More for Pump").click()
    expect(page.get_by_role("menuitem", name="Level: 40 %")).to_be_visible()
    assert studio.state()["history"]["undo"] is None, "for listening only"


def test_a_pitch_that_only_a_roll_reaches_sounds_the_first_time(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    revision = studio.state()["revision"]
    rising = [{"do": "roll", "lane": "pump", "steps": [0], "strokes": 4},
              {"do": "set", "lane": "pump", "slot": "rolls.0.pitch.1", "value": 30},
              {"do": "set", "lane": "pump", "slot": "tuned", "value": "notes"}]
    studio.api("POST", f"patterns/{studio.pattern}/edits",
               {"revision": revision, "end": 4, "edits": rising})
    page.add_init_script("""
        window.sounded = []
        const start = AudioBufferSourceNode.prototype.start
        AudioBufferSourceNode.prototype.start = function (...at) {
            if (!(this.context instanceof OfflineAudioContext) && this.buffer?.duration > 0.1)
                window.sounded.push(at[0])
            return start.apply(this, at)
        }""")
    page.reload()
    page.locator("canvas.row").first.wait_for()
    page.get_by_role("button", name="Play", exact=True).click()
    studio.played(2)
    scheduled = [note for note in studio.stop() if note["beat"] < 2]
    assert len({note["pitch"] for note in scheduled if note["lane"] == "pump"}) == 4
    times = page.evaluate("window.sounded")
    for note in scheduled:
        assert any(abs(note["time"] - time) < 1e-6 for time in times), note


def test_as_slow_and_as_fast_as_can_be_with_everything_unsure(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    unsure = [{"do": "pattern", "field": "tempo", "value": 400},
              {"do": "add", "lane": None, "clause": "chance-scale"},
              {"do": "set", "lane": None, "slot": "probability_scale", "value": 10}]
    studio.api("POST", f"patterns/{studio.pattern}/edits", {
        "revision": studio.state()["revision"], "end": 4, "edits": unsure})
    page.reload()
    page.locator("canvas.row").first.wait_for()
    studio.play_passes(4)
    played = studio.stop()
    trail = studio.api("GET", f"patterns/{studio.pattern}/trail")
    assert played
    assert len(trail) >= 4
    for heard in trail[-4:]:  # what lies on the Trail is what was scheduled
        assert len(studio.passed(heard["id"])) < 15
    page.get_by_role("button", name="400 bpm").or_(page.locator("[data-slot=tempo]")).first.focus()
    page.keyboard.press("Home")
    expect(page.locator("[data-slot=tempo]")).to_have_text("20")
    studio.settled(lambda state: state["view"]["tempo"] == 20)
    page.get_by_role("button", name="Play", exact=True).click()
    studio.played(0.25)
    assert page.locator(".playhead").first.is_visible()
    assert studio.stop()
