"""Take the pictures of the main views: shots.py ADDRESS; they go to docs/screenshots."""

import sys
from pathlib import Path

from ops.chromium import chromium, open_demo

FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def main(address: str) -> None:
    """Take them all, in both themes and two sizes."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with chromium(1280, 800) as page:
        page.goto(address)
        page.get_by_role("button", name="Open the demo").wait_for()
        page.screenshot(path=FOLDER / "door.png")
    with chromium(1280, 800) as page:
        open_demo(page, address, "Sprinklers", "Drizzle")
        page.get_by_role("button", name="Drip 7 of 12").click()
        page.get_by_role("button", name="Play", exact=True).click()
        page.locator(".trail li[data-pass]").nth(3).wait_for(timeout=60_000)
        page.screenshot(path=FOLDER / "lattice.png")
        page.get_by_role("button", name="Stop", exact=True).click()
        page.goto(address)
        page.locator(".piece").first.wait_for()
        page.screenshot(path=FOLDER / "pieces.png")
    with chromium(1600, 1000, "lamplight") as page:
        open_demo(page, address, "Pump Room", "Pressure")
        page.locator(".lane-head .words", has_text="Fan").click()
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "lamplight.png")


if __name__ == "__main__":
    main(sys.argv[1])
