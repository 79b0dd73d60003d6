"""The rest of what is on the screens: pieces, patterns, tempo, words, Shelf, true time, Stay."""

import json
from io import BytesIO
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Studio
from tests.browser.midi_reader import read
from tests.browser.test_gestures import drag

pytestmark = pytest.mark.django_db


def more(page: Page, of: str, item: str) -> None:
    """Choose an item of a menu."""
    page.wait_for_load_state("networkidle")  # the small pictures have come
    page.get_by_role("button", name=f"More for {of}", exact=True).click()
    page.get_by_role("menu", name=f"More for {of}").get_by_role("menuitem", name=item).click()
    expect(page.get_by_role("menu")).to_have_count(0)


def test_pieces_are_renamed_doubled_deleted_and_brought_back(page: Page, studio: Studio) -> None:
    page.goto(f"{studio.address}/pieces/999999")
    expect(page).to_have_url(f"{studio.address}/door?next=/pieces/999999")
    page.get_by_role("button", name="Open the demo").click()
    # What is not there leads back to the list, with a sentence.
    expect(studio.notice()).to_contain_text("not here")
    names = page.locator(".piece .name")
    first = "Sprinklers Pump Room Night Bloom"
    expect(names.first).to_have_text("Sprinklers")
    assert first in " ".join(names.all_inner_texts())
    more(page, "Night Bloom", "Duplicate")
    copy = page.locator(".piece", has_text="Night Bloom (copy)")
    expect(copy).to_contain_text("136 bpm · 7/8 · 0 clips")
    assert copy.locator("svg path").count() > 8, "small pictures of its rhythm"
    more(page, "Night Bloom (copy)", "Rename")
    page.get_by_role("textbox", name="Name").fill("  Orchid House  ")
    page.keyboard.press("Enter")
    expect(names.filter(has_text="Orchid House")).to_be_visible()
    more(page, "Orchid House", "Delete")
    expect(names.filter(has_text="Orchid House")).to_have_count(0)
    page.get_by_role("button", name="Bring it back").click()
    expect(names.filter(has_text="Orchid House")).to_be_visible()
    more(page, "Orchid House", "Delete")
    expect(names.filter(has_text="Orchid House")).to_have_count(0)
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.goto(f"{studio.address}/")
    expect(page).to_have_url(f"{studio.address}/door")


