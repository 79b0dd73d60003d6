"""How far passes are from the usual one."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lattice.results.strange import strangeness

USUAL = {"a1", "a2", "b1"}


def test_the_lucky_one_stands_out() -> None:
    passes = [USUAL] * 6 + [USUAL | {"c1"}, {"a1", "c1", "c2"}]
    found = strangeness(passes)
    assert found.index(max(each for each in found if each is not None)) == 7
    assert found[0] == found[5] == pytest.approx(2 * (1 / 8) + 2 / 8 + 1 / 8)
    assert strangeness([USUAL] * 3) == [0, 0, 0] and strangeness(passes[:2]) == [None, None]
    assert strangeness([]) == []


@given(st.lists(st.sets(st.integers(0, 9)), min_size=3, max_size=9))
def test_it_is_the_distance_that_the_definition_says(passes: list[set[int]]) -> None:
    share = {place: sum(place in each for each in passes) / len(passes) for place in range(10)}
    assert strangeness(passes) == pytest.approx([
        sum(abs((place in each) - share[place]) for place in range(10)) for each in passes])
