"""Cuttings on the screen: walked, dragged, compared, thrown again, heard in time, and planted."""

import re

import pytest
from playwright.sync_api import Locator, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def hand(studio: Studio, lane: str) -> Locator:
    return studio.page.get_by_role("slider", name=f"Relatives of {lane}", exact=True)


def told(studio: Studio, lane: str) -> str:
    return hand(studio, lane).get_attribute("aria-valuetext") or ""


def opened(studio: Studio) -> None:
    studio.own_copy()
    studio.page.get_by_role("button", name="cuttings", exact=True).click()
    expect(hand(studio, "Mist")).to_be_visible()


def test_strips_are_walked_thrown_compared_and_planted(studio: Studio) -> None:
    opened(studio)
    page, press = studio.page, studio.page.keyboard.press
    drip, pump = hand(studio, "Drip"), hand(studio, "Pump")
    expect(drip).to_have_attribute("aria-valuetext", "as it was")
    drip.focus()
    press("End")
    expect(drip).to_have_attribute("aria-valuetext", "10 hits, 3 steps away")
    press("Home")
    expect(drip).to_have_attribute("aria-valuetext", re.compile("^2 hits"))
    press("ArrowRight")
    expect(drip).to_have_attribute("aria-valuenow", "2")
    # A lane that stays is not moved with the others; Escape is back as it was.
    page.get_by_role("button", name="stays: Pump").click()
    page.get_by_role("slider", name="All that may move").fill("90")
    expect(hand(studio, "Valve")).not_to_have_attribute("aria-valuetext", "as it was")
    expect(pump).to_have_attribute("aria-valuetext", "as it was")
    press("Escape")
    for lane in ("Valve", "Drip", "Fern"):
        expect(hand(studio, lane)).to_have_attribute("aria-valuetext", "as it was")
    # Two to compare; another throw and the one before.
    drip.focus()
    press("Home")
    home = told(studio, "Drip")
    press("a")
    press("End")
    end = told(studio, "Drip")
    press("b")
    press("a")
    expect(drip).to_have_attribute("aria-valuetext", home)
    press("b")
    expect(drip).to_have_attribute("aria-valuetext", end)
    with page.expect_response(lambda answer: answer.url.endswith("/cuttings")):
        press("n")
    with page.expect_response(lambda answer: answer.url.endswith("/cuttings")):
        press("p")
    expect(drip).to_have_attribute("aria-valuetext", end)
    press("Enter")
    state = studio.settled(lambda state: state["history"]["undo"] == "Drip: a cutting planted")
    shown = next(lane for lane in state["view"]["lanes"] if lane["id"] == "drip")
    assert "10" in shown["drawn"]["summary"]
    expect(drip).to_have_attribute("aria-valuetext", "as it was")
    press("Control+z")
    studio.settled(lambda state: "planted" not in state["history"]["undo"])
    # A voice that answers has a strip of its own.
    page.get_by_role("button", name="+ answer: Drip").click()
    expect(hand(studio, "Drip answers")).to_be_visible()
    # Words of the sentence, turned and searched by; a clause for what cannot be.
    page.locator('.wish [data-slot="source"]').click()
    page.get_by_role("menuitemradio", name="all rhythms").click()
    expect(page.locator(".wish .sentence")).to_contain_text("of 5 to 5 hits that begin anywhere")
    expect(page.locator(".lanes li", has_text="Fan").first).to_contain_text("fit")
    press("Escape")
    expect(page.locator("canvas.row").first).to_be_visible()


def test_a_mark_under_the_pointer_shows_its_steps_and_is_tried(studio: Studio) -> None:
    opened(studio)
    page = studio.page
    box = page.locator(".strip").first.bounding_box()
    assert box
    for across in range(20, int(box["width"]), 4):
        page.mouse.move(box["x"] + across, box["y"] + 12)
        if page.locator(".strip .seen").count():
            break
    hits = page.locator(".strip .seen .hit").count()
    assert hits >= 2
    studio.until(f"document.querySelector('.lane .told').textContent.startsWith('{hits} hits')")
    page.mouse.move(box["x"], box["y"] - 40)
    expect(page.locator(".strip .seen")).to_have_count(0)
    studio.until("document.querySelector('.lane .told').textContent.startsWith('as it was')")


