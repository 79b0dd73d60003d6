"""For everybody: no finding of axe-core on any screen, and what a keyboard and a reader need."""

import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Studio
from tests.browser.test_arriving import drop, of_others

pytestmark = pytest.mark.django_db
AXE = (Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text()


def findings(page: Page, inside: str = "html") -> list[str]:
    """What axe-core finds on the page as it stands, of any impact, the rules of WCAG 2.2 AA and
    best practices included; in the other theme, which texts are too faint."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    found: list[Any] = []
    for theme, rules in (("lamplight", {"runOnly": ["color-contrast"]}),
                         ("paper", {"rules": WCAG_22})):
        page.evaluate(TURN_TO, theme)
        expect(page.locator(".v-application")).to_have_class(re.compile(f"v-theme--{theme}"))
        page.wait_for_timeout(50)
        found += page.evaluate("([inside, rules]) => axe.run(inside, rules)", [
            inside, {"preload": False, "resultTypes": ["violations"], **rules}])["violations"]
    return [f"{each['id']} ({each['impact']}): {node['html'][:160]} {node['failureSummary'][:300]}"
            for each in found for node in each["nodes"]]


WCAG_22 = {rule: {"enabled": True} for rule in ("target-size", "label-content-name-mismatch")}
"""Rules that axe-core tries only where it is asked to."""
TURN_TO = """theme => {  // as when it is turned in another tab
    localStorage.setItem('jolly-theme', theme)
    dispatchEvent(new StorageEvent('storage', {
        key: 'jolly-theme', newValue: theme, storageArea: localStorage}))
}"""


def open_and_close(page: Page, opener: str, inside: str) -> None:
    """What is opened has no finding, and is gone again."""
    page.get_by_role("button", name=opener).first.click()
    page.locator(inside).first.wait_for()
    assert findings(page, ".v-overlay-container") == [], opener
    page.keyboard.press("Escape")
    expect(page.locator(inside)).to_have_count(0)


@pytest.fixture
def still(studio: Studio) -> Page:
    """A page on which nothing fades, for what fades is faint while it does."""
    studio.page.emulate_media(reduced_motion="reduce")
    return studio.page


def test_no_finding_on_the_lattice_and_what_opens_from_it(studio: Studio, still: Page) -> None:
    studio.own_copy()
    studio.lane("Drip")
    studio.play_passes(2)
    studio.stop()
    still.keyboard.press("k")
    still.locator("[data-clip]").first.wait_for()
    assert findings(still) == []
    for opener in ("More for Drip", "all clauses …", "Metre 4/4", "More for this pattern",
                   "Keep …", "Reroll …", "every lane meets again"):
        open_and_close(still, opener, "[role=menu]")
    for opener in ("Shortcuts", "New pattern", "all strands …", "starting recipes …",
                   "ports", "say it shorter", "more …"):
        open_and_close(still, opener, "[role=dialog]")
    expect(still.get_by_role("button", name="more …")).to_be_focused()
    for drawer in ("throws", "keys"):
        still.get_by_role("button", name=drawer, exact=True).click()
        assert findings(still) == [], drawer
        still.get_by_role("button", name=drawer, exact=True).click()
    still.get_by_role("button", name="+ lane").click()
    assert findings(still) == [], "new lanes"
    still.get_by_role("button", name="More for Drip").click()
    still.get_by_role("menuitem", name="A copy for another drum").click()
    still.get_by_role("textbox", name="Find").wait_for()
    assert findings(still) == [], "drums"
    still.keyboard.press("Escape")
    still.keyboard.press("?")
    still.get_by_role("button", name="The guide beside it").click()
    assert findings(still) == []


def test_no_finding_on_words_and_in_the_other_views(studio: Studio, still: Page) -> None:
    studio.own_copy()
    studio.lane("Drip")
    still.keyboard.press("w")
    still.get_by_role("textbox", name="What Drip says").fill("Velocity 96. Acsent every 3rd.")
    still.get_by_role("button", name="Accent every 3rd", exact=True).wait_for()
    assert findings(still) == [], "writing"
    still.keyboard.press("Escape")
    studio.word("gate").click()
    assert findings(still) == []
    still.get_by_role("button", name="wave", exact=True).click()
    open_and_close(still, "Path of the gate, bar by bar", "[role=dialog]")
    still.get_by_role("button", name="cuttings", exact=True).click()
    still.get_by_role("slider", name="Relatives of Drip").wait_for()
    assert findings(still) == []
    still.get_by_role("button", name="back to the lattice").click()
    still.get_by_role("tab", name="Ride").click()
    assert findings(still) == []
    still.keyboard.press("k")
    still.locator("[data-clip] .name").first.click()
    still.get_by_role("slider", name="What is shown of the clip").wait_for()
    assert findings(still) == []
    copied = still.url.split("/")[-2]
    still.get_by_role("button", name="Order", exact=True).click()
    still.get_by_role("button", name="+ another key").click()
    expect(still.locator(".said .sentence")).to_contain_text("In D dorian.")
    assert findings(still) == []
    studio.api("DELETE", f"pieces/{copied}")


def test_no_finding_in_what_takes_notes_in_and_out(studio: Studio, still: Page) -> None:
    studio.own_copy()
    still.keyboard.press("k")
    still.locator("[data-clip]").first.wait_for()

    def finds_nothing(what: str) -> None:
        still.get_by_role("dialog").first.wait_for()
        assert findings(still, ".v-overlay-container") == [], what
        still.keyboard.press("Escape")
        expect(still.get_by_role("dialog")).to_have_count(0)

    for entry in ("Send …", "Link …", "Rename", "Tags"):
        still.locator("[data-clip]").get_by_role("button", name="More for").click()
        still.get_by_role("menuitem", name=entry).click()
        finds_nothing(entry)
    still.get_by_role("button", name="More for this pattern").click()
    still.get_by_role("menuitem", name="Draw as a picture").click()
    still.get_by_role("img", name="Drizzle").wait_for()
    finds_nothing("a picture")
    still.get_by_role("button", name="More for this pattern").click()
    still.get_by_role("menuitem", name="Paste a text").click()
    still.get_by_role("textbox", name="The text").fill("Rain, claves: Spread 3 hits over 8 steps.")
    still.get_by_role("button", name="Add 1 lane here").wait_for()
    finds_nothing("a text")
    drop(studio, **of_others("pretty-midi"))
    still.get_by_role("heading", name="pretty-midi").wait_for()
    finds_nothing("a MIDI file")


def test_no_finding_around_the_music(studio: Studio, still: Page) -> None:
    still.goto(studio.address)
    still.get_by_role("button", name="Open the demo").wait_for()
    assert findings(still) == []
    studio.own_copy()
    studio.api("DELETE", f"pieces/{still.url.split('/')[-2]}")
    still.goto(f"{studio.address}/guide")
    expect(still.get_by_role("heading", name="Ten minutes to a drum part")).to_be_visible()
    assert still.locator("article img").first.evaluate("each => each.decode().then(() => "
                                                       "each.naturalWidth)") > 1000
    assert findings(still) == []
    still.get_by_role("link", name="Next: The sentence").click()
    expect(still.get_by_role("heading", name="The sentence", level=1)).to_be_visible()
    still.goto(studio.address)
    still.get_by_role("button", name="Deleted in the last 30 days").click()
    still.get_by_role("region", name="Deleted").wait_for()
    assert findings(still) == []


def test_focus_is_never_lost(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    focused = page.locator(":focus")
    studio.lane("Drip")
    menu = page.get_by_role("button", name="More for Drip")
    menu.focus()
    press("Enter")
    expect(page.get_by_role("menuitem", name="Rename …")).to_be_focused()
    press("ArrowDown")
    press("ArrowDown")
    expect(page.get_by_role("menuitem", name="Own sound from a file …")).to_be_focused()
    press("Escape")
    expect(menu).to_be_focused()
    expect(page.get_by_role("menu")).to_have_count(0)  # one that still closes does not open
    press("Enter")
    expect(page.get_by_role("menuitem", name="Rename …")).to_be_focused()
    press("Enter")
    expect(page.get_by_role("textbox", name="Name")).to_be_focused()
    press("Escape")
    expect(menu).to_be_focused()
    # A word's menu takes the focus, and gives it back.
    word = studio.word("rule.kind")
    word.focus()
    press("Enter")
    expect(page.get_by_role("menuitemradio", name="Spread")).to_be_focused()
    press("ArrowDown")
    press("Escape")
    expect(word).to_be_focused()
    # A clause that is added has the focus; one that is taken away leaves it to its neighbour.
    page.get_by_role("button", name="+ restart").focus()
    press("Enter")
    expect(studio.word("restart_bars")).to_be_focused()
    page.get_by_role("button", name="Take away: restart").focus()
    press("Enter")
    expect(studio.word("restart_bars")).to_have_count(0)
    expect(focused).to_have_count(1)


def test_focus_stays_at_the_end_of_undo_and_keys_act_wherever_it_is(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    focused = page.locator(":focus")
    studio.lane("Drip")
    for steps in ("11", "10"):
        studio.type_word("steps", steps)
    # Undo at its end keeps it; a deleted clip gives it to what is left.
    undo = page.locator("[aria-label^=Undo]")
    undo.focus()
    expect(page.get_by_role("button", name="Undo Drip: steps 11 to 10")).to_be_visible()
    for _ in range(3):
        press("Enter")
        page.wait_for_timeout(200)
    expect(undo).to_have_attribute("aria-disabled", "true")
    expect(undo).to_be_focused()
    for _ in range(2):
        page.locator(".lattice").get_by_role("radio", name="2 bars").focus()
        press("k")
    expect(page.locator("[data-clip]")).to_have_count(2)
    page.locator("[data-clip]").first.get_by_role("button", name="More for").focus()
    press("Enter")
    page.get_by_role("menuitem", name="Delete").press("Enter")
    expect(page.locator("[data-clip]")).to_have_count(1)
    expect(page.locator("[data-clip]").get_by_role("button").first).to_be_visible()
    expect(focused).to_have_count(1)
    press("3")  # a digit rolls a step, also from the Shelf
    studio.settled(lambda state: state["history"]["undo"].endswith("rolls 3 times"))
    page.locator(".strands [role=slider]").first.focus()
    press("4")
    studio.settled(lambda state: state["history"]["undo"].endswith("rolls 4 times"))
    page.get_by_role("tab", name="Velocity").focus()
    press("ArrowRight")
    expect(page.get_by_role("tab", name="Chance")).to_be_focused()
    press("r")
    studio.settled(lambda state: "chances" in state["history"]["undo"]
                   or "reroll" in state["history"]["undo"])
    page.get_by_role("radio", name="2 bars").focus()
    press("ArrowRight")
    expect(page.get_by_role("radio", name="4 bars")).to_be_focused()
    expect(page.get_by_role("radio", name="4 bars")).to_be_checked()
    press("m")
    studio.settled(lambda state: "mute" in state["history"]["undo"])


def test_escape_gives_up_a_drag_and_the_wheel_scrolls_until_it_rests(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    before = studio.state()["revision"]
    for place in (studio.word("rule.pulses"), page.locator('canvas[data-lane="drip"]'),
                  page.locator(".strands .box")):
        box = place.bounding_box()
        assert box
        page.mouse.move(box["x"] + 12, box["y"] + 8)
        page.mouse.down()
        page.mouse.move(box["x"] + 40, box["y"] + 40, steps=5)
        page.keyboard.press("Escape")
        page.mouse.up()
    page.wait_for_timeout(600)
    assert studio.state()["revision"] == before
    expect(studio.word("rule.pulses")).to_have_text("7")
    word = studio.word("steps")
    word.hover()
    word.evaluate("""each => { for (let i = 0; i < 4; i += 1) each.dispatchEvent(
        new WheelEvent('wheel', {deltaY: 60, bubbles: true, cancelable: true})) }""")
    expect(word).to_have_text("12")
    page.wait_for_timeout(600)
    page.mouse.wheel(0, -60)
    expect(word).to_have_text("13")


def test_what_changes_is_said_and_the_title_follows(studio: Studio) -> None:
    studio.own_copy()
    page, press = studio.page, studio.page.keyboard.press
    said = page.locator(".unseen[role=status]")
    expect(page).to_have_title("Drizzle · Sprinklers (copy) · Jolly Lattice")
    studio.lane("Pump")
    page.evaluate("document.activeElement.blur()")
    for key, words in (("m", "Pump: mute"), ("Control+z", "Taken back: Pump: mute"),
                       ("3", "step 1 rolls 3 times"), ("r", "reroll"), ("s", "Stay"),
                       (" ", "Playing"), (" ", "Stopped"), ("PageDown", "Bars 3–4")):
        press(key)
        expect(said).to_contain_text(words)
    page.get_by_role("button", name="Downpour", exact=True).click()
    expect(page).to_have_title("Downpour · Sprinklers (copy) · Jolly Lattice")


def test_the_drum_dialog_begins_empty_and_enter_takes_the_only_match(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    find = page.get_by_role("textbox", name="Find")
    for name in ("cowbell", "claves"):
        page.get_by_role("button", name="More for Fan").click()
        page.get_by_role("menuitem", name="Drum: ").click()
        expect(find).to_have_value("")
        find.fill(name)
        page.keyboard.press("Enter")
        expect(page.locator(".lane-head", has_text="Fan").locator(".about")).to_contain_text(
            name.title())
        expect(page.get_by_role("dialog")).to_have_count(0)