def test_tempo_and_metre_are_typed_dragged_tapped_and_picked(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    tempo = page.locator('.bar [data-slot="tempo"]')

    def is_now(value: float) -> Any:
        return studio.settled(lambda state: state["view"]["tempo"] == value)

    tempo.press("Enter")
    page.locator(".typing").fill("97.5")
    page.keyboard.press("Enter")
    is_now(97.5)
    tempo.press("Enter")
    page.locator(".typing").fill("500")
    page.keyboard.press("Enter")
    expect(studio.notice()).to_contain_text("400")
    page.keyboard.press("Escape")
    expect(tempo).to_have_text("97.5")
    tempo.press("Home")
    is_now(20)
    drag(page, tempo, (5, 10), (5, -40))
    is_now(30)
    page.evaluate("""() => {
        let now = 0
        performance.now = () => now
        const tap = document.querySelector('[aria-label="Tap the tempo"]')
        for (let i = 0; i < 4; i += 1) { tap.click(); now += 500 }
    }""")
    is_now(120)
    page.get_by_role("button", name="Metre").click()
    page.get_by_text("Another metre").click()
    for typed, says in (("five four", "Write a metre as beats/unit"),
                        ("5/3", "1, 2, 4, 8, 16 or 32")):
        page.get_by_label("Beats/unit").fill(typed)
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog")).to_contain_text(says)
    page.get_by_label("Beats/unit").fill("11/16")
    page.keyboard.press("Enter")
    state = studio.settled(lambda state: state["view"]["meter"] == [11, 16])
    assert state["view"]["bar_beats"] == 2.75
    expect(page.locator(".ruler")).to_contain_text("1.1")


def test_patterns_are_made_doubled_and_deleted(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    tabs = page.locator("nav .tab")
    page.get_by_role("button", name="New pattern").click()
    page.get_by_role("textbox", name="Name").fill("Dew")
    page.keyboard.press("Enter")
    expect(page.get_by_text("This pattern has no lanes yet.")).to_be_visible()
    assert studio.state()["view"]["tempo"] == 124, "tempo belongs to the piece"
    tabs.filter(has_text="Drizzle").click()
    expect(page.locator("canvas.row")).to_have_count(6)
    more(page, "this pattern", "Duplicate")
    expect(tabs).to_have_text(["Drizzle", "Downpour", "Dew", "Drizzle 2"])
    expect(tabs.filter(has_text="Drizzle 2")).to_have_attribute("aria-current", "page")
    more(page, "this pattern", "Delete")
    expect(tabs).to_have_text(["Drizzle", "Downpour", "Dew"])
    page.get_by_role("button", name="Bring it back").click()
    expect(tabs).to_have_count(4)
    more(page, "this pattern", "Rename")
    page.get_by_role("textbox", name="Name").fill("Mizzle")
    page.keyboard.press("Enter")
    expect(tabs.last).to_have_text("Mizzle")


def test_a_word_is_stepped_wheeled_typed_picked_and_taken_away(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Fern")
    velocity = studio.word("velocity")

    def is_now(slot: str, text: str) -> None:
        expect(studio.word(slot)).to_have_text(text)
        studio.settled(lambda state: state["history"]["undo"].endswith(f"to {text}"))

    velocity.hover()
    page.wait_for_timeout(600)  # a word turns by the wheel once the pointer rests on it
    page.mouse.wheel(0, -40)
    is_now("velocity", "71")
    velocity.press("PageDown")
    is_now("velocity", "61")
    for key, text in (("End", "127"), ("Home", "1")):
        velocity.press(key)
        is_now("velocity", text)
    velocity.press("Enter")
    page.locator(".typing").fill("99")
    page.keyboard.press("Escape")
    expect(velocity).to_have_text("1")
    expect(velocity).to_be_focused()
    expect(velocity).to_have_attribute("aria-valuemax", "127")
    studio.word("step").press("Enter")
    page.keyboard.type("5/64")
    page.keyboard.press("Enter")
    is_now("step", "5/64")
    studio.type_word("step", "1/0")
    expect(studio.notice()).to_have_text("A fraction cannot be divided by zero.")
    expect(page.locator(".typing")).to_have_value("1/0")
    page.keyboard.press("Escape")
    studio.word("direction").press("ArrowDown")
    studio.settled(lambda state: state["history"]["undo"].endswith("to backward"))
    page.get_by_role("region", name="Recipe").get_by_role(
        "button", name="all clauses …").click()
    page.locator(".v-list-item", has_text="linked steps").click()
    expect(studio.word("links.0.mode")).to_have_text("sound together")
    page.get_by_role("button", name="Take away: linked steps 1").focus()
    page.keyboard.press("Enter")
    expect(studio.word("links.0.mode")).to_have_count(0)


def test_clips_are_renamed_deleted_dragged_out_and_zipped(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    for bars in (1, 4):
        page.get_by_role("button", name="Keep …").click()
        title = "The next bar" if bars == 1 else f"The next {bars} bars"
        page.locator(".v-list-item", has_text=title).click()
        expect(page.locator("[data-clip]").first).to_contain_text(f"{bars} bar")
    card = page.locator("[data-clip]").first
    card.get_by_role("button", name="More for").click()
    page.get_by_role("menuitem", name="Rename").click()
    page.get_by_role("textbox", name="Name").fill("Rain & moss/№ 7")
    page.keyboard.press("Enter")
    expect(card.locator(".name")).to_have_text("Rain & moss/№ 7")
    dragged = card.evaluate("""(card) => {
        const dataTransfer = new DataTransfer()
        card.dispatchEvent(new DragEvent('dragstart', { dataTransfer, bubbles: true }))
        return dataTransfer.getData('DownloadURL')
    }""")
    kind, name, link = dragged.split(":", 2)
    assert (kind, name) == ("audio/midi", "Rain & moss-№ 7.mid")
    notes, end = read(page.request.get(link).body())
    assert end == 16 * 960 and len(notes) > 60
    with page.expect_download() as download:
        page.get_by_role("button", name="send all as MIDI").click()
        page.get_by_role("button", name=".zip of MIDI files").click()
    with ZipFile(BytesIO(Path(download.value.path()).read_bytes())) as archive:
        assert sorted(archive.namelist()) == ["Drizzle, bar 1.mid", "Rain & moss-№ 7.mid"]
        assert read(archive.read("Rain & moss-№ 7.mid")) == (notes, end)
    card.get_by_role("button", name="More for").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(page.locator("[data-clip]")).to_have_count(1)
    page.get_by_role("button", name="Bring it back").click()
    expect(page.locator("[data-clip]").first).to_contain_text("Rain & moss")


def test_time_is_true_on_the_picture(studio: Studio) -> None:
    """Five fitted steps against sixteenths: every wedge's edge stands where it sounds."""
    studio.own_copy()
    page = studio.page
    edges = page.evaluate("""() => Object.fromEntries(['pump', 'fan'].map((lane) => {
        const canvas = document.querySelector(`canvas[data-lane=${lane}]`)
        const [wide, tall] = [canvas.width, canvas.height]
        const row = canvas.getContext('2d').getImageData(0, tall - 13, wide, 1).data
        const strong = (x) => Math.max(row[4 * x], row[4 * x + 1], row[4 * x + 2])
            - Math.min(row[4 * x], row[4 * x + 1], row[4 * x + 2]) > 40
        const found = []
        for (let x = 1; x < wide; x += 1) if (strong(x) && !strong(x - 1)) found.push(x / wide)
        return [lane, found]
    }))""")
    view = studio.state()["view"]
    for lane in view["lanes"]:
        if lane["id"] in edges:
            sounding = [hit[3][0][0] / 8 for hit in lane["drawn"]["hits"] if hit[2]]
            places = [place for place in sounding if 0.001 < place < 1]
            for place in places:
                assert any(abs(place - edge) < 0.004 for edge in edges[lane["id"]]), (lane, place)
    assert len(view["lanes"][3]["drawn"]["steps"]) >= 10


def test_the_weave_of_a_very_dense_pattern_is_shown_in_part(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    page.get_by_role("button", name="New pattern").click()
    page.get_by_role("textbox", name="Name").fill("Cloudburst")
    page.keyboard.press("Enter")
    expect(page.get_by_text("This pattern has no lanes yet.")).to_be_visible()
    lanes = [{"do": "add_lane", "name": f"Jet {i}", "note": 36 + i} for i in range(16)]
    words = [{"do": "set", "lane": f"jet-{i}", "slot": slot, "value": value} for i in range(16)
             for slot, value in (("step", "1/64"), ("steps", 97 + i))]
    for edits in (lanes, words):
        revision = studio.state()["revision"]
        studio.api("POST", f"patterns/{studio.pattern}/edits",
                   {"revision": revision, "edits": edits, "end": 4})
    page.reload()
    expect(page.locator("canvas.row")).to_have_count(16)
    page.get_by_role("radio", name="whole weave").click()
    expect(page.locator(".turner")).to_contain_text("The first 16 bars")
    page.keyboard.press("ArrowUp")
    expect(page.locator(".lane.chosen")).to_be_in_viewport()
    page.get_by_role("radio", name="4 bars").click()
    expect(page.locator(".turner")).to_contain_text("Bars 1–4")


def test_stay_repeats_one_pass_and_flow_goes_on(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    page.get_by_role("button", name="Play", exact=True).click()
    page.get_by_role("button", name="Flow").click()
    expect(page.locator(".trail li[data-pass]").nth(2)).to_be_visible()
    expect(page.locator(".where")).to_contain_text("pass 1")
    page.get_by_role("button", name="Stay", exact=True).click()
    expect(page.locator(".trail li[data-pass]").nth(4)).to_be_visible()
    scheduled = studio.stop()

    def played(turn: int) -> list[Any]:
        return sorted((round(note["beat"] - 4 * turn, 6), note["pitch"], note["velocity"])
                      for note in scheduled if 4 * turn <= note["beat"] + 1e-9 < 4 * turn + 4)

    assert played(0) == played(1) == played(2)
    assert played(4) != played(0), "the passes go on"
    starts = [(round(note["beat"], 6), note["pitch"]) for note in scheduled]
    assert len(starts) == len(set(starts)), "nothing was struck twice"


def test_a_theme_is_kept_and_motion_is_reduced_when_asked(studio: Studio) -> None:
    page = studio.page
    page.emulate_media(reduced_motion="reduce")
    studio.own_copy()
    page.get_by_role("button", name="Paper or lamplight").click()
    expect(page.locator(".v-application")).to_have_class(r"v-application v-theme--lamplight "
                                                         "v-layout v-layout--full-height "
                                                         "v-locale--is-ltr")
    page.reload()
    page.locator("canvas.row").first.wait_for()
    assert page.evaluate("localStorage.getItem('jolly-theme')") == "lamplight"
    page.get_by_role("button", name="Play", exact=True).click()
    studio.played(4)
    page.wait_for_timeout(1000)
    row = page.locator("canvas.row").first
    left, wide = row.evaluate("(row) => [row.getBoundingClientRect().left - row.closest('.rows')"
                              ".getBoundingClientRect().left, row.clientWidth]")
    for _ in range(12):
        at = page.evaluate("new DOMMatrix(getComputedStyle("
                           "document.querySelector('.playhead')).transform).e")
        beats = (at - left) / wide * 8
        assert abs(beats - round(beats)) < 0.05, "from beat to beat"
        page.wait_for_timeout(50)
    studio.stop()


def test_what_the_page_sends_and_gets_stays_on_this_machine(studio: Studio) -> None:
    asked: list[str] = []
    studio.page.on("request", lambda request: asked.append(request.url))
    studio.own_copy()
    studio.play_passes(1)
    studio.stop()
    here = ("blob:", "data:", studio.address)
    assert [url for url in asked if not url.startswith(here)] == []
    assert json.dumps(studio.api("GET", "session")).count("password") == 0
