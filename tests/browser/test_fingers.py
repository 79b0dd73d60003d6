"""All of it under fingers, on a tablet held upright; a pen is one finger."""

from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Locator, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db
LONG_MS = 700


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
