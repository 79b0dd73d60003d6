"""Hundreds of hands at random, on whatever is there, over all views: nothing breaks, nothing is
left behind, the focus is never lost, and Space plays. `./jolly test tests/browser/test_any_hand.py
--hands 3000 --hands-seed 7` goes on for longer, with other hands."""

import random
import time
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Response
from studio.limits import TOO_DENSE

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db
LONGEST_SECONDS = 60
"""So long for 300 hands; more of them in proportion."""
KEYS = ["Space", "k", "r", "s", "m", "g", "1", "3", "a", "b", "d", "n", ",", ".", "[", "]", "+",
        "-", "ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight", "Shift+ArrowRight",
        "Shift+ArrowDown",
        "Enter", "Escape", "Tab", "Shift+Tab", "F6", "Delete", "PageDown", "PageUp", "Home", "End",
        "Control+z", "Control+Shift+z", "Control+a", "Control+c", "Control+v", "?", "z", "x"]
WORDS = ["12", "7", "0", "-3", "5/64", "xyzzy", "", "60", "V7", "999"]
CONTROLS = """() => {
    // What leads out of the piece, or out of the page, is left alone.
    const out = new RegExp('All pieces|MIDI file|The guide|[Ss]end|save|out as|bring in|' +
        'Own sound|from a file|as a file|Sign out|PNG|SVG')
    const found = []
    for (const each of document.querySelectorAll(
            'button, [role=spinbutton], [role=slider], [role=tab], [role=radio], [role=option], ' +
            '[role^=menuitem], input, select, canvas, .box, .pad, .track, .end, .curve')) {
        const name = each.getAttribute('aria-label') || each.title || each.textContent.trim()
        if (each.disabled || out.test(name) || !each.checkVisibility()) continue
        const box = each.getBoundingClientRect()
        const x = box.x + box.width * (each.tagName === 'CANVAS' ? Math.random() : 0.5)
        const y = box.y + box.height / 2
        const top = document.elementFromPoint(x, y)
        if (top && (each.contains(top) || top.contains(each))) found.push(
            {x, y, name: `${each.tagName} ${each.getAttribute('role') ?? ''} ${name}`.slice(0, 60)})
    }
    return found
}"""
LOST = """() => {
    const at = document.activeElement
    if (at && at !== document.body) return ''
    const over = [...document.querySelectorAll('.v-overlay')].map(
        each => `${each.className} (${each.textContent.slice(0, 80)})`)
    const homes = [...document.querySelectorAll('[data-home]')].map(each => each.className)
    return `the focus is nowhere at ${location.search}; over it ${over}; homes: ${homes}`
}"""
LEFT = """() => [...document.querySelectorAll('.v-overlay__content')]
    .filter(each => each.checkVisibility() && !each.closest('.v-overlay--active'))
    .map(each => each.textContent.slice(0, 60))"""
FREE = """() => !document.activeElement.closest(
    'button:not([role=tab], [role=radio]), a, select, textarea, input')"""


TYPED = "() => document.activeElement.matches('input:not([type=checkbox], [type=radio]), textarea')"


