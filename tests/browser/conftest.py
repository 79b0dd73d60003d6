"""The served application in Chromium, and a musician who uses it."""

import os
import time
from collections.abc import Callable, Iterator
from typing import Any, TypeVar

import psycopg
import pytest
from django.conf import settings
from playwright.sync_api import ConsoleMessage, Locator, Page, expect

from ops.chromium import ARGUMENTS, EXECUTABLE, ask, open_copy
from ops.database import free_port
from ops.serve import application_env, listen, manage, served

# Playwright runs an event loop in this thread; the test database is made and dropped beside it.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
# On a machine that others work on too, a page may take long to come.
PATIENCE_MS = 60_000
expect.set_options(timeout=PATIENCE_MS)
Found = TypeVar("Found")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--hands", type=int, default=300, help="how many hands at random (300)")
    parser.addoption("--hands-seed", type=int, default=1, help="which hands (1)")


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """What journeys say of themselves."""
    for report in terminalreporter.getreports(""):
        for name, told in getattr(report, "user_properties", ()):
            if report.when == "teardown":
                terminalreporter.write_line(f"{report.nodeid}: {name} {told}")


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": EXECUTABLE, "args": ARGUMENTS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "accept_downloads": True,
            "service_workers": "block"}


@pytest.fixture(scope="session")
def server_env(django_db_setup: None) -> Iterator[dict[str, str]]:
    """The environment of an application on the test database, with the demo loaded."""
    database = settings.DATABASES["default"]
    assert database["NAME"].startswith("test_"), "mark browser tests with django_db"
    env = application_env("postgres://{USER}:{PASSWORD}@{HOST}:{PORT}/{NAME}".format(**database))
    manage(env, "prepare")
    yield env | {"WORKERS": "2"}
    # Connections made beside Playwright's event loop stay open, and would keep the database.
    with psycopg.connect(env["DATABASE_URL"], autocommit=True) as connection:
        connection.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity "
                           "WHERE datname = current_database() AND pid <> pg_backend_pid()")


@pytest.fixture(scope="session")
def address(server_env: dict[str, str]) -> Iterator[str]:
    port = free_port()
    with served(listen(port), server_env):
        yield f"http://127.0.0.1:{port}"


class Studio:
    """What a musician does on the page."""

    def __init__(self, page: Page, address: str) -> None:
        self.page, self.address = page, address
        self.broken: list[str] = []
        page.context.set_default_timeout(PATIENCE_MS)
        page.add_init_script("window.jollyScheduled = []")
        page.on("pageerror", lambda problem: self.broken.append(str(problem)))
        page.on("console", self._read)

    def _read(self, message: ConsoleMessage) -> None:
        """What goes wrong within the page's framework is only written to the console; answers that
        refuse something are no faults."""
        if message.type == "error" and not message.text.startswith("Failed to load resource"):
            self.broken.append(message.text)

    def own_copy(self, piece: str = "Sprinklers") -> None:
        """A copy of a demo piece, so that tests do not meet in it."""
        open_copy(self.page, self.address, piece)

    @property
    def pattern(self) -> int:
        return int(self.page.url.split("?")[0].rsplit("/", 1)[1])

    @property
    def piece(self) -> int:
        return int(self.page.url.split("/pieces/")[1].split("/")[0])

    def api(self, method: str, path: str, body: Any = None) -> Any:
        return ask(self.page, method, path, body)

    def state(self, lane: str | None = None) -> Any:
        return self.api("POST", f"patterns/{self.pattern}/state", {"end": 8, "chosen": lane})

    def settled(self, check: Callable[[Any], bool], lane: str | None = None) -> Any:
        """The stored state, once it is as wanted."""
        def look() -> Any:
            state = self.state(lane)
            state["history"]["undo"] = state["history"]["undo"] or ""
            return state

        return self.comes(look, check, lambda state: state["history"])

    def lane(self, name: str) -> None:
        self.page.locator(".lane-head .words", has_text=name).first.click()
        self.page.locator(".recipe:not([inert])").wait_for()

    def pick(self, menu: str, entry: str) -> None:
        """Open a menu by its button, and take an entry of it."""
        self.page.get_by_role("button", name=menu).click()
        self.page.get_by_role("menuitem", name=entry).click()

    def word(self, slot: str) -> Locator:
        # Until the words are the chosen lane's, no hand can take them.
        return self.page.locator(f'.recipe:not([inert]) .lane-words [data-slot="{slot}"]')

    def type_word(self, slot: str, text: str) -> None:
        self.word(slot).press("Enter")
        field = self.page.locator(".typing, .v-overlay--active .find")
        field.fill(text)
        field.press("Enter")

    def notice(self) -> Locator:
        return self.page.locator(".notice [data-notice]")

    def play_passes(self, count: int) -> None:
        """Play until so many more passes lie on the Trail."""
        before = self.page.locator(".trail li[data-pass]").count()
        self.page.get_by_role("button", name="Play", exact=True).click()
        expect(self.page.locator(".trail li[data-pass]").nth(before + count - 1)).to_be_visible()

    def played(self, beat: float) -> None:
        """Wait until what sounds at this beat is scheduled."""
        self.until(f"window.jollyScheduled.some((note) => note.beat >= {beat})")

    def stop(self) -> list[dict[str, Any]]:
        """Stop; everything that was scheduled."""
        self.page.get_by_role("button", name="Stop", exact=True).click()
        return list(self.page.evaluate("window.jollyScheduled"))

    def passed(self, entry: int) -> list[dict[str, Any]]:
        """The notes of a pass of the Trail, as they are scheduled."""
        again = self.api("GET", f"patterns/{self.pattern}/trail/{entry}")
        return [dict(zip(("beat", "length", "pitch", "velocity"), note[:4], strict=True))
                for note in again["notes"]]

    def until(self, expression: str) -> None:
        """Wait until the page says that something is so."""
        self.comes(lambda: self.page.evaluate(expression), bool, lambda _: expression)

    def comes(self, look: Callable[[], Found], check: Callable[[Found], bool],
              told: Callable[[Found], object] = str) -> Found:
        """Look until what is found is as wanted, as patiently as for what is shown."""
        end = time.monotonic() + PATIENCE_MS / 1000
        while not check(found := look()):
            if time.monotonic() > end:
                raise AssertionError(f"never came: {told(found)}")
            self.page.wait_for_timeout(50)
        return found

    def file(self, clip: int) -> bytes:
        """A clip's MIDI file."""
        return self.page.request.get(f"{self.address}/api/clips/{clip}/midi").body()


@pytest.fixture
def studio(page: Page, address: str) -> Iterator[Studio]:
    made = Studio(page, address)
    yield made
    assert made.broken == [], "errors on the page"
