"""What hands do on the lattice, the strands and the Trail, with the pointer and the keyboard."""

import re
from fractions import Fraction
from typing import Any

import pytest
from lattice.play import play
from playwright.sync_api import Locator, Page, expect
from studio.worked_out.recipes import recipe_of

from tests.browser.conftest import Studio
from tests.browser.test_journeys import heard_in, same

pytestmark = pytest.mark.django_db


def drag(page: Page, place: Locator, *way: tuple[float, float]) -> None:
    """Press at the first point of an element (in pixels from its corner), pass the others."""
    box = place.bounding_box()
    assert box
    page.mouse.move(box["x"] + way[0][0], box["y"] + way[0][1])
    page.mouse.down()
    for x, y in way[1:]:
        page.mouse.move(box["x"] + x, box["y"] + y, steps=5)
        page.wait_for_timeout(60)
    page.mouse.up()


def strand(state: Any, kind: str) -> Any:
    return next(each for each in state["view"]["chosen"]["strands"] if each["kind"] == kind)


def test_strands_are_drawn_and_set_from_the_keyboard(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Pump")
    bars = page.locator(".strands .box")
    drag(page, bars, (5, 12), (60, 12), (100, 50))
    state = studio.settled(lambda s: s["history"]["undo"] == "Pump: velocity strand", "pump")
    values = strand(state, "velocity")["values"]
    assert len(values) == 16 and values[0] > 85 > values[4] and values[15] == 112
    page.get_by_role("tab", name="Chance").click()
    value = page.get_by_role("slider", name="chance value 1", exact=True)
    value.focus()
    for key in ("PageDown", "PageDown", "ArrowRight", "ArrowDown"):
        page.keyboard.press(key)
        page.wait_for_timeout(150)
    state = studio.settled(lambda s: strand(s, "probability")["values"][:2] == [80, 99], "pump")
    drag(page, page.locator(".bracket"), (4, 30), (-60, 30))
    state = studio.settled(lambda s: len(strand(s, "probability")["values"]) < 15, "pump")
    assert len(state["view"]["lanes"][0]["drawn"]["steps"]) > 16, "the lane keeps its own length"
    page.get_by_role("button", name="reverse", exact=True).click()
    studio.settled(lambda s: strand(s, "probability")["values"][-1] == 80, "pump")


def test_a_wedge_is_taken_by_its_tip_and_a_lane_by_its_end(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Pump")
    row = page.locator('canvas[data-lane="pump"]')
    box = row.bounding_box()
    assert box
    wide, floor = box["width"] / 8, box["height"] - 9
    tip = floor - 112 / 127 * (floor - 5)
    drag(page, row, (wide + 1, tip + 1), (wide + 2, tip + 12))
    state = studio.settled(lambda s: s["history"]["undo"] == "Pump: 1 wedge moved", "pump")
    velocity = strand(state, "velocity")["values"]
    assert velocity[0] == 112 and velocity[4] < 95
    drag(page, row, (2 * wide + 1, tip + 1), (2 * wide + 12, tip + 1))
    state = studio.settled(lambda s: strand(s, "nudge")["values"][8] > 20, "pump")
    assert strand(state, "nudge")["values"][0] == 0
    drag(page, row, (1, tip + 1), (wide / 3, floor - 5), (4 * wide - 20, floor - 5))
    state = studio.settled(lambda s: "wedges moved" in s["history"]["undo"], "pump")
    assert max(strand(state, "velocity")["values"][4:13:4]) < 40, "painted on the way"
    # Steps 1 to 6 chosen: a tip among them takes the others along.
    page.keyboard.down("Shift")
    drag(page, row, (4, floor - 3), (1.3 * wide, floor - 3))
    page.keyboard.up("Shift")
    before = strand(studio.state("pump"), "velocity")["values"]
    drag(page, row, (1, floor - before[0] / 127 * (floor - 5)), (2, floor - 8))
    state = studio.settled(lambda s: strand(s, "velocity")["values"][0] < before[0], "pump")
    after = strand(state, "velocity")["values"]
    assert after[4] < before[4] and after[8:] == before[8:]
    # The kick stays regular; the end of Valve, not chosen before, is pulled from 16 steps to 13.
    area = page.locator('canvas[data-lane="valve"]').bounding_box()
    assert area
    page.mouse.move(area["x"] + box["width"] / 2 - 2, area["y"] + 20)
    page.mouse.down()
    page.mouse.move(area["x"] + box["width"] / 2 - 3 * wide / 4, area["y"] + 20, steps=5)
    expect(page.locator(".stage .called")).to_have_text("13 steps")
    page.mouse.up()
    state = studio.settled(lambda s: "steps 16 to 13" in s["history"]["undo"], "valve")
    assert state["view"]["lanes"][0]["drawn"]["period"] == 16
    assert state["view"]["meeting"]["bars"] > 9


def test_a_roll_from_the_ruler(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Valve")
    ruler = page.locator(".ruler")
    box = ruler.bounding_box()
    assert box
    drag(page, ruler, (box["width"] * 0.376, 10), (box["width"] * 0.499, 10))
    # What is drawn over begins and ends with the lane's steps, and what fits there is offered.
    offered = page.get_by_role("menu", name="How many strokes")
    expect(offered).to_contain_text("Valve rolls here")
    expect(offered.get_by_role("menuitemradio", name="8 strokes of 1/32")).to_be_focused()
    assert offered.get_by_role("menuitemradio", name="7 strokes").count() == 0
    offered.get_by_role("menuitemradio", name="6 strokes of 1/24").click()
    state = studio.settled(lambda s: s["history"]["undo"] == "Valve: one roll of 6", "valve")
    expect(studio.word("rolls.0.stroke_length")).to_have_text("1/24")
    strokes = state["view"]["lanes"][1]["drawn"]["hits"]
    rolled = next(hit[3] for hit in strokes if len(hit[3]) > 1)
    assert len(rolled) == 6 and rolled[0][0] == 3 and rolled[5][0] < 4


def test_steps_chosen_together(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Valve")
    page.evaluate("document.activeElement.blur()")
    for key in ("Shift+ArrowRight", "Shift+ArrowRight", "Shift+ArrowRight"):
        page.keyboard.press(key)
    tools = page.get_by_role("region", name="Chosen steps")
    expect(tools).to_contain_text("4 steps, 1–4 chosen")
    tools.get_by_role("button", name="play", exact=True).click()
    studio.settled(lambda s: s["history"]["undo"] == "Valve: steps 1 2 3 4 play")
    tools.get_by_role("button", name="sound together").click()
    studio.settled(lambda s: s["history"]["undo"] == "Valve: 4 steps linked")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Control+c")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Control+v")
    studio.settled(lambda s: s["history"]["undo"].startswith("Drip: steps 1–4 of Valve pasted"))
    page.keyboard.press("Shift+ArrowRight")
    page.get_by_role("button", name="paste, rolls lifted").click()
    page.get_by_text("+12 semitones").click()
    studio.settled(lambda s: s["history"]["undo"].startswith("Drip: steps 1–4 of Valve pasted"))
    tools.get_by_role("button", name="roll …", exact=True).click()
    page.get_by_text("one roll of 5 over them").click()
    state = studio.settled(lambda s: s["history"]["undo"] == "Drip: one roll of 5", "drip")
    hits = state["view"]["lanes"][2]["drawn"]["hits"]
    rolled = next(hit[3] for hit in hits if len(hit[3]) == 5)
    assert rolled[0][0] == pytest.approx(0.78), "from step 4 on, as the pattern swings"
    page.keyboard.press("Control+a")
    expect(tools).to_contain_text("12 steps, 1–12 chosen")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+a")
    expect(page.get_by_text("and 5 more, changed together")).to_be_visible()
    page.get_by_role("button", name="Mute Fan").click()
    state = studio.settled(lambda s: s["history"]["undo"] == "Fan: mute (and 5 more)")
    assert not any(lane["audible"] for lane in state["view"]["lanes"])
    page.get_by_role("button", name="+ chance scale").first.click()
    studio.settled(lambda s: s["history"]["undo"] == "Drip: + chance scale")
    state = studio.state("fern")
    assert "All chances are taken at" in str(state["view"]["chosen"]["sentence"])


def test_all_patterns_with_so_many_hits_are_scrubbed_through(studio: Studio) -> None:
    studio.own_copy("Pump Room")
    page = studio.page
    studio.lane("Fan")
    track = page.locator(".lane-words .track")
    box = track.bounding_box()
    assert box
    for across, number in ((0.5, "1,001"), (1.2, "2,002"), (-0.2, "1")):
        drag(page, track, (5, 5), (box["width"] * across, 5))
        state = studio.settled(lambda s, n=number: s["history"]["undo"].endswith(f"to {n}"), "fan")
    assert state["view"]["lanes"][3]["drawn"]["steps"][:5] == [0, 1, 2, 3, 4]
    assert [hit[0] for hit in state["view"]["lanes"][3]["drawn"]["hits"][:6]] == [
        0, 0.25, 0.5, 0.75, 1, 3.5], "number 1 has all hits at the start"
    studio.type_word("rule.index", "2,003")
    expect(studio.notice()).to_have_text(
        "Pattern number takes a whole number from 1 to 2,002.")


def riding(studio: Studio) -> Any:
    """Ride the hats of a copy: the pad is held; where it is."""
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    page.get_by_role("tab", name="Ride").click()
    page.get_by_role("button", name="Play", exact=True).click()
    studio.played(2)
    box = page.locator(".pad").bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] * 0.63, box["y"] + 40)
    page.mouse.down()
    return box


@pytest.mark.parametrize("round_", [0, 1, -1])
def test_a_ride_is_laid_in_as_it_was_heard(studio: Studio, round_: int) -> None:
    """Over several rounds of a frame of one bar: each is there to be laid in, note for note."""
    page, box = studio.page, riding(studio)
    for across, up in ((0.4, 70), (0.93, 20), (0.2, 5), (0.75, 60)):
        page.wait_for_timeout(1100)
        page.mouse.move(box["x"] + box["width"] * across, box["y"] + up, steps=3)
    page.wait_for_timeout(700)
    page.mouse.up()
    rounds = page.get_by_role("radiogroup", name="Round that is laid in").get_by_role("radio")
    expect(rounds.nth(2)).to_be_visible()
    chosen = rounds.nth(round_ % rounds.count())
    chosen.check()
    passing = int(re.findall(r"\d+", chosen.locator("..").inner_text())[0]) - 1
    heard = [note for note in page.evaluate("window.jollyScheduled") if note["lane"] == "drip"]
    page.get_by_role("button", name="Lay it in").click()
    state = studio.settled(lambda s: "rate path" in s["history"]["undo"], "drip")
    recipe = recipe_of(state["revision"])
    path = recipe.lane("drip").rate_path
    start, end = 4 * passing + path[0].start, 4 * passing + path[-1].start + path[-1].beats
    if round_ == -1:  # it was let go in the cell that the path ends with, or the one before
        end -= 8 * path[-1].step
    assert end - start > 0.2 and (round_ == 0 or path[0].start == 0)
    laid = [{"beat": note.start, "length": note.length, "pitch": note.pitch,
             "velocity": note.velocity} for note in play(recipe, float(start), float(end))
            if note.lane == "drip"]
    same(heard_in(heard, float(start), float(end)), heard_in(laid, float(start), float(end)))


def test_a_ride_is_on_the_trail_and_can_be_laid_in(studio: Studio) -> None:
    page, box = studio.page, riding(studio)
    page.wait_for_timeout(700)
    page.mouse.move(box["x"] + box["width"] * 0.93, box["y"] + 10, steps=3)
    page.wait_for_timeout(3000)
    page.mouse.up()
    page.get_by_role("button", name="Lay it in").click()
    state = studio.settled(lambda s: "rate path" in s["history"]["undo"], "drip")
    assert "in steps of" in str(state["view"]["chosen"]["sentence"])
    page.wait_for_timeout(2500)
    scheduled = studio.stop()
    page.wait_for_timeout(500)
    at = 0.0
    for entry in studio.api("GET", f"patterns/{studio.pattern}/trail"):
        same(heard_in(studio.passed(entry["id"]), 0, entry["beats"]),
             heard_in(scheduled, at, at + entry["beats"]))
        at += entry["beats"]
    # It stands as a curve, whose stretches hands change: its pace, and where it ends.
    before = recipe_of(state["revision"]).lane("drip").rate_path
    stretches = page.locator(".curve .stretch")
    expect(stretches).to_have_count(len(before))
    drawn = stretches.first.bounding_box()
    assert drawn
    page.mouse.move(drawn["x"] + drawn["width"] / 2, drawn["y"] + 30)
    page.mouse.down()
    page.mouse.move(drawn["x"] + drawn["width"] / 2, drawn["y"] + 60, steps=4)
    page.mouse.up()
    state = studio.settled(lambda s: "step length of the stretch" in s["history"]["undo"], "drip")
    assert recipe_of(state["revision"]).lane("drip").rate_path[0].step > before[0].step
    stretches.last.press("ArrowLeft")
    state = studio.settled(lambda s: "length of the stretch in" in s["history"]["undo"], "drip")
    after = recipe_of(state["revision"]).lane("drip").rate_path
    assert after[-1].beats == max(before[-1].beats - Fraction(1, 4), Fraction(1, 4))


def test_passes_are_heard_again_compared_and_kept_in_part(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.play_passes(3)
    studio.stop()
    first = page.evaluate("window.jollyScheduled.filter((note) => note.beat < 4).length")
    page.get_by_role("button", name="Hear pass 1 again").click()
    expect(page.locator("li.sounding")).to_have_count(1)
    expect(page.locator("li.sounding")).to_have_count(0)
    assert page.evaluate("window.jollyScheduled.length") == first
    page.get_by_role("button", name="Choose pass 1").click()
    page.get_by_role("button", name="Choose pass 3").click(modifiers=["Shift"])
    page.get_by_role("button", name="Compare 1 with 3").click()
    expect(page.locator("li.sounding")).to_have_count(2)
    page.keyboard.press(" ")
    expect(page.locator("li.sounding")).to_have_count(0)
    page.get_by_label("First bar").fill("2")
    page.get_by_role("button", name="Keep chosen").click()
    expect(studio.notice()).to_contain_text("passes 1–3, bars 2–3")
    passes = page.locator(".trail li[data-pass]")
    count = passes.count()
    page.reload()
    expect(passes).to_have_count(count)
    page.get_by_role("radio", name="whole weave").click()
    expect(page.locator(".turner")).to_contain_text("All 9 bars up to the meeting point")


def test_a_changed_lane_is_heard_once_while_stopped(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    page.add_init_script("""
        const play = AudioBufferSourceNode.prototype.start
        window.struck = 0
        AudioBufferSourceNode.prototype.start = function (...at) {
            // Short ones are the sound library trying out what the browser can do.
            const heard = !(this.context instanceof OfflineAudioContext)
            if (heard && this.buffer?.duration > 0.1) window.struck += 1
            return play.apply(this, at)
        }""")
    page.reload()
    page.locator("canvas.row").first.wait_for()
    studio.lane("Pump")
    studio.type_word("velocity", "90")
    studio.settled(lambda s: "to 90" in s["history"]["undo"])
    page.wait_for_timeout(300)
    assert page.evaluate("window.struck") == 0
    page.get_by_label("hear changes").check()
    studio.type_word("velocity", "91")
    studio.settled(lambda s: "to 91" in s["history"]["undo"])
    studio.until("window.struck >= 4")
    page.wait_for_timeout(300)
    assert page.evaluate("window.struck") == 4, "the lane's four hits of one pass"


def test_a_word_breathes_in_two_presses_and_is_drawn(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Fern")

    def heard(bars: int) -> list[int]:
        """The velocities of the bars."""
        state = studio.api("POST", f"patterns/{studio.pattern}/state", {"end": 4 * bars})
        notes = next(lane for lane in state["view"]["lanes"]
                     if lane["name"] == "Fern")["drawn"]["notes"]
        return [next(round(note[3]) for note in notes if note[0] >= 4 * bar)
                for bar in range(bars)]

    studio.word("velocity").click()
    page.get_by_role("button", name="wave", exact=True).click()
    expect(studio.word("velocity")).to_have_text("36 … 70")
    expect(studio.word("paths.0.bars")).to_have_text("8")
    assert heard(9) == [70, 65, 53, 41, 36, 41, 53, 65, 70]

    studio.word("velocity").press("ArrowUp")  # lifts all of it
    expect(studio.word("paths.0.to")).to_have_text("37")
    curve = page.get_by_role("button", name="Path of the velocity, bar by bar")
    curve.press("Enter")
    expect(page.get_by_role("slider", name="Bar 1")).to_be_focused()
    colours = {each.evaluate("each => getComputedStyle(each).getPropertyValue('--lane')")
               for each in (curve, page.get_by_role("slider", name="Bar 1"))}
    assert len(colours) == 1 and "" not in colours, "in the colour of the lane"
    page.keyboard.press("PageUp")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("slider", name="Bar 2")).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.press("ArrowDown")
    studio.settled(lambda state: "drawn" in state["history"]["undo"])
    area = page.locator(".picture .bars").bounding_box()
    assert area
    page.mouse.move(area["x"] + area["width"] * 3.5 / 8, area["y"] + 1)
    page.mouse.down()
    page.mouse.move(area["x"] + area["width"] * 4.5 / 8, area["y"] + area["height"] - 1, steps=4)
    page.mouse.up()
    page.get_by_role("button", name="A bar less").click()
    expect(page.locator(".picture .bars .bar")).to_have_count(7)
    page.keyboard.press("Escape")
    expect(curve).to_be_focused()
    expect(studio.word("paths.0.points")).to_have_text(re.compile(r"^(\d+ ){6}\d+$"))
    points = [int(each) for each in studio.word("paths.0.points").inner_text().split()]
    assert (len(points), points[0], points[1]) == (7, 81, 66)
    assert points[3] > 80 and points[4] < 8
    assert heard(8) == [*points, points[0]]

    studio.word("velocity").click()
    page.get_by_role("button", name="stand still").click()
    expect(studio.word("velocity")).to_have_text("70")
    expect(studio.word("paths.0.shape")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(studio.word("paths.0.shape")).to_have_text("move as drawn")
    studio.word("gate").press("Enter")
    page.locator(".typing").fill("40")
    page.get_by_role("button", name="line", exact=True).click()
    expect(studio.word("paths.1.from")).to_have_text("40 %")


def test_values_of_strands_are_typed_and_all_are_on_one_sheet(studio: Studio) -> None:
    studio.own_copy()
    page = studio.page
    studio.lane("Drip")
    panel = page.get_by_role("region", name="Strands")

    def velocities() -> list[Any]:
        values: list[Any] = strand(studio.state("drip"), "velocity")["values"]
        return values

    panel.get_by_role("button", name="type", exact=True).click()
    field = panel.get_by_label("All values of velocity")
    expect(field).to_have_value("96 58 74")
    field.fill("1 2 3")
    field.press("Escape")  # given up: the values stay
    panel.get_by_role("button", name="type", exact=True).click()
    expect(field).to_have_value("96 58 74")
    field.fill("96 loud 74")
    field.press("Enter")
    expect(studio.notice()).to_contain_text("“loud” is no value")
    expect(field).to_be_focused()
    field.fill("96 60-90 300")
    field.press("Enter")
    expect(studio.notice()).to_contain_text("127")
    assert velocities() == [96, 58, 74]
    field.fill("96, 60–90 40 112")
    field.press("Enter")
    expect(field).to_have_count(0)
    studio.settled(lambda s: strand(s, "velocity")["values"] == [96, [60, 90], 40, 112], "drip")
    # So many values that they have no room are as wide as can be hit, and scrolled to.
    panel.get_by_role("button", name="type", exact=True).click()
    field.fill(" ".join(str(60 + n % 5) for n in range(64)))
    field.press("Enter")
    last = panel.get_by_role("slider", name="velocity value 64")
    assert (last.bounding_box() or {"width": 0})["width"] >= 10
    last.focus()
    expect(last).to_be_in_viewport(ratio=1)
    page.keyboard.press("ArrowUp")
    studio.settled(lambda s: strand(s, "velocity")["values"][63] == 64, "drip")

    panel.get_by_role("button", name="all strands …").click()
    sheet = page.get_by_role("dialog", name="All strands of Drip")
    for kind in ("velocity", "chance", "gate", "roll", "nudge", "octave", "tie"):
        expect(sheet.get_by_role("region", name=kind)).to_be_in_viewport(ratio=1)
    gate = sheet.get_by_role("region", name="gate")
    gate.get_by_role("button", name="Throw gate").click()
    thrown = studio.settled(lambda s: strand(s, "gate")["used"], "drip")
    assert all(40 <= value <= 130 for value in strand(thrown, "gate")["values"])
    gate.get_by_role("spinbutton", name="way of reading").press("ArrowDown")
    studio.settled(lambda s: "way of reading" in s["history"]["undo"], "drip")
    page.keyboard.press("Escape")
    expect(sheet).to_have_count(0)
