"""Measure what a page holds on to while views are opened and closed and while it plays for long,
and its sound on a slow processor: bench_page.py ADDRESS SECONDS."""

import sys
import time
from collections.abc import Callable
from itertools import cycle
from typing import Any

from playwright.sync_api import CDPSession, Page

from ops.bench_browser import press
from ops.chromium import ask, chromium, edit, first_pattern, lanes_of, open_copy

TIMES = 200
MEASURED_EVERY = 300.0
"""Seconds, or a fifth of a shorter time."""
SLOWER = 4


class Held:
    """What a page holds: its heap, nodes of the document and of sound, and listeners."""

    def __init__(self, page: Page) -> None:
        self._devtools: CDPSession = page.context.new_cdp_session(page)
        self._sounding = 0
        self._devtools.on("WebAudio.audioNodeCreated", lambda _: self._count(1))
        self._devtools.on("WebAudio.audioNodeWillBeDestroyed", lambda _: self._count(-1))
        for domain in ("WebAudio", "Performance", "HeapProfiler"):
            self._devtools.send(f"{domain}.enable")

    def _count(self, by: int) -> None:
        self._sounding += by

    def now(self) -> dict[str, float]:
        """What is held once everything that can go has gone."""
        for _ in range(3):
            self._devtools.send("HeapProfiler.collectGarbage")
        seen = {each["name"]: each["value"]
                for each in self._devtools.send("Performance.getMetrics")["metrics"]}
        return {"MB of heap": seen["JSHeapUsedSize"] / 1e6, "nodes": seen["Nodes"],
                "listeners": seen["JSEventListeners"], "audio nodes": self._sounding}


def told(held: dict[str, float]) -> str:
    """What is held, in words."""
    return ", ".join(f"{value:.1f} {name}" if name.startswith("MB") else f"{value:.0f} {name}"
                     for name, value in held.items())


def _button(page: Page, name: str) -> Callable[[], None]:
    return page.get_by_role("button", name=name, exact=True).first.click


def opened_and_closed(page: Page, address: str) -> None:
    """Before and after each view was opened and closed so many times."""
    copy = open_copy(page, address, "Sprinklers")
    page.keyboard.press("k")
    page.locator("[data-clip]").first.wait_for()
    held = Held(page)
    views: dict[str, tuple[Callable[[], Any], str, Callable[[], Any]]] = {
        "cuttings": (_button(page, "cuttings"), ".cuttings canvas",
                     _button(page, "back to the lattice")),
        "order": (_button(page, "Order"), ".block", _button(page, "Drizzle")),
        "clip": (page.locator("[data-clip] .name").first.click, ".clip-rows canvas",
                 _button(page, "Drizzle")),
        "throws": (_button(page, "throws"), ".throws li", _button(page, "throws")),
        "list of pieces": (page.get_by_role("link", name="All pieces").click,
                           "a.open",
                           page.locator(f'a.open[href="/pieces/{copy}"]').click),
        "new lanes": (_button(page, "+ lane"), "[aria-label='New lanes']",
                      lambda: page.keyboard.press("Escape")),
    }
    for name, (opens, seen, closes) in views.items():
        def turn(opens: Callable[[], Any] = opens, seen: str = seen,
                 closes: Callable[[], Any] = closes) -> None:
            opens()
            page.locator(seen).first.wait_for()
            closes()
            page.locator(seen).first.wait_for(state="hidden")
        for _ in range(10):
            turn()
        before = held.now()
        for _ in range(TIMES):
            turn()
        print(f"{name} opened and closed {TIMES} times: {told(before)}; then {told(held.now())}",
              flush=True)
    ask(page, "DELETE", f"pieces/{copy}")


def long_playing(page: Page, address: str, seconds: int) -> None:
    """What is held while it plays for so long and words are turned."""
    copy = open_copy(page, address, "Sprinklers")
    page.locator(".lane-head .name", has_text="Drip").click()
    held = Held(page)
    page.get_by_role("button", name="Play", exact=True).click()
    every = min(MEASURED_EVERY, seconds / 5)
    begin, number = time.monotonic(), 0
    for slot, key in cycle((("rule.pulses", "ArrowRight"), ("gate", "ArrowUp"),
                            ("rule.pulses", "ArrowLeft"), ("gate", "ArrowDown"))):
        if time.monotonic() - begin >= number * every:
            print(f"playing for {time.monotonic() - begin:5.0f} s: {told(held.now())}", flush=True)
            number += 1
        if time.monotonic() - begin >= seconds:
            break
        page.locator(f'.lane-words [data-slot="{slot}"]').press(key)
        page.wait_for_timeout(4000)
        page.evaluate("window.jollyScheduled.splice(0)")
    page.get_by_role("button", name="Stop", exact=True).click()
    ask(page, "DELETE", f"pieces/{copy}")


def slowed(page: Page, address: str, seconds: int) -> None:
    """Notes of 16 lanes while cuttings are walked through, on a processor that is slowed down."""
    copy = open_copy(page, address, "Sprinklers")
    pattern = first_pattern(page, copy)
    edit(page, pattern, [{"do": "duplicate_lane", "lane": "drip", "note": 60 + each}
                         for each in range(16 - len(lanes_of(page, pattern)))])
    page.goto(f"{address.rstrip('/')}/pieces/{copy}/{pattern}")
    page.locator("canvas.row").first.wait_for()
    _button(page, "cuttings")()
    hand = page.get_by_role("slider", name="Relatives of Pump")
    hand.wait_for()
    page.get_by_role("button", name="Play", exact=True).click()
    page.wait_for_timeout(1500)
    page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
    page.evaluate("window.jollyScheduled.splice(0)")
    presses = press(hand, ("ArrowRight", "ArrowLeft"), seconds)
    leads = sorted(page.evaluate("window.jollyScheduled.map((note) => 1000 * note.lead)"))
    page.get_by_role("button", name="Stop", exact=True).click()
    ask(page, "DELETE", f"pieces/{copy}")
    print(f"16 lanes, cuttings walked with {presses} keys in {seconds} s at a processor {SLOWER} "
          f"times slower: {len(leads)} notes, least lead {leads[0]:.0f} ms, late: "
          f"{sum(lead < 0 for lead in leads)}   goal none late")


def main(address: str, seconds: int) -> None:
    """Print the figures."""
    with chromium(1280, 800) as page:
        slowed(page, address, min(60, seconds))
    with chromium(1280, 800) as page:
        opened_and_closed(page, address)
    with chromium(1280, 800) as page:
        long_playing(page, address, seconds)


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]))
