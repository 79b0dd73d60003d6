"""Debian's Chromium without a screen, for measurements and pictures."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import Any

from playwright.sync_api import Page, sync_playwright

EXECUTABLE = "/usr/bin/chromium-headless-shell"
"""The same engine, without the windows that nobody sees."""
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking",
             "--disable-component-update", "--disable-sync",
             "--autoplay-policy=no-user-gesture-required"]


@contextmanager
def chromium(width: int, height: int, theme: str = "paper") -> Iterator[Page]:
    """A page of this size, in this theme."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=EXECUTABLE, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": width, "height": height},
                                service_workers="block")
        page.add_init_script(f"localStorage.setItem('jolly-theme', '{theme}')\n"
                             "window.jollyScheduled = []")
        yield page
        browser.close()


def open_demo(page: Page, address: str, piece: str, pattern: str) -> None:
    """Open a pattern of the demo."""
    page.goto(address)
    page.get_by_role("button", name="Open the demo").click()
    page.get_by_role("link", name=piece).first.click()
    page.get_by_role("button", name=pattern, exact=True).click()
    page.locator("canvas.row").first.wait_for()


def open_copy(page: Page, address: str, piece: str) -> int:
    """Open a copy of a piece of the demo, to do with as one likes; returns its id."""
    address = address.rstrip("/")
    page.request.get(address)  # gives the token that whoever changes something shows
    page.goto(f"{address}/api/session")  # there may be asked from, without all of the page
    ask(page, "POST", "session/demo")
    source = next(each["id"] for each in ask(page, "GET", "pieces") if each["name"] == piece)
    copy = int(ask(page, "POST", f"pieces/{source}/duplicate")["id"])
    page.goto(f"{address}/pieces/{copy}")
    page.locator("canvas.row").first.wait_for()
    return copy


def first_pattern(page: Page, piece: int) -> int:
    """The first pattern of a piece."""
    return int(ask(page, "GET", f"pieces/{piece}")["patterns"][0]["id"])


def lanes_of(page: Page, pattern: int) -> list[str]:
    """The ids of a pattern's lanes."""
    state = ask(page, "POST", f"patterns/{pattern}/state", {"end": 4})
    return [each["id"] for each in state["view"]["lanes"]]


def edit(page: Page, pattern: int, edits: Sequence[dict[str, Any]]) -> None:
    """Change a pattern as it stands; SystemExit with the sentence if that is refused."""
    state = ask(page, "POST", f"patterns/{pattern}/state", {"end": 4})
    done = ask(page, "POST", f"patterns/{pattern}/edits",
               {"revision": state["revision"], "edits": list(edits), "end": 4})
    if "revision" not in done:
        raise SystemExit(done["detail"])


def ask(page: Page, method: str, path: str, body: Any = None) -> Any:
    """Ask the API as the page would."""
    return page.evaluate(
        """async ([method, path, body]) => {
            const token = /csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
            const answer = await fetch(`/api/${path}`, {method,
                headers: {'Content-Type': 'application/json', 'X-CSRFToken': token},
                body: body === null ? undefined : JSON.stringify(body)})
            return answer.status === 204 ? null : answer.json()
        }""", [method, path, body])
