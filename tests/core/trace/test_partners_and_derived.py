"""Seam partners, shapes derived from others, flies, channels, cushions, and whether a set is ready to cut."""

import itertools
import math
from dataclasses import replace

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import Point

from tests.core.awkward import stars
from zonatome.core.errors import BadInput
from zonatome.core.outline import outline_of
from zonatome.core.survey.kind import ButtonGrid, Kind, Meeting, Part
from zonatome.core.survey.kinds import KINDS
from zonatome.core.survey.restyle import button_travel
from zonatome.core.trace.by_tape import (
    Board,
    disc_shape,
    ellipse_shape,
    off_the_board,
    offsets_shape,
    rectangle_shape,
    rounded_shape,
    t_shape,
    trapezoid_shape,
)
from zonatome.core.trace.derived import SORTS, band_from_edge, box_cushion, cushion_of, perimeter, side_length
from zonatome.core.trace.partners import AGREES, mended, seams_of, walk
from zonatome.core.trace.ready import pair_apart, readiness
from zonatome.core.trace.restyled import PAST_TUCK, ROUNDED, buttoned_shape, channelled, with_fly
from zonatome.core.trace.shape import Match, shape_of
from zonatome.core.trace.usual import usual_shape

SEWN = {"top": "sewn", "right": "sewn", "bottom": "sewn", "left": "sewn"}
UNDER = {**SEWN, "bottom": "stapled_under"}
TWO = Kind(
    "two",
    "Two",
    (Part("a", "Back", "back"), Part("b", "Side", "side")),
    (),
    (),
    meets=(Meeting("a", "right", "b", "left", "sewn"),),
)
PAIR = Kind(
    "pair",
    "Pair",
    (Part("arm_left", "Arm, left", "L", mirror="arm_right"), Part("arm_right", "Arm, right", "R", mirror="arm_left")),
    (),
    (),
)
any_shape = st.one_of(
    stars().map(lambda o: shape_of("Odd", o, range(len(o.points)), SEWN)),
    st.builds(lambda w, h: ellipse_shape("Round", w, h, SEWN), st.floats(150, 900), st.floats(150, 900)),
    st.builds(
        lambda w, h, r: rounded_shape("Rounded", w, h, r, SEWN),
        st.floats(200, 900),
        st.floats(200, 900),
        st.floats(10, 90),
    ),
    st.builds(lambda w, h: t_shape("T", w, h, w - 100, h / 4, SEWN), st.floats(300, 800), st.floats(300, 800)),
)


# --- seams


@given(
    st.floats(200, 900), st.floats(-60, 60), st.floats(0, 0.02), st.sampled_from(["length of one", "length of other"])
)
def test_a_seam_s_lengths_are_compared_less_the_ease_and_one_press_mends_them(height, more, ease, mend):
    back = rectangle_shape("Back", 400, height, SEWN)
    side = rectangle_shape("Side", 200, height + more, SEWN)
    side = replace(side, edges=tuple(replace(e, ease=ease) if e.side == "left" else e for e in side.edges))
    shapes = {"a": back, "b": side}
    lengths = [f for f in seams_of(TWO, shapes)[0].findings if f.what == "length"]
    over = more - ease * (height + more) if more > 0 else -more
    assume(abs(over - AGREES) > 1e-6)
    if over < AGREES:
        assert not lengths
    else:
        assert lengths[0].by == pytest.approx(over, abs=0.01)
        seam = seams_of(TWO, shapes)[0]
        after = shapes | mended(seam, shapes, mend)
        assert not [f for f in seams_of(TWO, after)[0].findings if f.what == "length"]
        changed, kept = ("a", "b") if mend == "length of one" else ("b", "a")
        assert after[kept] is shapes[kept]
        wanted = after[kept].edge_length(1 if kept == "a" else 3)
        assert after[changed].edge_length(1) == pytest.approx(wanted, abs=0.05)
        assert after[changed].edge_length(3) == pytest.approx(wanted, abs=0.05), "an even shape stays even"
        assert after[changed].halves_differ < 0.6


