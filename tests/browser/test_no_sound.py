"""Where the browser gives no sound all else goes on, and sound joins in, in time, once it comes."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Studio
from tests.browser.test_sound_files import pattern_of

pytestmark = pytest.mark.django_db

HELD_BACK = """
window.held = localStorage.getItem('held') === 'yes'
window.contexts = []
window.AudioContext = class extends AudioContext {
  constructor(options) {
    super(options)
    window.contexts.push(this)
    if (window.held) void super.suspend()
  }
  resume() { return window.held ? new Promise(() => {}) : super.resume() }
}
// When each drum is heard, by the clock of the newest context.
window.heard = []
const { start } = AudioBufferSourceNode.prototype
AudioBufferSourceNode.prototype.start = function (when = 0, ...rest) {
  if (window.contexts.at(-1) === this.context && this.buffer?.duration > 1) window.heard.push(when)
  return start.call(this, when, ...rest)
}
"""
FOUR = """Rill, pattern: A frame of 1 bar of 4/4 at 124 bpm.
Pump, bass drum 1: Spread 4 hits over 16 steps of 1/16."""


@pytest.fixture
def pump(studio: Studio) -> Studio:
    """Four on the floor, and nothing else."""
    studio.page.add_init_script(HELD_BACK)
    pattern_of(studio, FOUR)
    return studio


def in_time(pump: Studio, drums: int) -> None:
    """So many drums in a row are heard when they were scheduled for (a busy machine may have given
    up its sound for a moment before); the clock never jumped, by which all or none were ahead."""
    pump.until(f"""JSON.stringify(heard.slice(-{drums}).map((time) => time.toFixed(6)))
        === JSON.stringify(jollyScheduled.slice(-{drums}).map(({{ time }}) => time.toFixed(6)))""")
    notes = pump.page.evaluate("jollyScheduled")
    assert [note["beat"] for note in notes] == list(range(len(notes)))
    assert all(note["lead"] < 0.36 for note in notes)
    late = sum(note["lead"] <= 0 for note in notes)
    assert late <= 2, "late only where a busy machine stood still"


def test_sound_is_taken_away_while_it_plays_and_comes_back_in_time(pump: Studio) -> None:
    page = pump.page
    page.get_by_role("button", name="Play", exact=True).click()
    pump.played(6)
    page.evaluate("contexts[0].suspend()")
    expect(pump.notice()).to_contain_text("The sound was taken away")
    silent = page.evaluate("[heard.length, jollyScheduled.length]")
    pump.until(f"jollyScheduled.length > {silent[1] + 8}")
    assert page.evaluate("heard.length") == silent[0], "nothing piles up to be heard late"
    expect(page.locator(".trail li[data-pass]").nth(1)).to_be_visible()
    expect(page.get_by_role("slider", name="Volume")).to_have_attribute(
        "aria-valuetext", "80 %, but the browser gives no sound")
    page.get_by_role("button", name="Try again").click()
    pump.until(f"heard.length > {silent[0] + 6}")
    in_time(pump, 6)


def test_play_without_any_sound_says_so_and_goes_on(pump: Studio) -> None:
    page = pump.page
    page.evaluate("localStorage.setItem('held', 'yes')")
    page.reload()
    page.get_by_role("button", name="Play", exact=True).click()
    expect(pump.notice()).to_contain_text("The browser gives no sound yet: allow this page")
    expect(page.locator(".trail li[data-pass]").nth(0)).to_be_visible()
    assert page.evaluate("heard.length") == 0 < page.evaluate("jollyScheduled.length")
    # What was plugged in gives other contexts than the one that is stuck.
    page.evaluate("localStorage.setItem('held', 'no'); held = false; "
                  "contexts[0].resume = () => new Promise(() => {}); 0")
    page.evaluate("navigator.mediaDevices.dispatchEvent(new Event('devicechange'))")
    pump.until("heard.length > 6")
    assert page.evaluate("contexts.length") == 2
    in_time(pump, 6)
    page.get_by_role("button", name="Stop", exact=True).click()


def test_a_browser_that_has_no_sound_at_all(pump: Studio) -> None:
    page = pump.page
    page.add_init_script("delete window.AudioContext; delete window.webkitAudioContext")
    page.reload()
    page.get_by_role("button", name="Play", exact=True).click()
    expect(pump.notice()).to_contain_text("has no sound at all")
    expect(page.locator(".trail li[data-pass]").nth(0)).to_be_visible()
