"""The bottom cloth cut round its legs, and the strips and folds of a skirt: by hand, and for any."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point, Polygon

from zonatome.core.errors import BadInput
from zonatome.core.formats.trim_json import read_legs, read_skirt, write_legs, write_skirt
from zonatome.core.joins import JOINS, SHORT_OF_LINE
from zonatome.core.trace.shape import Shape
from zonatome.core.trim.bottom import Leg, bottom_cloth, bottom_shape, cut_round, mirrored
from zonatome.core.trim.skirt import SEAM, SkirtAsk, skirt_strips

AROUND = JOINS["turned_under"].adds


def test_by_hand_square_legs_at_the_corners_of_an_underside_of_520_by_500():
    """Legs of 50 flush with its corners: finished from 10 in, so a notch of 40 at each; the cut line 25 outside, and 15
    inside each leg: from -15 to 35. One snip a leg, from (35, 35) toward (50, 50), 5 short of it.
    """
    cut = cut_round(bottom_cloth(520, 500), mirrored(Leg(25, 25, 50, 50), 520, 500))
    assert cut.finished.area == pytest.approx(500 * 480 - 4 * 40 * 40)
    assert cut.cut.area == pytest.approx(550 * 530 - 4 * 50 * 50)
    assert (35.0, -15.0) in cut.cut.points and (35.0, 35.0) in cut.cut.points  # noqa: PT018
    assert (cut.finished_holes, cut.cut_holes, cut.ways_in, cut.round_holes) == ((), (), (), 0)
    assert len(cut.snips) == 4
    begin, end = min(cut.snips)
    assert begin == (35, 35)
    assert math.dist(end, (50, 50)) == pytest.approx(5)


def test_by_hand_a_round_leg_inside_and_one_too_thin_for_a_hole():
    """A leg of 45 at (80, 90): a hole of 15 and 2 pi 7.5, snips of 15 - 5 = 10 all round, a way in from the left edge
    at -15 to the hole at 72.5. A leg of 25 has no hole: snips from its middle of 12.5 - 5.
    """
    bottom = bottom_cloth(520, 500)
    cut = cut_round(bottom, [Leg(80, 90, 45)])
    assert cut.cut_holes[0].area == pytest.approx(math.pi * 7.5**2, rel=0.08)  # it is drawn in steps
    assert cut.round_holes == pytest.approx(math.pi * 45, rel=0.01)
    assert [math.dist(*snip) for snip in cut.snips] == pytest.approx([10] * 8)
    ((a, b),) = cut.ways_in
    assert (a, b) == ((-15, pytest.approx(90, abs=1)), (pytest.approx(72.5, abs=0.2), pytest.approx(90, abs=1)))
    thin = cut_round(bottom, [Leg(80, 90, 25)])
    assert (len(thin.finished_holes), thin.cut_holes) == (1, ())
    assert [math.dist(*snip) for snip in thin.snips] == pytest.approx([7.5] * 8)


legs = st.builds(Leg, st.floats(0, 520), st.floats(0, 500), st.floats(10, 90), st.one_of(st.none(), st.floats(10, 90)))


@given(legs, st.booleans(), st.booleans())
def test_no_cloth_lies_under_a_leg_and_each_snip_stops_short_of_the_fold(leg, everywhere, is_round):
    bottom = bottom_cloth(520, 520 if is_round else 500, is_round=is_round)
    feet = mirrored(leg, 520, 520 if is_round else 500) if everywhere else (leg,)
    try:
        cut = cut_round(bottom, feet)
    except BadInput:
        assume(False)
    finished = Polygon(cut.finished.points, [hole.points for hole in cut.finished_holes])
    cloth = Polygon(cut.cut.points, [hole.points for hole in cut.cut_holes])
    assert finished.is_valid and cloth.is_valid  # noqa: PT018
    assert finished.difference(cloth).area < 1e-6, "what stays is cut"
    for foot in feet:
        assert finished.intersection(foot.outline.polygon.buffer(-0.01)).area < 1e-3  # an outline's own nicety, in mm
    fold = finished.boundary
    for begin, end in cut.snips:
        foot = min(feet, key=lambda f: math.dist((f.x, f.y), begin))
        near = Point(end).distance(foot.outline.polygon.exterior)
        way = [min(AROUND, side / 2) for side in (foot.width, foot.depth or foot.width)]
        aslant = 1.0 if foot.depth is None else min(way) / math.hypot(*way)  # toward a corner it runs along both sides
        assert near == pytest.approx(SHORT_OF_LINE * aslant, abs=0.3)
        assert not LineString([begin, end]).crosses(fold)
    for begin, end in cut.ways_in:
        assert Point(begin).distance(cloth.exterior) < 1e-6
        assert not finished.covers(Point(end))
    assert isinstance(bottom_shape(cut), Shape)
    assert read_legs(write_legs(feet)) == feet


def test_legs_at_every_corner_are_four_two_on_a_middle_line_one_in_the_middle():
    for at, count in (((40, 40), 4), ((260, 40), 2), ((260, 250), 1)):
        assert len(mirrored(Leg(*at, 30), 520, 500)) == count


@pytest.mark.parametrize(("feet", "words"), [
    ([Leg(900, 40, 40)], "beside the underside"),
    ([Leg(260, 250, 300, 40), *(Leg(x, 250, 300, 40) for x in (10, 510))], "into pieces"),
    ([Leg(40, 40, 20)] * 13, "at most 12"),
])  # fmt: skip
def test_legs_that_no_bottom_cloth_goes_round_are_refused(feet, words):
    with pytest.raises(BadInput) as refused:
        cut_round(bottom_cloth(520, 500), feet)
    assert words in refused.value.told


@pytest.mark.parametrize("wrong", ["legs", [7], [{"x": 1, "y": 1, "width": 3}], [{"x": 1, "y": 1}], [{}] * 13])
def test_legs_with_an_odd_value_are_refused(wrong):
    with pytest.raises(BadInput):
        read_legs(wrong)


def test_by_hand_where_a_skirt_of_560_by_460_is_folded():
    """It begins in the middle of a pleat: 13 of seam, 75 to its fold, 75 to where the first side begins, 560 on its
    end, 75 behind it; then 4 times 75 lie in the next pleat.
    """
    made = SkirtAsk((560.0, 460.0, 560.0, 460.0), 150.0).made()
    assert made.folds[:5] == (88, 163, 723, 798, 13 + 300 + 560 + 75)
    assert len(made.folds) == 16
    assert made.folds[-1] + 75 + SEAM == made.cloth[0]


sides = st.lists(st.floats(60, 2000), min_size=1, max_size=6).map(tuple)


@given(
    sides,
    st.floats(40, 400),
    st.sampled_from(["kick", "box"]),
    st.booleans(),
    st.floats(200, 1600),
    st.just(0.0) | st.floats(1, 700),
)
def test_a_skirt_s_folds_leave_its_sides_and_its_strips_make_it(around, drop, sort, lined, width, repeat):
    ask = SkirtAsk(around, drop, sort, lined=lined)
    made = ask.made()
    assert list(made.folds) == sorted(made.folds)
    assert len(made.folds) == 4 * made.pleats
    faces = [b - a for a, b in itertools.pairwise((0.0, *made.folds))][2::4]
    if sort == "kick":
        assert faces == pytest.approx(list(around)), "each side lies flat between its pleats"
    else:
        assert sum(faces) == pytest.approx(made.run), "the faces alone are seen"
    cut = skirt_strips(made.cloth, width, repeat=repeat)
    assert cut.length <= width + 1e-6
    assert cut.count * cut.length - (cut.count - 1) * 2 * SEAM == pytest.approx(made.cloth[0])
    assert cut.run >= cut.count * made.cloth[1] - 1e-6
    if repeat > 0:
        assert (cut.run / cut.count / repeat) == pytest.approx(round(cut.run / cut.count / repeat))
    assert read_skirt(write_skirt(ask)) == ask


@pytest.mark.parametrize("wrong", [
    "skirt", {}, {"sides": [500]}, {"sides": [500], "drop": 5}, {"sides": [500], "drop": 100, "sort": "frill"},
    {"sides": [500], "drop": 100, "lined": "yes"}, {"sides": ["x"], "drop": 100}, {"sides": [9] * 41, "drop": 100},
])  # fmt: skip
def test_a_skirt_with_an_odd_value_is_refused(wrong):
    with pytest.raises(BadInput):
        read_skirt(wrong)