def test_notches_are_offered_copied_and_measured_from_the_same_end_of_the_seam():
    shapes = {"a": rectangle_shape("Back", 400, 500, SEWN), "b": rectangle_shape("Side", 200, 500, SEWN)}
    seam = seams_of(TWO, shapes)[0]
    assert [f.words for f in seam.findings] == ["No matching notches on either"]
    shapes |= mended(seam, shapes, "new notches")
    assert seams_of(TWO, shapes)[0].agrees
    single = next(m for m in shapes["a"].matches if not m.is_double)
    assert single.along < 250, "single toward the front, which is the lower end"
    moved = tuple(replace(m, along=m.along + 9) for m in shapes["b"].matches)
    off = shapes | {"b": replace(shapes["b"], matches=moved)}
    finding = seams_of(TWO, off)[0].findings[0]
    assert finding.by == pytest.approx(9)
    for mend in ("notches of one", "notches of other"):
        assert seams_of(TWO, off | mended(seams_of(TWO, off)[0], off, mend))[0].agrees
    fewer = shapes | {"b": replace(shapes["b"], matches=shapes["b"].matches[:1])}
    assert "2 notches, side 1 notch" in seams_of(TWO, fewer)[0].findings[0].words
    with pytest.raises(BadInput, match="mend"):
        mended(seams_of(TWO, shapes)[0], shapes, "length of one")


def test_a_side_sewn_to_two_partners_is_compared_with_both_together():
    kind = Kind(
        "three", "Three", (Part("top", "Top", "top"), Part("l", "Left end", "l"), Part("r", "Right end", "r")), (), (),
        meets=(Meeting("top", "bottom", "l", "top", "sewn"), Meeting("top", "bottom", "r", "top", "sewn")),
    )  # fmt: skip
    shapes = {
        "top": rectangle_shape("Top", 900, 400, SEWN),
        "l": rectangle_shape("Left end", 400, 90, SEWN),
        "r": rectangle_shape("Right end", 480, 90, SEWN),
    }
    seam = seams_of(kind, shapes)[0]
    assert seam.findings[0].by == pytest.approx(20)
    assert seam.end_words("metric") == "Then 500 mm of top is left for its next partner."
    assert seams_of(kind, shapes | mended(seam, shapes, "length of one"))[0].agrees


def test_mending_one_side_of_a_lopsided_shape_leaves_what_lies_opposite():
    odd = shape_of("Side", outline_of([(0, 0), (200, 0), (230, 470), (0, 520)]), (0, 1, 2, 3), SEWN)
    shapes = {"a": rectangle_shape("Back", 400, 500, SEWN), "b": odd}
    seam = seams_of(TWO, shapes)[0]
    after = mended(seam, shapes, "length of other")["b"]
    assert after.edge_length(3) == pytest.approx(500, abs=0.01)
    assert after.edge_length(1) == pytest.approx(odd.edge_length(1), abs=0.01)


@pytest.mark.parametrize(
    ("back", "side", "units", "words"),
    [
        pytest.param(600, 598.5, "metric", "Both end together.", id="as two readings of a tape"),
        pytest.param(612, 600, "metric", "Then 12 mm of back is left over.", id="the first is longer"),
        pytest.param(600, 625.4, "imperial", "Then 1 in of side is left over.", id="its partner is longer, in inches"),
    ],
)
def test_what_a_walk_leaves_over_is_said(back, side, units, words):
    shapes = {"a": rectangle_shape("Back", 400, back, SEWN), "b": rectangle_shape("Side", 200, side, SEWN)}
    assert seams_of(TWO, shapes)[0].end_words(units) == words


def test_a_machine_runs_once_along_a_seam_of_two_panels():
    top = rectangle_shape("Top", 400, 300, SEWN)
    assert top.sewn_length == pytest.approx(700)
    held = replace(top, edges=tuple(replace(e, join="stapled_under") for e in top.edges[:2]) + top.edges[2:])
    assert held.sewn_length == pytest.approx(350)


