"""Edges of cut-outs round legs: told from those of a side, stapled with the corners; by hand, and for any."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.fasten.rails import edges_of_cut_outs, held_edges, rail_plan
from zonatome.core.trace.by_tape import rectangle_shape
from zonatome.core.trace.shape import shape_of
from zonatome.core.trim.bottom import Leg, bottom_cloth, cut_round, mirrored

TURNED = dict.fromkeys(("top", "right", "bottom", "left"), "turned_under")


def notched(width: float, depth: float, leg: float):
    """A bottom cloth cut round square legs that stand flush with its corners."""
    legs = mirrored(Leg(leg / 2, leg / 2, leg, leg), width, depth)
    finished = cut_round(bottom_cloth(width, depth), legs).finished
    return shape_of("Bottom cloth", finished, finished.corners(), TURNED)


def test_by_hand_four_legs_of_50_under_520_by_500():
    """Twelve edges: four of 420 and 400, eight of 40; those eight are stapled last, one each, two a corner."""
    shape = notched(520, 500, 50)
    assert len(shape.edges) == 12
    cut_out = edges_of_cut_outs(shape)
    assert len(cut_out) == 8
    assert {round(shape.edge_length(n)) for n in cut_out} == {40}
    edges = held_edges(shape, stands=False)
    assert [edge.is_last for edge in edges].count(True) == 8
    plan = rail_plan(edges, pitch=45)
    first = plan.staples[0]
    assert (round(first.x), first.at_corner) == (260, False), "the middle of a long edge"
    last = [s.at_corner for s in plan.staples]
    assert last == sorted(last), "what lies round the legs comes with the corners, last"


def test_by_hand_a_plain_panel_has_no_cut_out():
    shape = rectangle_shape("Seat", 560, 180, TURNED)
    assert edges_of_cut_outs(shape) == frozenset()
    assert not any(edge.is_last for edge in held_edges(shape))


@given(st.floats(300, 900), st.floats(300, 900), st.floats(45, 70), st.sampled_from([40, 45, 50]))
def test_no_staple_round_a_leg_comes_before_one_of_a_long_edge_and_all_lie_on_the_cloth(width, depth, leg, pitch):
    shape = notched(width, depth, leg)
    cut_out = edges_of_cut_outs(shape)
    longest = max(shape.edge_length(n) for n in range(len(shape.edges)))
    assert all(shape.edge_length(n) < longest / 2 for n in cut_out)
    assert len(cut_out) == 8
    plan = rail_plan(held_edges(shape, stands=False), pitch=pitch)
    corners = [s.at_corner for s in plan.staples]
    assert corners == sorted(corners)
    x0, y0, x1, y1 = shape.outline.bounds
    notch = leg - 10 - 6  # beside the line by 5
    for s in plan.staples:
        if min(abs(s.x - x0), abs(s.x - x1)) < notch and min(abs(s.y - y0), abs(s.y - y1)) < leg:
            assert s.at_corner, "round a leg"
    inside = shape.outline.polygon.buffer(0.5)
    for staple in plan.staples:
        assert inside.contains(inside.__class__([(staple.x - 0.1, staple.y - 0.1), (staple.x + 0.1, staple.y - 0.1),
                                                 (staple.x, staple.y + 0.1)]))  # fmt: skip


@pytest.mark.parametrize("orders", ["cross first", "one side whole"])
def test_each_order_leaves_the_legs_for_last(orders):
    plan = rail_plan(held_edges(notched(520, 500, 60), stands=False), pitch=40, order=orders)
    corners = [s.at_corner for s in plan.staples]
    assert corners.index(True) >= corners.count(False) - 1