def test_what_the_hand_is_on_is_heard_in_time_and_lies_on_the_trail(studio: Studio) -> None:
    opened(studio)
    page, press = studio.page, studio.page.keyboard.press
    press(" ")
    studio.until("window.jollyScheduled.length > 8")
    pump = hand(studio, "Pump")
    pump.focus()
    press("End")
    expect(pump).to_have_attribute("aria-valuetext", "14 hits, 10 steps away")
    before = page.evaluate("window.jollyScheduled.length")
    studio.until(f"window.jollyScheduled.slice({before}).filter(each => each.pitch === 36)"
                 ".length > 30")  # two bars of it
    passes = studio.api("GET", f"patterns/{studio.pattern}/trail")
    press("Enter")
    studio.settled(lambda state: state["history"]["undo"] == "Pump: a cutting planted")
    studio.stop()
    clip = studio.api("POST", f"patterns/{studio.pattern}/keep", {"passes": [passes[-1]["id"]]})
    notes = studio.api("GET", f"clips/{clip['id']}/state")["view"]["notes"]
    assert sum(note[2] == 36 for note in notes) == 14  # though nothing was stored then


def pump_places(studio: Studio, low: float, high: float) -> list[float]:
    """Where Pump was struck within these beats since play was pressed."""
    return [round(each["beat"], 6) for each in studio.page.evaluate("window.jollyScheduled")
            if each["pitch"] == 36 and low <= each["beat"] < high]


def test_gusts_by_a_key_and_by_themselves(studio: Studio) -> None:
    opened(studio)
    page, press = studio.page, studio.page.keyboard.press
    studio.api("POST", f"patterns/{studio.pattern}/edits", {
        "revision": studio.state()["revision"], "end": 8, "edits": [
            {"do": "pattern", "field": "tempo", "value": 240}]})
    page.reload()
    expect(hand(studio, "Pump")).to_be_visible()
    page.get_by_role("button", name="let gusts come by themselves").click()
    studio.settled(lambda state: state["history"]["undo"] == "+ a gust every 8th pass")
    page.get_by_role("button", name="back to the lattice").click()
    page.locator("canvas.row").first.wait_for()
    for slot in ("from", "every"):
        page.locator(f'[data-slot="gusts.0.{slot}"]').press("Enter")
        page.locator(".typing").fill("2")
        page.locator(".typing").press("Enter")
    expect(page.locator(".ruler .spell")).to_have_text("gust")
    page.locator("[data-home]").focus()
    press(" ")
    studio.played(28)
    plain = [0, 1, 2, 3]
    for even in (0, 8, 16):
        assert pump_places(studio, even, even + 4) == [even + beat for beat in plain]
    blown = [pump_places(studio, odd, odd + 4) for odd in (4, 12, 20)]
    assert any(places != [odd + beat for beat in plain]
               for odd, places in zip((4, 12, 20), blown, strict=True))
    studio.stop()
    # Kept from the Trail, the second pass is the gust as it was heard.
    expect(page.locator(".trail li[data-pass]").nth(1)).to_be_visible()
    second = studio.api("GET", f"patterns/{studio.pattern}/trail")[1]
    clip = studio.api("POST", f"patterns/{studio.pattern}/keep", {"passes": [second["id"]]})
    notes = studio.api("GET", f"clips/{clip['id']}/state")["view"]["notes"]
    assert [round(note[0] + 4, 6) for note in notes if note[2] == 36] == blown[0]
    # Held by a key, let go, and planted afterwards.
    with page.expect_response(lambda answer: '"gust"' in (answer.request.post_data or "")):
        page.keyboard.down("g")
    with page.expect_response(lambda answer: '"edits":[]' in (answer.request.post_data or "")):
        page.keyboard.up("g")
    page.get_by_role("button", name="cuttings", exact=True).click()
    page.get_by_role("button", name="plant the last gust").click()
    studio.settled(lambda state: state["history"]["undo"] == "a gust planted")