def test_no_seam_is_silent_and_what_is_partly_sewn_is_partly_compared():
    shapes = {"a": rectangle_shape("Back", 400, 600, SEWN), "b": rectangle_shape("Side", 200, 350, SEWN)}
    assert seams_of(TWO, shapes)[0].findings[0].by == pytest.approx(250), "600 sewn to 350 is a difference, not a part"
    unsewn = replace(shapes["b"], edges=tuple(replace(e, join="card_strip") for e in shapes["b"].edges))
    assert "side has no sewn edge there" in seams_of(TWO, shapes | {"b": unsewn})[0].why_not
    cushion = KINDS["armchair"]
    made = {p.key: usual_shape(p) for p in cushion.panels}
    wider = made | {"cushion_boxing": rectangle_shape("Cushion boxing", 1480, 110, SEWN)}
    wrong = {s.key: s.findings[0].by for s in seams_of(cushion, wider) if [f for f in s.findings if f.what == "length"]}
    assert wrong == {
        "cushion_boxing.top-cushion_top.right": pytest.approx(40),
        "cushion_boxing.bottom-cushion_bottom.right": pytest.approx(40),
    }
    deeper = rectangle_shape("Cushion top", 540, 600, SEWN)  # boxing of both sides takes what the zip leaves of them
    found = next(s for s in seams_of(cushion, made | {"cushion_top": deeper}) if s.key.startswith("cushion_boxing.top"))
    assert found.findings[0].by == pytest.approx(120)
    lone = {k: v for k, v in made.items() if k != "cushion_zip_upper"}
    assert any("has no shape" in s.why_not for s in seams_of(cushion, lone))


@given(st.floats(200, 800), st.floats(200, 800), st.floats(-80, 80))
def test_a_walk_keeps_touching_and_parts_at_the_end_by_the_difference(height, width, lean):
    curved = offsets_shape("Back", [(0, 200, 200 + lean), (height / 2, 200, 230), (height, 200, 200 - lean / 2)], SEWN)
    shapes = {"a": curved, "b": rectangle_shape("Side", width, height, SEWN)}
    seam = seams_of(TWO, shapes)[0]
    steps = walk(seam)
    assert steps[0].along == 0
    assert steps[-1].along == pytest.approx(min(seam.one.length, seam.other.length))
    for step in steps:
        c, s = math.cos(math.radians(step.degrees)), math.sin(math.radians(step.degrees))
        left, where = step.along, None
        back = seam.other.points[::-1]
        for (ax, ay), (bx, by) in itertools.pairwise(back):
            length = math.dist((ax, ay), (bx, by))
            where = (ax + (bx - ax) * min(1, left / length), ay + (by - ay) * min(1, left / length))
            if left <= length + 1e-9:
                break
            left -= length
        laid = (c * where[0] - s * where[1] + step.x, s * where[0] + c * where[1] + step.y)
        assert curved.outline.polygon.exterior.distance(Point(laid)) < 1e-6


# --- derived


@given(any_shape, st.floats(40, 150))
def test_boxing_and_zip_strip_together_are_as_long_as_the_edge_they_go_round(top, height):
    assume(any(e.side == "top" for e in top.edges) or len(top.edges) == 1)
    cushion = box_cushion(top, height)
    by_name = {p.shape.name: p for p in cushion.pieces}
    boxing, half = by_name["Cushion boxing"], by_name["Zip strip, half"]
    assert boxing.shape.outline.width * boxing.count + half.shape.outline.width == pytest.approx(perimeter(top))
    assert boxing.shape.outline.width <= 2000
    assert half.shape.outline.height * 2 == pytest.approx(boxing.shape.outline.height)
    assert half.shape.cut_line.height == pytest.approx(height / 2 + 13 + 22)
    assert boxing.shape.cut_line.width == pytest.approx(boxing.shape.outline.width + 26), "plus its seams"
    assert pair_apart(by_name["Cushion top"].shape, by_name["Cushion bottom"].shape) < 1e-6
    assert cushion.welt == pytest.approx(2 * perimeter(top))


