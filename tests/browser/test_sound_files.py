"""Sound files: rendered in the browser, read back with readers of others, and measured."""

from io import BytesIO
from pathlib import Path
from uuid import uuid4
from wave import open as open_wave
from zipfile import ZipFile

import mido
import numpy as np
import pytest
from numpy.typing import NDArray
from playwright.sync_api import Locator, expect

from tests.browser.conftest import Studio

pytestmark = pytest.mark.django_db

Samples = NDArray[np.int64]
RENDERED_S = 120_000


def read(data: bytes) -> tuple[Samples, int, int]:
    """Samples as whole numbers (a row for each frame, left and right), their rate and bytes."""
    with open_wave(BytesIO(data)) as file:
        assert file.getnchannels() == 2
        wide, raw = file.getsampwidth(), file.readframes(file.getnframes())
        rate = file.getframerate()
    if wide == 2:
        return np.frombuffer(raw, "<i2").astype(np.int64).reshape(-1, 2), rate, wide
    octets = np.frombuffer(raw, np.uint8).reshape(-1, 3).astype(np.int64)
    whole = octets[:, 0] | octets[:, 1] << 8 | octets[:, 2] << 16
    return np.where(whole >= 2**23, whole - 2**24, whole).reshape(-1, 2), rate, wide


def dialog(studio: Studio) -> Locator:
    found = studio.page.get_by_role("dialog", name="Send")
    expect(found).to_be_visible()
    return found


def sent(studio: Studio, *choices: str) -> bytes:
    """What leaves by the open dialog, as sound, by these choices."""
    asked = dialog(studio)
    asked.get_by_role("button", name="as sound").click()
    asked.get_by_role("button", name="as at first").click()
    for choice in choices:
        asked.get_by_text(choice).click()
    with studio.page.expect_download(timeout=RENDERED_S) as found:
        asked.get_by_role("button", name="sound file").click()
    return Path(found.value.path()).read_bytes()


def send_shown(studio: Studio) -> None:
    studio.pick("More for this pattern", "Send …")


def pattern_of(studio: Studio, text: str) -> None:
    """Open a new pattern that says this."""
    studio.own_copy()
    made = studio.api("POST", f"pieces/{studio.piece}/texts", {
        "text": text, "keys": [str(uuid4())]})[0]["id"]
    studio.page.goto(f"{studio.address}/pieces/{studio.piece}/{made}")
    expect(studio.page.locator(".lane-head").first).to_be_visible()


def test_bars_leave_as_sound_whole_and_lane_by_lane(studio: Studio) -> None:
    studio.own_copy()
    send_shown(studio)
    data = sent(studio, "16 bit", "44.1 kHz")
    whole, rate, wide = read(data)
    assert (rate, wide) == (44_100, 2) and 2_000 < np.abs(whole).max() < 32_767
    studio.page.reload()
    send_shown(studio)
    assert sent(studio, "16 bit", "44.1 kHz") == data, "the same bytes in another page"
    send_shown(studio)
    with ZipFile(BytesIO(sent(studio, "16 bit", "44.1 kHz", "each lane as a file"))) as archive:
        names = archive.namelist()
        lanes = [read(archive.read(name))[0] for name in names]
    assert len(set(names)) == 6 and all(name.endswith(".wav") for name in names)
    assert {lane.shape for lane in lanes} == {whole.shape}
    assert np.abs(np.sum(lanes, axis=0) - whole).max() <= 1


def test_a_hit_sounds_where_the_midi_file_has_it(studio: Studio) -> None:
    pattern_of(studio, "Tock, pattern: A frame of 2 bars of 7/8 at 97.3 bpm. Swing 61 % on 1/16.\n"
               "Tick, claves: Spread 5 hits over 9 steps of 1/12. Velocity 100. Give or take in "
               "time: -20 % to +20 %.")
    send_shown(studio)
    asked = dialog(studio)
    asked.get_by_role("button", name="as MIDI").click()
    with studio.page.expect_download() as found:
        asked.get_by_role("button", name="MIDI file").click()
    starts, seconds = [], 0.0
    for message in mido.MidiFile(found.value.path()):
        seconds += message.time
        if message.type == "note_on" and message.velocity:
            starts.append(seconds)
    send_shown(studio)
    whole, rate, _ = read(sent(studio))
    assert rate == 48_000 and len(starts) == 12
    late = []
    for start in starts:
        frame = round(start * rate)
        assert np.abs(whole[max(0, frame - 20):frame - 1]).max(initial=0) < 40, "silent before it"
        late.append(int(np.argmax(np.abs(whole[frame - 1 if frame else 0:, 0]) > 2_000)) -
                    (1 if frame else 0))
    assert max(late) - min(late) <= 1 and late[0] < 20


def test_what_goes_round_has_no_seam(studio: Studio) -> None:
    """The seamless file is what a later pass of many sounds like, also where that is in another
    part of what is rendered."""
    pattern_of(studio, "Slow, pattern: A frame of 1 bar at 60 bpm.\n"
               "Bells, melody: Spread 3 hits over 8 steps. Degrees of the key, from octave 4 up, "
               "by hit: 0 4. Each lasts 400 %. Heard as bell, strike 50 %, ring 90 %, hum 50 %.\n"
               "Hat, open hi-hat: Spread 5 hits over 8 steps. Each lasts 300 %.\n"
               "Reed, melody: Spread 1 hit over 1 step of 1. Degree 2, of the key, from octave 3 "
               "up. Each lasts 110 %. Heard as reed.\n"
               "Bend, controller: Value 80. Glide brightness evenly.")
    send_shown(studio)
    once, rate, _ = read(sent(studio, "seamless"))
    assert len(once) == 8 * rate, "two bars, as shown"
    made = studio.api("POST", f"patterns/{studio.pattern}/keep", {"bars": 6})
    studio.page.reload()
    studio.pick(f"More for {made['name']}", "Send …")
    row, _, _ = read(sent(studio))
    assert len(row) > 24 * rate, "it rings on"
    later = row[16 * rate:24 * rate]
    assert np.abs(later - once).max() < 2**10, "less than 1/8000 of what a sample may be"
