"""Whole journeys of a musician, from nothing to a file, and through trouble."""

import os
import signal
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from ops.database import free_port
from ops.serve import listen, served
from tests.browser.conftest import Studio
from tests.browser.midi_reader import read

pytestmark = pytest.mark.django_db


HAIR = 1e-4
"""So far, in beats, what begins with a pass may lie before its start: a pass may be broken off
anywhere, and its length on the Trail is a fraction near to that."""


def heard_in(scheduled: list[dict], start: float, end: float) -> list[tuple[int, int, int, int]]:
    """What was scheduled in [start, end) beats, as a file from `start` on would hold it."""
    return sorted((round((n["beat"] - start) * 960),
                   min(round((n["beat"] + n["length"] - start) * 960), round((end - start) * 960)),
                   n["pitch"], n["velocity"])
                  for n in scheduled if start - HAIR <= n["beat"] < end - HAIR)


def same(found: list[tuple[int, int, int, int]], wanted: list[tuple[int, int, int, int]]) -> None:
    """Equal event for event; a tick of rounding apart at most."""
    assert len(found) == len(wanted) > 0
    for a, b in zip(found, wanted, strict=True):
        assert a[2:] == b[2:] and abs(a[0] - b[0]) <= 1 and abs(a[1] - b[1]) <= 2, (a, b)


