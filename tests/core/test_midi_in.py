"""MIDI files that come in: of other programs, of ours, of any division, and damaged."""

import random
from io import BytesIO
from pathlib import Path
from typing import Any

import mido
import pytest
from hypothesis import given, settings
from lattice.base.errors import RecipeError
from lattice.base.values import to_json
from lattice.clip.document import Clip, ClipMark
from lattice.clip.taken import Segment, take_clip
from lattice.midi.read import Song, read_midi, song_clip
from lattice.midi.write import to_midi
from lattice.recipe import read
from lattice.telling.lanes import song_lanes

from tests.core.melodies import melodic
from tests.core.recipes import documents

FILES = Path(__file__).parent / "files"


def song(name: str) -> Song:
    return read_midi((FILES / name).read_bytes())


def heard(found: Song) -> dict[str, list[tuple[float, int, int]]]:
    return {part.name: [(round(start, 3), pitch, velocity)
                        for start, _, pitch, velocity in part.notes] for part in found.parts}


def test_files_of_other_writers_say_what_was_written() -> None:
    """The files were written by pretty_midi, music21, @tonejs/midi and midi-writer-js."""
    pretty = song("pretty-midi.mid")
    assert (pretty.tempo, pretty.meter, pretty.beats) == (124, (7, 8), 7)
    assert (pretty.key.root, pretty.key.scale) == (2, "minor")
    assert heard(pretty) == {
        "Pump": [(i / 2, (36, 38)[i % 2], 100) for i in range(8)],
        "Bells": [(i, pitch, 70 + i) for i, pitch in enumerate([62, 65, 69, 72])]}
    assert [part.kind for part in pretty.parts] == ["drum", "pitched"]
    assert pretty.parts[1].changes == [(0, 74, 40), (1, "bend", -2048), (2, 74, 90)]
    score = song("music21.mid")
    assert (score.tempo, score.meter, score.beats, score.key.root) == (96, (3, 4), 6, 7)
    assert score.remarks == ["It ends within a bar that holds nothing, which is left out."]
    assert heard(score)[""] == [(0, 67, 80), (1, 71, 80), (1.5, 74, 80), (2, 72, 80),
                                (3, 55, 90), (3, 59, 90), (3, 62, 90)]
    assert [lane.name for lane in song_clip(score, "Fern").lanes] == ["Part 1"]
    page = song("tonejs-midi.mid")
    assert page.tempo == 140 and page.parts[0].channel == 3
    assert [start for start, _, _ in heard(page)["Mist"]] == [0, 0.667, 1.333, 2, 2.667, 3.333]
    drip = song("midi-writer-js.mid")
    assert drip.tempo == 110 and heard(drip)["Drip"][:3] == [(0, 60, 76), (0, 64, 76), (.5, 60, 76)]


@settings(max_examples=60)
@given(melodic(documents()))
def test_what_we_write_comes_back_as_it_was(document: dict[str, Any]) -> None:
    recipe = read(document)
    taken = take_clip("Lid", [Segment(recipe, 0, 0, 8)], 0, 8 * recipe.bar_beats / recipe.bar_beats)
    data = to_midi(taken)
    found = read_midi(data)
    assert found.tempo == pytest.approx(taken.tempo, abs=0.01) and found.meter == taken.meter
    back = song_clip(found, "Lid") if taken.notes or taken.changes else None

    def events(data: bytes) -> list[tuple[int, str, int]]:
        found = []
        for track in mido.MidiFile(file=BytesIO(data)).tracks:
            at = 0
            for message in track:
                at += message.time
                if not message.is_meta:
                    found.append((at, *message.bytes()))
        return sorted(found)

    if back is not None:
        again = back.model_copy(update={"beats": taken.beats})
        neutral = [event for event in events(data) if event[1] & 0xF0 != 0xE0]
        assert [event for event in events(to_midi(again)) if event[1] & 0xF0 != 0xE0] == neutral


def made(*tracks: list[Any], ticks: int = 96, type_: int = 1) -> bytes:
    file = mido.MidiFile(type=type_, ticks_per_beat=ticks)
    for messages in tracks:
        track = mido.MidiTrack()
        track.extend(messages)
        file.tracks.append(track)
    buffer = BytesIO()
    file.save(file=buffer)
    return buffer.getvalue()


ON = mido.Message("note_on", note=60, velocity=90)
OFF = mido.Message("note_off", note=60, time=48)


