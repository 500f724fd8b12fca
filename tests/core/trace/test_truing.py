"""Truing: the fold test, circle and straight sides, right angles, stretch; and mending by hand."""

import contextlib
import math
import random
from dataclasses import replace

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.awkward import stars
from zonatome.core.errors import BadInput
from zonatome.core.outline import outline_of, rectangle
from zonatome.core.tolerances import CURVE
from zonatome.core.trace.by_tape import (
    disc_shape,
    ellipse_shape,
    rectangle_shape,
    rounded_shape,
    t_shape,
    trapezoid_shape,
)
from zonatome.core.trace.mend import corner_pulled, cut_off, rounded_at, straight_between
from zonatome.core.trace.shape import Mark, Match, shape_of
from zonatome.core.trace.truing import (
    angles,
    bows,
    circle_of,
    fold,
    halved,
    made_round,
    squared,
    stood_upright,
    straightened,
    unstretched,
)

SEWN = {"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}


def turned(shape, degrees):
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return shape.moved_by(lambda p: (c * p[0] - s * p[1], s * p[0] + c * p[1]))


def is_even(outline, within=1e-6):
    x0, _, x1, _ = outline.bounds
    image = outline_of([(x0 + x1 - x, y) for x, y in outline.points])
    return image.polygon.hausdorff_distance(outline.polygon) < within


@given(st.floats(250, 700), st.floats(0.6, 0.95), st.floats(250, 700), st.floats(-12, 12))
def test_an_even_cover_lying_askew_is_found_and_stood_upright(bottom, taper, height, degrees):
    shape = trapezoid_shape("Back", bottom, bottom * taper, height, SEWN)
    found = fold(turned(shape, degrees).outline)
    assert found.mean < 0.6
    if abs(degrees) > 0.5:
        assert found.degrees == pytest.approx(degrees, abs=0.4)
    upright = stood_upright(turned(shape, degrees), found.degrees)
    assert upright.outline.width == pytest.approx(bottom, abs=0.02 * height)
    assert [e.side for e in upright.edges] == ["bottom", "right", "top", "left"]


def test_a_round_one_is_not_turned_and_its_halves_are_the_same():
    for shape in (disc_shape("Top", 400, {}), ellipse_shape("Top", 500, 330, {})):
        found = fold(shape.outline)
        assert found.degrees == 0
        assert found.most < 0.4


@given(st.integers(4, 40), st.sampled_from(["left", "right", "average"]))
def test_a_stretched_corner_is_reported_and_either_half_makes_it_even(out, take):
    even = trapezoid_shape("Back", 520, 470, 600, SEWN)
    points = list(even.outline.points)
    points[1] = (points[1][0] + out, points[1][1])  # the lower right corner has been pulled out
    shape = replace(even, outline=outline_of(points), matches=(Match("b", 100.0),))
    found = fold(shape.outline, ((260, 0), (260, 600)))
    assert found.most == pytest.approx(out, abs=0.15 * out + 0.3)
    assert found.fuller == "right"
    made = halved(shape, found, take)
    assert is_even(made.outline)
    assert sorted((e.name, e.join) for e in made.edges) == sorted((e.name, e.join) for e in shape.edges)
    wide = {"left": 520, "right": 520 + 2 * out, "average": 520 + out}[take]
    assert made.outline.width == pytest.approx(wide, abs=0.01)
    assert len(made.outline.points) == 4
    assert len(made.matches) == 1


@given(stars(), st.sampled_from(["left", "right"]))
def test_a_half_mirrored_is_even_on_any_outline_or_refused_in_words(outline, take):
    shape = shape_of("Odd", outline, range(len(outline.points)), {})
    x0, y0, x1, y1 = outline.bounds
    made = None
    with contextlib.suppress(BadInput):  # a centre line that cuts it more than twice
        made = halved(shape, fold(outline, (((x0 + x1) / 2, y0), ((x0 + x1) / 2, y1))), take)
    assume(made is not None)
    assert made.outline.polygon.is_valid
    assert is_even(made.outline, 1e-5)


def test_a_shape_meant_to_be_lopsided_is_left_and_not_complained_of():
    shape = replace(
        shape_of("Odd", outline_of([(0, 0), (400, 0), (450, 300), (0, 380)]), (0, 1, 2, 3), SEWN), lopsided=True
    )
    assert shape.halves_differ == 0
    with pytest.raises(BadInput, match="lopsided"):
        halved(shape, fold(shape.outline), "left")


@given(st.floats(100, 900), st.integers(0, 10**6))
def test_a_ragged_disc_gets_its_circle_back(diameter, seed):
    chance = random.Random(seed)
    ring = [
        (
            diameter / 2 * math.cos(k / 90 * math.tau) + chance.uniform(-1, 1),
            diameter / 2 * math.sin(k / 90 * math.tau) + chance.uniform(-1, 1),
        )
        for k in range(90)
    ]
    found = circle_of(outline_of(ring))
    assert 2 * found.radius == pytest.approx(diameter, abs=1.2)
    assert found.most < 2.2
    made = made_round(shape_of("Top", outline_of(ring), (0,), {"bottom": "stapled_under"}))
    assert made.outline.width == pytest.approx(2 * found.radius, abs=0.01)
    assert made.edges[0].join == "stapled_under"


def test_straightness_and_right_angles_are_told_and_mended():
    shape = shape_of("Seat", outline_of([(0, 0), (250, -4), (500, 0), (506, 400), (2, 404)]), (0, 2, 3, 4), SEWN)
    assert {b.edge: round(b.by, 1) for b in bows(shape)} == {"a": 4.0, "b": 0.0, "c": 0.0, "d": 0.0}
    straight = straightened(shape, "a")
    assert len(straight.outline.points) == 4
    assert {b.by for b in bows(straight)} == {0.0}
    assert [round(a.degrees) for a in angles(rectangle_shape("R", 300, 200, SEWN))] == [90, 90, 90, 90]
    assert sum(a.degrees for a in angles(straight)) == pytest.approx(360)
    made = squared(straight)
    assert (
        made.outline.points
        == outline_of(
            [(0, 0), (made.outline.width, 0), (made.outline.width, made.outline.height), (0, made.outline.height)]
        ).points
    )
    assert made.outline.width == pytest.approx((500 + 504) / 2, abs=0.1)
    assert [e.join for e in made.edges] == ["stapled_under", "sewn", "sewn", "sewn"]
    with pytest.raises(BadInput, match="right angle"):
        squared(trapezoid_shape("T", 500, 300, 300, SEWN))


def test_stretch_is_taken_back_across_and_along_and_only_in_reason():
    shape = rectangle_shape("Vinyl", 500, 400, SEWN)
    marked = replace(shape, marks=(Mark("button", ((250, 200),)),), matches=(Match("a", 100),))
    made = unstretched(marked, 4, 0)
    assert (made.outline.width, made.outline.height) == (480, 400)
    assert made.marks[0].points == ((240, 200),)
    assert made.matches[0].along == pytest.approx(96)
    with pytest.raises(BadInput, match="per cent"):
        unstretched(shape, 40, 0)


# --- by hand


@given(st.floats(5, 90), st.floats(120, 600), st.floats(120, 600))
def test_a_rounded_corner_touches_both_sides_and_takes_away_what_an_arc_takes(radius, width, height):
    radius = min(radius, width / 2, height / 2)
    made = rounded_at(rectangle(width, height), 2, radius)
    assert made.polygon.is_valid
    straight_steps = (
        math.pi / 2 * radius * CURVE * 2 / 3
    )  # each step leaves the arc by no more than its tolerance, two thirds of it on the mean
    assert width * height - made.area == pytest.approx((1 - math.pi / 4) * radius**2, abs=straight_steps + 1)
    assert made.bounds == pytest.approx((0, 0, width, height))
    with pytest.raises(BadInput, match="radius"):
        rounded_at(rectangle(width, height), 2, max(width, height) + 10)


def test_an_inner_corner_is_rounded_inward_too():
    made = rounded_at(t_shape("T", 500, 400, 300, 100, SEWN).outline, 3, 40)
    assert made.area - (500 * 100 + 300 * 300) == pytest.approx((1 - math.pi / 4) * 1600, rel=0.05)


@given(st.floats(4, 14), st.floats(-8, 8))
def test_a_worn_corner_is_pulled_out_to_where_its_sides_meet(radius, lean):
    sharp = outline_of([(0, 0), (400, 0), (400 + lean, 300), (0, 300)])
    worn = rounded_at(sharp, 1, radius)
    nearest = min(range(len(worn.points)), key=lambda i: math.dist(worn.points[i], (400, 0)))
    made = corner_pulled(worn, nearest)
    assert min(math.dist(p, (400, 0)) for p in made.points) < 0.2
    assert made.area == pytest.approx(sharp.area, rel=1e-3)


def test_a_line_cuts_the_smaller_part_off_and_a_stretch_becomes_straight():
    assert cut_off(rectangle(400, 300), (0, 250), (400, 280)).area == pytest.approx(400 * 265)
    bumpy = outline_of([(0, 0), (100, 6), (200, -3), (400, 0), (400, 300), (0, 300)])
    assert straight_between(bumpy, 0, 3).points == rectangle(400, 300).points
    assert straight_between(bumpy, 3, 0).area == pytest.approx(400 * 300)
    for wrong in (
        lambda: cut_off(rectangle(400, 300), (500, 0), (500, 300)),
        lambda: straight_between(bumpy, 0, 1),
        lambda: corner_pulled(bumpy, 40),
    ):
        with pytest.raises(BadInput):
            wrong()


def test_a_shape_keeps_its_edges_on_an_outline_of_the_same_form():
    shape = rounded_shape("Seat", 500, 400, 60, SEWN)
    moved = outline_of([(x * 1.01, y * 0.99) for x, y in shape.outline.points[7:] + shape.outline.points[:7]])
    made = shape.with_outline(moved)
    assert [(e.name, e.join, e.side) for e in made.edges] == [(e.name, e.join, e.side) for e in shape.edges]
    for n in range(4):
        assert made.edge_length(n) == pytest.approx(shape.edge_length(n), rel=0.05)


@given(stars(), st.data())
def test_an_edge_parted_and_joined_again_is_as_before_and_the_cut_line_with_it(outline, data):
    shape = shape_of("Odd", outline, range(len(outline.points)), SEWN)
    edge = data.draw(st.sampled_from(shape.edges))
    length = shape.edge_length(shape.number_of(edge.name))
    notched = replace(shape, matches=(Match(edge.name, length * 0.25), Match(edge.name, length * 0.75)))
    parted = notched.edge_parted(edge.name, data.draw(st.floats(0.3, 0.7)) * length)
    assert len(parted.edges) == len(shape.edges) + 1
    assert sum(parted.edge_length(n) for n in range(len(parted.edges))) == pytest.approx(outline.perimeter)
    assert parted.cut_line.area == pytest.approx(
        shape.cut_line.area, abs=0.002 * shape.cut_line.perimeter
    )  # a cut line is thinned by 1 µm
    for one, other in zip(notched.notches, parted.notches, strict=True):
        assert one.at == pytest.approx(other.at, abs=1e-6)
    again = parted.edges_joined(edge.name)
    assert [(e.name, e.join) for e in again.edges] == [(e.name, e.join) for e in shape.edges]
    assert again.edge_length(again.number_of(edge.name)) == pytest.approx(length)
    assert sorted(m.along for m in again.matches) == pytest.approx(sorted(m.along for m in notched.matches))
    with pytest.raises(BadInput, match="along"):
        shape.edge_parted(edge.name, length + 5)


def test_edges_of_a_round_shape_are_parted_at_will_and_joined_to_one():
    disc = disc_shape("Top", 400, SEWN)
    halves = disc.edge_parted("a", 300).edge_parted("b", 400)
    assert [e.name for e in halves.edges] == ["a", "b", "c"]
    assert halves.edges_joined("a").edges_joined("a").edge_length(0) == pytest.approx(disc.edge_length(0))
    with pytest.raises(BadInput, match="more than one edge"):
        disc.edges_joined("a")
    assert halves.facing("b", "left").edges[1].side == "left"
