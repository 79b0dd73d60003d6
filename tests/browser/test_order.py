"""The order on the screen: built, heard, changed by hands, and kept as it was heard."""

from typing import Any

import pytest
from playwright.sync_api import Locator, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def blocks(studio: Studio) -> Locator:
    return studio.page.get_by_role("listbox", name="The order").get_by_role("option")


def opened(studio: Studio, piece: str = "Sprinklers") -> int:
    """The order of a copy of a piece; the piece's id."""
    studio.own_copy(piece)
    studio.page.get_by_role("button", name="Order", exact=True).click()
    blocks(studio).first.wait_for()
    return int(studio.page.url.split("/pieces/")[1].split("/")[0])


def blocks_when(studio: Studio, piece: int, wanted: list[Any], *fields: str) -> None:
    """Wait until the stored blocks are as wanted."""
    def found() -> list[Any]:
        view = studio.api("GET", f"pieces/{piece}/order")["view"]
        return [tuple(each[field] for field in fields) for each in view["blocks"]]

    studio.comes(found, wanted.__eq__)


def test_an_order_is_built_by_keys_pointer_and_words(studio: Studio) -> None:
    piece = opened(studio)
    page, press = studio.page, studio.page.keyboard.press
    names = ["Drizzle", "Downpour", "Drizzle", "Downpour", "Drizzle"]
    expect(blocks(studio)).to_have_count(5)
    blocks(studio).first.focus()
    press("]")
    press("d")
    blocks_when(studio, piece, [("Drizzle", 3), ("Drizzle", 3), ("Downpour", 1), ("Drizzle", 1),
                                ("Downpour", 1), ("Drizzle", 2)], "name", "count")
    press("Delete")
    blocks_when(studio, piece, [(name,) for name in names], "name")
    press("Control+z")
    press("Control+z")
    press("Control+z")
    blocks_when(studio, piece, [("Drizzle", 2), ("Downpour", 1), ("Drizzle", 1), ("Downpour", 1),
                                ("Drizzle", 2)], "name", "count")
    # A word of the chosen block; a clause more; the same block elsewhere, by its body.
    blocks(studio).nth(1).click()
    expect(page.get_by_role("heading", name="Downpour, second in the order")).to_be_visible()
    page.get_by_role("button", name="+ another speed").click()
    expect(page.locator(".said .sentence")).to_contain_text("At 1/2 of its speed.")
    box = blocks(studio).nth(1).bounding_box()
    last = blocks(studio).nth(4).bounding_box()
    assert box and last
    page.mouse.move(box["x"] + 20, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(last["x"] + last["width"] - 4, box["y"] + 60, steps=6)
    page.mouse.up()
    blocks_when(studio, piece, [("Drizzle", "1"), ("Drizzle", "1"), ("Downpour", "1/2"),
                                ("Drizzle", "1"), ("Downpour", "1/2")], "name", "speed")
    # Its end, dragged to twice the length.
    end = blocks(studio).nth(1).locator(".end").bounding_box()
    assert end
    wide = blocks(studio).nth(1).bounding_box()
    assert wide
    page.mouse.move(end["x"] + 7, end["y"] + 40)
    page.mouse.down()
    page.mouse.move(end["x"] + 7 + wide["width"], end["y"] + 40, steps=6)
    page.mouse.up()
    blocks_when(studio, piece, [(2,), (2,), (1,), (2,), (1,)], "count")
    page.reload()
    expect(blocks(studio)).to_have_count(5)


def test_what_hands_do_while_it_plays_is_kept_note_for_note(studio: Studio) -> None:
    piece = opened(studio)
    page, keys = studio.page, studio.page.keyboard
    page.get_by_label("When the pattern changes").select_option("beat")
    page.get_by_label("How far higher").select_option("2")
    blocks(studio).first.focus()
    keys.press("b")  # round and round over it, however long this takes
    expect(page.get_by_text("goes round between these brackets")).to_be_visible()
    keys.press("Space")
    studio.until("window.jollyScheduled.length > 12")
    keys.down("z")
    page.wait_for_timeout(700)
    keys.up("z")
    keys.down("Shift")
    keys.down("2")
    expect(page.locator(".card.now b")).to_contain_text("Downpour")
    page.wait_for_timeout(500)
    keys.up("2")
    keys.up("Shift")
    expect(page.locator(".card.now b")).to_contain_text("Drizzle")
    keys.down("v")
    page.wait_for_timeout(900)
    keys.up("v")
    keys.press("2")  # to stay: the order waits
    expect(page.locator(".card.now b")).to_contain_text("Downpour")
    keys.press("a")
    expect(page.locator(".card.now b")).to_contain_text("Drizzle")
    page.wait_for_timeout(600)
    heard = studio.stop()
    page.get_by_role("button", name="keep what was just played").click()
    page.locator(".shelf .name").first.wait_for()
    clip = studio.api("GET", f"pieces/{piece}")["shelf"][0]["id"]
    kept = studio.api("GET", f"clips/{clip}/state")["view"]["notes"]
    assert sorted((round(start, 4), pitch, velocity) for start, _, pitch, velocity, *_ in kept) == \
        sorted((round(note["beat"], 4), note["pitch"], note["velocity"]) for note in heard
               if note["beat"] < max(start for start, *_ in kept) + 1e-6)


def test_the_order_waits_while_a_pattern_is_edited_and_is_kept_whole(studio: Studio) -> None:
    piece = opened(studio, "Night Bloom")
    page = studio.page
    blocks(studio).nth(1).click()
    page.get_by_role("button", name="edit Open while the order waits here").click()
    page.locator("canvas.row").first.wait_for()
    page.get_by_role("button", name="Order waits at 2").click()
    expect(page.locator(".block[aria-selected=true]")).to_have_accessible_name(
        "2. Open twice from bar 5")
    page.get_by_role("button", name="Keep the order as a clip").click()
    page.locator(".shelf .name", has_text="whole").click()
    region = page.get_by_role("region", name="Clip")
    expect(region.locator(".marker")).to_have_count(2)  # of four, in the first eight bars
    expect(region.locator(".marker").first).to_have_text("Bud")
    studio.api("DELETE", f"pieces/{piece}")  # other tests count the copies of this piece
