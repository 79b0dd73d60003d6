"""Recordings of one's own on drum lanes: dropped, kept with the piece, trimmed, tuned, choked."""

import base64
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Studio
from tests.browser.test_melodies import hertz, lane_of, measured
from tests.recordings import digest, recording

pytestmark = pytest.mark.django_db

DROP = """async ([selector, name, base64, zeros]) => {
    const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0))
    const dataTransfer = new DataTransfer()
    dataTransfer.items.add(new File([bytes, new Uint8Array(zeros)], name))
    const drop = new DragEvent('drop', { dataTransfer, bubbles: true, cancelable: true })
    document.querySelector(selector).dispatchEvent(drop)
}"""


def drop(page: Page, selector: str, name: str, data: bytes, zeros: int = 0) -> None:
    """Drop a file of these bytes, and so many zeros after them."""
    page.evaluate(DROP, [selector, name, base64.b64encode(data).decode(), zeros])


def test_a_sound_is_dropped_on_a_lane_and_stays_with_the_piece(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    tone = recording("WAV", hertz(69), seconds=1.5)
    drop(page, 'canvas[data-lane="pump"]', "Lid of a pot.wav", tone)
    kept = studio.settled(lambda state: lane_of(state, "pump")["sound"]["own"] is not None)
    assert lane_of(kept, "pump")["sound"]["own"]["file"] == digest(tone)
    expect(studio.notice()).to_contain_text("Heard as “Lid of a pot.wav”")
    studio.lane("Pump")
    studio.type_word("own_sound.tune", "-12")
    studio.settled(lambda state: lane_of(state, "pump")["sound"]["own"]["tune"] == -12)
    page.reload()
    page.locator("canvas.row").first.wait_for()
    expect(page.locator(".lane-words")).to_contain_text("Heard as “Lid of a pot.wav”")
    # What is no sound, too much, or not for this lane: one sentence, and nothing changes.
    before = studio.state()["revision"]
    drop(page, 'canvas[data-lane="pump"]', "notes.txt", b"buy a new pump")
    expect(studio.notice()).to_contain_text("“notes.txt” is no sound")
    drop(page, 'canvas[data-lane="pump"]', "long.wav", tone, 5 * 2**20)
    expect(studio.notice()).to_contain_text("larger than 5 MB")
    drop(page, ".shelf", "Lid of a pot.wav", tone)
    expect(studio.notice()).to_contain_text("Drop a sound on the drum lane")
    assert studio.state()["revision"] == before
    for kind in ("FLAC", "OGG", "MP3"):
        page.locator(".lane-head input[type=file]").first.set_input_files(
            {"name": f"tone.{kind}", "mimeType": "", "buffer": recording(kind)})
        studio.settled(lambda state, name=f"tone.{kind}":  # type: ignore[misc]
                       lane_of(state, "pump")["sound"]["own"]["name"] == name)
    page.get_by_role("button", name="Play", exact=True).click()
    studio.until("window.jollyScheduled.some((note) => note.lane === 'pump')")


def test_a_sound_is_trimmed_on_its_waveform(studio: Studio) -> None:
    """Both ends are dragged in milliseconds, and snap to where it is struck."""
    studio.own_copy()
    page = studio.page
    tone = recording("WAV", hertz(69), seconds=0.75, silent=0.25)
    drop(page, 'canvas[data-lane="pump"]', "Lid of a pot.wav", tone)
    studio.lane("Pump")
    begins, ends = (page.get_by_role("slider", name=name) for name in (
        "Beginning of the sound", "End of the sound"))
    expect(ends).to_have_attribute("aria-valuetext", "1,000 ms")
    area = page.get_by_role("group", name="The sound").bounding_box()
    assert area

    def pull(slider: Locator, share: float) -> None:
        at = slider.bounding_box()
        assert at and area
        page.mouse.move(at["x"] + at["width"] / 2, at["y"] + 12)
        page.mouse.down()
        page.mouse.move(area["x"] + share * area["width"], at["y"] + 12, steps=5)
        page.mouse.up()

    pull(begins, 0.244)
    expect(begins).to_have_attribute("aria-valuetext", "250 ms")
    kept = studio.settled(lambda state: "heard from" in (state["history"]["undo"] or ""), "pump")
    assert 24.9 < lane_of(kept, "pump")["sound"]["own"]["start"] < 25.1
    pull(ends, 0.7)
    ends.press("PageDown")
    ends.press("ArrowRight")
    studio.settled(lambda state: 68 < lane_of(state, "pump")["sound"]["own"]["end"] < 70.5, "pump")
    pull(begins, 0.9)  # no further than what is left
    kept = studio.settled(lambda state: lane_of(state, "pump")["sound"]["own"]["start"] > 60,
                          "pump")
    own = lane_of(kept, "pump")["sound"]["own"]
    assert own["start"] < own["end"]


def test_a_recording_is_trimmed_tuned_faded_and_choked(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    tone = recording("WAV", hertz(69), seconds=1.5)
    drop(page, 'canvas[data-lane="pump"]', "tone.wav", tone)
    studio.settled(lambda state: lane_of(state, "pump")["sound"]["own"] is not None)

    def struck(lane: str = "open", time: float = 0.05, by: str | None = None,
               **own: Any) -> dict[str, Any]:
        return {"pitch": 46, "channel": 10, "velocity": 110, "time": time, "seconds": 0.1,
                "lane": lane, "choked_by": by, "own": {"file": digest(tone)} | own}

    def heard(*notes: dict[str, Any], at: int | None = None, seconds: float = 2) -> dict[str, Any]:
        return measured(page, list(notes), seconds, (), hertz(at) if at else None)

    whole = heard(struck(), at=69)
    assert abs(whole["cents"]) < 2 and whole["level"] > 0.05 and whole["peak"] <= 0.99
    assert whole["end"] < 1e-3 and whole["jump"] < 0.05, "ends in silence, without a click"
    assert abs(heard(struck(tune=-7.5), at=69 - 7, seconds=3)["cents"] + 50) < 2
    tuned = [struck(tune=-3.5) | {"tune": -4}]
    assert abs(heard(*tuned, at=69 - 7, seconds=3)["cents"] + 50) < 2, "by its lane, and its roll"
    assert heard(struck(start=80))["level"] < 1e-3 < heard(struck(end=80))["level"]
    assert heard(struck(fade_in=2000))["level"] < 0.7 * whole["level"]
    assert heard(struck(fade_out=1400))["level"] < 0.8 * whole["level"]
    closed = struck("closed", 0.35, start=99)
    assert heard(struck(by="closed"), closed)["level"] < 1e-3
    for other in (struck(by="bell"), struck()):
        assert heard(other, closed)["level"] > 0.9 * whole["level"]
    assert heard(struck(by="open"), struck(time=0.1))["level"] > 0.9 * whole["level"]
    missing = struck() | {"own": {"file": "0" * 64}}
    assert heard(missing)["peak"] > 0.03, "the kit's drum sounds in place of what is not there"
