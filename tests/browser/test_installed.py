"""Installed: what it is called and looks like, and a start without a network."""

import re
import shutil
from io import BytesIO
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Browser, expect

from ops.database import free_port
from ops.machine import WEB
from ops.serve import listen, served
from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def test_it_says_what_it_is_called_and_has_icons(studio: Studio) -> None:
    answer = studio.page.request.get(f"{studio.address}/manifest.webmanifest")
    assert answer.headers["content-type"] == "application/manifest+json"
    manifest = answer.json()
    assert (manifest["name"], manifest["display"]) == ("Jolly Lattice", "standalone")
    for icon in manifest["icons"]:
        data = studio.page.request.get(studio.address + icon["src"]).body()
        with Image.open(BytesIO(data)) as image:
            assert f"{image.width}x{image.height}" == icon["sizes"]
    worker = studio.page.request.get(f"{studio.address}/sw.js")
    assert "no-cache" in worker.headers["cache-control"] or \
        "max-age=0" in worker.headers["cache-control"]


def test_a_start_without_a_network_shows_and_plays_what_was_open(
        studio: Studio, browser: Browser) -> None:
    context = browser.new_context(viewport={"width": 1280, "height": 800}, service_workers="allow")
    hand = Studio(context.new_page(), studio.address)
    page = hand.page
    hand.own_copy()
    hand.lane("Drip")
    hand.word("rule.pulses").press("ArrowUp")
    hand.settled(lambda state: state["history"]["undo"])
    hand.until("navigator.serviceWorker.ready.then(() => true)")
    hand.until("caches.keys().then((names) => Promise.all(names.map((name) => caches.open(name)"
               ".then((kept) => kept.match('/index.html', { ignoreSearch: true })))))"
               ".then((found) => found.some(Boolean))")
    page.wait_for_timeout(2000)  # what changes is kept a moment later
    context.set_offline(True)
    page.reload()
    expect(hand.notice()).to_contain_text("The server is away: this is “Sprinklers (copy)”")
    hand.lane("Drip")
    expect(page.locator(".lattice")).to_contain_text("Drip")
    page.get_by_role("button", name="Play", exact=True).click()
    hand.played(10)  # the bars that are here go round
    page.goto(f"{studio.address}/")
    page.get_by_role("link", name="as it was last").click()
    page.locator("canvas.row").first.wait_for()
    context.set_offline(False)
    expect(page.get_by_text("Server away")).to_be_hidden()
    page.get_by_role("button", name="Play", exact=True).click()
    expect(page.locator(".trail li[data-pass]").first).to_be_visible()
    page.get_by_role("button", name="Stop", exact=True).click()
    hand.lane("Drip")
    expect(hand.word("rule.pulses")).to_have_text("8")
    hand.word("rule.pulses").press("ArrowUp")
    hand.settled(lambda state: "9" in str(state["history"]["undo"]))
    assert hand.broken == []
    context.close()


def test_a_newer_version_is_offered_to_a_hand_that_does_not_play(
        browser: Browser, server_env: dict[str, str], tmp_path: Path) -> None:
    pages = Path(shutil.copytree(WEB / "dist", tmp_path / "pages"))
    env, port = server_env | {"WEB_BUILD": str(pages)}, free_port()
    context = browser.new_context(service_workers="allow")
    hand = Studio(context.new_page(), f"http://127.0.0.1:{port}")
    page = hand.page
    with served(listen(port), env):
        hand.own_copy()
        hand.until("navigator.serviceWorker.ready.then(() => true)")
        page.reload()  # now it belongs to the version that is kept
        page.get_by_role("button", name="Play", exact=True).click()
    built = (pages / "index.html").read_text()
    (pages / "index.html").write_text(built.replace("<html", '<html data-build="newer"'))
    worker = (pages / "sw.js").read_text()
    (pages / "sw.js").write_text(re.sub(r'("index.html",revision:)"\w+"', r'\1"newer"', worker))
    with served(listen(port), env):
        page.evaluate("navigator.serviceWorker.getRegistration()"
                      ".then((found) => found.update()).then(() => true)")
        hand.until("navigator.serviceWorker.getRegistration().then((found) => !!found.waiting)")
        expect(page.get_by_text("A newer version is here")).to_have_count(0)
        page.get_by_role("button", name="Stop", exact=True).click()
        expect(hand.notice()).to_contain_text("A newer version is here")
        page.get_by_role("button", name="Take it now").click()
        page.locator("html[data-build=newer]").wait_for()
        hand.lane("Drip")
        assert hand.broken == []
        context.close()
