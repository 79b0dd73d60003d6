"""Measure what hands do beside the lattice: strips that are walked, a large clip that is scrolled,
and playing at the ends of what is possible: bench_hands.py ADDRESS SECONDS."""

import sys
import time
from typing import Any

from playwright.sync_api import Page

from ops.bench_browser import pressed, worst
from ops.chromium import ask, chromium, edit, first_pattern, open_copy

DENSE: list[dict[str, Any]] = [{"do": "set", "lane": "pump", "slot": "step", "value": "1/32"},
         *({"do": "put", "lane": lane, "steps": list(range(steps)), "on": True}
           for lane, steps in (("pump", 16), ("valve", 16), ("drip", 12), ("fern", 9)))]
"""What makes more than 5,000 notes out of 64 bars of the demo."""
FRAMES = """(seconds) => new Promise((resolve) => {
    // The milliseconds of every frame while something scrolls.
    const took = []
    let last = performance.now()
    const until = last + 1000 * seconds
    const frame = (now) => {
        took.push(now - last)
        last = now
        if (now < until) requestAnimationFrame(frame)
        else resolve(took.slice(1))
    }
    requestAnimationFrame(frame)
})"""


def strips(page: Page, address: str, seconds: int) -> None:
    """From a key that walks along a strip to the new picture of its lane, while all plays."""
    copy = open_copy(page, address, "Sprinklers")
    page.get_by_role("button", name="cuttings", exact=True).click()
    hand = page.get_by_role("slider", name="Relatives of Drip")
    hand.wait_for()
    page.get_by_role("button", name="Play", exact=True).click()
    took = pressed(hand, ("ArrowRight", "ArrowLeft"), ".cuttings .lane:nth-child(3) > canvas",
                   seconds)
    print(f"key along a strip to redrawn picture, {len(took)} presses: {worst(took)}   goal 50")
    page.get_by_role("button", name="Stop", exact=True).click()
    ask(page, "DELETE", f"pieces/{copy}")


def large_clip(page: Page, address: str, seconds: int) -> None:
    """Frames while a clip of 5,000 notes is scrolled by the wheel."""
    copy = open_copy(page, address, "Sprinklers")
    pattern = first_pattern(page, copy)
    edit(page, pattern, DENSE)
    clip = ask(page, "POST", f"patterns/{pattern}/keep", {"bars": 64})["id"]
    notes = len(ask(page, "GET", f"clips/{clip}/state")["view"]["notes"])
    page.goto(f"{address.rstrip('/')}/pieces/{copy}/{pattern}?clip={clip}")
    rows = page.locator(".clip-rows canvas").first
    rows.wait_for()
    rows.hover()
    page.evaluate(f"window.jollyFrames = ({FRAMES})({seconds})")
    begin = time.monotonic()
    turns = 0
    while time.monotonic() - begin < seconds:
        page.mouse.wheel(0 if turns % 8 else 40, 60 if turns // 40 % 2 == 0 else -60)
        turns += 1
    took = page.evaluate("window.jollyFrames")
    print(f"frames while {notes:,} notes scroll: {worst(took)}, "
          f"{len(took) / seconds:.0f} a second   goal 60 a second")
    ask(page, "DELETE", f"pieces/{copy}")


def wild(page: Page, address: str, seconds: int) -> None:
    """Everything unsure, as slow and as fast as can be."""
    copy = open_copy(page, address, "Sprinklers")
    pattern = first_pattern(page, copy)
    for tempo in (20, 400):
        edits: list[dict[str, object]] = [{"do": "pattern", "field": "tempo", "value": tempo}]
        if tempo == 20:
            edits += [{"do": "add", "lane": None, "clause": "chance-scale"},
                      {"do": "set", "lane": None, "slot": "probability_scale", "value": 5}]
        edit(page, pattern, edits)
        page.reload()
        page.locator("canvas.row").first.wait_for()
        page.get_by_role("button", name="Play", exact=True).click()
        page.wait_for_timeout(1000 * seconds)
        passes = page.locator(".trail li[data-pass]").count()
        page.get_by_role("button", name="Stop", exact=True).click()
        leads = page.evaluate("window.jollyScheduled.map((note) => 1000 * note.lead)") or [0]
        print(f"tempo {tempo}, chances at 5 %, {seconds} s: {len(leads)} notes, {passes} passes "
              f"on the Trail, least lead {min(leads):.0f} ms, late: "
              f"{sum(lead < 0 for lead in leads)}   goal none late")
    ask(page, "DELETE", f"pieces/{copy}")


def main(address: str, seconds: int) -> None:
    """Print the figures."""
    for measured, long in ((strips, seconds), (large_clip, max(3, seconds // 4)),
                           (wild, max(12, seconds // 4))):
        with chromium(1280, 800) as page:
            measured(page, address, long)


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]))
