"""Impatient hands, slow networks: what was done is done, once, and where it was meant."""

from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def slowed(page: Page, path: str, milliseconds: int) -> None:
    """Answers to these calls take so long."""
    def answer(route: Route) -> None:
        page.wait_for_timeout(milliseconds)
        route.continue_()

    page.route(path, answer)


def lane_of(studio: Studio, name: str) -> Callable[[dict[str, Any]], dict[str, Any]]:
    return lambda state: next(lane for lane in state["view"]["lanes"] if lane["name"] == name)


def value(studio: Studio, lane: str, slot: str) -> Any:
    """A word of a lane as it is stored."""
    clauses = studio.state(lane)["view"]["chosen"]["sentence"]["clauses"]
    return next(part["value"] for clause in clauses for part in clause["parts"]
                if isinstance(part, dict) and part["slot"] == slot)


def test_a_word_that_was_just_turned_is_stored_where_it_was_turned(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    pump, valve = value(studio, "pump", "velocity"), value(studio, "valve", "velocity")
    studio.lane("Pump")
    studio.word("velocity").press("ArrowDown")
    studio.lane("Valve")  # well within the moment in which more steps may follow
    studio.settled(lambda state: f"Pump: velocity {pump} to {pump - 1}" in state["history"]["undo"])
    studio.word("velocity").hover()
    page.wait_for_timeout(600)
    page.mouse.wheel(0, -40)
    first = studio.pattern
    page.get_by_role("button", name="Downpour", exact=True).click()
    expect(page.locator("nav .tab", has_text="Downpour")).to_have_attribute("aria-current", "page")
    page.get_by_role("button", name="Drizzle", exact=True).click()
    page.wait_for_url(f"**/{first}")
    studio.settled(lambda state: state["history"]["undo"].startswith("Valve: velocity"))
    assert value(studio, "pump", "velocity") == pump - 1
    assert value(studio, "valve", "velocity") == valve + 1
    # A strand's word, and then another tab of the panel; the page is left.
    length = page.locator('.strands [data-slot="length"]')
    length.press("ArrowUp")
    page.get_by_role("tab", name="Gate").click()
    studio.settled(lambda state: "velocity" in state["history"]["undo"]
                   and "Valve" in state["history"]["undo"]
                   and " to " not in state["history"]["undo"])
    studio.word("gate").press("ArrowUp")
    page.get_by_role("link", name="All pieces").click()
    page.locator(".piece").first.wait_for()
    page.go_back()
    page.locator("canvas.row").first.wait_for()
    studio.settled(lambda state: "Valve: gate 120 % to 121" in state["history"]["undo"])


def test_fast_keys_all_arrive_however_slow_the_network_is(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    studio.lane("Drip")
    page.evaluate("document.activeElement.blur()")
    slowed(page, "**/edits", 300)
    for _ in range(6):
        press("]")
        page.wait_for_timeout(50)
    press("m")
    press("m")
    for _ in range(3):
        press(".")
    press("Enter")
    press("Enter")
    press("ArrowRight")
    press("Enter")
    state = studio.settled(lambda state: state["history"]["undo"] == "Drip: step 2 plays", "drip")
    assert state["view"]["chosen"]["steps"] == 12 + 6
    assert value(studio, "drip", "rule.rotation") == 3
    assert not lane_of(studio, "Drip")(state)["mute"]


def test_a_word_is_the_chosen_lane_s_or_cannot_be_taken_yet(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    velocity = studio.word("velocity")
    expect(velocity).to_have_text("112")
    box = velocity.bounding_box()
    assert box
    slowed(page, "**/look", 400)
    page.locator(".lane-head .words", has_text="Fern").click()
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator(".typing")).to_have_count(0)  # it is still Pump's
    velocity.click()  # once it is Fern's
    expect(page.locator(".typing")).to_have_value("70")
    page.keyboard.press("Enter")
    velocity.press("Enter")
    page.locator(".typing").fill("55")
    studio.lane("Valve")
    state = studio.settled(lambda state: state["history"]["undo"] == "Fern: velocity 70 to 55")
    assert lane_of(studio, "Valve")(state)["drawn"]["notes"][0][3] > 90
    expect(velocity).to_have_text("98")


def test_an_answer_that_is_lost_is_asked_for_again_and_nothing_is_done_twice(
        studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    lost: list[str] = []

    def lose(route: Route) -> None:
        """The server does what it is asked, but its first answer never arrives."""
        kind = route.request.url.rsplit("/", 1)[1]
        if route.request.method == "POST" and kind not in lost:
            lost.append(kind)
            route.fetch()
            route.abort()
        else:
            route.continue_()

    for kind in ("edits", "keep", "undo", "redo", "patterns"):
        page.route(f"**/{kind}", lose)
    studio.lane("Pump")
    studio.type_word("velocity", "77")
    expect(page.get_by_text("Server away")).to_be_visible()
    expect(page.get_by_text("Server away")).to_be_hidden()
    studio.type_word("velocity", "78")
    studio.settled(lambda state: state["history"]["undo"] == "Pump: velocity 77 to 78")
    expect(studio.notice()).to_have_count(0)
    for key, undo in (("Control+z", "Pump: velocity 112 to 77"),
                      ("Control+Shift+z", "Pump: velocity 77 to 78")):
        page.keyboard.press(key)
        expect(page.get_by_role("button", name=f"Undo {undo}")).to_be_visible()
        assert studio.state()["history"]["undo"] == undo, "one step"
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("k")
    expect(page.locator("[data-clip]")).to_have_count(1)
    page.get_by_role("button", name="New pattern").click()
    page.get_by_role("textbox", name="Name").fill("Dew")
    page.keyboard.press("Enter")
    expect(page.locator("nav .tab", has_text="Dew")).to_have_count(1)
    expect(page.get_by_text("This pattern has no lanes yet.")).to_be_visible()
    piece = page.url.split("/")[-2]
    whole = studio.api("GET", f"pieces/{piece}")
    assert len(whole["shelf"]) == 1 and len(whole["patterns"]) == 3
    assert sorted(lost) == ["edits", "keep", "patterns", "redo", "undo"]


def test_undo_reaches_stay(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    stay = page.locator(".stay")
    studio.lane("Pump")
    studio.type_word("velocity", "90")
    expect(page.get_by_role("button", name="Undo Pump: velocity 112 to 90")).to_be_enabled()
    page.evaluate("document.activeElement.blur()")
    press("s")
    expect(stay).to_have_text("Stay")
    expect(page.get_by_role("button", name="Undo Stay")).to_be_enabled()
    press("Control+z")
    expect(stay).to_have_text("Flow")
    press("Control+z")
    expect(page.get_by_role("button", name="Redo Pump: velocity 112 to 90")).to_be_enabled()
    press("Control+Shift+z")
    expect(page.get_by_role("button", name="Redo Stay")).to_be_enabled()
    press("Control+Shift+z")
    expect(stay).to_have_text("Stay")
