"""Staples: on the board, clear of marks, in the trade's order."""

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point

from zonatome.core.errors import BadInput
from zonatome.core.fasten.staples import (
    CORNER_OPEN,
    CROWN,
    LEGS,
    KeepOut,
    bottom_staples,
    boxes_for,
    staple_leg,
    staple_plan,
    temporary_staples,
    through_cloth,
)
from zonatome.core.rules import rules_of
from zonatome.core.trace.by_tape import Board

SQUARE = Board(370, 370, 18).outline
TAPERED = Board(470, 430, 18, back=400).outline
ROUND = Board(340, 340, 18, is_round=True).outline
OPPOSITE = {"back": "front", "front": "back", "left": "right", "right": "left"}
boards = st.builds(
    lambda w, d, b: Board(w, d, 18, back=w * b).outline, st.floats(150, 1600), st.floats(150, 700), st.floats(0.75, 1.0)
)
marks = st.lists(st.builds(KeepOut, st.floats(0, 400), st.floats(0, 400), st.floats(3, 40)), max_size=8)


def crown(staple) -> LineString:
    dx, dy = (
        math.cos(math.radians(staple.turn_degrees)) * CROWN / 2,
        math.sin(math.radians(staple.turn_degrees)) * CROWN / 2,
    )
    return LineString([(staple.x - dx, staple.y - dy), (staple.x + dx, staple.y + dy)])


@given(boards, st.floats(10, 60), marks, st.sampled_from(["cross first", "one side whole"]))
def test_no_staple_meets_a_mark_or_leaves_the_board(board, pitch, keep_outs, order):
    plan = staple_plan(board, pitch=pitch, order=order, keep_outs=keep_outs)
    for staple in plan.staples:
        line = crown(staple)
        assert board.polygon.contains(line)
        for mark in keep_outs:
            assert line.distance(Point(mark.x, mark.y)) >= mark.radius - 1e-6
    assert [s.number for s in plan.staples] == list(range(1, len(plan.staples) + 1))


@given(st.floats(150, 700), st.floats(10, 40), marks)
def test_no_staple_of_a_round_board_meets_a_mark(diameter, pitch, keep_outs):
    board = Board(diameter, diameter, 18, is_round=True).outline
    plan = staple_plan(board, pitch=pitch, keep_outs=keep_outs, is_round=True)
    for staple in plan.staples:
        assert all(crown(staple).distance(Point(k.x, k.y)) >= k.radius - 1e-6 for k in keep_outs)
        assert board.polygon.contains(crown(staple))


@given(boards, st.floats(12, 40))
def test_staples_on_a_side_stand_at_the_pitch_about_its_middle(board, pitch):
    plan = staple_plan(board, pitch=pitch)
    for side in ("front", "back"):
        xs = sorted(s.x for s in plan.staples if s.side == side and not s.at_corner)
        assert all(b - a == pytest.approx(pitch, abs=0.01) for a, b in pairwise(xs))
        middle = (board.bounds[0] + board.bounds[2]) / 2
        assert sum(xs) / len(xs) == pytest.approx(middle, abs=0.01)


