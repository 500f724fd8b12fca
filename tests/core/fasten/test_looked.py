"""Lines drawn on a photo: how far they run off straight, thinned without losing their way."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import Found
from zonatome.core.fasten.looked import MOST_POINTS, SeenLine, drawn_line
from zonatome.core.formats.fastening_json import read_seen, write_seen

STRIPE = Found("stripe", 2, "front rail")
part = st.floats(0, 1)
drawn = st.lists(st.tuples(part, part), min_size=2, max_size=400).filter(lambda p: LineString(p).length > 0.05)


def test_by_hand_a_stripe_that_sags_30_pixels_over_800():
    line = SeenLine(STRIPE, ((0.1, 0.5), (0.3, 0.55), (0.5, 0.56), (0.9, 0.5)))
    assert line.off_straight(1000, 500) == pytest.approx(0.06 * 500 / (0.8 * 1000))
    steep = SeenLine(STRIPE, ((0.0, 0.0), (0.5, 0.5), (1.0, 1.0)))
    assert steep.off_straight(4000, 3000) == pytest.approx(0, abs=1e-12), "straight, though aslant"


@given(drawn, st.floats(200, 6000), st.floats(200, 6000))
def test_a_drawn_line_keeps_its_way_and_its_ends_and_comes_back_from_json(points, wide, high):
    line = drawn_line(points, STRIPE)
    assert 2 <= len(line.points) <= MOST_POINTS
    assert all(0 <= v <= 1 for p in line.points for v in p)
    for kept, drew in ((line.points[0], points[0]), (line.points[-1], points[-1])):
        assert math.dist(kept, drew) < 2e-4
    if len(points) < 20:  # a scribble of hundreds of turns is thinned harder
        way = LineString(line.points)
        assert all(way.distance(Point(p)) < 0.003 for p in points)
    assert read_seen(write_seen([line])) == (line,)
    turned = SeenLine(STRIPE, line.points[::-1])
    assert turned.off_straight(wide, high) == pytest.approx(line.off_straight(wide, high))


@pytest.mark.parametrize("points", [[], [(0.5, 0.5)], [(0.5, 0.5), (0.505, 0.5)], [(0.1, 0.1)] * 3000])
def test_no_line_is_refused(points):
    with pytest.raises(BadInput) as refused:
        drawn_line(points, STRIPE)
    assert "Draw a line on the photo" in refused.value.told


@pytest.mark.parametrize("wrong", [
    "lines", [{"look": "ghost", "points": [[0, 0], [1, 1]]}], [{"look": "stripe", "points": [[0, 0]]}],
    [{"look": "stripe", "points": [[0, 0], [1, 2]]}], [{"look": "stripe", "points": [[0, 0], [1, "x"]]}],
    [{"look": "stripe", "points": [[0, 0], [1, 1]]}] * 21, [7],
])  # fmt: skip
def test_lines_with_an_odd_value_are_refused(wrong):
    with pytest.raises(BadInput):
        read_seen(wrong)
