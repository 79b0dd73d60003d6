"""All of it under fingers, on a tablet held upright; a pen is one finger."""

from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Locator, expect

from tests.browser.conftest import Studio
from tests.browser.test_clips import notes_when

pytestmark = pytest.mark.django_db
LONG_MS = 700
# What is pressed and answers over less than so many pixels, felt around its middle; what a scrolled
# room has cut off counts as it is. A value of a strand is taken by the bar above it.
SMALL = """(least) => [...document.querySelectorAll(
    'button, a[href], input, select, textarea, ' +
    ['slider', 'spinbutton', 'tab', 'menuitem'].map((role) => `[role=${role}]`)
)].flatMap((target) => {
    const { x, y, width, height } = target.getBoundingClientRect()
    const [middle, centre] = [x + width / 2, y + height / 2]
    const answers = (x, y) => {
        const there = document.elementFromPoint(x, y)
        return there && (target.contains(there) || there.closest('label')?.contains(target))
    }
    if (target.matches('.value, [inert] *') || !answers(middle, centre)) return []
    if (width >= least && height >= least) return []
    const reach = (by, to) => {
        let far = 1
        while (far < least && answers(middle + by * far, centre + to * far)) far += 1
        return far - 1
    }
    const [wide, high] = [reach(-1, 0) + reach(1, 0) + 1, reach(0, -1) + reach(0, 1) + 1]
    return wide >= least && high >= least ? []
        : [`${target.ariaLabel || target.textContent || target.className}: ${wide} x ${high}`]
})"""


class Fingers:
    """Touches as a screen gives them."""

    def __init__(self, studio: Studio) -> None:
        self.page = studio.page
        self._devtools = self.page.context.new_cdp_session(self.page)

    def _send(self, kind: str, *points: tuple[float, float]) -> None:
        self._devtools.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": [
            {"x": x, "y": y, "id": number} for number, (x, y) in enumerate(points)]})

    def tap(self, at: tuple[float, float]) -> None:
        self._send("touchStart", at)
        self._send("touchEnd")

    def drag(self, start: tuple[float, float], end: tuple[float, float], hold: int = 0) -> None:
        """Over a way, after having held on for so many milliseconds."""
        self._send("touchStart", start)
        self.page.wait_for_timeout(hold)
        for share in (0.2, 0.4, 0.6, 0.8, 1):
            self._send("touchMove", (start[0] + (end[0] - start[0]) * share,
                                     start[1] + (end[1] - start[1]) * share))
            self.page.wait_for_timeout(20)
        self._send("touchEnd")

    def two(self, start: list[tuple[float, float]], end: list[tuple[float, float]]) -> None:
        self._send("touchStart", start[0])
        self._send("touchStart", *start)
        for share in (0.2, 0.4, 0.6, 0.8, 1):
            self._send("touchMove", *[(a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share)
                                      for a, b in zip(start, end, strict=True)])
            self.page.wait_for_timeout(20)
        self._send("touchEnd")

    def pen(self, *way: tuple[float, float]) -> None:
        """A pen, from point to point."""
        for number, (x, y) in enumerate(way):
            kind = "mouseMoved" if number else "mousePressed"
            self._devtools.send("Input.dispatchMouseEvent", {
                "type": kind, "x": x, "y": y, "button": "left", "buttons": 1, "clickCount": 1,
                "pointerType": "pen"})
            self.page.wait_for_timeout(20)
        self._devtools.send("Input.dispatchMouseEvent", {
            "type": "mouseReleased", "x": way[-1][0], "y": way[-1][1], "button": "left",
            "clickCount": 1, "pointerType": "pen"})


def centre(place: Locator, x: float = 0.5, y: float = 0.5) -> tuple[float, float]:
    place.scroll_into_view_if_needed()
    box = place.bounding_box()
    assert box
    return box["x"] + box["width"] * x, box["y"] + box["height"] * y


@pytest.fixture
def tablet(browser: Browser, address: str) -> Iterator[Studio]:
    context = browser.new_context(viewport={"width": 768, "height": 1024}, has_touch=True,
                                  service_workers="block")
    made = Studio(context.new_page(), address)
    made.own_copy()
    yield made
    assert made.broken == []
    context.close()


def hits(studio: Studio, lane: str) -> list[float]:
    drawn: Any = next(each for each in studio.state()["view"]["lanes"] if each["name"] == lane)
    return [hit[0] for hit in drawn["drawn"]["hits"] if hit[0] < 4]


