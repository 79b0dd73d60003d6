"""Keys do what they say: wherever the focus is, whatever a pointer did, in every view."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def space_plays_and_stops(page: Page) -> None:
    """Space plays, and once more it stops; nothing has opened meanwhile."""
    for name in ("Stop", "Play"):
        page.keyboard.press(" ")
        page.get_by_role("button", name=name, exact=True).wait_for()
    expect(page.locator(".v-overlay--active:not(.v-snackbar), .typing")).to_have_count(0)


def test_space_plays_after_whatever_a_pointer_did(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    box = studio.word("rule.pulses").bounding_box()
    assert box
    page.mouse.move(box["x"] + 4, box["y"] + 8)
    page.mouse.down()
    page.mouse.move(box["x"] + 4, box["y"] - 6, steps=3)
    page.mouse.up()
    studio.settled(lambda state: "hits 7" in state["history"]["undo"])
    space_plays_and_stops(page)
    studio.word("steps").click()
    page.locator(".typing").fill("13")
    page.keyboard.press("Enter")
    space_plays_and_stops(page)
    expect(studio.word("steps")).to_have_text("13")
    studio.word("rule.kind").click()
    page.get_by_role("menuitemradio", name="Spread").wait_for()
    page.keyboard.press("Escape")
    space_plays_and_stops(page)
    page.get_by_role("button", name="Metre").click()
    page.get_by_role("menuitemradio", name="5/4").click()
    space_plays_and_stops(page)
    for name in ("Mute Drip", "+ flip", "raise", "8 bars", "Flow", "Paper or lamplight"):
        page.locator(f":is(button, [role=radio]):is([aria-label='{name}'], :text-is('{name}'))") \
            .first.click()
        space_plays_and_stops(page)
    page.get_by_role("slider", name="Volume").click()
    space_plays_and_stops(page)
    # A word that the keyboard is on opens by Enter, and never by Space; a button takes both.
    studio.word("steps").focus()
    space_plays_and_stops(page)
    page.get_by_role("button", name="keys", exact=True).focus()
    page.keyboard.press(" ")
    expect(page.get_by_role("region", name="Keys")).to_be_visible()
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_visible()


def test_what_lies_over_takes_every_letter(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    page.get_by_role("button", name="Canopy", exact=True).click()
    before = studio.state()["revision"]
    page.get_by_role("button", name=re.compile("^Chord 1:")).click()
    page.keyboard.type("dm")
    expect(page.get_by_role("textbox", name="Find a chord")).to_have_value("dm")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="all clauses …").click()
    page.get_by_role("textbox", name="Find a clause").wait_for()
    page.keyboard.press("ArrowDown")
    page.keyboard.type("sr")
    expect(page.get_by_role("textbox", name="Find a clause")).to_have_value("sr")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Shortcuts").click()
    page.get_by_role("dialog").wait_for()
    for key in ("m", "r", "3", "s"):
        page.keyboard.press(key)
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    assert studio.state()["revision"] == before
    expect(page.locator(".stay")).to_have_text("Flow")
    page.keyboard.press("m")  # and the keys are back
    studio.settled(lambda state: "mute" in state["history"]["undo"])


def test_in_the_order_hands_play_wherever_the_focus_is_and_escape_stops_nothing(
        studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    page.get_by_role("button", name="Order", exact=True).click()
    page.get_by_role("option").first.wait_for()
    press("b")
    expect(page.get_by_role("slider", name="The last block that goes round")) \
        .to_have_attribute("aria-valuenow", "1")
    press(" ")
    page.get_by_role("button", name="Stop", exact=True).wait_for()
    for holder in (page.get_by_label("When the pattern changes"),
                   page.locator(".said [role=spinbutton]").first,
                   page.get_by_role("button", name="duplicate")):
        holder.focus()
        press("2")
        expect(page.locator(".cards button.going, .cards button.now").filter(
            has_text="Downpour")).to_have_count(1)
        press("a")
        expect(page.locator(".cards button.now").filter(has_text="Downpour")).to_have_count(0)
    page.locator(".said [role=spinbutton]").first.click()  # one thing at a time
    press("Escape")
    expect(page.locator(".typing, [role=menu]")).to_have_count(0)
    expect(page.get_by_role("region", name="By hand")).to_be_visible()
    press("Escape")
    page.get_by_role("region", name="Lattice").wait_for()
    expect(page.locator(".where")).to_contain_text("order")
    heard = page.evaluate("window.jollyScheduled.length")
    studio.until(f"window.jollyScheduled.length > {heard}")
    press(" ")
    page.get_by_role("button", name="Play", exact=True).wait_for()


def test_beside_the_keys_all_else_stays_within_reach(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    studio.lane("Drip")
    page.get_by_role("button", name="keys", exact=True).click()
    for name in ("Keep these bars", "Keep …", "Reroll …"):
        expect(page.get_by_role("button", name=name)).to_be_in_viewport(ratio=1)
    shelf = page.get_by_role("complementary", name="Shelf")
    expect(shelf).to_contain_text("Press Alt+K")
    page.keyboard.down("k")
    expect(page.locator(".key.down")).to_have_count(1)
    page.keyboard.up("k")
    expect(page.locator("[data-clip]")).to_have_count(0)
    press("Alt+k")
    expect(page.locator("[data-clip]")).to_have_count(1)
    press("r")  # no note lies there
    studio.settled(lambda state: "reroll" in state["history"]["undo"])
    press("Escape")
    expect(page.get_by_role("region", name="Keys")).to_have_count(0)


def test_k_keeps_what_is_heard(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    newest = page.locator("[data-clip] .name").first
    press("k")  # nothing is heard: the bars that are shown
    expect(newest).to_have_text("Drizzle, bars 1–2")
    page.get_by_role("radio", name="whole weave").click()
    expect(page.locator(".line")).to_contain_text("bars up to the meeting point")
    press("k")
    expect(newest).to_have_text("Drizzle, bars 1–9")
    page.get_by_role("radio", name="1 bar", exact=True).click()
    press(" ")
    press("k")  # the first pass is kept once it was heard to its end
    expect(newest).to_have_text("Drizzle, pass 1")
    expect(page.locator(".trail li[data-pass]")).to_have_count(3)
    press("k")
    expect(newest).to_have_text("Drizzle, pass 3")
    page.get_by_role("button", name="Keep …").click()
    page.get_by_role("menuitem", name="The last 2 bars").click()
    expect(newest).to_have_text(re.compile(r"Drizzle, passes \d–\d, bars 1–2"))
    press(" ")
    page.get_by_role("button", name="Hear pass 1 again").click()
    page.get_by_role("button", name="Stop", exact=True).wait_for()
    press("k")
    expect(newest).to_have_text("Drizzle, pass 1 (2)")
    clip = int(page.locator("[data-clip]").first.get_attribute("data-clip") or 0)
    kept = studio.api("GET", f"clips/{clip}/state")["view"]["notes"]
    first = int(page.locator(".trail li[data-pass]").first.get_attribute("data-pass") or 0)
    assert [note[0] for note in kept] == [note["beat"] for note in studio.passed(first)]


def test_the_last_bars_heard_are_kept_in_the_middle_of_a_pass(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.api("POST", f"patterns/{studio.pattern}/edits", {
        "revision": studio.state()["revision"], "end": 8, "edits": [
            {"do": "set", "lane": None, "slot": "bars", "value": 4, "also": []},
            {"do": "pattern", "field": "tempo", "value": 400}]})
    page.reload()
    page.locator("canvas.row").first.wait_for()
    page.keyboard.press(" ")
    studio.played(4 * 6.5)  # in the third bar of the second pass
    expect(page.locator(".where")).to_contain_text("bar 3")
    page.get_by_role("button", name="Keep …").click()
    page.get_by_role("menuitem", name="The last 4 bars").click()
    newest = page.locator("[data-clip] .name").first
    told = re.compile(r"Drizzle, pass(?:es)? (\d)(?:–\d)?, bars (\d)–\d")
    expect(newest).to_have_text(told)
    page.keyboard.press(" ")
    found = told.search(newest.inner_text())
    assert found
    first = 4 * (int(found[1]) - 1) + int(found[2]) - 1
    clip = int(page.locator("[data-clip]").first.get_attribute("data-clip") or 0)
    kept = studio.api("GET", f"clips/{clip}/state")["view"]["notes"]
    heard = sorted({(round(note["beat"], 6), note["pitch"])
                    for note in page.evaluate("window.jollyScheduled")
                    if 4 * first <= note["beat"] < 4 * (first + 4)})
    assert sorted({(round(note[0] + 4 * first, 6), note[2]) for note in kept}) == heard


def test_f6_leads_from_region_to_region_and_a_head_is_one_stop(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    studio.lane("Drip")
    press("k")
    page.locator("[data-clip]").first.wait_for()
    within = "[...document.querySelectorAll('[data-region]')].findIndex(" \
             "each => each.contains(document.activeElement))"
    places = []
    for _ in range(6):
        places.append(page.evaluate(within))
        press("F6")
    assert sorted(places) == [0, 1, 2, 3, 4, 5], "bar, lattice, sentence, strands, Trail, Shelf"
    assert places[0] == page.evaluate(within), "and round"
    press("Shift+F6")
    assert page.evaluate(within) == places[-1]
    page.get_by_role("button", name="Fan", exact=True).focus()
    for name in ("More for Fan", "Mute Fan", "Solo Fan"):
        press("ArrowRight")
        expect(page.get_by_role("button", name=name)).to_be_focused()
    press("ArrowDown")
    expect(page.get_by_role("button", name="Solo Fern")).to_be_focused()
    press("Tab")
    expect(page.get_by_role("button", name="Mist", exact=True)).to_be_focused()
    stops = page.evaluate(
        "[...document.querySelectorAll('button, a[href], input, select, [tabindex]')]"
        ".filter(each => each.tabIndex >= 0 && each.checkVisibility()).length")
    assert stops <= 60, stops


def test_the_focus_goes_where_the_music_is(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    home = "document.activeElement.matches('[data-home]')"
    page.get_by_role("button", name="New pattern").click()
    page.get_by_role("textbox", name="Name").fill("Mist")
    press("Enter")
    expect(page).to_have_title(re.compile("^Mist"))
    studio.until(home)
    page.get_by_role("button", name="More for this pattern").focus()
    press("Enter")
    page.get_by_role("menuitem", name="Duplicate").press("Enter")
    expect(page).to_have_title(re.compile("^Mist 2"))
    studio.until("document.activeElement !== document.body")
    page.get_by_role("button", name="Drizzle", exact=True).click()
    page.locator('canvas[data-lane="drip"]').click(position={"x": 80, "y": 20})
    studio.until(home)
    press("k")
    page.locator("[data-clip] .name").first.click()
    page.get_by_role("group", name=re.compile(".")).and_(page.locator(".clip-rows")).wait_for()
    for key in ("ArrowRight", "Delete", "Delete"):
        press(key)
        studio.until(home)


def test_new_lanes_are_typed_and_said_without_a_pointer(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    page.keyboard.press("l")
    field = page.get_by_role("textbox", name="Which lanes")
    expect(field).to_be_focused()
    page.keyboard.type("closed hat, nothing of the kind, bass")
    page.keyboard.press("Enter")
    expect(studio.notice()).to_contain_text("Nothing is called “nothing of the kind”")
    expect(field).to_have_value("closed hat, nothing of the kind, bass")
    field.fill("closed hat, bass")
    page.keyboard.press("Enter")
    expect(page.get_by_label("hits", exact=True)).to_be_focused()  # its first number is open
    page.keyboard.type("7")
    page.keyboard.press("Tab")
    page.keyboard.type("12")
    page.keyboard.press("Tab")
    page.keyboard.type("1/24")  # a menu takes it, and Tab leads on from there too
    page.keyboard.press("Tab")
    page.keyboard.type("2")
    page.keyboard.press("Shift+Tab")
    expect(page.locator(".v-overlay--active .find")).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.locator(".v-overlay--active")).to_have_count(0)
    lanes = {lane["name"]: lane for lane in studio.settled(
        lambda state: "turn 0 to 2" in state["history"]["undo"])["view"]["lanes"]}
    assert lanes["Closed hi-hat"]["drawn"]["summary"] == "7 of 12"
    assert {"Bass"} < set(lanes)
    page.keyboard.press("Escape")
    expect(page.get_by_label("New lanes")).to_be_hidden()
    # A clause begins as the last of its kind was left, in any lane.
    page.get_by_role("button", name="+ accent").click()
    studio.type_word("accent.every", "5")
    studio.lane("Bass")
    page.get_by_role("button", name="+ accent").click()
    expect(studio.word("accent.every")).to_have_text("5th")