def test_everything_is_thrown_within_bounds_and_taken_back(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Pump")
    before = studio.state()["view"]["lanes"]
    page.get_by_role("button", name="throws", exact=True).click()
    throws = page.get_by_role("region", name="Throws")
    expect(throws.locator("li")).to_have_count(5)
    throws.get_by_role("button", name="Throw the hits of Pump").click()
    state = studio.settled(lambda state: state["history"]["undo"] == "Pump: hits thrown")
    now = state["view"]["lanes"]
    assert [a["drawn"]["stamp"] != b["drawn"]["stamp"] for a, b in zip(
        before, now, strict=True)] == [True, False, False, False, False, False]

    kind = throws.locator('[data-slot="kind"]')
    kind.click()
    page.get_by_role("menuitemradio", name="gate").click()
    expect(throws.locator('[data-throw="throw_values"] [data-slot="low"]')).to_have_text("40")
    throws.get_by_role("button", name="Throw the values of all lanes").click()
    studio.settled(lambda state: state["history"]["undo"] == "all lanes: values thrown")
    throws.get_by_role("button", name="Throw the drums of all lanes").click()
    drums = studio.settled(lambda state: state["history"]["undo"] == "all lanes: drums thrown")
    assert all(a["note"] != b["note"] for a, b in zip(before, drums["view"]["lanes"], strict=True))
    throws.get_by_role("button", name="Throw the scale").click()
    studio.settled(lambda state: state["history"]["undo"] == "scale thrown")
    low = throws.locator('[data-throw="throw_scale"] [data-slot="low"]')
    low.press("Enter")
    page.locator(".typing").fill("13")
    page.keyboard.press("Enter")
    expect(studio.notice()).to_contain_text("takes a whole number from 5 to 8")

    page.locator("h2").first.click()
    for _ in range(4):
        page.keyboard.press("Control+z")
    studio.settled(lambda state: state["history"]["undo"] == ""
                   and state["view"]["lanes"] == before)
    page.reload()
    page.get_by_role("button", name="throws", exact=True).click()
    expect(throws.locator('[data-slot="kind"]')).to_have_text("gate")


def test_what_is_heard_of_cuttings_is_kept_and_saved(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    before = studio.state()["revision"]
    page.get_by_role("button", name="cuttings", exact=True).click()
    hand = page.get_by_role("slider", name="Relatives of Pump")
    for _ in range(3):
        hand.press("ArrowRight")
    told = page.locator(".cuttings .lane .told").first
    expect(told).to_contain_text("away")
    hits = int(told.inner_text().split()[0])
    page.get_by_role("button", name="keep as a clip").click()
    card = page.locator("[data-clip]").first
    card.wait_for()
    clip = studio.api("GET", f"clips/{card.get_attribute('data-clip')}/state")["view"]
    pump = next(i for i, lane in enumerate(clip["lanes"]) if lane["name"] == "Pump")
    notes = [note for note in clip["notes"] if note[4] == pump]
    assert len(notes) == hits * round(clip["beats"] / 4)
    assert [round(note[0], 2) for note in notes][:4] != [0, 1, 2, 3], "as it is tried out"
    page.get_by_role("button", name="More for Pump").click()
    page.get_by_role("menuitem", name="Save as a starting recipe …").click()
    page.get_by_role("textbox", name="Name").fill("Thick rain")
    page.get_by_role("button", name="Save").click()
    expect(studio.notice()).to_contain_text("Saved as “Thick rain”")
    saved = next(each for each in studio.api("GET", "library")["starts"]
                 if each["name"] == "Thick rain")
    assert len(saved["document"]["lane"]["rule"]["hits"]) == hits
    assert studio.state()["revision"] == before, "nothing was planted"
    studio.api("DELETE", f"library/{saved['id']}")
