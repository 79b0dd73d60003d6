"""Take the pictures of the main views: shots.py ADDRESS; they go to docs/screenshots."""

import sys
from pathlib import Path

from playwright.sync_api import Page

from ops import icons
from ops.chromium import ask, chromium, open_copy, open_demo

FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def main(address: str) -> None:
    """Take them all, in both themes and two sizes."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    icons.draw()
    with chromium(1280, 800) as page:
        page.goto(address)
        page.get_by_role("button", name="Open the demo").wait_for()
        page.screenshot(path=FOLDER / "door.png")
    with chromium(1280, 800) as page:
        open_demo(page, address, "Sprinklers", "Drizzle")
        page.locator(".lane-head .name", has_text="Drip").click()
        passes = page.locator(".trail li[data-pass]")
        before = passes.count()  # what an earlier run has left
        page.get_by_role("button", name="Play", exact=True).click()
        passes.nth(before + 3).wait_for(timeout=60_000)
        page.screenshot(path=FOLDER / "lattice.png")
        page.get_by_role("tab", name="Ride").click()
        page.get_by_role("button", name="Choose pass 2").first.click()
        page.get_by_role("button", name="Choose pass 3").first.click(modifiers=["Shift"])
        _ride(page)
        page.screenshot(path=FOLDER / "ride.png")
        page.get_by_role("button", name="Forget it").click()
        page.get_by_role("button", name="Stop", exact=True).click()
        page.goto(address)
        page.locator(".piece").first.wait_for()
        page.screenshot(path=FOLDER / "pieces.png")
    with chromium(1280, 800) as page:
        open_demo(page, address, "Sprinklers", "Drizzle")
        page.locator(".lane-head .name", has_text="Fern").click()
        page.get_by_role("radio", name="whole weave").click()
        page.locator(".turner", has_text="up to the meeting point").wait_for()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "weave.png")
    _melodies(address)
    _clip(address)
    _order(address)
    _cuttings(address)
    _moving(address)
    _writing(address)
    _leaving(address)
    with chromium(1600, 1000, "lamplight") as page:
        open_demo(page, address, "Pump Room", "Pressure")
        page.locator(".lane-head .name", has_text="Fern").click()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "lamplight.png")


def _melodies(address: str) -> None:
    """Melodies, keys, chords and starting recipes."""
    with chromium(1280, 800) as page:
        open_demo(page, address, "Canopy Walk", "Canopy")
        page.get_by_role("button", name="Bells", exact=True).click()
        page.get_by_role("radio", name="4 bars").click()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "melodies.png")
        page.get_by_role("radio", name="2 bars").click()
        page.get_by_role("button", name="Root", exact=True).click()
        page.get_by_role("tab", name="degree").click()
        page.get_by_role("button", name="keys", exact=True).click()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "keys.png")
        page.get_by_role("button", name="Close the keys").click()
        page.get_by_role("button", name="Chord 1: i7, Dm7").click()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "chords.png")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="starting recipes").click()
        page.locator("li.start").first.wait_for()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "starting-recipes.png")


def _clip(address: str) -> None:
    """A clip, some of its notes stirred, going round between brackets."""
    with chromium(1280, 800) as page:
        copy = open_copy(page, address, "Canopy Walk")
        page.get_by_role("radio", name="4 bars").click()
        page.keyboard.press("k")
        page.get_by_role("button", name="Close", exact=True).click()
        page.locator(".shelf .name").first.click()
        rows, ruler = page.locator(".clip-rows"), page.locator(".clip .ruler")
        rows.wait_for()
        page.wait_for_timeout(500)
        box, above = rows.bounding_box(), ruler.bounding_box()
        if box is None or above is None:
            raise SystemExit("the clip is not there")
        third = (above["x"] + above["width"] / 2, above["x"] + above["width"] * 3 / 4)
        _drag(page, (third[0] - 5, box["y"] + 36), (third[1] - 5, box["y"] + box["height"] * 0.7))
        page.get_by_role("button", name="stir", exact=True).click()
        _drag(page, (third[0], above["y"] + 8), (third[1], above["y"] + 8))
        page.get_by_role("button", name="Play", exact=True).click()
        page.wait_for_timeout(1500)
        page.screenshot(path=FOLDER / "clip.png")
        page.get_by_role("button", name="Stop", exact=True).click()
        ask(page, "DELETE", f"pieces/{copy}")


def _order(address: str) -> None:
    """Patterns in an order, one of them chosen, while it plays."""
    with chromium(1280, 800) as page:
        copy = open_copy(page, address, "Sprinklers")
        page.get_by_role("button", name="Order", exact=True).click()
        page.locator(".block").nth(3).click()
        page.get_by_role("button", name="Play", exact=True).click()
        page.wait_for_timeout(2500)
        page.screenshot(path=FOLDER / "order.png")
        page.get_by_role("button", name="Stop", exact=True).click()
        ask(page, "DELETE", f"pieces/{copy}")


def _cuttings(address: str) -> None:
    """Relatives of each lane, all but one moved together, while they play."""
    with chromium(1280, 800) as page:
        copy = open_copy(page, address, "Sprinklers")
        page.get_by_role("button", name="cuttings", exact=True).click()
        page.get_by_role("slider", name="Relatives of Mist").wait_for()
        page.get_by_role("button", name="stays: Pump").click()
        page.get_by_role("slider", name="All that may move").fill("58")
        page.get_by_role("button", name="Play", exact=True).click()
        page.wait_for_timeout(2500)
        page.screenshot(path=FOLDER / "cuttings.png")
        page.get_by_role("button", name="Stop", exact=True).click()
        ask(page, "DELETE", f"pieces/{copy}")


def _moving(address: str) -> None:
    """A word on its path, opened to be drawn; and what can be thrown."""
    with chromium(1280, 800) as page:
        open_demo(page, address, "Pump Room", "Pressure")
        page.locator(".lane-head .words", has_text="Mist").click()
        page.get_by_role("button", name="Play", exact=True).click()
        page.get_by_role("button", name="Path of the chance, bar by bar").click()
        page.wait_for_timeout(6000)
        page.screenshot(path=FOLDER / "movement.png")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Stop", exact=True).click()
        page.get_by_role("button", name="throws", exact=True).click()
        page.locator(".throws li").first.wait_for()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "throws.png")
        page.get_by_role("button", name="+ lane").click()
        page.get_by_label("New lanes").wait_for()
        page.screenshot(path=FOLDER / "new-lanes.png")


def _writing(address: str) -> None:
    """A sentence that is being written, a word of it mistyped, with what may come next."""
    with chromium(1280, 800) as page:
        open_demo(page, address, "Sprinklers", "Drizzle")
        page.locator(".lane-head .words", has_text="Drip").click()
        page.get_by_role("button", name="write", exact=True).click()
        field = page.get_by_role("textbox", name="What Drip says, as text")
        field.fill("Spread 7 hits over 12 steps of 1/16, turned 0. Velocity by hit: 96 58 74. Keep "
                   "every 3rd. Acsent every 3rd hit by +24. Each hit sounds")
        field.press_sequentially(" ")
        page.get_by_role("option").nth(3).wait_for()
        page.screenshot(path=FOLDER / "writing.png")


def _leaving(address: str) -> None:
    """How something is sent, and what a link to it shows."""
    with chromium(1280, 800) as page:
        copy = open_copy(page, address, "Sprinklers")
        page.get_by_role("button", name="More for this pattern").click()
        page.get_by_role("menuitem", name="Send …").click()
        dialog = page.get_by_role("dialog", name="Send")
        dialog.get_by_role("button", name="as sound").click()
        dialog.get_by_text("seconds and what rings on").wait_for()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "sending.png")
        link = ask(page, "POST", f"pieces/{copy}/links", {"name": "For Moss", "by": "Fern"})
        page.goto(f"{address.rstrip('/')}{link['address']}")
        page.get_by_role("button", name="Take a copy").wait_for()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "shared.png")
        ask(page, "DELETE", f"pieces/{copy}")


def _drag(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=6)
    page.mouse.up()


def _ride(page: Page) -> None:
    """Slide over the pad for a while."""
    box = page.locator(".pad").bounding_box()
    if box is None:
        raise SystemExit("the pad is not there")
    page.mouse.move(box["x"] + box["width"] * 0.35, box["y"] + 50)
    page.mouse.down()
    for share in (0.5, 0.65, 0.8):
        page.mouse.move(box["x"] + box["width"] * share, box["y"] + 60 - 50 * share)
        page.wait_for_timeout(700)
    page.mouse.up()


if __name__ == "__main__":
    main(sys.argv[1])
