"""Engines other than Chromium, each by the driver that its makers give, behind the same hands."""

import base64
import os
import shutil
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import pytest
from marionette_driver.errors import MarionetteException
from marionette_driver.marionette import Marionette
from selenium.common.exceptions import WebDriverException
from selenium.webdriver import ActionChains, WebKitGTK, WebKitGTKOptions
from selenium.webdriver.webkitgtk.service import Service

from ops.database import free_port
from ops.machine import DATA, ENGINE_PACKAGES
from tests.browser import conftest as browser

server_env, address = browser.server_env, browser.address
XPATH = "xpath"
UP = "\ue013"
PATIENCE_S = 30
ASK = """const [method, path] = arguments
const request = new XMLHttpRequest()
request.open(method, `/api/${path}`, false)
request.setRequestHeader('X-CSRFToken', /csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? '')
request.overrideMimeType('text/plain; charset=x-user-defined')
request.send()
const bytes = Array.from(request.responseText, (letter) => letter.charCodeAt(0) & 255)
return btoa(String.fromCharCode(...bytes))"""


class Firefox:
    """By Marionette, with no window."""

    def __init__(self, running: ExitStack) -> None:
        self.driver = Marionette(
            bin="/usr/bin/firefox-esr", headless=True, port=free_port(),
            gecko_log=str(DATA / "firefox.log"), prefs={"media.autoplay.default": 0})
        running.callback(self.driver.cleanup)
        self.driver.start_session()
        self.driver.set_window_rect(width=1280, height=880)

    def go(self, address: str) -> None:
        self.driver.navigate(address)

    def run(self, script: str, *arguments: Any) -> Any:
        return self.driver.execute_script(script, arguments, sandbox=None)

    def drag(self, x: int, y: int, up: int) -> None:
        hand = self.driver.actions.sequence("pointer", "mouse", {"pointerType": "mouse"})
        hand.pointer_move(x, y).pointer_down()
        for part in range(1, 6):
            hand.pointer_move(x, y - up * part // 5).pause(60)
        hand.pointer_up().perform()


class WebKit:
    """By its own driver, in a window on a screen that nobody sees."""

    def __init__(self, running: ExitStack) -> None:
        running.enter_context(_screen())
        options = WebKitGTKOptions()
        options.binary_location = str(next(Path("/").glob(
            ENGINE_PACKAGES["webkit2gtk-driver"].lstrip("/"))))
        options.add_argument("--automation")
        driver = shutil.which("WebKitWebDriver")
        self.driver = WebKitGTK(options=options, service=Service(executable_path=driver))
        running.callback(self.driver.quit)
        self.driver.set_window_size(1280, 840)

    def go(self, address: str) -> None:
        self.driver.get(address)

    def run(self, script: str, *arguments: Any) -> Any:
        return self.driver.execute_script(script, *arguments)

    def drag(self, x: int, y: int, up: int) -> None:
        hand = ActionChains(self.driver, duration=60)
        hand.w3c_actions.pointer_action.move_to_location(x, y)
        hand.click_and_hold()
        for _ in range(5):
            hand.move_by_offset(0, -(up // 5))
        hand.release().perform()


@contextmanager
def _screen() -> Iterator[None]:
    """A screen for programs that need one, named to them in the environment."""
    before = os.environ.get("DISPLAY")
    reading, writing = os.pipe()
    command = ["Xvfb", "-displayfd", str(writing), "-screen", "0", "1400x1000x24", "-nolisten",
               "tcp"]
    with subprocess.Popen(command, pass_fds=[writing], stderr=subprocess.DEVNULL) as screen:
        os.close(writing)
        with os.fdopen(reading) as told:
            os.environ["DISPLAY"] = f":{told.readline().strip()}"
        yield
        os.environ.pop("DISPLAY")
        if before is not None:
            os.environ["DISPLAY"] = before
        screen.terminate()


class Hand:
    """What a musician does on the page, in any engine."""

    def __init__(self, engine: Firefox | WebKit, address: str) -> None:
        self.engine, self.address = engine, address
        self.run = engine.run
        self.go("")

    def go(self, path: str) -> None:
        """Open a page of the application, and write down what breaks on it."""
        self.engine.go(f"{self.address}/{path}")
        self.run("""window.jollyScheduled = []; window.broken = []
            const note = ({ reason, message }) => broken.push(String(reason ?? message))
            for (const kind of ['error', 'unhandledrejection']) addEventListener(kind, note)
            const { error } = console
            console.error = (...told) => { broken.push(told.join(' ')); error(...told) }""")

    def until(self, what: Callable[[], Any]) -> Any:
        """What is found, as soon as it is; what the driver refuses meanwhile may only be early."""
        deadline = time.monotonic() + PATIENCE_S
        while True:
            problem: Exception | None = None
            try:
                if found := what():
                    return found
            except (WebDriverException, MarionetteException) as early:
                problem = early
            assert time.monotonic() < deadline, problem or "never came"
            time.sleep(0.1)

    def ask(self, method: str, path: str) -> bytes:
        """What the API answers."""
        return base64.b64decode(self.run(ASK, method, path))

    def find(self, path: str) -> Any:
        """The element at an XPath, once there is one."""
        return self.until(lambda: self.engine.driver.find_element(XPATH, path))

    def click(self, path: str) -> None:
        self.until(lambda: [self.engine.driver.find_element(XPATH, path).click()])

    def press(self, name: str) -> None:
        """Click the button whose name begins so."""
        self.click(f"//button[starts-with(normalize-space(.), '{name}') or "
                   f"starts-with(@aria-label, '{name}')]")


@pytest.fixture(scope="session", params=[Firefox, WebKit], ids=["firefox", "webkit"])
def hand(request: pytest.FixtureRequest, address: str) -> Iterator[Hand]:
    with ExitStack() as running:
        yield Hand(request.param(running), address)
