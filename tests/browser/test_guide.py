"""The guide is true: *Ten minutes* is walked word for word, and every control that any page names
is where the page says, under that name."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db
PAGES = {path.stem.split("-", 1)[1]: path.read_text()
         for path in sorted(Path("docs/guide").glob("*.md"))}
KEYS = {"space": "Space", "Ctrl+Z": "Control+z", "?": "?", "Enter": "Enter", "Escape": "Escape"}


def named(text: str) -> list[str]:
    """What stands in bold: controls and keys."""
    return re.findall(r"\*\*([^*]+)\*\*", text)


def key_of(name: str) -> str | None:
    return KEYS.get(name) or (name.lower() if re.fullmatch("[A-Z]", name) else None)


def beside(studio: Studio, page: str) -> None:
    """Open a page of the guide beside the music."""
    if not studio.page.locator(".guide-panel").count():
        studio.page.keyboard.press("?")
        studio.page.get_by_role("button", name="The guide beside it").click()
    title = re.findall("^# (.+)$", PAGES[page], re.M)[0]
    heading = studio.page.locator(".guide-panel").get_by_role("heading", name=title)
    while not heading.count():
        studio.page.locator(".guide-panel").get_by_role("button", name="next").click()


def shown(page: Page, name: str) -> None:
    """The guide shows this control, or says that it is a key."""
    bold = page.locator(".guide-panel strong").get_by_text(name, exact=True).first
    for _ in range(50):  # what the step before opened may still be on its way
        bold.hover()
        if key_of(name) or page.locator(".guide-ring").is_visible():
            return
        page.mouse.move(1, 1)
        page.wait_for_timeout(100)
    pytest.fail(f"“{name}” is not shown")


def test_ten_minutes_word_for_word(studio: Studio) -> None:
    studio.own_copy("Pump Room")
    page = studio.page
    beside(studio, "ten-minutes")
    steps = re.findall(r"^- (.+)$", PAGES["ten-minutes"], re.M)
    panel = page.locator(".guide-panel")
    for step in steps:
        line = panel.locator("li").filter(has_text=re.sub(r"\*\*", "", step)[:40]).first
        expect(line, step).not_to_have_class(re.compile("done"))
        for name in named(step):
            use(studio, name)
        expect(line, step).to_have_class(re.compile("done"))
        hear(studio, step)
    expect(page.locator(".shelf li")).to_have_count(1)
    expect(panel.locator("li.done")).to_have_count(len(steps))
    page.reload()
    expect(panel.locator("li.done")).to_have_count(len(steps))
    panel.get_by_role("button", name="begin again").click()
    expect(panel.locator("li.done")).to_have_count(0)
    panel.get_by_role("button", name="Close the guide").click()
    expect(panel).to_have_count(0)


def use(studio: Studio, name: str) -> None:
    """Do with a control what the guide says: press it, turn it, or type."""
    page, key = studio.page, key_of(name)
    if key == "g":  # held for a moment
        page.keyboard.down("g")
        page.wait_for_timeout(300)
        page.keyboard.up("g")
    elif key:
        page.keyboard.press(key)
    elif name in ("hits", "steps", "chance"):
        word = page.locator(".lane-words").get_by_role("spinbutton", name=name, exact=True)
        for _ in range({"hits": 2, "steps": 1, "chance": 3}[name]):
            word.press({"hits": "ArrowUp", "steps": "ArrowDown", "chance": "PageDown"}[name])
        page.keyboard.press("F6")
    elif name == "All that may move":
        expect(page.get_by_label(name)).to_be_enabled()  # once the relatives have grown
        page.get_by_label(name).press("ArrowRight")
    elif name == "MIDI file":
        with page.expect_download() as file:
            page.locator(".shelf").get_by_text(name).first.click()
        assert file.value.suggested_filename.endswith(".mid")
    else:
        at = page.locator(".work, .bar, .v-dialog, .shelf").get_by_role("button", name=re.compile(
            rf"^{re.escape(name)}\b" if name[-1].isalpha() else re.escape(name), re.I)).first
        at.click()
        if name == "New pattern":
            page.keyboard.type("Ten minutes")
        if name == "Keep …":
            page.keyboard.press("Escape")


def hear(studio: Studio, step: str) -> None:
    """What the step says comes true."""
    page = studio.page
    if "**Make it**" in step:
        expect(page.get_by_role("navigation").get_by_text("Ten minutes")).to_be_visible()
    elif "**space**" in step:
        expect(page.get_by_role("button", name="Stop")).to_be_visible()
        expect(page.locator("[data-pass]").first).to_be_visible()
    elif "**Drip**" in step:
        expect(page.locator(".lane-words")).to_contain_text(
            "Spread 7 hits over 12 steps of 1/16")
    elif "to 11" in step:
        expect(studio.word("steps")).to_have_text("11")
    elif "every 3rd" in step:
        expect(page.locator(".lane-words .clauses")).to_contain_text("Accent every 3rd hit")
        expect(page.locator(".lane-words .clauses")).to_contain_text("Give or take")
    elif "Ctrl+Z" in step:
        expect(page.locator(".lane-words .clauses")).not_to_contain_text("Give or take")
    elif "plant this" in step:
        studio.settled(lambda state: "plant" in (state["history"]["undo"] or "").lower())
    elif "**K**" in step:
        expect(page.locator(".shelf li").first).to_be_visible()


def test_every_control_that_the_guide_names_is_there(studio: Studio) -> None:
    """Each page's names, each where the page speaks of it; none is left out."""
    studio.own_copy("Canopy Walk")
    page = studio.page

    def word_open() -> None:
        page.locator(".lane-words [data-slot]").and_(page.get_by_label("steps", exact=True)).press(
            "Enter")

    def strand_read() -> None:
        page.locator(".side").get_by_role("spinbutton", name="way of reading").press("Enter")

    def steps_chosen() -> None:
        page.keyboard.press("Escape")
        page.locator(".rows").focus()
        page.keyboard.press("Shift+ArrowRight")

    def passes_heard() -> None:
        page.keyboard.press("Escape")
        studio.play_passes(2)

    def all_clauses() -> None:
        page.get_by_role("button", name="all clauses …").click()

    def melody() -> None:
        studio.lane("Root")
        page.get_by_role("tab", name="degree").click()

    def walking() -> None:
        page.get_by_role("button", name="+ arpeggio").click()

    def relatives() -> None:
        page.get_by_role("button", name="cuttings", exact=True).click()

    def clip() -> None:
        page.get_by_role("button", name="back to the lattice").click()
        page.keyboard.press("k")
        page.locator(".shelf li .name").first.click()
        page.get_by_role("button", name="Stir", exact=False).first.click()

    def lattice() -> None:
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        studio.lane("Drip")

    walks: dict[str, list[tuple[Callable[[], None], set[str]]]] = {
        "sentence": [(lambda: studio.lane("Drip"), {"all clauses …", "×", "+ lane", "L"}),
                     (word_open, {"wave", "line", "steps", "wander", "drawn"})],
        "strands": [(strand_read, {"by step", "on through time", "by hit"}),
                    (lambda: studio.lane("Drip"), {"all clauses …"}),
                    (all_clauses, {"controller for each hit"})],
        "chance": [(steps_chosen, {"sound together", "only one sounds", "turns …", "R", "S", "K",
                                   "throws"})],
        "trail": [(passes_heard, {"Hear pass", "Keep pass", "K", "Keep …",
                                   "Keep as MIDI"})],
        "arpeggio": [(melody, {"scatter", "keys", "+ arpeggio"}),
                     (walking, {"+ anchor", "+ second walk"})],
        "cuttings": [(lambda: None, {"cuttings"}),
                     (relatives, {"All that may move", "+ answer", "Enter", "Escape", "N", "P",
                                  "M", "A", "B", "G"})],
        "clips": [(clip, {"lay it in", "stir", "?"}),
                  (lattice, {"say it shorter", "Order"})],
        "writing": [(lattice, {"W", "write"})],
        "out-and-in": [(lambda: None, {"K", "MIDI file", "Keep a folder on the disk in step"})]}
    assert walks.keys() == PAGES.keys() - {"ten-minutes"}
    for name, places in walks.items():
        beside(studio, name)
        assert set().union(*(names for _, names in places)) == set(named(PAGES[name])), name
        for go, names in places:
            go()
            for each in sorted(names):
                shown(page, each)
