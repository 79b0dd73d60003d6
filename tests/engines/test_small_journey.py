"""Open, look, turn, listen, keep and take out: in every engine as in Chromium."""

import json
from io import BytesIO

import mido
import pytest

from tests.browser.test_sound import MEASURE, struck
from tests.engines.conftest import UP, Hand

pytestmark = pytest.mark.django_db

WORD = ("//*[contains(@class, 'recipe') and not(@inert)]"
        "//*[contains(@class, 'lane-words')]//*[@data-slot='rule.pulses']")
DRIP = "//*[contains(@class, 'lane-head')]//*[contains(@class, 'words')][contains(., 'Drip')]"
# For each lane's row, how many of its pixels are painted over the ground.
DRAWN = """return [...document.querySelectorAll('canvas.row')].map((row) => {
    const { data } = row.getContext('2d').getImageData(0, 0, row.width, row.height)
    const ground = data.slice(0, 4).join()
    let drawn = 0
    for (let at = 0; at < data.length; at += 4) drawn += data.slice(at, at + 4).join() !== ground
    return drawn
})"""
RENDER = f"({MEASURE})(arguments[0]).then((told) => {{ window.rendered = told }})"


def drawn(hand: Hand) -> list[int]:
    found: list[int] = hand.run(DRAWN)
    return found


@pytest.fixture(scope="module")
def opened(hand: Hand) -> Hand:
    hand.press("Open the demo")
    hand.find("//a[contains(., 'Sprinklers')]")
    piece = next(each["id"] for each in json.loads(hand.ask("GET", "pieces"))
                 if each["name"] == "Sprinklers")
    copy = json.loads(hand.ask("POST", f"pieces/{piece}/duplicate"))["id"]
    hand.go(f"pieces/{copy}")
    hand.until(lambda: len(drawn(hand)) > 4)
    return hand


def test_lanes_are_drawn_and_follow_a_word_by_key_and_by_hand(opened: Hand) -> None:
    before = opened.until(lambda: all(drawn(opened)) and drawn(opened))
    opened.click(DRIP)
    word = opened.find(WORD)
    assert word.text == "7"
    word.send_keys(UP)
    opened.until(lambda: opened.find(WORD).text == "8" and drawn(opened) != before)
    box = opened.run("return arguments[0].getBoundingClientRect().toJSON()", opened.find(WORD))
    opened.engine.drag(int(box["x"] + box["width"] / 2), int(box["y"] + box["height"] / 2), 60)
    opened.until(lambda: int(opened.find(WORD).text) > 9)
    turned = opened.find(WORD).text
    opened.go(opened.run("return location.pathname").lstrip("/"))
    opened.click(DRIP)
    opened.until(lambda: opened.find(WORD).text == turned)


def test_it_plays_keeps_and_gives_a_midi_file(opened: Hand) -> None:
    opened.press("Play")
    opened.until(lambda: opened.run("return jollyScheduled.some(({ beat }) => beat >= 10)"))
    assert all(lead > 0 for lead in opened.run("return jollyScheduled.map(({ lead }) => lead)"))
    opened.find("//*[contains(@class, 'trail')]//li[@data-pass]")
    opened.press("Stop")
    opened.click("//*[@aria-label='Keep and reroll']//button")
    link = opened.find("//a[@download][contains(., 'MIDI file')]")
    data = opened.ask("GET", link.get_attribute("href").split("/api/")[1])
    tracks = mido.MidiFile(file=BytesIO(data)).tracks
    notes = [sum(event.type == "note_on" for event in track) for track in tracks]
    assert sum(notes) > 10
    assert link.text.strip() == f"MIDI file, {sum(map(bool, notes))} tracks"


def test_sounds_are_rendered_as_elsewhere(opened: Hand) -> None:
    opened.run(RENDER, [[struck(38)], 1])
    found = opened.until(lambda: opened.run("return window.rendered"))
    assert found["sane"] and 0.03 < found["peak"] <= 0.99 and 0.04 < found["first"] < 0.08


def test_what_it_cannot_do_it_says(opened: Hand) -> None:
    if not opened.run("return 'showDirectoryPicker' in window"):
        opened.press("Keep a folder")
        opened.find("//*[contains(., 'lets no page keep a folder in step')]"
                    "//button[contains(., '.zip')]")
    assert opened.run("return broken") == []
