"""Outlines: what is one, turning, mirroring, and the cut line edge by edge."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point

from tests.core.awkward import ALL, NOTCHED, SHARP, STEP_ALONG_A_LINE, assert_same_outline, stars, with_arcs
from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.outline import offset_by_edge, outline_of, rectangle, turn_at


@pytest.mark.parametrize(
    ("points", "words"),
    [
        pytest.param([(0, 0), (100, 0)], "three different points", id="two points"),
        pytest.param([(0, 0), (100, 100), (100, 0), (0, 100)], "neither crosses nor touches", id="a bow tie"),
        pytest.param([(0, 0), (100, 0), (100, 100), (50, 0)], "neither crosses nor touches", id="touches its own edge"),
        pytest.param([(0, 0), (5, 0), (5, 5), (0, 5)], "at least 1 cm2", id="smaller than a finger nail"),
        pytest.param([(0, 0), (math.nan, 0), (5, 5)], "within 100 m", id="not a number"),
        pytest.param([(0, 0), (1e9, 0), (5, 5)], "within 100 m", id="longer than any roll"),
        pytest.param([(0, 0), (10, 0, 4), (5, 5)], "two numbers", id="three coordinates"),
        pytest.param([(0, 0), "12", (5, 5)], "within 100 m", id="a text of two digits"),
        pytest.param([(0, 0), None, (5, 5)], "two numbers", id="nothing where a point should be"),
        pytest.param([(k, k % 7) for k in range(6000)], "at most 5000 points", id="too many points"),
    ],
)
def test_what_is_no_outline_is_refused_in_words(points, words):
    with pytest.raises(BadInput, match=words):
        outline_of(points)


def test_a_clockwise_closed_outline_with_doubled_points_is_put_right():
    tidy = outline_of([(0, 0), (0, 50), (0, 50), (100, 50), (100, 0), (0, 0)])
    assert tidy.polygon.exterior.is_ccw
    assert len(tidy.points) == 4
    assert tidy.area == pytest.approx(5000)


@given(stars(), st.floats(-720, 720), st.booleans(), st.floats(-500, 500), st.floats(-500, 500))
def test_turning_mirroring_and_moving_keep_the_area_and_the_sense(outline, degrees, flip, x, y):
    placed = outline.placed(x, y, turn_degrees=degrees, flip=flip)
    assert placed.area == pytest.approx(outline.area, rel=1e-9)
    assert placed.perimeter == pytest.approx(outline.perimeter, rel=1e-9)
    assert placed.polygon.exterior.is_ccw


def test_quarter_turns_are_exact():
    assert rectangle(300, 200).turned(90).bounds == (-200, 0, 0, 300)
    assert rectangle(300, 200).turned(180).bounds == (-300, -200, 0, 0)


@given(stars(), st.data())
def test_a_cut_line_holds_the_finished_one_and_is_simple(outline, data):
    n = len(outline.points)
    allowances = data.draw(st.lists(st.sampled_from([0.0, 6.0, 13.0, 25.0, 50.0, 110.0]), min_size=n, max_size=n))
    cut = offset_by_edge(outline, allowances)
    assert cut.polygon.is_valid
    assert cut.polygon.exterior.is_ccw
    assert cut.polygon.buffer(0.001).covers(outline.polygon)
    assert cut.area >= outline.area - 0.01


@given(stars(), st.sampled_from([6.0, 13.0, 50.0]))
def test_a_cut_line_is_never_nearer_than_the_allowance_nor_farther_than_its_mitre(outline, allowance):
    cut = offset_by_edge(outline, [allowance] * len(outline.points))
    assert cut.polygon.buffer(0.01).covers(outline.polygon.buffer(allowance, quad_segs=32))
    assert outline.polygon.buffer(allowance * 3 + 0.01, join_style="mitre").covers(cut.polygon)


def test_slips_that_only_touch_the_outline_are_not_lost():
    """Two outlines on which a union of what merely touches fell into pieces."""
    torn = outline_of([(225, 0), (29.974648454369902, 92.25248208062989), (-48.54101966249684, 35.267115137548394),
                       (-48.54101966249685, -35.26711513754838), (18.541019662496833, -57.06339097770922)])  # fmt: skip
    pinched = outline_of(
        [
            (-29.999999999999986, 51.96152422706632),
            (-30.00000000000003, -51.961524227066306),
            (60.0, -1.469576158976824e-14),
        ]
    )
    assert offset_by_edge(pinched, [6, 13, 25]).polygon.is_valid
    for adds in ([13, 50, 0, 25, 10], [0, 0, 0, 0, 6], [110, 13, 13, 0, 50]):
        cut = offset_by_edge(torn, adds)
        assert cut.polygon.is_valid
        assert cut.polygon.buffer(0.001).covers(torn.polygon)
        assert cut.area > torn.area + sum(a * 30 for a in adds)


@given(st.one_of(stars(), with_arcs()), st.data())
def test_every_cut_edge_stands_at_its_own_allowance_whatever_the_joins(outline, data):
    """Just inside an edge's allowance is cloth; just outside it is none, unless a neighbour's allowance reaches
    there.
    """
    n = len(outline.points)
    joins = data.draw(st.lists(st.sampled_from(list(JOINS.values())), min_size=n, max_size=n))
    allowances = [join.adds for join in joins]
    cut = offset_by_edge(outline, allowances)
    assert cut.polygon.is_valid
    assert cut.polygon.exterior.is_simple
    assert cut.polygon.buffer(0.001).covers(outline.polygon)
    for i, (a, b) in enumerate(zip(outline.points, outline.points[1:] + outline.points[:1], strict=True)):
        length, adds = math.dist(a, b), allowances[i]
        out = ((b[1] - a[1]) / length, (a[0] - b[0]) / length)
        middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        inside, outside = (Point(middle[0] + out[0] * d, middle[1] + out[1] * d) for d in (adds - 0.01, adds + 0.05))
        if adds:
            assert cut.polygon.covers(inside)
        elsewhere = min(
            (
                LineString([c, d]).distance(outside)
                - 3 * max(allowances[j], allowances[j - 1], allowances[(j + 1) % n])
                for j, (c, d) in enumerate(zip(outline.points, outline.points[1:] + outline.points[:1], strict=True))
                if j != i
            ),
        )
        if elsewhere > 0 and not outline.polygon.covers(outside):
            assert not cut.polygon.covers(outside)


@pytest.mark.parametrize("name", ALL)
def test_awkward_shapes_get_a_clean_cut_line(name):
    outline = ALL[name]
    cut = offset_by_edge(outline, [13.0] * len(outline.points))
    assert cut.polygon.is_valid
    assert cut.polygon.exterior.is_simple
    assert cut.polygon.covers(outline.polygon)


def test_each_side_of_a_rectangle_takes_its_own_allowance():
    assert offset_by_edge(rectangle(100, 50), [10, 0, 20, 5]).bounds == (-5, -10, 100, 70)


def test_two_allowances_meet_in_a_mitre_on_a_square_corner():
    cut = offset_by_edge(rectangle(100, 50), [10, 20, 10, 20])
    assert_same_outline(cut, outline_of([(-20, -10), (120, -10), (120, 60), (-20, 60)]))


def test_an_allowance_that_changes_along_a_straight_edge_makes_a_square_step():
    cut = offset_by_edge(STEP_ALONG_A_LINE, [10, 30, 0, 0, 0])
    assert_same_outline(cut, outline_of([(0, -10), (100, -10), (100, -30), (200, -30), (200, 100), (0, 100)]))


def test_an_inner_corner_comes_out_clean_where_the_slot_closes():
    cut = offset_by_edge(NOTCHED, [60.0] * len(NOTCHED.points))  # the slot is 100 wide, two allowances of 60 close it
    assert cut.polygon.is_valid
    assert len(cut.polygon.interiors) == 0
    assert cut.bounds == pytest.approx((-60, -60, 560, 460))


def test_a_sharp_point_is_squared_and_not_spiked():
    cut = offset_by_edge(SHARP, [13.0, 13.0, 13.0])
    x0, _, x1, _ = cut.bounds
    assert x1 - 600 <= 3 * 13 + 0.01
    assert 0 - x0 <= 3 * 13 + 0.01


def test_a_wrong_count_of_allowances_or_a_negative_one_is_refused():
    with pytest.raises(BadInput, match="one for each of the 4"):
        offset_by_edge(rectangle(100, 50), [10, 10])
    with pytest.raises(BadInput, match="0 mm or more"):
        offset_by_edge(rectangle(100, 50), [10, 10, 10, -1])


@pytest.mark.parametrize(("after", "degrees"), [((2, 0), 0), ((1, 1), 90), ((1, -1), -90), ((2, 1), 45)])
def test_a_turn_to_the_left_is_positive(after, degrees):
    assert turn_at((0, 0), (1, 0), after) == pytest.approx(degrees)