def test_all_five_sorts_of_cushion_have_their_pieces_and_their_zip():
    square, tee, disc = (
        rectangle_shape("Top", 500, 520, SEWN),
        t_shape("T", 600, 560, 480, 120, SEWN),
        disc_shape("Disc", 400, SEWN),
    )
    made = {
        "box": cushion_of("box", square, height=80),
        "knife edge": cushion_of("knife edge", square),
        "T": cushion_of("T", tee, height=100),
        "round": cushion_of("round", disc, height=60),
        "bolster": cushion_of("bolster", None, height=160, length=500),
    }
    assert set(made) == set(SORTS)
    assert {sort: sum(p.count for p in c.pieces) for sort, c in made.items()} == {
        "box": 5,
        "knife edge": 2,
        "T": 5,
        "round": 5,
        "bolster": 3,
    }
    assert made["box"].zip_length == pytest.approx(500 + 2 * 90)
    assert made["bolster"].pieces[0].shape.outline.width == pytest.approx(math.pi * 160, rel=0.002)
    assert made["bolster"].pieces[0].shape.edge_length(0) == pytest.approx(perimeter(made["bolster"].pieces[1].shape))
    for wrong in (
        ("round", square, 60),
        ("T", square, 60),
        ("box", None, 60),
        ("pouffe", square, 60),
        ("box", square, 5),
    ):
        with pytest.raises(BadInput):
            cushion_of(wrong[0], wrong[1], height=wrong[2])


@given(any_shape)
def test_a_band_is_as_long_as_the_edge_it_is_sewn_to(shape):
    side = shape.edges[0].side
    band = band_from_edge("Band", shape, side, 90, UNDER)
    assert band.outline.width == pytest.approx(side_length(shape, side))
    assert {e.side: e.join for e in band.edges}["top"] == "sewn"


@given(
    st.floats(300, 900), st.floats(300, 900), st.sampled_from(["top", "bottom", "left", "right"]), st.floats(0.2, 0.6)
)
def test_a_fly_and_its_face_make_the_whole_and_the_face_ends_past_the_tuck(width, height, side, share):
    shape = rectangle_shape("Seat", width, height, SEWN)
    hidden = share * (height if side in ("top", "bottom") else width)
    made = with_fly(shape, side, hidden)
    assert made.face.outline.area + made.fly.outline.area == pytest.approx(shape.outline.area, rel=1e-6)
    assert [e.join for e in made.face.edges].count("fly") == [e.join for e in made.fly.edges].count("fly") == 1
    reach = made.face.outline.height if side in ("top", "bottom") else made.face.outline.width
    assert reach == pytest.approx((height if side in ("top", "bottom") else width) - hidden + PAST_TUCK)
    assert made.saved > 0
    assert made.face.marks[0].means == "tuck"
    with pytest.raises(BadInput, match="tuck line"):
        with_fly(shape, side, 20)