def test_from_nothing_to_a_midi_file(page: Page, studio: Studio) -> None:
    page.goto(studio.address)
    page.get_by_role("button", name="I am new here").click()
    page.get_by_role("textbox", name="Name").fill("fan")
    page.get_by_label("Password").fill("12345")
    page.get_by_role("button", name="Sign up").click()
    expect(page.locator("p[role=alert]")).to_contain_text("too short")
    page.get_by_label("Password").fill("a-warm-greenhouse-9")
    page.get_by_role("button", name="Sign up").click()
    page.get_by_role("button", name="New piece").click()
    page.get_by_role("textbox", name="Name").fill("Condensation")
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("button", name="+ lane").click()
    page.get_by_role("textbox", name="Which lanes").fill("42")
    page.get_by_role("button", name="Closed hi-hat").click()
    page.get_by_role("textbox", name="Which lanes").press("Escape")
    page.get_by_label("New lanes").wait_for(state="hidden")
    studio.word("rule.kind").click()
    page.get_by_role("option", name="Spread").or_(page.locator(
        ".v-list-item", has_text="Spread")).first.click()
    studio.type_word("rule.pulses", "99")
    expect(studio.notice()).to_have_text("Hits takes a whole number from 0 to 16.")
    page.locator(".typing").fill("7")  # it waits there to be mended
    page.keyboard.press("Enter")
    expect(studio.word("rule.pulses")).to_have_text("7")
    studio.type_word("steps", "12")
    word = studio.word("velocity")
    box = word.bounding_box()
    assert box
    page.mouse.move(box["x"] + 5, box["y"] + 8)
    page.mouse.down()
    page.mouse.move(box["x"] + 5, box["y"] + 58, steps=6)
    expect(word).to_have_text("90")
    assert studio.state()["history"]["undo"] == "Closed hi-hat: steps 16 to 12", "only tried out"
    page.mouse.up()
    studio.settled(lambda state: "velocity 100 to 90" in state["history"]["undo"])
    studio.play_passes(1)
    page.keyboard.press("k")
    card = page.locator("[data-clip]").first
    card.wait_for()
    with page.expect_download() as download:
        card.get_by_role("link", name="as a MIDI file").click()
    assert download.value.suggested_filename == "Pattern 1, pass 1.mid"
    notes, end = read(Path(download.value.path()).read_bytes())
    same(notes, heard_in(studio.stop(), 0, 4))
    assert end == 4 * 960
    assert [note[0] // 240 for note in notes] == [0, 2, 3, 5, 7, 8, 10, 12, 14, 15], "E(7,12)"
    assert {note[2:] for note in notes} == {(42, 90)}


def test_what_is_kept_is_what_was_scheduled_event_for_event(studio: Studio) -> None:
    """Through drags, rerolls, mutes, another tempo and Stay, while it plays."""
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    page.get_by_role("button", name="Play", exact=True).click()
    page.wait_for_timeout(1500)
    for press in ("r", "r", "m", "m", "s", "s"):
        page.keyboard.press(press)
        page.wait_for_timeout(350)
    word = studio.word("rule.pulses")
    word.focus()
    for _ in range(6):
        word.press("ArrowDown")
        page.wait_for_timeout(130)
    expect(page.locator(".trail li[data-pass]").nth(4)).to_be_visible()
    scheduled = studio.stop()
    trail = studio.api("GET", f"patterns/{studio.pattern}/trail")
    assert len(trail) >= 5
    at = 0.0
    for entry in trail:
        clip = studio.api("POST", f"patterns/{studio.pattern}/keep", {"passes": [entry["id"]]})
        notes, _ = read(studio.file(clip["id"]))
        same(notes, heard_in(scheduled, at, at + entry["beats"]))
        at += entry["beats"]


def test_two_tabs_on_one_pattern(studio: Studio, page: Page) -> None:
    studio.own_copy()
    other = page.context.new_page()
    other.goto(page.url)
    other.locator("canvas.row").first.wait_for()
    studio.lane("Pump")
    studio.type_word("velocity", "77")
    studio.settled(lambda state: "77" in state["history"]["undo"])
    second = Studio(other, studio.address)
    second.lane("Valve")
    second.type_word("rule.pulses", "3")
    notice = second.notice()
    expect(notice).to_contain_text("changed in another window")
    expect(notice).to_contain_text("Valve: hits 2 to 3")
    expect(second.word("rule.pulses")).to_have_text("2")
    other.get_by_role("button", name="Do it here too").click()
    expect(second.word("rule.pulses")).to_have_text("3")
    second.lane("Pump")
    expect(second.word("velocity")).to_have_text("77")
    # Undo goes on after a reload, and reaches what the other tab did.
    other.reload()
    other.locator("canvas.row").first.wait_for()
    for _ in range(2):
        revision = second.state()["revision"]
        other.keyboard.press("Control+z")
        second.settled(lambda state, now=revision: state["revision"] != now)
    second.lane("Pump")
    expect(second.word("velocity")).to_have_text("112")


def test_a_killed_server_loses_nothing_that_was_acknowledged(
        browser: Browser, server_env: dict[str, str]) -> None:
    port = free_port()
    with served(listen(port), server_env) as first:
        page = browser.new_page()
        studio = Studio(page, f"http://127.0.0.1:{port}")
        studio.own_copy()
        studio.lane("Pump")
        page.get_by_role("button", name="Play", exact=True).click()
        for velocity in range(60, 72):
            studio.type_word("velocity", str(velocity))
        expect(page.get_by_role("button", name="to 71")).to_be_visible()
        before = len(page.evaluate("window.jollyScheduled"))
        os.killpg(first.pid, signal.SIGKILL)
        first.wait()
        page.wait_for_timeout(1000)
        studio.type_word("velocity", "55")
        expect(page.get_by_text("Server away")).to_be_visible()
        studio.until(f"window.jollyScheduled.length > {before + 10}")  # what is known goes on
        offline = float(page.evaluate("window.jollyScheduled.at(-1).beat"))
    with served(listen(port), server_env):
        expect(page.get_by_text("Server away")).to_be_hidden()
        state = studio.settled(lambda state: "to 55" in state["history"]["undo"])
        again = {"revision": state["revision"], "end": 4}
        for velocity in range(71, 59, -1):
            undone = studio.api("POST", f"patterns/{studio.pattern}/undo", again)
            assert "history" in undone, undone
            assert f"to {velocity}" in undone["history"]["undo"]
            again["revision"] = undone["revision"]
        # What was heard while the server was away is on the Trail, too, in its order and whole.
        studio.stop()
        trail = studio.comes(lambda: studio.api("GET", f"patterns/{studio.pattern}/trail"),
                             lambda trail: sum(entry["beats"] for entry in trail) >= offline)
        scheduled, at = page.evaluate("window.jollyScheduled"), 0.0
        for entry in trail:
            same(heard_in(studio.passed(entry["id"]), 0, entry["beats"]),
                 heard_in(scheduled, at, at + entry["beats"]))
            at += entry["beats"]
        assert at >= offline
        assert studio.broken == []
        page.close()


def test_all_by_keyboard(studio: Studio) -> None:
    studio.own_copy("Pump Room")
    page, press = studio.page, studio.page.keyboard.press
    page.locator("body").click(position={"x": 640, "y": 770})
    press("ArrowDown")
    expect(page.get_by_role("heading", name="Valve")).to_be_visible()
    for key in ("ArrowRight", "ArrowRight", "Enter"):
        press(key)
    state = studio.settled(lambda state: state["history"]["undo"] == "Valve: step 3 plays")
    assert 0.5 in [hit[0] for hit in state["view"]["lanes"][1]["drawn"]["hits"]]
    press("4")
    studio.settled(lambda state: state["history"]["undo"] == "Valve: step 3 rolls 4 times")
    press(".")
    studio.settled(lambda state: state["history"]["undo"] == "Valve: turn 4 to 5")
    press("[")
    studio.settled(lambda state: state["history"]["undo"] == "Valve: steps 16 to 15", "valve")
    press("m")
    studio.settled(lambda state: state["view"]["lanes"][1]["mute"])
    press("Control+z")
    studio.settled(lambda state: not state["view"]["lanes"][1]["mute"])
    press("Control+Shift+z")
    studio.settled(lambda state: state["view"]["lanes"][1]["mute"])
    studio.word("rule.pulses").focus()
    press("ArrowUp")
    studio.settled(lambda state: state["history"]["undo"] == "Valve: hits 2 to 3")
    press("Escape")
    page.get_by_role("button", name="Shortcuts").focus()
    press("Enter")
    expect(page.get_by_text("keep what is heard").first).to_be_visible()
    page.wait_for_timeout(100)  # it takes keys a task later than it is drawn
    press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("button", name="Shortcuts")).to_be_focused()
    page.wait_for_timeout(200)  # the focus has come back for good
    page.evaluate("document.activeElement.blur()")
    press(" ")
    page.get_by_role("button", name="Stop", exact=True).wait_for()
    press(" ")
    page.get_by_role("button", name="Play", exact=True).wait_for()
    press("k")
    expect(page.locator("[data-clip]").first).to_be_visible()


