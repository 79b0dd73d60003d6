"""Notes that come in and go out: files that are dropped, the Shelf's order, pictures."""

import base64
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db
FILES = Path(__file__).parents[1] / "core" / "files"


def drop(studio: Studio, **files: bytes) -> None:
    """Drop MIDI files on the page, anywhere."""
    studio.page.evaluate("""(files) => {
        const dataTransfer = new DataTransfer()
        for (const [name, text] of files) dataTransfer.items.add(
            new File([Uint8Array.from(atob(text), (c) => c.charCodeAt(0))], name + '.mid'))
        const how = { dataTransfer, bubbles: true, cancelable: true }
        window.dispatchEvent(new DragEvent('drop', how))
    }""", [[name, base64.b64encode(data).decode()] for name, data in files.items()])


def of_others(*names: str) -> dict[str, bytes]:
    return {name: (FILES / f"{name}.mid").read_bytes() for name in names}


def test_a_file_is_heard_part_by_part_and_becomes_lanes_said_short(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    drop(studio, **of_others("pretty-midi"))
    expect(page.get_by_role("heading", name="pretty-midi")).to_be_visible()
    page.get_by_role("button", name="Hear Bells").click()
    studio.until("window.jollyScheduled.length >= 2")
    assert [note["pitch"] for note in page.evaluate("window.jollyScheduled")][:2] == [62, 65]
    page.get_by_role("button", name="Make lanes").click()
    expect(page.locator(".lane-head .words", has_text="Bass drum 1")).to_be_visible()
    studio.settled(lambda state: "said otherwise" in state["history"]["undo"])
    expect(page.locator(".lane-head .words")).to_have_count(5)
    studio.lane("Acoustic snare")
    expect(page.locator(".lane-words .clauses")).to_contain_text("steps of 1/")


def test_several_files_lie_on_the_shelf_and_a_damaged_one_is_told(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    drop(studio, **of_others("pretty-midi", "music21", "tonejs-midi"))
    expect(page.get_by_text("file 1 of 3")).to_be_visible()
    page.get_by_role("button", name="Leave aside").click()
    expect(page.get_by_text("file 2 of 3")).to_be_visible()
    page.get_by_role("button", name="All 2 as clips").click()
    expect(page.locator("[data-clip]")).to_have_count(2)
    drop(studio, broken=b"MThd nonsense")
    expect(studio.notice()).to_contain_text("“broken.mid”: This MIDI file is damaged at byte")
    expect(page.locator("[data-clip]")).to_have_count(2)


def test_a_lane_is_said_shorter_in_a_sentence_that_is_chosen(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.api("POST", f"patterns/{studio.pattern}/edits", {
        "revision": studio.state()["revision"], "end": 8, "edits": [
            {"do": "add_lane", "note": 56, "name": "Bell"},
            {"do": "set", "lane": "bell", "slot": "rule.kind", "value": "hand"},
            {"do": "set", "lane": "bell", "slot": "rule.hits", "value": [1, 4, 7, 10, 13]}]})
    page.reload()
    studio.lane("Bell")
    page.get_by_role("button", name="say it shorter").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("As it stands")
    dialog.get_by_role("button", name="Spread 5 hits over 16 steps").first.click()
    studio.settled(lambda state: state["history"]["undo"] == "Bell: said otherwise")
    expect(page.locator(".lane-words .clauses")).to_contain_text("Spread 5 hits over 16 steps")
    page.get_by_role("button", name="say it shorter").click()
    expect(dialog).to_contain_text("Nothing shorter was found.")
    expect(dialog.get_by_role("heading", name="Other ways, no shorter")).to_be_visible()


def test_the_shelf_is_found_ordered_and_heard_in_place_of_its_lanes(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    for count in (1, 2):
        page.keyboard.press("k")
        expect(page.locator("[data-clip]")).to_have_count(count)
    studio.api("PATCH", f"clips/{page.locator('[data-clip]').last.get_attribute('data-clip')}",
               {"name": "Rain", "starred": True, "tags": ["wet"]})
    page.reload()
    first, last = page.locator("[data-clip]").first, page.locator("[data-clip]").last
    expect(last).to_contain_text("Rain")
    last.get_by_role("button", name="Rain", exact=True).press("Alt+ArrowUp")
    expect(first).to_contain_text("Rain")
    page.reload()
    expect(first).to_contain_text("Rain")
    page.get_by_role("group", name="Tags").get_by_role("button", name="wet").click()
    expect(page.locator("[data-clip]")).to_have_count(1)
    first.get_by_role("button", name="More for Rain").click()
    page.get_by_role("menuitem", name="Hear in place of its lanes").click()
    expect(first).to_contain_text("in place of its lanes")
    studio.played(6)
    struck = page.evaluate("window.jollyScheduled")
    once = {(round(note["beat"], 6), note["pitch"]) for note in struck}
    assert len(once) == len(struck), "each note is struck once, by the clip alone"
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(first).not_to_contain_text("in place of its lanes")


def test_pictures_are_saved_as_svg_and_png(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    page.get_by_role("button", name="More for this pattern").click()
    page.get_by_role("menuitem", name="Draw as a picture").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Save as SVG").click()
    drawn = page.evaluate("""(text) => {
        const root = new DOMParser().parseFromString(text, 'image/svg+xml')
        return [root.querySelectorAll('path').length,
                ...[...root.querySelectorAll('text')].map((each) => each.textContent)]
    }""", Path(download.value.path()).read_text())
    assert drawn[0] > 30
    assert {lane["name"] for lane in studio.state()["view"]["lanes"]} <= set(drawn[1:])
    page.keyboard.press("k")
    page.locator("[data-clip]").first.get_by_role("button", name="More for").click()
    page.get_by_role("menuitem", name="Draw as a picture").click()
    page.get_by_label("by lamplight").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Save as PNG").click()
    data = Path(download.value.path()).read_bytes()
    assert data.startswith(b"\x89PNG") and len(data) > 5000
