"""The open clip: edited by pointer, keys and tools, heard as it goes round, and taken back."""

from collections.abc import Callable
from itertools import pairwise
from typing import Any

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db


def opened(studio: Studio, piece: str = "Sprinklers") -> int:
    """Keep two bars of a copy of a piece, and open them; the clip's id."""
    studio.own_copy(piece)
    page = studio.page
    page.keyboard.press("k")
    page.locator(".shelf .name").first.click()
    page.get_by_role("region", name="Clip").wait_for()
    return int(page.url.rsplit("=", 1)[1])


def notes_when(studio: Studio, clip: int, check: Callable[[list[Any]], bool]) -> list[Any]:
    """The stored notes, once they are as wanted."""
    return studio.comes(lambda: studio.api("GET", f"clips/{clip}/state")["view"]["notes"], check)


def test_a_clip_is_edited_by_hand_and_taken_back_after_a_reload(studio: Studio) -> None:
    clip = opened(studio)
    page, press = studio.page, studio.page.keyboard.press
    before = notes_when(studio, clip, lambda notes: len(notes) > 20)
    box = page.locator(".clip-rows canvas").bounding_box()
    assert box
    # A crash in the wrong place is gone in two clicks: the first note stands at the left edge.
    page.mouse.dblclick(box["x"] + 4, box["y"] + 20)
    notes_when(studio, clip, lambda notes: len(notes) == len(before) - 1)
    page.mouse.dblclick(box["x"] + box["width"] / 16 + 4, box["y"] + 20)
    after = notes_when(studio, clip, lambda notes: len(notes) == len(before))
    made = next(note for note in after if note not in before)
    assert made[0] == pytest.approx(0.5, abs=0.26) and made[4] == 0
    # By keys: the next of the lane, a step later, longer, softer, and gone.
    page.locator(".clip-rows").focus()
    press("ArrowRight")
    expect(page.locator(".clip-rows")).to_have_attribute("aria-label", "Pump, Bass drum 1, "
                                                         "beat 2, velocity 112")
    press("Alt+ArrowRight")
    notes_when(studio, clip, lambda notes: [1.25, 0] in [[note[0], note[4]] for note in notes])
    press("]")
    press(",")
    found = notes_when(studio, clip, lambda notes: any(
        note[0] == 1.25 and note[4] == 0 and note[3] == 107 for note in notes))
    moved = next(note for note in found if note[0] == 1.25 and note[4] == 0)
    was = next(note for note in before if note[0] == 1 and note[4] == 0)
    assert moved[1] == pytest.approx(was[1] + 0.25)
    press("Control+c")
    press("Control+v")
    notes_when(studio, clip, lambda notes: len(notes) == len(found) + 1)
    press("Delete")
    notes_when(studio, clip, lambda notes: len(notes) == len(found))
    page.reload()
    page.get_by_role("region", name="Clip").wait_for()
    for _ in range(7):
        page.get_by_role("button", name="Undo").click()
        page.wait_for_timeout(150)
    assert notes_when(studio, clip, lambda notes: len(notes) == len(before)) == before
    press("Escape")
    page.locator(".lattice canvas.row").first.wait_for()


def test_a_tool_is_heard_before_it_is_laid_in(studio: Studio) -> None:
    clip = opened(studio)
    page = studio.page
    before = notes_when(studio, clip, lambda notes: len(notes) > 20)
    page.keyboard.press("Control+a")
    expect(page.get_by_text(f"{len(before)} notes of")).to_be_visible()
    page.get_by_role("button", name="rotate", exact=True).click()
    by = page.locator('.tools [data-slot="by"]')
    by.press("ArrowUp")
    expect(by).to_have_text("+2")
    page.get_by_role("button", name="Play", exact=True).click()
    studio.until("window.jollyScheduled.some((note) => note.lane === 'pump')")
    page.get_by_role("button", name="Stop", exact=True).click()
    heard = page.evaluate("window.jollyScheduled")
    assert min(note["beat"] for note in heard if note["lane"] == "pump") == pytest.approx(0.5)
    assert notes_when(studio, clip, lambda notes: True) == before, "nothing is stored yet"
    page.get_by_role("button", name="lay it in").click()
    notes_when(studio, clip, lambda notes: any(note[0] == 0.5 and note[4] == 0 for note in notes))
    page.get_by_role("button", name="stir", exact=True).click()
    expect(page.get_by_role("button", name="another throw")).to_be_visible()

    def picture() -> Any:
        return page.evaluate("document.querySelector('.clip-rows canvas').toDataURL()")

    first = picture()
    page.get_by_role("button", name="another throw").click()
    page.wait_for_function("(before) => document.querySelector('.clip-rows canvas')"
                           ".toDataURL() !== before", arg=first)
    page.get_by_role("button", name="the one before").click()
    page.wait_for_function("(before) => document.querySelector('.clip-rows canvas')"
                           ".toDataURL() === before", arg=first)
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="lay it in")).to_have_count(0)


def test_a_clip_goes_round_between_its_brackets(studio: Studio) -> None:
    clip = opened(studio)
    page = studio.page
    ruler = page.locator(".clip .ruler").bounding_box()
    assert ruler
    beats = studio.api("GET", f"clips/{clip}/state")["view"]["beats"]
    wide = ruler["width"] / beats
    page.mouse.move(ruler["x"] + wide, ruler["y"] + 9)
    page.mouse.down()
    page.mouse.move(ruler["x"] + 2 * wide, ruler["y"] + 9, steps=4)
    page.mouse.up()
    page.get_by_role("button", name="Play", exact=True).click()
    studio.until("window.jollyScheduled.filter((note) => note.lane === 'pump').length >= 4")
    page.get_by_role("button", name="Stop", exact=True).click()
    heard = [note for note in page.evaluate("window.jollyScheduled") if note["lane"] == "pump"]
    # The pump's one hit of that beat, once a beat.
    assert {round(b["beat"] - a["beat"], 6) for a, b in pairwise(heard)} == {1}


def test_a_fill_is_made_heard_from_a_beat_before_and_taken_from_a_clip(studio: Studio) -> None:
    studio.own_copy()
    page, spell = studio.page, studio.page.locator(".ruler .spell")
    page.get_by_role("button", name="More for this pattern").click()
    page.get_by_role("menuitem", name="Make a fill").click()
    made = studio.settled(lambda state: state["history"]["undo"] == "a fill every 4th pass")
    expect(spell).to_have_text("fill")
    page.get_by_role("button", name="Hear it").click()
    studio.played(5.5)
    studio.stop()
    studio.until("document.querySelectorAll('.trail li[data-pass]').length >= 2")
    passes = studio.api("GET", f"patterns/{studio.pattern}/trail")
    assert [(each["passing"], each["beats"]) for each in passes[:2]] == [(3, 1), (4, 4)]
    # What is kept of it takes its place.
    page.keyboard.press("k")
    page.locator(".shelf [aria-label^='More for']").first.click()
    page.get_by_role("menuitem", name="Play it as a fill").click()
    now = studio.settled(lambda state: "“" in str(state["history"]["undo"]))
    assert len(made["view"]["lanes"]) == 6 <= len(now["view"]["lanes"])
    expect(page.get_by_role("button", name="Hear it")).to_be_visible()
