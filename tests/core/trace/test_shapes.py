"""Shapes from a tape, blocks round a pad, edges with their joins."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.awkward import assert_same_outline
from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.outline import outline_of, rectangle
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import Board, block_shape, disc_shape, rectangle_shape, rounded_shape, trapezoid_shape
from zonatome.core.trace.shape import Edge, Shape, edge_name, edges_by_corners, shape_of

BACK = {"top": "stapled_under", "right": "sewn", "bottom": "fly", "left": "sewn"}
measures = st.floats(60, 2500)


@pytest.mark.parametrize(
    ("board", "pad", "wrap", "cut"),
    [
        pytest.param((370, 370, 18), 45, 50, (596, 596), id="a stool: 370 + 2 (45 + 18 + 50)"),
        pytest.param((500, 420, 0), 25, 60, (670, 590), id="a board without thickness"),
        pytest.param((368.3, 380, 19), 45, 50, (596.3, 608), id="14 1/2 in by 38 cm"),
    ],
)
def test_a_block_is_the_board_and_twice_pad_board_and_wrap(board, pad, wrap, cut):
    line = block_shape("Seat", Board(*board), pad=pad, wrap=wrap).cut_line
    assert (line.width, line.height) == pytest.approx(cut)


@given(
    st.floats(200, 900), st.floats(200, 900), st.floats(0, 60), st.floats(0, 150), st.floats(0, 100), st.floats(20, 120)
)
def test_a_thicker_pad_grows_the_block_by_twice_the_difference(width, depth, thickness, pad, more, wrap):
    thin = block_shape("Seat", Board(width, depth, thickness), pad=pad, wrap=wrap).cut_line
    thick = block_shape("Seat", Board(width, depth, thickness), pad=pad + more, wrap=wrap).cut_line
    assert thick.width - thin.width == pytest.approx(2 * more, abs=0.01)
    assert thick.height - thin.height == pytest.approx(2 * more, abs=0.01)


def test_a_round_block_grows_in_diameter():
    line = block_shape("Top", Board(340, 340, 18, is_round=True), pad=54, wrap=50).cut_line
    assert line.width == pytest.approx(340 + 2 * (54 + 18 + 50), abs=0.7)  # its straight steps stand a little outside
    assert line.area == pytest.approx(math.pi * 292**2, rel=0.002)


def test_a_tapered_board_gives_a_tapered_block_of_even_reach():
    board = Board(470, 430, 18, back=400)
    shape = block_shape("Seat", board, pad=45, wrap=50)
    around = 45 + 18 + 50
    x, y = (470 - shape.cut_line.width) / 2, -around
    moved = board.outline.moved(-x, -y)
    x0, y0, _, _ = shape.cut_line.bounds
    cut = shape.cut_line.moved(-x0, -y0).polygon
    assert cut.contains(moved.polygon)
    assert cut.exterior.distance(moved.polygon) == pytest.approx(around, abs=0.01)
    assert [e.side for e in shape.edges] == ["bottom", "right", "top", "left"]


@given(measures, measures, measures)
def test_a_trapezoid_has_its_widths_and_height(bottom, top, height):
    shape = trapezoid_shape("Back", bottom, top, height, BACK)
    assert shape.edge_length(0) == pytest.approx(bottom)
    assert shape.edge_length(2) == pytest.approx(top)
    assert shape.outline.height == pytest.approx(height)
    assert [(e.side, e.join) for e in shape.edges] == [
        ("bottom", "fly"),
        ("right", "sewn"),
        ("top", "stapled_under"),
        ("left", "sewn"),
    ]
    assert shape.edge_length(1) == pytest.approx(math.hypot(height, (bottom - top) / 2))
    assert shape.halves_differ == 0


@given(st.floats(40, 3000))
def test_a_disc_s_straight_steps_leave_the_circle_by_at_most_a_third_of_a_millimetre(diameter):
    disc = disc_shape("Top", diameter, {})
    radius = diameter / 2
    nearest = min(
        math.hypot((ax + bx) / 2 - radius, (ay + by) / 2 - radius)
        for (ax, ay), (bx, by) in zip(disc.outline.points, disc.outline.points[1:], strict=False)
    )
    assert radius - nearest <= 0.301
    assert disc.outline.width == pytest.approx(diameter)
    assert len(disc.edges) == 1


@given(st.floats(100, 1500), st.floats(100, 1500), st.floats(0.05, 0.99))
def test_a_rounded_rectangle_has_four_edges_that_meet_in_the_middle_of_its_corners(width, height, share):
    radius = max(1.0, share * min(width, height) / 2)
    shape = rounded_shape("Cushion", width, height, radius, BACK)
    assert [e.side for e in shape.edges] == ["right", "top", "left", "bottom"]
    assert sum(shape.edge_length(i) for i in range(4)) == pytest.approx(shape.outline.perimeter)
    assert shape.edge_length(0) == pytest.approx(shape.edge_length(2))
    assert shape.outline.area == pytest.approx(width * height - (4 - math.pi) * radius**2, rel=0.01)


def test_the_cut_line_adds_what_each_join_adds():
    line = rectangle_shape("Inside back", 500, 640, BACK).cut_line
    assert line.bounds == pytest.approx((-13, -13, 513, 690))


def test_one_edge_can_be_held_another_way_and_the_rest_stays():
    shape = rectangle_shape("Inside back", 500, 640, BACK)
    changed = shape.with_edge("a", join="stapled_under")
    assert changed.cut_line.bounds == pytest.approx((-13, -50, 513, 690))
    assert shape.with_edge("a", join="sewn", adds=6).cut_line.bounds[1] == pytest.approx(-6)
    assert shape.cut_line.bounds[1] == pytest.approx(-13), "the old value is untouched"
    with pytest.raises(BadInput, match="one of a, b, c, d"):
        shape.with_edge("q", join="sewn")
    with pytest.raises(BadInput, match="0 to 500 mm"):
        shape.with_edge("a", join="sewn", adds=900)


@given(measures, measures, measures)
def test_a_partner_is_the_mirror_image_and_its_mirror_is_the_first_again(bottom, top, height):
    shape = trapezoid_shape(
        "Side, left", bottom, top, height, {"left": "zip", "right": "sewn", "top": "fly", "bottom": "stapled_under"}
    )
    partner = shape.mirrored("Side, right")
    assert {e.side: e.join for e in partner.edges} == {
        "right": "zip",
        "left": "sewn",
        "top": "fly",
        "bottom": "stapled_under",
    }
    assert partner.outline.area == pytest.approx(shape.outline.area)
    again = partner.mirrored("Side, left")
    assert_same_outline(again.outline, shape.outline.moved(again.outline.bounds[0] - shape.outline.bounds[0], 0))
    lengths = {e.side: shape.edge_length(i) for i, e in enumerate(shape.edges)}
    mirrored = {e.side: partner.edge_length(i) for i, e in enumerate(partner.edges)}
    assert mirrored["left"] == pytest.approx(lengths["right"])
    assert mirrored["top"] == pytest.approx(lengths["top"])


def test_centre_notches_stand_on_the_middle_lines():
    notches = rectangle_shape("Seat", 480, 300, BACK).notches
    assert sorted(n.at for n in notches) == [(0, 150), (240, 0), (240, 300), (480, 150)]


def test_halves_that_differ_are_measured():
    lopsided = shape_of("Wing", outline_of([(0, 0), (100, 0), (112, 100), (0, 100)]), (0, 1, 2, 3), {})
    assert lopsided.halves_differ == pytest.approx(12, abs=1)


def test_edges_from_a_file_begin_at_its_corners_or_once_when_it_is_round():
    assert edges_by_corners(rectangle(100, 50)) == (0, 1, 2, 3)
    assert edges_by_corners(disc_shape("Top", 300, {}).outline) == (0,)


@pytest.mark.parametrize(
    ("make", "words"),
    [
        pytest.param(lambda: rectangle_shape("x", 0, 100, {}), "10 to 10000 mm", id="a zero width"),
        pytest.param(lambda: trapezoid_shape("x", 100, math.nan, 100, {}), "10 to 10000 mm", id="not a number"),
        pytest.param(
            lambda: rounded_shape("x", 100, 100, 80, {}), "half of the shorter side", id="a radius that does not fit"
        ),
        pytest.param(lambda: Board(300, 300, 900), "0 to 300 mm", id="a board as thick as a wall"),
        pytest.param(
            lambda: Board(300, 310, 18, is_round=True), "the diameter again", id="a round board that is an oval"
        ),
        pytest.param(lambda: block_shape("x", Board(300, 300, 18), pad=-1), "0 to 400 mm", id="a negative pad"),
        pytest.param(
            lambda: block_shape("x", Board(300, 300, 18), pad=40, wrap=2), "10 to 200 mm", id="no wrap to staple"
        ),
        pytest.param(lambda: Edge("a", 0, "magnet", 5, "top"), "one of sewn", id="a join that there is not"),
        pytest.param(lambda: Shape("x", rectangle(100, 100), ()), "rising start points", id="no edge"),
    ],
)
def test_measures_that_no_furniture_has_are_refused(make, words):
    with pytest.raises(BadInput, match=words):
        make()


def test_the_joins_add_what_the_trade_adds():
    assert {
        key: JOINS[key].adds
        for key in ("sewn", "stapled_under", "raw_under_trim", "card_strip", "tack_strip", "gripper_strip", "zip")
    } == {
        "sewn": 13,
        "stapled_under": 50,
        "raw_under_trim": 25,
        "card_strip": 20,
        "tack_strip": 22,
        "gripper_strip": 14,
        "zip": 22,
    }
    assert JOINS["on_fold"].adds == 0


def test_edge_letters_go_on_after_z():
    assert [edge_name(n) for n in (0, 25, 26)] == ["a", "z", "a1"]


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
def test_every_panel_of_every_kind_can_be_taped_with_its_usual_joins(kind):
    for part in kind.panels:
        shape = rectangle_shape(part.name, part.width, part.height, part.joins)
        assert shape.cut_line.area > shape.outline.area
