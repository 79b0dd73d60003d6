"""Measure the page in Chromium while it plays: bench_browser.py ADDRESS SECONDS."""

import json
import sys
import time

from playwright.sync_api import Locator

from ops.chromium import ask, chromium, open_copy

KEY_TO_PICTURE = """(canvas) => {
    // From each key press to the frame in which the new picture on a canvas was painted.
    window.jollyTook = []
    let begin = null
    addEventListener('keydown', () => (begin = performance.now()), { capture: true })
    const context = document.querySelector(canvas).getContext('2d')
    const begins = context.setTransform // called once, where a picture is begun
    context.setTransform = function (...matrix) {
        begins.apply(this, matrix)
        if (begin === null) return
        const from = begin
        begin = null
        requestAnimationFrame(() => {
            const channel = new MessageChannel()
            channel.port1.onmessage = () => window.jollyTook.push(performance.now() - from)
            channel.port2.postMessage(0)
        })
    }
}"""


def worst(milliseconds: list[float]) -> str:
    """The median and the 95th percentile, in words."""
    took = sorted(milliseconds)
    return f"median {took[len(took) // 2]:.0f} ms, 95 % {took[int(len(took) * 0.95)]:.0f} ms"


def pressed(held: Locator, keys: tuple[str, str], canvas: str, seconds: int) -> list[float]:
    """The milliseconds from each key press to the new picture on a canvas, there and back."""
    page = held.page
    held.focus()
    page.evaluate(KEY_TO_PICTURE, canvas)
    begin, presses = time.monotonic(), 0
    while time.monotonic() - begin < seconds:
        held.press(keys[presses // 8 % 2])
        presses += 1
        page.wait_for_timeout(150)
    return list(page.evaluate("window.jollyTook"))


def while_editing(address: str, seconds: int) -> None:
    """Print the figures of a page that plays drums and is edited."""
    with chromium(1280, 800) as page:
        copy = open_copy(page, address, "Sprinklers")
        page.get_by_role("button", name="Downpour", exact=True).click()
        page.locator(".lane-head .name", has_text="Drip").click()
        word = page.locator('.lane-words [data-slot="rule.pulses"]')
        page.get_by_role("button", name="Play", exact=True).click()
        page.wait_for_timeout(1500)
        took = pressed(word, ("ArrowDown", "ArrowUp"), ".lane.chosen canvas", seconds)
        leads = sorted(page.evaluate("window.jollyScheduled.map((note) => 1000 * note.lead)"))
        page.get_by_role("button", name="Stop", exact=True).click()
        ask(page, "DELETE", f"pieces/{copy}")
    print(f"key press to redrawn picture, {len(took)} presses: {worst(took)}   goal 50")
    print(f"least lead of {len(leads)} notes over {seconds} s of playing while editing: "
          f"{leads[0]:.0f} ms, late: {sum(lead < 0 for lead in leads)}   goal over 100, none late")


def through_a_port(address: str, seconds: int) -> None:
    """Print the figures of a page that plays melodies through the simulated port."""
    with chromium(1280, 800) as page:
        copy = open_copy(page, address, "Canopy Walk")
        page.get_by_role("button", name="ports", exact=True).click()
        page.get_by_label("Port of all lanes").select_option("simulated")
        page.get_by_role("button", name="Close", exact=True).click()
        page.get_by_role("button", name="Play", exact=True).click()
        page.wait_for_timeout(1000 * seconds)
        page.get_by_role("button", name="Stop", exact=True).click()
        page.get_by_role("button", name="ports", exact=True).click()
        with page.expect_download() as saving:
            page.get_by_role("button", name="save the list").click()
        ahead = [event["ahead"] for event in json.loads(saving.value.path().read_text())["events"]]
        ask(page, "DELETE", f"pieces/{copy}")
    print(f"least lead of {len(ahead)} messages to a port over {seconds} s: {min(ahead):.0f} ms, "
          f"late: {sum(lead < 0 for lead in ahead)}   goal none late")


def main(address: str, seconds: int) -> None:
    """Print the figures."""
    while_editing(address, seconds)
    through_a_port(address, max(5, seconds // 3))


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]))
