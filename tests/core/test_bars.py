"""Bars of clips whose metre becomes another on the way."""

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.base.errors import RecipeError
from lattice.clip.bars import beginning, sections
from lattice.clip.document import Clip, ClipMark, clip_part


def clip(beats: float, *marks: tuple[float, tuple[int, int] | None]) -> Clip:
    return Clip(name="", tempo=120, meter=(4, 4), beats=Fraction(beats), lanes=(), notes=(),
                marks=tuple(ClipMark(time=time, meter=meter) for time, meter in marks))


def test_another_metre_begins_a_bar_whatever_was_left_of_the_one_before() -> None:
    found = clip(20, (4, None), (6, (7, 8)), (13, None))
    assert [(each.start, each.end, each.bar, each.bar_beats) for each in found.sections] == [
        (0, 6, 1, 4), (6, 20, 3, Fraction(7, 2))]
    assert found.bars == 6 and found.bars_long == Fraction(11, 2)
    assert [clip_part(found, bar, bar + 1).beats for bar in range(6)] == [4, 2, 3.5, 3.5, 3.5, 3.5]
    assert clip_part(found, 1, 4).beats == 9
    with pytest.raises(RecipeError, match="6 bars"):
        clip_part(found, 5, 7)
    assert clip(8, (0, (3, 4)), (9, (2, 4))).bars == 3, "from the beginning on, and never"


METERS = st.tuples(st.integers(1, 9), st.sampled_from([2, 4, 8]))


@given(st.integers(1, 64), METERS, st.lists(st.tuples(
    st.floats(0, 64, allow_nan=False), METERS), max_size=6))
def test_sections_follow_each_other_and_bars_are_counted_through(
        beats: int, meter: tuple[int, int], changes: list[tuple[float, tuple[int, int]]]) -> None:
    found = sections(Fraction(beats), meter, sorted(changes))
    assert found[0].start == 0 and found[0].bar == 1 and found[-1].end == beats
    for one, other in pairwise(found):
        assert one.end == other.start > one.start
        assert other.bar == one.bar + one.bars
    last = found[-1]
    begins = [beginning(found, number) for number in range(last.bar + last.bars)]
    assert begins == sorted(set(begins)) and begins[-1] >= beats > begins[-2]
