"""An account in its page, and what another window that plays is told of it."""

import pytest
from playwright.sync_api import Browser, Page, expect

from ops.serve import manage
from tests.browser.conftest import Studio
from tests.browser.test_access import findings

pytestmark = pytest.mark.django_db
WORD, NEXT = "a-warm-greenhouse-9", "greenhouse-at-4am"


def enter(page: Page, password: str, action: str = "Sign in") -> None:
    page.get_by_role("textbox", name="Name").fill("palmhouse")
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name=action, exact=True).click()


def test_an_account_from_its_first_day_to_its_last(
        studio: Studio, browser: Browser, server_env: dict[str, str]) -> None:
    page = studio.page
    page.emulate_media(reduced_motion="reduce")
    page.goto(f"{studio.address}/door?next=/account")
    page.get_by_role("button", name="I am new here").click()
    enter(page, WORD, "Sign up")
    expect(page.get_by_role("heading", name="Where you are signed in")).to_be_visible()
    assert findings(page) == []
    elsewhere = browser.new_context(viewport={"width": 1280, "height": 800})
    other = Studio(elsewhere.new_page(), studio.address)
    other.page.goto(studio.address)
    enter(other.page, WORD)
    other.page.get_by_role("button", name="New piece").click()
    other.page.get_by_role("button", name="Make it").click()
    other.page.get_by_role("button", name="+ lane").click()
    other.page.get_by_role("button", name="Closed hi-hat", exact=True).click()
    expect(other.page.locator(".lane-head")).to_have_count(1)
    other.page.keyboard.press("Escape")
    other.page.get_by_label("New lanes").wait_for(state="hidden")
    other.lane("Closed hi-hat")
    other.page.get_by_role("button", name="Play", exact=True).click()
    # A new password ends the session of the window that plays; it goes on playing, and says so.
    page.get_by_label("As it is").fill("wrong")
    page.get_by_label("From now on").fill(NEXT)
    page.get_by_role("button", name="Change the password").click()
    expect(page.locator("p[role=alert]")).to_have_text("That is not your password.")
    page.get_by_label("As it is").fill(WORD)
    page.get_by_role("button", name="Change the password").click()
    expect(studio.notice()).to_contain_text("That is your password from now on")
    other.word("rule.pulses").press("ArrowUp")
    expect(other.notice()).to_contain_text("You are signed in here no more")
    heard = other.page.evaluate("window.jollyScheduled.length")
    other.until(f"window.jollyScheduled.length > {heard}")
    other.page.get_by_role("button", name="Sign in").click()
    enter(other.page, NEXT)
    other.page.locator("canvas.row").first.wait_for()
    # It is to be deleted, is kept after all, and in the end it goes while another window plays.
    page.get_by_role("button", name="Delete the account …").click()
    page.get_by_label("Your password").fill(NEXT)
    page.get_by_role("button", name="Delete it in a day").click()
    expect(page.get_by_text("This account is deleted on")).to_be_visible()
    assert findings(page) == []
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("This account is deleted on")).to_have_count(0)
    other.page.get_by_role("button", name="Play", exact=True).click()
    manage(server_env, "remove_account", "palmhouse")
    other.word("rule.pulses").press("ArrowUp")
    expect(other.notice()).to_contain_text("You are signed in here no more")
    page.reload()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    assert other.broken == []
    elsewhere.close()
