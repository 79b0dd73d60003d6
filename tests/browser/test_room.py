"""Small screens, long names, other windows, no network: everything stays in reach and is told."""

import json
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db

OUT_OF_REACH = """() => {
    const found = []
    const wide = document.documentElement.clientWidth
    for (const each of document.querySelectorAll('button, a[href], input, [tabindex="0"]')) {
        const scrolled = each.closest('.chips, .tabs, ol, .v-navigation-drawer')
        if (scrolled || !each.checkVisibility()) continue
        each.scrollIntoView({ block: 'center' })
        const box = each.getBoundingClientRect()
        const [x, y] = [box.left + box.width / 2, box.top + box.height / 2]
        if (x < 0 || x > wide || y < 0 || y > innerHeight || box.width < 1)
            found.push(each.outerHTML.slice(0, 90))
    }
    return found
}"""


def fitted(page: Page) -> None:
    """Every control can be brought into sight, and nothing is scrolled sideways to see it."""
    assert page.evaluate(OUT_OF_REACH) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_long_names_many_patterns_and_little_room(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    piece = page.url.split("/")[-2]
    studio.api("PATCH", f"pieces/{piece}", {"name": "Condensation on the glasshouse roof " * 2})
    for number in range(6):
        studio.api("POST", f"pieces/{piece}/patterns", {
            "name": f"{number} A very long name for a pattern of a few drums in the dark"})
    page.reload()
    page.locator("canvas.row").first.wait_for()
    for name in ("Play", "Undo", "Shortcuts", "New pattern", "More for this pattern"):
        expect(page.get_by_role("button", name=name).first).to_be_in_viewport(ratio=1)
    fitted(page)
    page.locator("nav .tab").last.scroll_into_view_if_needed()
    page.locator("nav .tab").last.click()
    expect(page.locator("nav .tab").last).to_be_in_viewport()
    page.get_by_role("button", name="A beat of a few lanes").click()
    page.set_viewport_size({"width": 640, "height": 400})
    page.wait_for_timeout(300)
    expect(page.locator("canvas.row")).to_have_count(4)
    fitted(page)
    assert page.locator(".lattice").evaluate("(lattice) => lattice.clientHeight") >= 250
    page.get_by_role("button", name="Shelf (0)").click()
    expect(page.get_by_role("heading", name="Shelf")).to_be_in_viewport()


def test_the_ruler_stays_over_many_lanes_and_names_are_whole(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    revision = studio.state()["revision"]
    studio.api("POST", f"patterns/{studio.pattern}/edits", {
        "revision": revision, "end": 4,
        "edits": [{"do": "add_lane", "name": "Acoustic bass drum", "note": 35 + n}
                  for n in range(24)]})
    page.reload()
    expect(page.locator("canvas.row")).to_have_count(30)
    page.locator(".lane-head .words").last.scroll_into_view_if_needed()
    expect(page.locator(".ruler")).to_be_in_viewport(ratio=1)
    whole = "(name) => name.scrollWidth <= name.clientWidth"
    assert page.locator(".lane-head .name").last.evaluate(whole), "the name has the width"


def test_a_pattern_that_is_deleted_elsewhere_stops(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    page.get_by_role("button", name="Play", exact=True).click()
    page.wait_for_timeout(500)
    studio.api("DELETE", f"patterns/{studio.pattern}")
    expect(studio.notice()).to_contain_text("was deleted in another window")
    page.locator(".piece").first.wait_for()
    page.get_by_role("button", name="Deleted in the last 30 days").click()
    gone = page.get_by_role("region", name="Deleted").locator("li", has_text="Drizzle")
    gone.first.get_by_role("button", name="Bring back Drizzle").click()
    expect(page.locator(".piece", has_text="Sprinklers (copy)").last).to_contain_text("Drizzle")


def test_without_a_network_what_is_asked_is_told_and_comes_when_it_is_back(
        studio: Studio) -> None:
    page = studio.page
    page.goto(studio.address)
    page.get_by_role("button", name="Open the demo").click()
    page.get_by_role("link", name="Sprinklers").first.click()
    page.locator("canvas.row").first.wait_for()
    page.go_back()
    page.go_back()
    expect(page).not_to_have_url(f"{studio.address}/door")
    page.goto(studio.address)
    page.get_by_role("link", name="Sprinklers").first.click()
    page.locator("canvas.row").first.wait_for()
    page.context.set_offline(True)
    page.get_by_role("link", name="All pieces").click()
    expect(page.get_by_text("The server is away").first).to_be_visible()
    page.context.set_offline(False)
    page.locator(".piece").first.wait_for()


def test_an_empty_pattern_is_begun_with_something(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    for start, lanes in (("A beat of a few lanes", 4), ("A hat part over a kick", 3),
                         ("A copy of “New: A hat part over a kick”", 3)):
        page.get_by_role("button", name="New pattern").click()
        page.get_by_role("textbox", name="Name").fill(f"New: {start}"[:40])
        page.keyboard.press("Enter")
        page.get_by_role("region", name="Lattice").get_by_role("button", name=start).click()
        expect(page.locator("canvas.row")).to_have_count(lanes)


def test_a_newcomer_is_led_through_the_first_minute_once(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    pointer = page.locator(".pointer")
    expect(pointer).to_contain_text("Press Play")
    page.keyboard.press(" ")
    expect(pointer).to_contain_text("Drag an underlined word")
    word = studio.word("rule.pulses").bounding_box()
    assert word
    page.mouse.move(word["x"] + 5, word["y"] + 8)
    page.mouse.down()
    page.mouse.move(word["x"] + 5, word["y"] + 40, steps=4)
    page.mouse.up()
    expect(pointer).to_contain_text("Press K")
    page.get_by_role("button", name="Stop", exact=True).click()
    page.keyboard.press("k")
    expect(pointer).to_contain_text("Drag a clip")
    with page.expect_download():
        page.get_by_role("link", name="as a MIDI file").first.click()
    expect(pointer).to_have_count(0)
    page.reload()
    page.locator("canvas.row").first.wait_for()
    expect(pointer).to_have_count(0)


def test_earlier_chances_are_offered_by_their_numbers(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page

    def notes(state: Any) -> str:
        return json.dumps([lane["drawn"]["notes"] for lane in state["view"]["lanes"]])

    first = studio.state()
    page.keyboard.press("r")
    studio.settled(lambda state: state["history"]["undo"] == "reroll")
    page.get_by_role("button", name="Reroll …").click()
    page.get_by_role("menuitem", name=f"Back to chances no. {first['view']['seed']}").click()
    back = studio.settled(lambda state: state["history"]["undo"] == "earlier chances")
    assert notes(back) == notes(first)
