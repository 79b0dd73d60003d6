"""Measure the page in Chromium while it plays: bench_browser.py ADDRESS SECONDS."""

import json
import sys
import time
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator

from ops.chromium import ask, chromium, edit, first_pattern, lanes_of, open_copy

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


WHERE_IT_GOES = """() => {
    // Of each turn: when its key was pressed, its look sent, answered and read, its picture begun
    // and painted; and what the server says it took. Between turns, an empty call.
    window.jollyTurns = []
    window.jollyEmpty = []
    let turn = null
    addEventListener('keydown', () => (turn = { key: performance.now() }), { capture: true })
    const ask = window.fetch
    window.fetch = async (...asked) => {
        const mine = String(asked[0].url ?? asked[0]).endsWith('/look') && !turn?.sent ? turn : null
        if (mine) mine.sent = performance.now()
        const answer = await ask(...asked)
        if (!mine) return answer
        mine.answered = performance.now()
        mine.server = Number(/dur=([\\d.]+)/.exec(answer.headers.get('Server-Timing') ?? '')?.[1])
        for (const way of ['json', 'text']) {
            const read = answer[way].bind(answer)
            answer[way] = async () => {
                const said = await read()
                mine.read = performance.now()
                return said
            }
        }
        return answer
    }
    const context = document.querySelector('.lane.chosen canvas').getContext('2d')
    const begins = context.setTransform // called once, where a picture is begun
    context.setTransform = function (...matrix) {
        begins.apply(this, matrix)
        const mine = turn
        if (!mine?.read || mine.begun) return
        mine.begun = performance.now()
        queueMicrotask(() => (mine.drawn = performance.now()))
        requestAnimationFrame(() => {
            const channel = new MessageChannel()
            channel.port1.onmessage = () => {
                mine.painted = performance.now()
                window.jollyTurns.push(mine)
            }
            channel.port2.postMessage(0)
        })
    }
    window.jollyEmptyCall = async () => {
        const begin = performance.now()
        await (await ask('/api/health')).json()
        window.jollyEmpty.push(performance.now() - begin)
    }
}"""
PARTS = (("the page, until it asks", "key", "sent"), ("reading", "answered", "read"),
         ("Vue, until the picture is begun", "read", "begun"), ("drawing", "begun", "drawn"),
         ("until the frame is painted", "drawn", "painted"), ("all of it", "key", "painted"))


def table_of_turns(word: Locator, seconds: int) -> list[float]:
    """Print where the time of each turn of a word goes, in turns with an empty call; the
    milliseconds that each took in all."""
    page = word.page
    page.evaluate(WHERE_IT_GOES)
    press(word, ("ArrowDown", "ArrowUp"), seconds,
          between=lambda: page.evaluate("window.jollyEmptyCall()"))
    turns = page.evaluate("window.jollyTurns.filter((turn) => turn.server >= 0)")
    rows = [(name, [turn[after] - turn[before] for turn in turns])
            for name, before, after in PARTS]
    rows.insert(1, ("the server", [turn["server"] for turn in turns]))
    rows.insert(2, ("the way there and back", [
        turn["answered"] - turn["sent"] - turn["server"] for turn in turns]))
    sizes = page.evaluate("""performance.getEntriesByType('resource')
        .filter((each) => each.name.endsWith('/look')).map((each) => each.encodedBodySize)""")
    print(f"where the time of {len(turns)} turns goes (median and 95 % in ms); "
          f"{sorted(sizes)[len(sizes) // 2]:,} bytes each at the median")
    for name, took in (*rows, ("an empty call, in turns", page.evaluate("window.jollyEmpty"))):
        print("    {:<34} {:6.1f} {:6.1f}".format(name, *spread(took)))
    return [turn["painted"] - turn["key"] for turn in turns]


def spread(milliseconds: list[float]) -> tuple[float, float]:
    """The median and the 95th percentile."""
    took = sorted(milliseconds)
    return took[len(took) // 2], took[int(len(took) * 0.95)]


def worst(milliseconds: list[float]) -> str:
    """The median and the 95th percentile, in words."""
    return "median {:.0f} ms, 95 % {:.0f} ms".format(*spread(milliseconds))


def press(held: Locator, keys: tuple[str, str], seconds: int,
          between: Callable[[], Any] = lambda: None) -> int:
    """Press a key again and again, there and back, with a pause after each; how often."""
    held.focus()
    begin, presses = time.monotonic(), 0
    while time.monotonic() - begin < seconds:
        held.press(keys[presses // 8 % 2])
        presses += 1
        held.page.wait_for_timeout(150)
        between()
    return presses


def pressed(held: Locator, keys: tuple[str, str], canvas: str, seconds: int) -> list[float]:
    """The milliseconds from each key press to the new picture on a canvas, there and back."""
    page = held.page
    page.evaluate(KEY_TO_PICTURE, canvas)
    press(held, keys, seconds)
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
        took = table_of_turns(word, seconds)
        leads = sorted(page.evaluate("window.jollyScheduled.map((note) => 1000 * note.lead)"))
        page.get_by_role("button", name="Stop", exact=True).click()
        ask(page, "DELETE", f"pieces/{copy}")
    print(f"key press to redrawn picture, {len(took)} presses: {worst(took)}   goal 50")
    print(f"least lead of {len(leads)} notes over {seconds} s of playing while editing: "
          f"{leads[0]:.0f} ms, late: {sum(lead < 0 for lead in leads)}   goal over 100, none late")


def many_lanes(address: str, seconds: int) -> None:
    """Print the figures of a page with as many lanes as there may be, of 128 steps each."""
    with chromium(1280, 800) as page:
        copy = open_copy(page, address, "Sprinklers")
        pattern = first_pattern(page, copy)
        edit(page, pattern, [
            *({"do": "remove_lane", "lane": lane} for lane in lanes_of(page, pattern)[:0:-1]),
            *({"do": "set", "lane": "pump", "slot": slot, "value": value}
              for slot, value in (("step", "1/32"), ("steps", 128), ("rule.pulses", 40)))])
        edit(page, pattern, [
            {"do": "duplicate_lane", "lane": "pump", "note": note} for note in range(63)])
        page.goto(f"{address.rstrip('/')}/pieces/{copy}/{pattern}")
        page.locator("canvas.row").nth(63).wait_for()
        page.locator(".lane-head .name", has_text="Pump").click()
        print("64 lanes of 128 steps:")
        took = table_of_turns(page.locator('.lane-words [data-slot="rule.pulses"]'), seconds)
        ask(page, "DELETE", f"pieces/{copy}")
    print(f"key press to redrawn picture, {len(took)} presses: {worst(took)}   goal 34")


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
    many_lanes(address, max(5, seconds // 3))
    through_a_port(address, max(5, seconds // 3))


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]))