class Hands:
    """Somebody who tries everything, by chance."""

    def __init__(self, studio: Studio, seed: int) -> None:
        self.studio, self.page = studio, studio.page
        self.random = random.Random(seed)
        self.done: list[str] = []
        self.typed = 0.0
        self.refused: list[Response] = []
        self.page.on("response", self._answered)
        self.page.on("filechooser", lambda chooser: None)
        self.page.context.on("page", lambda other: other.close())

    def _answered(self, response: Response) -> None:
        # What a hand typed may be refused, and so may an address that was just left.
        if response.status >= 400 and time.monotonic() - self.typed > 3:
            self.refused.append(response)

    def _control(self) -> dict[str, Any] | None:
        found = self.page.evaluate(CONTROLS)
        return dict(self.random.choice(found)) if found else None

    def click(self) -> str:
        at = self._control()
        if not at:
            return "nothing to press"
        self.page.mouse.click(at["x"], at["y"])
        return f"press {at['name']}"

    def drag(self) -> str:
        at = self._control()
        if not at:
            return "nothing to drag"
        self.page.mouse.move(at["x"], at["y"])
        self.page.mouse.down()
        self.page.mouse.move(at["x"] + self.random.randint(-60, 60),
                             at["y"] + self.random.randint(-40, 40), steps=3)
        self.page.mouse.up()
        return f"drag {at['name']}"

    def key(self) -> str:
        key = self.random.choice(KEYS)
        self.page.keyboard.press(key)
        return f"key {key}"

    def type(self) -> str:
        """Type into what is typed into, if something is."""
        if not self.page.evaluate(TYPED):
            return self.key()
        words = self.random.choice(WORDS)
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(words)
        self.page.keyboard.press("Enter")
        return f"type {words!r}"

    def close_all(self) -> str:
        opened = self.page.locator(".v-overlay--active, .typing")
        for _ in range(3):  # what was refused, and is told late, comes back in its field
            for _ in range(6):
                if opened.count() == 0:
                    break
                self.page.keyboard.press("Escape")
                self.page.wait_for_timeout(60)
            self.page.wait_for_timeout(350)
            open_still = opened.count()
            if not open_still:
                break
        left = self.page.evaluate(LEFT)
        assert not left, f"left behind: {left}"
        assert open_still == 0, "Escape closes what is open"
        return "close all"

    def space(self) -> str:
        """Space plays, or stops, wherever the focus is."""
        self.close_all()
        if not self.page.evaluate(FREE):
            return "a control has Space"
        button = self.page.locator(".bar .play")
        before = button.get_attribute("aria-label")
        self.page.keyboard.press("Space")
        for _ in range(60):
            if button.get_attribute("aria-label") != before:
                return f"Space: {before}"
            self.page.wait_for_timeout(50)
        where = self.page.evaluate("document.activeElement.outerHTML.slice(0, 200)")
        empty = "an order that is empty says so" \
            if "order is empty" in (self.page.locator(".notice").text_content() or "") else ""
        assert empty, f"Space does not {before}, from {where}"
        return empty

    def one(self) -> None:
        """One hand, and what must hold after it."""
        if self.page.evaluate(TYPED):  # what stands there is sent when it is left
            self.typed = time.monotonic()
        ways: list[Callable[[], str]] = [self.click, self.drag, self.key, self.type, self.space]
        self.done.append(self.random.choices(ways, weights=(9, 4, 8, 3, 2))[0]())
        self.page.wait_for_timeout(40)
        for _ in range(40):  # it may be on its way, on a busy machine
            lost = self.page.evaluate(LOST)
            if not lost:
                break
            self.page.wait_for_timeout(100)
        assert not lost, lost
        assert self.studio.broken == []
        # That a lane would be denser than can be worked out is no fault: it is told, and not done.
        told = [f"{each.request.method} {each.url} {each.status} {each.text()} for "
                f"{each.request.post_data}" for each in self.refused
                if TOO_DENSE not in each.text()]
        assert told == [], told[0][:1200]


def test_any_hand(studio: Studio, request: pytest.FixtureRequest) -> None:
    count, seed = request.config.getoption("--hands"), request.config.getoption("--hands-seed")
    studio.own_copy("Canopy Walk")
    hands = Hands(studio, seed)
    until = time.monotonic() + LONGEST_SECONDS * count / 300
    try:
        while len(hands.done) < count and time.monotonic() < until:
            hands.one()
            if "/pieces/" not in studio.page.url:
                studio.own_copy("Sprinklers")
        hands.close_all()
    except AssertionError as wrong:
        raise AssertionError(f"{wrong}\nafter {len(hands.done)} hands, seed {seed}:\n"
                             + "\n".join(hands.done[-14:])) from wrong
    print(f"{len(hands.done)} hands")
