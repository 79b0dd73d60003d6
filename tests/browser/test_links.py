"""A link is made, opened by somebody without an account, copied by somebody with one, and ended."""

from pathlib import Path
from re import compile

import pytest
from playwright.sync_api import Browser, Route, expect

from tests.browser.conftest import Studio
from tests.browser.midi_reader import read

pytestmark = pytest.mark.django_db


def play_what_has_not_come(other: Studio) -> None:
    """What was chosen last plays, also where Play is pressed before it is there."""
    seen = other.page
    held: list[Route] = []
    seen.route("**/api/shared/*/order", lambda route: held.append(route))  # noqa: PLW0108
    seen.get_by_role("button", name="The order").click()
    seen.evaluate("void (jollyScheduled = [])")
    seen.get_by_role("button", name="Play").click()
    expect(seen.get_by_role("button", name="Stop")).to_be_visible()
    assert seen.evaluate("jollyScheduled.length") == 0
    held[0].continue_()
    other.until("jollyScheduled.filter(({ lane }) => lane === 'pump').length > 4")
    seen.get_by_role("button", name="Stop").click()


def test_a_link_is_seen_heard_and_taken_by_whoever_has_it(studio: Studio, browser: Browser) -> None:
    studio.own_copy()
    page = studio.page
    studio.pick("More for this pattern", "Link to the whole piece")
    dialog = page.get_by_role("dialog", name="Links")
    dialog.get_by_label("The name that stands on it").fill("Fern")
    dialog.get_by_role("button", name="Make and copy").click()
    address = dialog.get_by_label("Address of").input_value()
    assert address.startswith(f"{studio.address}/l/") and len(address.rsplit("/", 1)[1]) == 43

    stranger = browser.new_context(accept_downloads=True, viewport={"width": 1280, "height": 800})
    other = Studio(stranger.new_page(), studio.address)
    seen = other.page
    seen.goto(address)
    expect(seen.get_by_role("heading", name="Sprinklers (copy)")).to_be_visible()
    expect(seen.get_by_text("by Fern")).to_be_visible()
    seen.get_by_role("button", name="Drip").click()
    expect(seen.locator(".said")).to_contain_text("Spread 7 hits over 12 steps")
    row = seen.get_by_role("group", name="Steps of Drip")
    row.focus()
    row.press("ArrowRight")
    expect(seen.get_by_role("status").filter(has_text="step 1")).to_contain_text("syncopation")
    with seen.expect_download() as found:
        seen.get_by_role("link", name="MIDI file").click()
    assert found.value.suggested_filename == "Drizzle.mid"
    notes, end = read(Path(found.value.path()).read_bytes())
    assert end == 4 * 4 * 960 and len(notes) > 100
    seen.get_by_role("button", name="Play").click()
    other.played(5)
    assert not stranger.cookies(), "nothing is kept of whoever looks"
    play_what_has_not_come(other)
    file = seen.get_by_role("link", name="MIDI file")
    expect(file).to_have_attribute("href", compile(r"/order/midi$"))
    seen.get_by_role("button", name="Take a copy").click()
    expect(seen.get_by_role("button", name="Open the demo")).to_be_visible()

    page.goto(address)
    page.get_by_role("button", name="Take a copy").click()
    expect(page.locator(".lane-head .words").first).to_be_visible()
    expect(studio.notice()).to_contain_text("“Sprinklers (copy)” is a piece of yours now.")
    page.go_back()
    page.go_back()
    studio.pick("More for this pattern", "Link to the whole piece")
    dialog.get_by_role("button", name="End the link").click()
    expect(dialog.get_by_label("Address of")).to_have_count(0)
    later = browser.new_page()  # with nothing that a cache keeps for a minute
    later.goto(address)
    expect(later.get_by_role("alert")).to_contain_text("This link leads nowhere")
    later.close()
    assert other.broken == []
    stranger.close()
