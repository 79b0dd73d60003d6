"""Riding a lane: paths that take over from one another within a frame."""

from fractions import Fraction
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st
from lattice.edits.steps import LayPath
from lattice.play import Performance, play
from lattice.recipe import Recipe, read

from tests.core.melodies import melodic
from tests.core.recipes import documents, euclid, recipe

PACES = [Fraction(1, pace) for pace in (8, 12, 16, 24, 32, 48, 64)]


def ridden(found: Recipe, *stretches: tuple[Fraction, Fraction, Fraction]) -> Recipe:
    """The first lane with stretches (from, to, step) laid over its path."""
    path = [{"start": str(begin), "beats": str(end - begin), "step": str(step), "human": 40}
            for begin, end, step in stretches]
    edit = LayPath.model_validate({"do": "lay_path", "lane": found.lanes[0].id, "path": path})
    return edit.apply(found)


def heard(found: Recipe, begin: Fraction, end: Fraction) -> list[tuple[Any, ...]]:
    """What the first lane plays of grid places in [begin, end), without how long it lasts."""
    lane = found.lanes[0].id
    return [(note.start, note.pitch, note.tune, note.velocity, note.grid)
            for note in play(found, float(begin) - 2, float(end) + 2)
            if note.lane == lane and begin <= note.grid < end]


@settings(max_examples=80, deadline=None)
@given(melodic(documents()), st.data())
def test_a_path_that_goes_on_from_a_cell_has_been_the_same_until_there(document: Any,
                                                                       data: st.DataObject) -> None:
    document["lanes"] = [lane | {"shift": "0"} for lane in document["lanes"][:1]]
    found, passing = read(document), data.draw(st.integers(0, 3))
    frame = found.frame_beats
    at = Fraction(data.draw(st.integers(0, int(4 * frame) - 1)), 4)
    stretches = [(at, frame, data.draw(st.sampled_from(PACES)))]
    riding = ridden(found, *stretches)
    for _ in range(data.draw(st.integers(1, 4))):
        cells = Performance(riding).voice(riding.lanes[0].id).time.path
        assert cells is not None
        grain = Performance(riding).times.grain
        later = [begin for start in cells.starts
                 if at < (begin := Fraction(start, grain)) < frame]
        if not later:
            break
        at = data.draw(st.sampled_from(later))
        stretches = [(begin, min(end, at), step) for begin, end, step in stretches if begin < at]
        after = ridden(found, *stretches, (at, frame, data.draw(st.sampled_from(PACES))))
        begin = passing * frame
        assert heard(riding, begin, begin + at) == heard(after, begin, begin + at)
        stretches.append((at, frame, after.lanes[0].rate_path[-1].step))
        riding = after
    # Let go: the path ends with a cell.
    done = ridden(found, *[(begin, min(end, at), step) for begin, end, step in stretches
                           if begin < at])
    assert heard(done, passing * frame, passing * frame + at) == heard(
        riding, passing * frame, passing * frame + at)


def test_a_path_that_was_there_stays_around_what_is_laid_over_it() -> None:
    found = recipe({"rule": euclid(16), "rate_path": [
        {"start": "1", "beats": "2", "step": "1/8"}]})
    over = ridden(found, (Fraction(2), Fraction(5, 2), Fraction(1, 32))).lanes[0].rate_path
    assert [(each.start, each.beats, each.step) for each in over] == [
        (1, 1, Fraction(1, 8)), (2, Fraction(1, 2), Fraction(1, 32)),
        (Fraction(5, 2), Fraction(1, 2), Fraction(1, 8))]