def test_formats_divisions_and_what_is_odd_is_read_and_told() -> None:
    one = made([ON, OFF], type_=0)
    assert read_midi(one).parts[0].notes == [(0, 0.5, 60, 90)]
    two = read_midi(made([ON, OFF], [ON, OFF], type_=2))
    assert len(two.parts) == 2 and "patterns of their own" in two.remarks[0]
    # 25 frames a second of 40 ticks: a tick is a millisecond, 500 of them a beat.
    smpte = one[:12] + bytes([256 - 25, 40]) + one[14:]
    found = read_midi(smpte)
    assert found.parts[0].notes[0][1] == pytest.approx(48 / 500) and "frames" in found.remarks[0]
    # Running status, and a note-on of velocity 0 as an end.
    head = one[:14]
    body = bytes([0, 0x90, 60, 90, 48, 60, 0, 0, 62, 80, 24, 62, 0, 0, 0xFF, 0x2F, 0])
    running = read_midi(head + b"MTrk" + len(body).to_bytes(4, "big") + body)
    assert running.parts[0].notes == [(0, 0.5, 60, 90), (0.5, 0.25, 62, 80)]
    open_end = read_midi(made([ON, mido.Message("note_on", note=64, velocity=1, time=192)]))
    assert "2 of its notes never end" in open_end.remarks[0]
    odd = read_midi(made([mido.MetaMessage("set_tempo", tempo=16_000_000), ON, OFF]))
    assert odd.tempo == 20 and "beyond 20 to 400" in odd.remarks[0]
    two_tempos = [mido.MetaMessage("set_tempo", tempo=500_000),
                  mido.MetaMessage("set_tempo", tempo=400_000, time=96), ON, OFF]
    song = read_midi(made(two_tempos))
    assert song.marks == [ClipMark(time=1, tempo=150)] and song.remarks == []
    assert song_lanes(song, song_clip(song, "x")).remarks[0] == \
        "Its tempo changes; the first one is taken."
    latin = made([mido.MetaMessage("track_name", name="Tür"), ON, OFF])
    assert read_midi(latin).parts[0].name == "Tür"
    with pytest.raises(RecipeError, match="nothing in this file"):
        song_clip(read_midi(made([])), "x")
    with pytest.raises(RecipeError, match="1 part;"):
        song_clip(read_midi(one), "x", [3])


@pytest.mark.parametrize(("ticks", "lasts"), [(480, 55), (96, 43), (220, 28), (960, 601)])
def test_notes_of_as_many_ticks_are_of_one_length(ticks: int, lasts: int) -> None:
    """So that what repeats is seen to repeat, in whichever bar it stands."""
    note = [ON, OFF.copy(time=lasts)]
    bar = [*note, ON.copy(time=ticks - lasts), OFF.copy(time=lasts),
           ON.copy(time=2 * ticks - lasts), OFF.copy(time=lasts)]
    between = ON.copy(time=ticks - lasts)
    song = read_midi(made([*bar, *(message for _ in range(7) for message in (between, *bar[1:]))],
                          ticks=ticks))
    assert len({length for _, length, _, _ in song.parts[0].notes}) == 1
    lanes = song_lanes(song, song_clip(song, "Lid"))
    assert lanes.recipe.bars == 1 and "repeats every bar" in " ".join(lanes.remarks)


def test_a_last_bar_that_holds_nothing_but_a_late_end_is_left_out() -> None:
    def song(end: int, *more: Any) -> Song:
        last = mido.MetaMessage("end_of_track", time=end - 96 * 4 - sum(each.time for each in more))
        return read_midi(made([ON, OFF.copy(time=96), ON.copy(time=96 * 2), OFF.copy(time=96),
                               *more, last]))

    late = song(96 * 5)
    assert late.beats == 4 and "holds nothing, which is left out" in late.remarks[0]
    for kept in (song(96 * 8), song(96 * 5, ON, OFF), song(
            96 * 5, mido.Message("control_change", control=74, value=1, time=9))):
        assert kept.beats == 8 and not kept.remarks


@pytest.mark.parametrize(("data", "words"), [
    (b"", "byte 0"), (b"MThd", "byte"), (b"RIFF" + bytes(40), "damaged at byte"),
    (made([ON, OFF])[:-6], "it ends in the middle"),
    (made([ON, OFF])[:12] + b"\0\0" + made([ON, OFF])[14:], "byte 12"),
    (bytes(9 * 2**20), "up to 8 MB")])
def test_what_is_damaged_is_refused_with_the_byte_s_place(data: bytes, words: str) -> None:
    with pytest.raises(RecipeError, match=words):
        read_midi(data)


def test_mutated_files_are_refused_or_give_a_clip() -> None:
    """2,000 files with bytes changed, cut off or doubled: a clear refusal, or a valid clip."""
    chances = random.Random(8)
    whole = [file.read_bytes() for file in sorted(FILES.glob("*.mid"))]
    read_well = 0
    for _ in range(2000):
        data = bytearray(chances.choice(whole))
        for _ in range(chances.randrange(1, 9)):
            place = chances.randrange(len(data))
            if chances.random() < 0.7:
                data[place] = chances.randrange(256)
            elif chances.random() < 0.5:
                del data[place:place + chances.randrange(9)]
            else:
                data[place:place] = data[place:place + chances.randrange(9)]
            if not data:
                break
        try:
            found = song_clip(read_midi(bytes(data)), "Lid")
        except RecipeError as refusal:
            assert str(refusal).endswith(".") and "\n" not in str(refusal)
            continue
        read_well += 1
        assert Clip.model_validate(to_json(found)) == found
    assert 100 < read_well < 1900
