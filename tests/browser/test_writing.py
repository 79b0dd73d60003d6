"""A sentence is written, and texts are pasted."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def test_a_lane_is_written_with_what_is_offered(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    page.keyboard.press("w")
    field = page.get_by_role("textbox", name="What Drip says, as text")
    expect(field).to_have_value(studio.api("GET", f"patterns/{studio.pattern}/text?lanes=drip"
                                                  "&headed=false")["text"])
    field.fill("Spread 5 hits over 8")
    coming = page.get_by_role("listbox", name="What may come next")
    expect(coming.get_by_role("option").first).to_contain_text("steps of")
    studio.until("document.querySelectorAll('.lane.chosen').length === 1")
    field.press_sequentially(" steps. Acc")
    expect(coming.get_by_role("option").first).to_contain_text("Accent every 3rd")
    field.press("ArrowDown")
    field.press("Tab")
    expect(field).to_have_value("Spread 5 hits over 8 steps. Accent every 3rd hit by +24 from the "
                                "1st on, counted on.")
    field.press_sequentially(" Velocty by hit: 96 58")
    expect(page.get_by_role("status").filter(has_text="did you mean")).to_have_text(
        "“Velocty by” is not known; did you mean “Velocity by”?")
    page.get_by_role("button", name="Velocity by", exact=True).click()
    expect(field).to_have_value("Spread 5 hits over 8 steps. Accent every 3rd hit by +24 from the "
                                "1st on, counted on. Velocity by hit: 96 58")
    field.press("Enter")
    expect(field).to_have_count(0)
    state = studio.settled(lambda state: state["history"]["undo"] == "Drip: written", "drip")
    assert "Velocity from its strand of 2" in str(state["view"]["chosen"]["sentence"])
    expect(page.locator(".lane-words .clauses")).to_contain_text("Spread 5 hits over 8 steps")
    page.keyboard.press("w")
    field.fill("Spread 1 hit over 8 steps")
    field.press("Escape")
    expect(field).to_have_count(0)
    expect(page.locator(".lane-words .clauses")).to_contain_text("Spread 5 hits over 8 steps")
    assert studio.state()["history"]["undo"] == "Drip: written"


def test_texts_are_copied_and_pasted(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    studio.pick("More for Mist", "Copy as text")
    expect(studio.notice()).to_contain_text("Copied as text")
    page.locator(".rows").focus()
    page.keyboard.press("Control+v")
    dialog = page.get_by_role("dialog", name="A text came in")
    expect(dialog).to_contain_text("1 lane: Mist")
    dialog.get_by_role("textbox", name="The text").fill(
        "Rain, claves: Spread 3 hits over 8 steps.\nHail, cowbell: Fill the gaps of Rain.\n"
        "Flood, pattern: A frame of 2 bars.\nPump, kick: Spread 4 hits over 16 steps.")
    expect(dialog).to_contain_text("2 lanes: Rain, Hail")
    dialog.get_by_role("button", name="Add 2 lanes here").click()
    studio.settled(lambda state: [lane["name"] for lane in state["view"]["lanes"]][-2:] == [
        "Rain", "Hail"] or "Rain" in [lane["name"] for lane in state["view"]["lanes"]])
    expect(dialog).to_contain_text("Lanes for this pattern · taken")
    dialog.get_by_role("button", name="Make 1 pattern").click()
    expect(page.get_by_role("button", name="Flood", exact=True)).to_be_visible()
    expect(page.locator(".lane-head .words")).to_have_text(["Pump"])
