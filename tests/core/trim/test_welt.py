"""Welt, gimp and bottom cloth."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.trim.bottom import bottom_cloth
from zonatome.core.trim.welt import JOIN, TrimRun, double_welt_strip_width, shortest_strip, trim_sum, welt_strip_width


@pytest.mark.parametrize(
    ("cord", "thickness", "single", "double"),
    [
        pytest.param(5, 0, 41.708, 51.416, id="thin as paper: pi 5 + 26, 2 pi 5 + 20"),
        pytest.param(5, 1, 47.991, 57.699, id="1 mm of cloth takes 2 pi mm more"),
        pytest.param(4, 1.8, 49.876, 56.442, id="velvet round a thin cord"),
    ],
)
def test_the_strip_goes_round_the_cord_and_leaves_its_seams(cord, thickness, single, double):
    assert welt_strip_width(cord, thickness=thickness) == pytest.approx(single, abs=0.001)
    assert double_welt_strip_width(cord, thickness=thickness) == pytest.approx(double, abs=0.001)


def test_the_sum_adds_ends_and_joins_and_a_tenth():
    summed = trim_sum((TrimRun(1500), TrimRun(2000, times=2, is_closed=True)), kind="welt", furniture=6)
    assert summed.per_furniture == pytest.approx(1500 + 80 + 2 * (2000 + 40))
    assert summed.total == pytest.approx(6 * summed.per_furniture)
    assert summed.to_cut == pytest.approx(1.1 * summed.total)
    assert summed.strip_width == pytest.approx(math.pi * 7 + 26)


def test_gimp_is_bought_and_has_no_strip():
    assert trim_sum((TrimRun(1000),), kind="gimp", furniture=1).strip_width == 0


@given(st.floats(60, 3000), st.floats(60, 3000))
def test_the_bottom_cloth_stays_inside_and_is_turned_under(width, depth):
    cloth = bottom_cloth(width, depth)
    assert cloth.finished == pytest.approx((width - 20, depth - 20))
    assert cloth.cut == pytest.approx((width + 30, depth + 30))


@pytest.mark.parametrize(
    "call",
    [
        lambda: welt_strip_width(0, thickness=1),
        lambda: welt_strip_width(5, thickness=-1),
        lambda: trim_sum((TrimRun(100),), kind="ribbon", furniture=1),
        lambda: trim_sum((TrimRun(0),), kind="welt", furniture=1),
        lambda: trim_sum((TrimRun(100),), kind="welt", furniture=0),
        lambda: bottom_cloth(10, 300),
    ],
)
def test_what_cannot_be_trimmed_is_refused(call):
    with pytest.raises(BadInput):
        call()


@given(st.floats(1, 60_000))
def test_a_strip_is_half_a_metre_or_the_whole_welt_and_longer_than_its_join(to_cut):
    shortest = shortest_strip(to_cut)
    assert JOIN < shortest <= 500
    assert shortest == 500 or shortest <= max(to_cut, 50)
