"""What can come off, what lies over it, and the way back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.strip.order import can_come_off, lying_over, minutes_to_strip, rebuild_order, staples_in, taken_off, usual_order
from zonatome.core.survey.kind import Kind, Part
from zonatome.core.survey.kinds import KINDS, SQUARE_STOOL, WING

EVERY_KIND = pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)


@EVERY_KIND
def test_the_usual_order_takes_everything_off_and_never_from_under_something(kind):
    order = usual_order(kind)
    assert sorted(order) == sorted(p.key for p in kind.parts)
    for under, over in kind.over:
        assert order.index(over) < order.index(under), f"{under} came off from under {over}"


@EVERY_KIND
@given(data=st.data())
def test_any_order_that_the_graph_allows_ends_with_everything_off(kind, data):
    off: tuple[str, ...] = ()
    while len(off) < len(kind.parts):
        ready = can_come_off(kind, off)
        assert ready, "stuck with parts still on"
        off = taken_off(kind, off, data.draw(st.sampled_from(ready)))
    assert rebuild_order(kind, off) == off[::-1]


def test_a_square_stool_comes_apart_from_below():
    assert usual_order(SQUARE_STOOL) == ("screws", "bottom_cloth", "seat")


def test_the_wing_chair_begins_with_feet_cushion_and_bottom_cloth():
    assert usual_order(WING)[:3] == ("feet", "cushion", "bottom_cloth")


def test_what_lies_over_a_part_is_named_and_refused():
    assert lying_over(SQUARE_STOOL, "seat", ()).under == ("bottom_cloth",)
    with pytest.raises(BadInput, match="bottom cloth to come off first"):
        taken_off(SQUARE_STOOL, ("screws",), "seat")
    with pytest.raises(BadInput, match="is off"):
        taken_off(SQUARE_STOOL, ("screws",), "screws")
    with pytest.raises(BadInput, match="one of"):
        taken_off(SQUARE_STOOL, (), "antler")


def test_parts_that_lie_over_each_other_in_a_circle_are_refused():
    circle = Kind("knot", "Knot", (Part("a", "A", "a"), Part("b", "B", "b")), (("a", "b"), ("b", "a")), ())
    with pytest.raises(BadInput, match="circle"):
        usual_order(circle)


def test_staples_are_the_edge_over_the_pitch():
    seat = SQUARE_STOOL.part("seat")  # 370 x 370: an edge of 1480
    assert staples_in(seat, pitch=20) == 74
    assert staples_in(SQUARE_STOOL.part("screws")) == 0


def test_time_is_the_staples_over_the_pace():
    seat = SQUARE_STOOL.part("seat")
    assert minutes_to_strip(seat, pitch=20, staples_a_minute=37) == pytest.approx(2 + 2)
    with pytest.raises(BadInput, match="a pace above 0"):
        minutes_to_strip(seat, staples_a_minute=0)