def test_steps_wedges_and_words_under_a_finger(tablet: Studio) -> None:
    page, fingers = tablet.page, Fingers(tablet)
    row = page.locator("canvas.row").first
    fingers.tap(centre(row, 2.5 / 32, 0.8))
    tablet.settled(lambda state: "step 3" in state["history"]["undo"].lower())
    assert hits(tablet, "Pump") == [0, 0.5, 1, 2, 3]
    fingers.tap(centre(row, 2.5 / 32, 0.8))
    tablet.settled(lambda state: hits(tablet, "Pump") == [0, 1, 2, 3])
    # A finger that goes up and down over nothing scrolls, and sets no step.
    before = tablet.state()["revision"]
    fingers.drag(centre(row, 6.5 / 32, 0.8), centre(row, 6.5 / 32, -2))
    page.wait_for_timeout(300)
    assert tablet.state()["revision"] == before
    # A wedge's tip is taken from somewhat beside it, and pulled.
    x, y = centre(row, 4.3 / 32, 0.17)
    fingers.drag((x, y), (x, y + 20))
    tablet.settled(lambda state: tablet.state()["revision"] != before)
    # Held for long: steps are chosen, as with Shift.
    fingers.drag(centre(row, 4.5 / 32, 0.8), centre(row, 8.5 / 32, 0.8), hold=LONG_MS)
    expect(page.get_by_text("5 steps")).to_be_visible()
    page.keyboard.press("Escape")
    tablet.lane("Drip")
    word = tablet.word("rule.pulses")
    expect(word).to_have_text("7")
    page.wait_for_timeout(300)
    x, y = centre(word)
    fingers.drag((x, y), (x, y - 40))
    expect(tablet.word("rule.pulses")).to_have_text("9")
    assert page.evaluate("document.documentElement.scrollWidth") <= 768


def test_two_fingers_zoom_and_scroll_time(tablet: Studio) -> None:
    page, fingers = tablet.page, Fingers(tablet)
    row = page.locator("canvas.row").first
    before = tablet.state()["revision"]
    left, right = centre(row, 0.3), centre(row, 0.6)
    fingers.two([left, right], [(left[0] + 40, left[1]), (right[0] - 40, right[1])])
    expect(page.get_by_role("radio", name="4 bars")).to_be_checked()
    fingers.two([centre(row, 0.4), centre(row, 0.6)], [centre(row, 0.3), centre(row, 0.7)])
    expect(page.get_by_role("radio", name="2 bars")).to_be_checked()
    fingers.two([centre(row, 0.7), centre(row, 0.9)], [centre(row, 0.3), centre(row, 0.5)])
    expect(page.get_by_text("Bars 3–4 ·")).to_be_visible()
    assert tablet.state()["revision"] == before, "and set no step"


def test_lanes_clips_and_passes_are_chosen_by_a_long_press(tablet: Studio) -> None:
    page, fingers = tablet.page, Fingers(tablet)
    tablet.lane("Pump")
    fingers.drag(*[centre(page.locator(".lane-head .words").nth(2))] * 2, hold=LONG_MS)
    expect(page.locator(".lane.picked")).to_have_count(2)
    page.keyboard.press("Escape")
    for _ in range(2):
        page.keyboard.press("k")
    page.get_by_role("button", name="Shelf (2)").tap()
    name = page.locator(".shelf li .name").first
    page.wait_for_timeout(500)
    fingers.drag(*[centre(name)] * 2, hold=LONG_MS)
    expect(page.get_by_text("1 chosen")).to_be_visible()


def test_whatever_is_pressed_is_as_large_as_a_finger(tablet: Studio) -> None:
    page = tablet.page

    def small(least: int = 44) -> list[str]:
        page.wait_for_timeout(400)
        found: list[str] = page.evaluate(SMALL, least)
        return found

    tablet.lane("Drip")
    assert small() == []
    page.get_by_role("tab", name="Velocity").scroll_into_view_if_needed()
    assert small() == []
    page.keyboard.press("k")
    page.get_by_role("button", name="Shelf (1)").tap()
    assert small() == []
    page.locator(".v-navigation-drawer__scrim").tap(position={"x": 30, "y": 500})
    page.get_by_role("button", name="Order", exact=True).tap()
    page.locator(".block").nth(1).tap()
    assert small() == []
    page.get_by_role("button", name="More for this pattern").tap()
    assert small() == []
    page.get_by_role("menuitem", name="Send …").tap()
    assert small() == []
    page.get_by_role("button", name="as sound").tap()
    assert small() == []
    tablet.own_copy("Canopy Walk")
    # The end of a chord has no more room where chords are short.
    assert small(24) == [] and not [told for told in small() if "Beats of chord" not in told]
    page.goto(tablet.address)
    page.get_by_role("link", name="Sprinklers").first.wait_for()
    assert small() == []