@pytest.mark.parametrize("board", [SQUARE, TAPERED], ids=["square", "tapered"])
def test_cross_first_answers_every_side_and_leaves_the_corners_to_the_last(board):
    plan = staple_plan(board, pitch=16, order="cross first")
    sides = [s.side for s in plan.staples]
    assert set(sides[:2]) == {"back", "front"}
    assert set(sides[2:4]) == {"left", "right"}
    first_corner = next(s.number for s in plan.staples if s.at_corner)
    assert all(s.at_corner for s in plan.staples[first_corner - 1 :])
    corners = [board.points[i] for i in board.corners()]
    for staple in plan.staples[: first_corner - 1]:
        assert min(math.dist((staple.x, staple.y), c) for c in corners) > CORNER_OPEN - 1
    answered = sum(
        b.side == OPPOSITE[a.side]
        for a, b in zip(plan.staples[: first_corner - 1 : 2], plan.staples[1 : first_corner - 1 : 2], strict=False)
    )
    assert answered / (first_corner // 2) > 0.8, "an answer follows its staple"


def test_one_side_whole_fixes_a_side_from_its_middle_then_the_one_against_it():
    plan = staple_plan(SQUARE, pitch=16, order="one side whole")
    sides = [s.side for s in plan.staples if not s.at_corner]
    assert [side for i, side in enumerate(sides) if i == 0 or side != sides[i - 1]] == [
        "back",
        "front",
        "left",
        "right",
    ]
    back = [abs(s.x - 185) for s in plan.staples if s.side == "back" and not s.at_corner]
    assert back == sorted(back)


def test_a_round_seat_begins_at_12_6_3_and_9_and_never_goes_round():
    plan = staple_plan(ROUND, pitch=16, is_round=True)
    first = [(round(s.x), round(s.y)) for s in plan.staples[:4]]
    assert first == [(170, 326), (170, 14), (326, 170), (14, 170)]
    turns = [math.atan2(s.y - 170, s.x - 170) for s in plan.staples]
    steps = [abs(math.remainder(b - a, 2 * math.pi)) for a, b in pairwise(turns)]
    assert sum(step > 1.5 for step in steps) > len(steps) / 2, "it goes to and fro, not round and round"


def test_a_mark_on_the_line_moves_a_staple_or_leaves_it_out():
    free = staple_plan(SQUARE, pitch=16)
    middle_of_front = KeepOut(185, 14, 3)
    moved = staple_plan(SQUARE, pitch=30, keep_outs=[middle_of_front])
    assert moved.left_out == 0
    left = staple_plan(SQUARE, pitch=16, keep_outs=[KeepOut(185, 14, 25)])
    assert left.left_out >= 3
    assert len(left.staples) == len(free.staples) - left.left_out


@pytest.mark.parametrize(
    ("through", "rail", "leg"),
    [
        pytest.param(2, 18, 8, id="cloth on a stool board"),
        pytest.param(5, 22, 12, id="cloth and card"),
        pytest.param(2, 10, 8, id="8 - 2 goes 6 into 10, 4 mm remain"),
        pytest.param(2, 8, None, id="6 into 8 would leave 2 mm: none is safe"),
    ],
)
def test_the_leg_goes_six_into_the_wood_and_stays_three_short_of_the_other_side(through, rail, leg):
    chosen = staple_leg(through=through, rail=rail)
    assert chosen.leg == leg
    if leg is None:
        assert "no staple holds" in chosen.words


@pytest.mark.parametrize(
    "call",
    [
        lambda: staple_plan(SQUARE, pitch=2),
        lambda: staple_plan(SQUARE, pitch=16, order="as it comes"),
        lambda: staple_plan(Board(40, 40, 5).outline, pitch=16),
        lambda: staple_leg(through=-1, rail=18),
        lambda: staple_leg(through=2, rail=0),
    ],
)
def test_what_cannot_be_stapled_is_refused(call):
    with pytest.raises(BadInput):
        call()


def test_boxes_are_rounded_up():
    assert [boxes_for(n) for n in (1, 1000, 1001)] == [1, 1, 2]


@given(st.floats(0.2, 9), st.floats(6, 60))
def test_the_leg_holds_the_folded_cloth_and_never_comes_near_the_face(thickness, rail):
    through = through_cloth(thickness)
    choice = staple_leg(through=through, rail=rail)
    into_wood = [leg - through for leg in LEGS]
    if choice.leg is None:
        assert not [deep for deep in into_wood if 6 <= deep <= rail - 3]
    else:
        assert 6 <= choice.leg - through <= rail - 3
        assert through == pytest.approx(2 * thickness + 0.5)


def test_a_dozen_hold_it_for_now_and_the_bottom_cloth_has_its_own_pitch():
    assert [temporary_staples(n) for n in (0, 7, 12, 64)] == [0, 7, 12, 12]
    assert bottom_staples(SQUARE) == round(4 * 370 / 45) == 33
    assert bottom_staples(SQUARE, rules_of({"pitch_bottom": 40})) == 37