@given(st.floats(300, 800), st.floats(30, 100), st.floats(2, 14), st.booleans())
def test_channels_grow_a_shape_by_the_cloth_s_way_between_their_lines(width, apart, deep, upright):
    made, growth = channelled(rectangle_shape("Back", width, width, SEWN), apart=apart, deep=deep, upright=upright)
    count = int((width + ROUNDED) // apart)
    assert growth == pytest.approx(count * (button_travel(apart, deep) - apart))
    grown = made.outline.width if upright else made.outline.height
    assert grown == pytest.approx(width + growth)
    lines = sorted(m.points[0][0 if upright else 1] for m in made.marks)
    gaps = [b - a for a, b in itertools.pairwise(lines)]
    assert gaps == pytest.approx([button_travel(apart, deep)] * len(gaps))


def test_buttons_are_marked_as_the_cloth_travels_and_must_lie_within():
    grid = ButtonGrid(3, 4, 90, 80, 20)
    travel = (button_travel(90, 20), button_travel(80, 20))
    made = buttoned_shape(rectangle_shape("Back", 520, 400, SEWN), grid, travel)
    xs = sorted({round(m.points[0][0], 3) for m in made.marks})
    assert len(made.marks) == 12
    assert xs[1] - xs[0] == pytest.approx(travel[0], abs=0.01)
    with pytest.raises(BadInput, match="within the shape"):
        buttoned_shape(rectangle_shape("Back", 280, 400, SEWN), grid, travel)


def test_measures_that_make_no_t_ellipse_or_offsets_are_refused_and_those_that_do_are_exact():
    rows = [(0, 210, 220), (150, 230, 235), (520, 190, 200)]
    made = offsets_shape("Wing", rows, UNDER)
    assert (made.outline.width, made.outline.height) == (465, 520)
    assert [(e.side, e.join) for e in made.edges] == [
        ("right", "sewn"),
        ("top", "sewn"),
        ("left", "sewn"),
        ("bottom", "stapled_under"),
    ]
    ellipse = ellipse_shape("Oval", 700, 420, SEWN)
    assert ellipse.outline.area == pytest.approx(math.pi * 350 * 210, rel=0.002)
    board = Board(400, 380, 6, back=360)
    assert off_the_board("Facing", board, UNDER).outline.points == board.outline.points
    for wrong in (
        lambda: offsets_shape("W", rows[:1], UNDER),
        lambda: offsets_shape("W", [(0, 100, 100), (0, 90, 90)], UNDER),
        lambda: offsets_shape("W", [(0, 100, math.nan), (50, 90, 90)], UNDER),
        lambda: t_shape("T", 500, 400, 499, 100, UNDER),
        lambda: t_shape("T", 500, 400, 300, 399, UNDER),
        lambda: ellipse_shape("E", 5, 400, UNDER),
    ):
        with pytest.raises(BadInput):
            wrong()


# --- ready?


def test_a_pair_is_each_other_s_mirror_image_or_it_is_said():
    left = trapezoid_shape("Arm, left", 400, 380, 300, UNDER)
    left = left.moved_by(lambda p: (p[0] + 0.1 * p[1], p[1]))
    good = {"arm_left": left, "arm_right": left.mirrored("Arm, right")}
    assert pair_apart(*good.values()) < 1e-6
    assert readiness(PAIR, good, count=2).is_ready
    told = readiness(PAIR, good | {"arm_right": left}, count=2)
    assert [lack.what for lack in told.lacks] == ["pair"]
    assert told.ready == ("arm_right",)
    assert told.pieces == 4


def test_readiness_names_missing_shapes_bare_edges_tops_pads_seams_and_uneven_halves():
    shapes = {"a": rectangle_shape("Back", 400, 500, SEWN)}
    assert [lack.what for lack in readiness(TWO, shapes, count=1).lacks] == ["missing"]
    shapes["b"] = shape_of("Side", outline_of_side(), (0, 1, 2, 3), SEWN).with_edge("b", join="sewn", adds=0)
    told = readiness(TWO, shapes, count=1, untopped=["a"], pads={"b": 20.0})
    assert {lack.what for lack in told.lacks} == {"top", "join", "even", "pad", "seam", "notch"}
    assert not told.is_ready
    assert {lack.what for lack in told.lacks if lack.weight == 1} == {"even", "notch"}
    assert "20 mm thinner" in next(lack.words for lack in told.of("b") if lack.what == "pad")


def outline_of_side():
    return outline_of([(0, 0), (200, 0), (204, 480), (0, 480)])


def test_notches_and_marks_survive_mirroring_twice():
    shape = replace(trapezoid_shape("Arm", 400, 350, 300, UNDER), matches=(Match("b", 40.0), Match("d", 90.0, True)))
    again = shape.mirrored("x").mirrored("Arm")
    assert [(m.edge, round(m.along, 6), m.is_double) for m in again.matches] == [("b", 40.0, False), ("d", 90.0, True)]
    for one, other in zip(sorted(n.at for n in shape.notches), sorted(n.at for n in again.notches), strict=True):
        assert one == pytest.approx(other)