def test_strands_and_the_ride_under_a_finger_and_a_pen(tablet: Studio) -> None:
    page, fingers = tablet.page, Fingers(tablet)
    tablet.lane("Pump")
    bars = page.locator(".strands .box")
    fingers.drag(centre(bars, 0.02, 0.3), centre(bars, 0.3, 0.7))
    state = tablet.settled(lambda s: s["history"]["undo"] == "Pump: velocity strand", "pump")
    tablet.word("rule.pulses").scroll_into_view_if_needed()
    x, y = centre(tablet.word("rule.pulses"))
    fingers.pen((x, y), (x, y - 12), (x, y - 24), (x, y - 36))
    tablet.settled(lambda s: s["revision"] > state["revision"] and "hits" in s["history"]["undo"])
    page.get_by_role("tab", name="Ride").tap()
    page.get_by_role("button", name="Play", exact=True).tap()
    tablet.played(2)
    pad = page.locator(".pad")
    fingers.drag(centre(pad, 0.2, 0.6), centre(pad, 0.8, 0.3), hold=1500)
    expect(page.get_by_role("button", name="Lay it in")).to_be_visible()
    page.get_by_role("button", name="Stop", exact=True).tap()


def test_the_order_under_a_finger(tablet: Studio) -> None:
    page, fingers = tablet.page, Fingers(tablet)
    page.get_by_role("button", name="Order", exact=True).tap()
    blocks = page.locator(".block")
    order = f"pieces/{tablet.piece}/order"
    passes = [each["count"] for each in tablet.api("GET", order)["view"]["blocks"]]
    wide = blocks.nth(1).bounding_box()
    assert wide
    x, y = centre(blocks.nth(1).locator(".end"))
    fingers.drag((x, y), (x + wide["width"], y))
    tablet.until(f"fetch('/api/{order}').then((answer) => answer.json()).then(({{ view }}) => "
                 f"view.blocks[1].count > {passes[1]})")
    names = blocks.all_inner_texts()
    fingers.drag(centre(blocks.nth(0)), centre(blocks.nth(1), 0.9))
    expect(blocks.nth(0)).not_to_have_text(names[0])


def test_a_clip_under_a_finger(tablet: Studio) -> None:
    page, fingers = tablet.page, Fingers(tablet)
    page.keyboard.press("k")
    page.get_by_role("button", name="Shelf (1)").tap()
    page.locator(".shelf li .name").first.tap()
    rows = page.locator(".clip-rows canvas")
    rows.wait_for()
    expect(page.locator(".v-navigation-drawer__scrim")).to_have_count(0)
    clip = int(page.url.split("clip=")[1].split("&")[0])
    before = notes_when(tablet, clip, lambda notes: len(notes) > 20)
    box = rows.bounding_box()
    assert box
    first = (box["x"] + 5, box["y"] + 20)
    fingers.drag(first, (first[0] + box["width"] / 8, first[1]))
    after = notes_when(tablet, clip, lambda notes: notes != before)
    assert [note[0] for note in after if note not in before] == [1]
    # Two taps where nothing is add a note; two fingers come closer, and choose nothing.
    empty = (box["x"] + box["width"] * 3.4 / 8, box["y"] + 20)
    fingers.tap(empty)
    fingers.tap(empty)
    notes_when(tablet, clip, lambda notes: len(notes) == len(before) + 1)
    shown = page.get_by_role("slider", name="What is shown of the clip")
    expect(shown).to_have_attribute("aria-valuetext", "from beat 1, 8 of 8 beats")
    fingers.two([centre(rows, 0.4), centre(rows, 0.6)], [centre(rows, 0.3), centre(rows, 0.7)])
    expect(shown).to_have_attribute("aria-valuetext", "from beat 3, 5 of 8 beats")
