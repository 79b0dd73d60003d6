"""Nothing lies in the way, nothing typed is lost, and what belongs to a piece stays in it."""

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from ops.chromium import open_copy
from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def apart(one: Locator, other: Locator) -> bool:
    """Whether two things do not lie over each other."""
    a, b = one.bounding_box(), other.bounding_box()
    assert a and b
    return a["x"] >= b["x"] + b["width"] or b["x"] >= a["x"] + a["width"] or \
        a["y"] >= b["y"] + b["height"] or b["y"] >= a["y"] + a["height"]


def test_a_notice_lies_over_nothing_and_goes_with_what_is_done_next(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    notice = page.locator(".notice")
    for count in range(1, 7):  # so many that the Shelf is full
        page.keyboard.press("k")
        expect(page.locator("[data-clip]")).to_have_count(count)
    expect(notice).to_contain_text("Kept as")
    for other in ("Lattice", "Recipe", "Pattern", "Trail"):
        assert apart(notice, page.get_by_role("region", name=other, exact=True)), other
    card = page.locator("[data-clip]").last
    page.get_by_role("complementary", name="Shelf").evaluate("each => each.scrollTo(0, 9999)")
    assert apart(notice, card), "the Shelf makes room for it"
    notice.hover()  # under a pointer it does not go by itself
    page.keyboard.press("ArrowRight")
    expect(notice).to_have_count(0)
    card.get_by_role("button", name="More for").click()
    page.get_by_role("menuitem", name="Delete").click()
    notice.get_by_role("button", name="Bring it back").click()
    expect(page.locator("[data-clip]")).to_have_count(6)


def test_a_refused_line_of_chords_can_be_put_right(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page = studio.page
    page.get_by_role("button", name="Chords", exact=True).click()
    page.get_by_role("textbox", name="Find or type: Dm7 G7 C").fill("Dm7 Hm IV V")
    page.keyboard.press("Enter")  # a whole line as well
    field = page.get_by_role("dialog").get_by_role("textbox")
    expect(field).to_have_value("Dm7 Hm IV V")
    field.fill("Dm7 ii IV V")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.locator('[data-slot="chords.text"]')).to_have_text("Dm7 ii IV V")


def test_a_refused_text_stays_in_its_field_marked_where_it_is_wrong(studio: Studio) -> None:
    studio.own_copy("Canopy Walk")
    page, press = studio.page, studio.page.keyboard.press
    page.get_by_role("button", name=re.compile("^Chord 1:")).click()
    page.get_by_role("menuitem", name="Type a chord …").click()
    field = page.get_by_role("dialog").get_by_role("textbox")
    field.fill("Dm7")
    field.fill("Xq")
    press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("“Xq”")
    expect(field).to_have_value("Xq")
    field.fill("Dm7")
    press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Chord 1: Dm7")).wait_for()
    before = studio.state()["revision"]
    line = page.locator('[data-slot="chords.text"]')
    whole = line.inner_text()
    line.click()
    typing = page.locator(".typing")
    mistyped = whole.replace(whole.split()[2], "Hm")
    typing.fill(mistyped)
    press("Enter")
    expect(typing).to_have_value(mistyped)
    expect(typing).to_have_attribute("aria-invalid", "true")
    assert page.evaluate("String(getSelection())") == "Hm", "what is typed next takes its place"
    page.keyboard.type("V")
    press("Escape")
    expect(line).to_have_text(whole)
    studio.word("steps").click()
    typing.fill("")
    press("Enter")  # an emptied field says nothing
    studio.word("steps").click()
    typing.fill("999")
    press("Enter")
    expect(studio.notice()).to_contain_text("128")
    expect(typing).to_have_value("999")
    press("Escape")
    assert studio.state()["revision"] == before
    # A strand that is refused is as it was.
    bars = page.locator(".strands .box")
    shown = bars.inner_text()
    page.route("**/edits", lambda route: route.fulfill(
        status=422, json={"detail": "Velocities go from 1 to 127."}))
    page.get_by_role("slider", name=re.compile("value 1$")).press("ArrowUp")
    expect(studio.notice()).to_have_text("Velocities go from 1 to 127.")
    expect(bars).to_have_text(shown, use_inner_text=True)


def seen(page: Page, view: str) -> str:
    """Everything that is told of a view, but for what is said aloud."""
    page.locator(view).first.wait_for()
    page.wait_for_timeout(400)
    told = page.locator("main").aria_snapshot()
    return re.sub(r"^\s*- status.*$", "", told, flags=re.MULTILINE)


def test_what_belongs_to_a_piece_stays_in_it(studio: Studio) -> None:
    page = studio.page
    other = open_copy(page, studio.address, "Pump Room")
    page.evaluate("localStorage.removeItem('jolly-first-minute')")
    studio.own_copy()
    press = page.keyboard.press
    one = page.url
    piece = one.split("/pieces/")[1].split("/")[0]

    def visit(address: str) -> None:
        """What the lattice, the order and cuttings tell as they are come upon, they tell afresh."""
        found: tuple[list[str], list[str]] = ([], [])
        for afresh, told in enumerate(found):
            if afresh:
                page.goto(address)
            told.append(seen(page, "canvas.row"))
            page.get_by_role("button", name="Order", exact=True).click()
            told.append(seen(page, ".order .rail"))
            press("Escape")
            page.get_by_role("button", name="cuttings", exact=True).click()
            page.get_by_role("slider", name=re.compile("^Relatives of")).first.wait_for()
            told.append(seen(page, ".cuttings .strip"))
            page.get_by_role("button", name="back to the lattice").click()
        assert found[0] == found[1]

    studio.lane("Fern")
    studio.play_passes(3)
    press("s")
    studio.stop()
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowRight", "Shift+ArrowDown"):
        press(key)
    page.get_by_role("radio", name="4 bars").click()
    page.get_by_role("button", name="Order", exact=True).click()
    page.get_by_role("button", name="all lanes").click()
    page.get_by_role("menuitemradio", name="Fern").click()
    page.get_by_role("option").nth(2).click()
    press("Escape")
    page.get_by_role("button", name="cuttings", exact=True).click()
    page.locator('[data-slot="along"]').wait_for()
    for slot in ("along", "away", "over"):
        word = page.locator(f'.cuttings [data-slot="{slot}"]')
        if word.count():
            word.first.press("ArrowUp")
            page.wait_for_timeout(600)
    page.get_by_role("link", name="All pieces").click()
    page.locator(f'a[href="/pieces/{other}"]').click()
    page.locator("canvas.row").first.wait_for()
    visit(page.url)
    page.get_by_role("link", name="All pieces").click()
    page.locator(f'a[href="/pieces/{piece}"]').click()
    page.locator("canvas.row").first.wait_for()
    visit(one)
    page.get_by_role("button", name="Downpour", exact=True).click()
    expect(page).to_have_title(re.compile("^Downpour"))
    visit(page.url)