def test_the_lattice_takes_the_pointer(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    row = page.locator('canvas[data-lane="pump"]')
    box = row.bounding_box()
    assert box
    cell, y = box["width"] / 32, box["y"] + box["height"] - 12
    page.mouse.move(box["x"] + 1.5 * cell, y)
    expect(page.locator(".why")).to_contain_text("Step 2 at 1.1 + 1/4")
    page.mouse.down()
    page.mouse.move(box["x"] + 3.5 * cell, y, steps=8)
    page.mouse.up()
    state = studio.settled(lambda state: state["history"]["undo"] == "Pump: steps 2 3 4 play")
    starts = [hit[0] for hit in state["view"]["lanes"][0]["drawn"]["hits"]]
    assert starts[:6] == [0, 0.25, 0.5, 0.75, 1, 2]


def test_lanes_are_renamed_moved_doubled_and_removed(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page

    def choose(lane: str, item: str) -> None:
        page.get_by_role("button", name=f"More for {lane}", exact=True).click()
        menu = page.get_by_role("menu", name=f"More for {lane}", exact=True)
        menu.get_by_role("menuitem").filter(has_text=item).click()

    def lanes(state: dict) -> list[str]:
        return [lane["name"] for lane in state["view"]["lanes"]]

    choose("Pump", "Rename")
    page.get_by_role("textbox", name="Name").fill("Boiler")
    page.keyboard.press("Enter")
    studio.settled(lambda state: lanes(state)[0] == "Boiler")
    choose("Boiler", "Duplicate")
    studio.settled(lambda state: lanes(state)[:2] == ["Boiler", "Boiler 2"])
    choose("Boiler 2", "Move down")
    studio.settled(lambda state: lanes(state)[1:3] == ["Valve", "Boiler 2"])
    choose("Drip", "Remove")
    expect(studio.notice()).to_contain_text("Mist follows Drip")
    choose("Boiler 2", "Remove")
    studio.settled(lambda state: len(lanes(state)) == 6)
    choose("Valve", "its gaps")
    state = studio.settled(lambda state: len(lanes(state)) == 7)
    assert "gaps of Valve" in state["view"]["lanes"][2]["drawn"]["summary"]
    page.get_by_role("button", name="Solo Fan").click()
    state = studio.settled(lambda state: state["view"]["lanes"][4]["solo"])
    assert [lane["name"] for lane in state["view"]["lanes"] if lane["audible"]] == ["Fan"]


@pytest.mark.parametrize("theme", ["paper", "lamplight"])
def test_every_control_has_a_name_and_text_stands_out(studio: Studio, theme: str) -> None:
    studio.page.add_init_script(f"localStorage.setItem('jolly-theme', '{theme}')")
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    page.locator(".word").first.wait_for()
    nameless = page.evaluate("""() => [...document.querySelectorAll(
        'button, a, input, [role=spinbutton], [role=button]')].filter((element) =>
        !(element.ariaLabel || element.textContent.trim() || element.labels?.length
            || element.title)).map((element) => element.outerHTML.slice(0, 120))""")
    assert nameless == []
    faint = page.evaluate(CONTRAST)
    assert faint == []


CONTRAST = """() => {
    const parse = (text) => { const n = text.match(/[\\d.]+/g).map(Number)
        if (text.startsWith('color(srgb')) for (let i = 0; i < 3; i++) n[i] *= 255
        return n }
    const light = ([r, g, b]) => [r, g, b].map((v) => v / 255)
        .map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4))
        .reduce((sum, v, i) => sum + v * [0.2126, 0.7152, 0.0722][i], 0)
    const ground = (element) => {
        for (let at = element; at; at = at.parentElement) {
            const colour = parse(getComputedStyle(at).backgroundColor)
            if (colour.length < 4 || colour[3] === 1) return colour
        }
        return [255, 255, 255]
    }
    const faint = []
    for (const element of document.querySelectorAll('.v-application *')) {
        const own = [...element.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())
        const seen = element.checkVisibility({checkOpacity: true})
        if (!own || !seen || element.closest('[disabled]')) continue
        const style = getComputedStyle(element)
        const [a, b] = [light(parse(style.color)), light(ground(element))]
        const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)
        const large = parseFloat(style.fontSize) >= 24 ||
            (parseFloat(style.fontSize) >= 18.66 && Number(style.fontWeight) >= 700)
        if (ratio < (large ? 3 : 4.5)) faint.push([element.textContent.slice(0, 30), ratio])
    }
    return faint
}"""
