"""Eight jobs by one who knows the application, from a new piece to the MIDI file, in few actions.

A click, a key and a drag are one action each; a text that is typed into a field is one, and the key
that ends it another."""

import re
from collections.abc import Callable, Iterator
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Studio
from tests.browser.midi_reader import read

pytestmark = pytest.mark.django_db
SIXTEENTH = 240


class Hand:
    """Does things on the page and counts them; waiting is none."""

    def __init__(self, studio: Studio) -> None:
        self.studio, self.page = studio, studio.page
        self.done = self.at_most = 0

    def click(self, what: str | re.Pattern[str] | Locator, role: Any = "button") -> None:
        place = what if isinstance(what, Locator) else \
            self.page.get_by_role(role, name=what, exact=True).first
        place.click()
        self.done += 1

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)
            self.done += 1

    def type(self, text: str) -> None:
        """Into the field that has the focus."""
        expect(self.page.locator("input:focus")).to_have_count(1)
        self.page.keyboard.press("Control+a")  # an opened field has its text marked already
        self.page.keyboard.type(text)
        self.done += 1

    def choose(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Steps, by dragging over them with Shift."""
        self.page.keyboard.down("Shift")
        self.page.mouse.move(*start)
        self.page.mouse.down()
        self.page.mouse.move(*end, steps=6)
        self.page.mouse.up()
        self.page.keyboard.up("Shift")
        self.done += 1

    def new_piece(self, at_most: int) -> None:
        self.at_most = at_most
        self.click("New piece")
        self.press("Enter")
        self.page.get_by_text("This pattern has no lanes yet").wait_for()

    def lanes(self, *names: str) -> None:
        """New lanes, from the drawer that is open."""
        for name in names:
            before = self.page.locator(".lane-head").count()
            self.click(self.page.get_by_label("New lanes").get_by_role(
                "button", name=name, exact=True))
            expect(self.page.locator(".lane-head")).to_have_count(before + 1)

    def say(self, slot: str, *texts: str) -> None:
        """Open a word, and type over it and those after it: Tab goes on. What is typed is taken
        when the hand goes elsewhere."""
        self.click(self.studio.word(slot))
        for i, text in enumerate(texts):
            if i:
                self.press("Tab")
            if text:
                self.type(text)

    def strands(self, **values: str) -> None:
        """Values by kind, the last ended by Enter."""
        for kind, text in values.items():
            self.click(self.page.locator(".kind", has_text=kind))
            self.click(self.page.get_by_label("Strands", exact=True).get_by_role(
                "button", name="type"))
            self.type(text)
        self.press("Enter")
        expect(self.page.locator(".kind.used[aria-selected=true]")).to_have_count(1)

    def row(self, lane: int, share: float, height: float = 0.5) -> tuple[float, float]:
        """A place in a lane's row."""
        box = self.page.locator("canvas.row").nth(lane).bounding_box()
        assert box
        return box["x"] + box["width"] * share, box["y"] + box["height"] * height

    def ride(self, start: float, end: float) -> None:
        """Hold the pad, and slide across it."""
        pad = self.page.get_by_role("slider", name="Ride the lane").bounding_box()
        assert pad
        self.page.mouse.move(pad["x"] + pad["width"] * start, pad["y"] + 60)
        self.page.mouse.down()
        self.page.wait_for_timeout(900)
        self.page.mouse.move(pad["x"] + pad["width"] * end, pad["y"] + 20, steps=4)
        self.page.wait_for_timeout(900)
        self.page.mouse.up()
        self.done += 1

    def chords(self, text: str) -> None:
        self.click("+ chords")
        self.click("Chords")
        self.type(text)
        self.press("Enter")

    def hear(self) -> None:
        self.press("Space")
        self.pass_by(1)

    def pass_by(self, more: int) -> None:
        """Wait for so many more passes."""
        passes = self.page.locator(".trail li[data-pass]")
        expect(passes.nth(passes.count() + more - 1)).to_be_visible()

    def file(self, button: str = "Keep as MIDI") -> list[tuple[int, int, int, int]]:
        place = self.page.get_by_role("button", name=button, exact=True)
        with self.page.expect_download() as download:
            self.click(place)
        return read(Path(download.value.path()).read_bytes())[0]


@pytest.fixture
def hand(studio: Studio, page: Page, record_property: Callable[[str, object], None]
         ) -> Iterator[Hand]:
    page.goto(studio.address)
    page.get_by_role("button", name="Open the demo").click()
    page.get_by_role("link", name="Sprinklers").first.wait_for()
    made = Hand(studio)
    yield made
    record_property("actions", f"{made.done} of at most {made.at_most}")
    assert made.done <= made.at_most


def columns(notes: list[tuple[int, int, int, int]], pitch: int) -> list[int]:
    """The sixteenths that a drum plays on."""
    return [start // SIXTEENTH for start, _, key, _ in notes if key == pitch]


def test_two_held_notes_to_a_hat_part(hand: Hand) -> None:
    """With swing, gates and two loudnesses."""
    hand.new_piece(at_most=20)
    hand.click("+ lane")
    hand.lanes("Held drums")
    hand.say("arpeggio.held_notes", "closed hi-hat, open hi-hat")
    hand.click("+ swing")
    hand.strands(gate="40 90 60", velocity="112 70")
    hand.hear()
    notes = hand.file()
    assert [note[2:] for note in notes] == [(42, 112), (46, 70)] * 8
    assert {start % (2 * SIXTEENTH) for start, *_ in notes[::2]} == {0}
    (late,) = {start % (2 * SIXTEENTH) for start, *_ in notes[1::2]}
    assert late > SIXTEENTH, "swing"
    lengths = [end - start for start, end, *_ in notes]
    assert lengths[:2] == [round(late * 0.4), round((480 - late) * 0.9)], "gates in turn"


def test_a_hat_with_two_rolls_copied_to_two_places(hand: Hand) -> None:
    hand.new_piece(at_most=22)
    hand.click("+ lane")
    hand.lanes("Closed hi-hat")
    hand.say("rule.pulses", "16")
    hand.press("Enter", "ArrowRight", "3", "ArrowRight", "ArrowRight", "4")  # steps 2 and 4
    hand.choose(hand.row(0, 0.01, 0.9), hand.row(0, 0.12, 0.9))
    hand.press("Control+c")
    for place in (4.5, 8.5):
        hand.choose(hand.row(0, place / 32, 0.9), hand.row(0, place / 32, 0.92))
        hand.press("Control+v")
    hand.hear()
    notes = hand.file()
    assert [columns(notes, 42).count(step) for step in range(16)] == [1, 3, 1, 4] * 3 + [1] * 4


def test_a_groove_of_four_lanes_by_rules(hand: Hand) -> None:
    hand.new_piece(at_most=22)
    hand.click("+ lane")
    hand.lanes("Bass drum 1", "Acoustic snare")
    hand.say("rule.pulses", "2", "", "", "4")
    hand.lanes("Closed hi-hat")
    hand.say("rule.pulses", "7", "12")
    hand.lanes("Maracas")
    hand.say("rule.pulses", "5")
    hand.press("Enter")
    hand.hear()
    notes = hand.file()
    assert columns(notes, 36) == [0, 4, 8, 12] and columns(notes, 38) == [4, 12]
    assert columns(notes, 42) == [0, 2, 3, 5, 7, 8, 10, 12, 14, 15], "E(7,12)"
    assert columns(notes, 70) == [0, 3, 6, 9, 12], "E(5,16)"


def test_a_ride_laid_in_and_used_again(hand: Hand) -> None:
    """Ridden over a closed hat, then the same for an open one."""
    hand.new_piece(at_most=14)
    hand.click("+ lane")
    hand.lanes("Closed hi-hat")
    hand.say("rule.pulses", "16")
    hand.click("ride", "tab")
    hand.ride(0.1, 0.6)
    hand.click("Lay it in")
    hand.click("More for Closed hi-hat")
    hand.click("A copy for another drum …", "menuitem")
    hand.click(hand.page.get_by_role("dialog").get_by_role(
        "button", name=re.compile("^Open hi-hat")))
    hand.pass_by(3)
    notes = hand.file()
    # Each is human by its own chance: up to 12 % of a step of 240 ticks, either way, so that at the
    # ends of the pass a hit may be heard in the pass beside it.
    apart = 0.12 * SIXTEENTH
    closed, opened = ([note[0] for note in notes if note[2] == pitch
                       and apart < note[0] < 16 * SIXTEENTH - apart] for pitch in (42, 46))
    near = [[other for other in opened if abs(start - other) < 2 * apart] for start in closed[1:-1]]
    assert len(near) > 4 and all(near)
    paces = [b - a for a, b in pairwise(closed)]
    assert max(paces) > 1.5 * min(paces), "more than one pace"


def test_a_bass_and_a_melody_over_four_typed_chords(hand: Hand) -> None:
    hand.new_piece(at_most=15)
    hand.chords("Am F C G")
    hand.click(hand.page.locator(".whole [data-slot=bars]"))
    hand.type("4")
    hand.click("+ lane")
    hand.lanes("Bass", "Lead")
    hand.hear()
    notes = hand.file()
    bass, lead = ([note[2] for note in notes if (note[2] < 60) == low] for low in (True, False))
    assert [pitch % 12 for pitch in bass[::4]] == [9, 5, 0, 7], "the chords' roots"
    assert len(set(lead)) > 6


def test_a_row_stepped_in(hand: Hand) -> None:
    """Eight pitches by keys, then their velocities, gates and octaves."""
    hand.new_piece(at_most=28)
    hand.click("+ melody")
    hand.say("steps", "8")
    hand.click("keys")
    hand.click("step by step", "radio")
    hand.press(*"adgfhjgk")
    hand.strands(velocity="100 80 90 70 110 60 95 85", gate="50 90 50 50 120 50 90 50",
                 octave="0 0 1 0 0 -1 0 1")
    hand.hear()
    notes = hand.file()[:8]
    assert [note[3] for note in notes] == [100, 80, 90, 70, 110, 60, 95, 85]
    assert [note[2] for note in notes] == [60, 64, 67 + 12, 65, 69, 71 - 12, 67, 72 + 12]
    assert [end - start for start, end, *_ in notes][:4] == [120, 216, 120, 120]


def test_bass_chords_lead_and_drums_as_one_file(hand: Hand) -> None:
    hand.new_piece(at_most=23)
    hand.click("A beat of a few lanes")
    hand.chords("Am F C G")
    hand.click("+ lane")
    hand.lanes("Bass", "Chords", "Lead")
    hand.strands(degree="0 2 4 1 7")
    hand.hear()
    notes = hand.file()
    pitches = {note[2] for note in notes}
    assert {36, 38, 42, 70} < pitches and min(pitches) <= 45 and max(pitches) >= 72


def test_four_patterns_in_an_order_played_by_hand(hand: Hand) -> None:
    hand.new_piece(at_most=22)
    hand.click("A beat of a few lanes")
    for number, way in enumerate(("m", "r", "]"), 2):
        hand.click("More for this pattern")
        hand.click(re.compile("^Duplicate"), "menuitem")
        expect(hand.page).to_have_title(re.compile(f"^Pattern {number}"))
        hand.press(way)
        hand.studio.settled(lambda state: state["history"]["undo"])
    hand.click("Order")
    hand.click("all of them")
    hand.press("Space")
    for pattern in "231":
        hand.press(pattern)
        hand.page.locator(".card.now", has_text=f"Pattern {pattern}").wait_for()
    hand.page.get_by_text(re.compile("played: [3-9] passes")).wait_for()
    hand.press("Space")
    notes = hand.file("as MIDI")
    bars = {start // 3840 for start, *_ in notes}
    beaten = {start // 3840 for start, _, pitch, _ in notes if pitch == 36}
    assert len(bars) > 2 and beaten and bars - beaten, "but for pattern 1 the first lane is mute"
