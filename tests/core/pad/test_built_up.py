"""Pads from the frame up: what hangs in an opening, what is cut, nested and bought; three stacks worked by hand."""

import itertools
import math

import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.awkward import NOTCHED, stars, with_arcs
from tests.core.lay.independent import wrong_with
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.outline import outline_of, rectangle
from zonatome.core.pad.buying import PadAsk, pads_bought
from zonatome.core.pad.grids import button_plan, channel_lines
from zonatome.core.pad.nest import (
    FoamPiece,
    Offcut,
    foam_cut_sheet,
    free_rectangles,
    left_of_sheets,
    nest_foam,
    parted_for_sheet,
)
from zonatome.core.pad.outlines import foam_outline, frame_under, grown, wadding_outline
from zonatome.core.pad.section import section
from zonatome.core.pad.sitting import pressure_under, sitting, squeeze_share
from zonatome.core.pad.spans import coil_springs, sinuous_springs, webbing, widest_gap
from zonatome.core.pad.stack import Buttons, Frame, Heights, Layer, Stack
from zonatome.core.pad.usual import pads_of, role_of, usual_stacks
from zonatome.core.pad.worked import worked, worked_as_far_as_it_fits
from zonatome.core.survey.kind import Channels, Part
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import Board, block_shape, disc_shape, rectangle_shape

openings = st.one_of(stars(), with_arcs(), st.just(NOTCHED))
WIDE = 50.0


def sizes(done, sort):
    return [tuple(round(v, 1) for v in c.size) for c in done.cuts if c.layer.sort == sort]


def test_a_dining_seat_worked_by_hand():
    """A frame 440 x 400 with rails of 40: an opening of 360 x 320.

    Straps front to back: (360 - 50) / 100 = 3.1, so 4, gaps of (360 - 200) / 5 = 32; each 320 + 80. Side to side:
    2.7, so 3, gaps of 42.5; each 360 + 80. Foam 40: + 5 a side. Wadding: drop 40 + 15, squares of 55 cut out.
    """
    seat = Stack((Layer("webbing", 2), Layer("hessian", 1), Layer("foam", 40, foam="firm"), Layer("wadding", 10)))
    done = worked(seat, Frame(rectangle(440, 400), thickness=60, rail=40))
    assert [round(s.cut) for s in done.webbed.of("deep")] == [400] * 4
    assert [round(s.cut) for s in done.webbed.of("across")] == [440] * 3
    assert done.webbed.total == pytest.approx(2920)
    assert done.webbed.staples == 7 * 2 * 9
    assert [round(s.at, 1) for s in done.webbed.of("deep")] == [97, 179, 261, 343]
    assert sizes(done, "hessian") == [(440, 400)]
    assert sizes(done, "foam") == [(450, 410)]
    assert sizes(done, "wadding") == [(560, 520)]
    assert done.cuts[-1].outline.area == pytest.approx(560 * 520 - 4 * 55 * 55, abs=1)
    assert done.cuts[-1].corners == 4
    assert seat.under_cover() == pytest.approx(2 + 1 + 36 + 9)
    six = pads_bought([PadAsk("seat", "Seat", "seat", done, 6)])
    amounts = {b.what: (round(b.amount), round(b.cost, 2)) for b in six.bought}
    assert amounts["webbing"] == (6 * 2920, round(17.52 * 1.10, 2))
    assert amounts["firm foam, 40 mm"] == (1, round(38 * 1.15, 2)), "four and two beside each other on one sheet"
    assert amounts["hessian"] == (800, round(0.8 * 3.60, 2)), (
        "turned, three of 40 cm across a roll of 150: two rows of 44"
    )


def test_a_wing_chair_s_seat_and_arm_worked_by_hand():
    """A frame 610 x 600, rails of 45: an opening 520 x 510. Springs: of 4, 106.7 apart and 100 from the sides; of 5,
    92.5 apart. 106.7 is nearer the middle of 90 to 115. Each 510 + 8 x 32² / (3 x 510) = 515.4.
    """
    layers = (Layer("sinuous", 32), Layer("hessian", 1), Layer("edge_roll", 20, way="front"))
    seat = Stack((*layers, Layer("foam", 75, foam="firm"), Layer("wadding", 10)), heights=Heights(340, before=445))
    done = worked(seat, Frame(rectangle(610, 600), thickness=70, rail=45))
    assert (len(done.sinuous.springs), done.sinuous.clips) == (4, 8)
    assert (round(done.sinuous.apart, 1), round(done.sinuous.from_side, 1)) == (106.7, 100)
    assert [round(s.cut, 1) for s in done.sinuous.springs] == [515.4] * 4
    assert done.sinuous.wire == pytest.approx(2 * (520 + 100)), "two rows of ties"
    assert sizes(done, "hessian") == [(600, 590)]
    assert done.cut_of(2).length == 610 + 40
    assert sizes(done, "foam") == [(620, 610)]
    assert sizes(done, "wadding") == [(800, 790)]
    assert seat.under_cover() == pytest.approx(32 + 1 + 67.5 + 9)
    assert seat.at_edge() == pytest.approx(77.5), "springs do not reach the edge"
    sits = done.sitting
    assert (sits.height, sits.higher) == (pytest.approx(449.5), pytest.approx(4.5))
    # 75 kg on 0.14 m2: 5.26 kPa; firm foam of 5.2 kPa is squeezed by a little over 40 % of its 67.5 mm
    assert sits.squeezed == pytest.approx(67.5 * 0.4042, abs=0.1)
    arm = worked(Stack((Layer("foam", 25), Layer("wadding", 10))), Frame(rectangle(500, 360), 18), role="arm")
    assert sizes(arm, "foam") == [(510, 370)]
    assert sizes(arm, "wadding") == [(510 + 2 * 43, 370 + 2 * 43)], "over 25 of foam and 18 of board"
    assert arm.sitting.pad == pytest.approx(31.5)


def test_a_bench_cushion_worked_by_hand():
    """Finished 1560 x 420 x 80: foam 9 larger in all; wadding round both faces and the front in one."""
    cushion = Stack((Layer("foam", 80, school="cushion"), Layer("wadding", 10)))
    done = worked(cushion, Frame(rectangle(1560, 420), 0), role="cushion")
    assert sizes(done, "foam") == [(1569, 429)]
    assert sizes(done, "wadding") == [(1569 + 80, 2 * 429 + 160)]
    bought = {b.what: b.amount for b in pads_bought([PadAsk("top", "Top", "cushion", done, 1)]).bought}
    assert bought["medium foam, 80 mm"] == 1
    assert bought["wadding, 10 mm"] == pytest.approx(1649), "102 of a roll's 150 cm wide, along it"


@examples(60)
@given(openings, st.floats(0, 0.15))
def test_straps_leave_no_gap_wider_than_a_strap_and_end_on_rails(opening, stretch):
    webbed = webbing(opening, stretch=stretch)
    x0, y0, x1, y1 = opening.bounds
    for way, low, high in (("deep", x0, x1), ("across", y0, y1)):
        places = sorted({s.at - WIDE / 2 for s in webbed.of(way)})
        assert widest_gap(places, low, high, WIDE) <= WIDE + 0.01
        for s in webbed.of(way):
            assert s.cut == pytest.approx(s.span / (1 + stretch) + 80)
            assert s.marks[1] - s.marks[0] == pytest.approx(s.span / (1 + stretch))
            for at in (s.begins - 0.4, s.ends + 0.4):  # just beyond the ends: all rail
                across = [(s.at - WIDE / 2, at), (s.at + WIDE / 2, at)]
                line = shapely.LineString(across if way == "deep" else [(y, x) for x, y in across])
                assert line.intersection(opening.polygon.buffer(-0.3)).length < 0.01
    assert widest_gap([0.0, 100.0], 0, 151, WIDE) == 50
    for deep in webbed.of("deep"):
        met = sorted((a for a in webbed.of("across")), key=lambda a: a.line)
        for one, other in itertools.pairwise(met):
            if other.line == one.line + 1:
                assert deep.is_over(one) != deep.is_over(other), "over and under alternate"
                assert deep.is_over(one) != one.is_over(deep)


def test_a_strap_moves_beside_an_edge_of_the_frame_that_runs_along_it():
    """An opening with a step in its side: no strap lies half on the step's edge."""
    step = outline_of([(0, 0), (500, 0), (500, 200), (330, 200), (330, 460), (0, 460)])
    for s in webbing(step).of("deep"):
        assert not s.at - 25 + 0.01 < 330 < s.at + 25 - 0.01


@examples(60)
@given(with_arcs(), st.floats(25, 40), st.sampled_from(["deep", "across"]))
def test_every_sinuous_spring_is_cut_by_its_own_span_and_an_opening_too_narrow_is_refused(opening, crown, way):
    x0, y0, x1, y1 = opening.bounds
    middle = (y0 + y1) / 2 if way == "deep" else (x0 + x1) / 2
    across = shapely.LineString([(-900, middle), (1700, middle)] if way == "deep" else [(middle, -900), (middle, 1700)])
    wide = max(part.length for part in shapely.get_parts(across.intersection(opening.polygon)))
    if round(wide, 1) < 150:
        with pytest.raises(BadInput, match="at least 150 mm"):
            sinuous_springs(opening, crown=crown, way=way)
        return
    plan = sinuous_springs(opening, crown=crown, way=way)
    for spring in plan.springs:
        assert spring.span == pytest.approx(math.dist(spring.from_, spring.to))
        assert spring.cut == pytest.approx(spring.span + 8 * crown**2 / (3 * spring.span))
        for end in (spring.from_, spring.to):
            assert opening.polygon.exterior.distance(shapely.Point(end)) < 0.01, "each ends on a rail"
    assert plan.clips == 2 * len(plan.springs)
    if len(plan.springs) > 2:
        assert 90 <= plan.apart <= 115
        assert 75 <= plan.from_side <= 100


def test_an_opening_hardly_too_narrow_for_a_spring_is_refused_by_what_is_told():
    """75 mm from either side: 149.96 mm is told as 150 and taken, 149.94 as 149.9 and refused."""
    assert sinuous_springs(rectangle(149.96, 300), crown=30).springs[0].from_[0] == pytest.approx(74.98)
    with pytest.raises(BadInput) as refused:
        sinuous_springs(rectangle(149.94, 300), crown=30)
    assert "is 149.9 mm wide" in refused.value.sentence


@examples(40)
@given(with_arcs())
def test_coils_stand_on_crossings_and_do_not_rub(opening):
    assume(min(opening.width, opening.height) > 300)
    webbed = webbing(opening)
    coils = coil_springs(opening, webbed)
    crossings = {(round(d.at, 3), round(a.at, 3)) for d in webbed.of("deep") for a in webbed.of("across")}
    assert {(round(x, 3), round(y, 3)) for x, y in coils.at} <= crossings
    assert all(math.dist(a, b) >= coils.wide + 30 - 0.01 for a, b in itertools.combinations(coils.at, 2))
    assert all(opening.polygon.exterior.distance(shapely.Point(p)) >= coils.wide / 2 - 0.1 for p in coils.at)
    assert coils.twine == pytest.approx(sum(2 * math.dist(a, b) for a, b in coils.rows))


@examples(60)
@given(openings, st.sampled_from(["flush", "over", "cushion", "rounded"]), st.floats(10, 120), st.floats(5, 150))
def test_foam_and_wadding_contain_what_they_cover(panel, school, thick, drop):
    foam = foam_outline(panel, Layer("foam", thick, school=school))
    assert foam.polygon.buffer(0.01).covers(panel.polygon)
    for corner in ("cut", "pinched"):
        wadding = wadding_outline(foam, drop, corner=corner)
        assert wadding.polygon.buffer(0.05).covers(foam.polygon)
        assert grown(foam, drop).polygon.buffer(0.1).covers(wadding.polygon), "and no further than its drop"


@examples(20)
@given(st.lists(st.tuples(stars(), st.integers(1, 4), st.sampled_from([25.0, 50.0])), min_size=1, max_size=4))
def test_nested_foam_passes_the_independent_check_and_none_is_left_out(asked):
    small = [(o, n, t) for o, n, t in asked if min(o.width, o.height) < 960]
    assume(small)
    pieces = [FoamPiece(f"p{k}", o, n, "medium", t) for k, (o, n, t) in enumerate(small)]
    store = [Offcut(7, "medium", 25.0, rectangle(700, 400)), Offcut(8, "firm", 25.0, rectangle(900, 900))]
    nests = nest_foam(pieces, store)
    assert sorted(n.thickness for n in nests) == sorted({t for _, _, t in small})
    for nest in nests:
        assert wrong_with(nest.request, nest.lay) == []
        assert not nest.lay.unplaced
        assert 8 not in nest.offcuts, "firm foam is not taken for medium"
        assert sum(p.count for p in nest.request.pieces) >= sum(n for _, n, t in small if t == nest.thickness)


def test_the_cut_sheet_of_foam_has_each_piece_s_corners_from_its_own_sheet_and_its_button_holes():
    (nest,) = nest_foam([FoamPiece("Seat", rectangle(496, 396), 8, "firm", 40.0)])
    sheet = foam_cut_sheet(nest, {"Seat": [(248.0, 198.0)]})
    assert (len(sheet.rows), nest.sheets, sheet.ground, sheet.has_top) == (8, 1, "sheet", False)
    for row in sheet.rows:
        ends, lefts = {round(c.from_end) for c in row.corners}, {round(c.from_left) for c in row.corners}
        assert {max(ends) - min(ends), max(lefts) - min(lefts)} == {496, 396}
        assert max(ends) <= 2000
        assert max(lefts) <= 1000
        middle = [sum(p[k] for line in row.marks for p in line) / 4 for k in (0, 1)]
        assert row.outline.polygon.centroid.coords[0] == pytest.approx(tuple(middle), abs=1)


def test_a_bench_longer_than_a_sheet_is_joined_between_two_sitters():
    bench = FoamPiece("Seat", rectangle(2600, 420), 1, "medium", 75.0, "seat")
    parts, at = parted_for_sheet(bench)
    assert sum(p.area for p in parts) == pytest.approx(2600 * 420)
    assert at == (1040.0,), "five sitters of 52 cm: between the second and the third"
    (nest,) = nest_foam([bench])
    assert (nest.sheets, nest.joins[0].at) == (1, (1040.0,))
    with pytest.raises(BadInput, match="expected"):
        nest_foam([FoamPiece("Seat", rectangle(3000, 2400), 1, "medium", 75.0, "seat")])


def test_offcuts_in_store_are_used_before_a_sheet_is_bought():
    pieces = [FoamPiece("Seat", rectangle(450, 410), 2, "firm", 40.0)]
    (bought,) = nest_foam(pieces)
    (found,) = nest_foam(pieces, [Offcut(3, "firm", 40.0, rectangle(930, 420))])
    assert (bought.sheets, found.sheets, found.offcuts) == (1, 0, (3,))


def test_a_back_is_glued_from_two_offcuts_where_that_saves_a_sheet_and_a_seat_is_not():
    store = [Offcut(n, "soft", 50.0, rectangle(260, 620)) for n in (1, 2)]
    (back,) = nest_foam([FoamPiece("Inside back", rectangle(500, 600), 1, "soft", 50.0, "back")], store)
    assert (back.sheets, back.offcuts) == (0, (1, 2))
    assert (back.joins[0].at, back.joins[0].is_of_offcuts) == ((250.0,), True)
    assert wrong_with(back.request, back.lay) == []
    (seat,) = nest_foam([FoamPiece("Seat", rectangle(500, 600), 1, "soft", 50.0, "seat")], store)
    assert (seat.sheets, seat.joins) == (1, ())


def test_wadding_split_from_a_thicker_one_is_half_as_much_of_that():
    whole, half = (
        worked(Stack((Layer("foam", 40), Layer("wadding", 10, split=split))), BOARD) for split in (False, True)
    )
    (bought, _), (of_thicker, _) = (pads_bought([PadAsk("s", "S", "stool", w, 4)]).bought for w in (whole, half))
    assert (bought.what, of_thicker.what) == ("wadding, 10 mm", "wadding, 20 mm")
    assert of_thicker.amount == pytest.approx(bought.amount / 2)


def test_channels_lie_evenly_on_a_panel_and_the_cloth_travels_between_them():
    plan = channel_lines(rectangle(500, 700), Channels(100, 20))
    assert [round(a[0]) for a, _ in plan.lines] == [100, 200, 300, 400]
    assert plan.cloth_apart == pytest.approx(math.sqrt(100**2 + 4 * 20**2))
    for apart, deep in ((400, 10), (10, 0), (100, 80)):
        with pytest.raises(BadInput):
            channel_lines(rectangle(500, 700), Channels(apart, deep))


@given(st.floats(120, 900), st.floats(120, 900), st.floats(0, 60), st.floats(0, 40), st.floats(0, 100), st.booleans())
def test_what_a_block_goes_round_is_the_board_that_it_was_made_for(wide, deep, taper, thick, high, is_round):
    board = Board(wide, wide if is_round else deep, thick, is_round, None if is_round else wide - taper)
    under = frame_under(block_shape("Seat", board, pad=high), high, thick)
    assert (under.width, under.height) == pytest.approx((board.outline.width, board.outline.height), abs=0.5)
    assert under.area == pytest.approx(board.outline.area, rel=0.01)
    sewn = rectangle_shape("Seat", wide, deep, dict.fromkeys(("top", "left", "bottom", "right"), "sewn"))
    assert frame_under(sewn, high, thick) == sewn.outline


def test_a_bolster_worked_by_hand():
    """180 through and 600 long: a firm core, 25 of soft foam round it, wadding 10.

    Core: 180 - 2 x 25 = 130, + 9 as a sewn cushion: 139; six discs of 100. Round it 600 x (pi x (139 + 25) + 40) =
    555.2, then it is 189 through; wadding 600 + 189 over both ends, pi x (189 + 10) + 40 = 665.2.
    """
    stack = Stack((Layer("foam", 100, foam="firm", school="cushion"), Layer("foam", 25, foam="soft", school="flush"),
                   Layer("wadding", 10)))  # fmt: skip
    end = disc_shape("End", 180, {"bottom": "sewn"}).outline
    done = worked(stack, Frame(end, 0.0, length=600), role="bolster")
    core, wrap, wadding = done.cuts
    assert core.count == 6
    assert core.size == pytest.approx((139, 139), abs=0.5)
    assert wrap.size == pytest.approx((600, 555.2), abs=1)
    assert wadding.size == pytest.approx((789, 665.2), abs=1)
    cut = section(stack, done.frame)
    assert cut.top == pytest.approx(180 + 2 * 9 - 2 * 2.5, abs=0.1), "under the cover each gives a tenth"
    assert len([band for band in cut.bands if band.place == 0]) == 6
    bought = pads_bought([PadAsk("b", "Bolster", "bolster", done, 2)])
    firm = next(nest for nest in bought.nests if nest.foam == "firm")
    assert sum(piece.count for piece in firm.request.pieces) == 12


def test_what_is_left_of_a_sheet_by_hand():
    """A seat of 496 x 396 in the corner of 2000 x 1000, the blade 4 wide: 1500 x 1000 beside it, then 500 x 600."""
    (nest,) = nest_foam([FoamPiece("Seat", rectangle(496, 396), 1, "firm", 40.0)])
    left = [(round(o.width), round(o.height)) for _, o in left_of_sheets(nest)]
    assert left in ([(1500, 1000), (500, 600)], [(1600, 1000), (400, 500)]), "as it was laid, or turned"


@examples(40)
@given(
    st.one_of(st.just(rectangle(2000, 1000)), st.just(NOTCHED), stars()),
    st.lists(st.tuples(*[st.floats(-600, 1200)] * 2, *[st.floats(60, 700)] * 2), max_size=6),
)
def test_what_is_left_lies_on_the_sheet_clear_of_all_pieces_and_of_itself(sheet, pieces):
    taken = [(x, y, x + wide, y + high) for x, y, wide, high in pieces]
    left = free_rectangles(sheet, taken, 150)
    for n, one in enumerate(left):
        assert min(one.width, one.height) >= 150 - 1e-6
        assert sheet.polygon.buffer(1e-3).covers(one.polygon)
        for other in [*(shapely.box(*box) for box in taken), *(o.polygon for o in left[:n])]:
            assert one.polygon.intersection(other).area < 1e-3
    areas = [one.area for one in left]
    assert areas == sorted(areas, reverse=True)
    assert not taken or len(free_rectangles(sheet, [], 150)) >= bool(left)


def test_of_a_three_cornered_offcut_half_its_width_and_height_are_left():
    """By hand: 1000 along the bottom, 800 up; a rectangle x wide is 800 (1 - x / 1000) high, most at x = 500."""
    corner = outline_of([(0, 0), (1000, 0), (0, 800)])
    left = free_rectangles(corner, [], 150)
    assert [(round(o.width), round(o.height)) for o in left] == [(500, 400), (250, 200), (250, 200)]
    assert left[0].bounds == pytest.approx((0, 0, 500, 400))
    beside = free_rectangles(corner, [(0.0, 0.0, 500.0, 400.0)], 150)
    places = [sorted(tuple(map(round, one.bounds)) for one in those) for those in (beside, left[1:])]
    assert places[0] == places[1] == [(0, 400, 250, 600), (500, 0, 750, 200)]


def test_an_offcut_with_many_notches_keeps_what_lies_under_them():
    """By hand: 1000 x 600 with twelve notches of 20 x 20 along its top, 52 corners: 1000 x 580 under them."""
    notches = [(x + dx, 600 - dy) for x in range(960, 0, -80) for dx, dy in ((20, 0), (20, 20), (0, 20), (0, 0))]
    comb = outline_of([(0, 0), (1000, 0), (1000, 600), *notches, (0, 600)])
    assert len(comb.points) == 52
    assert [one.bounds for one in free_rectangles(comb, [], 150)] == [pytest.approx((0, 0, 1000, 580), abs=1e-4)]


def test_in_a_slanting_strip_what_fits_is_found_and_drawn_out_as_far_as_it_goes():
    """By hand: 230 wide, at 45 degrees, the width of a rectangle and its height make 230 x 1.4142 = 325.27 at the most.
    Along the strip, 1400 x 1.4142 = 1980 long, each then takes 325.27 / 1.4142 = 230: there is room for eight.
    """
    wide = 230 / math.sqrt(2)
    strip = outline_of([(0, wide), (wide, 0), (wide + 1400, 1400), (1400, 1400 + wide)])
    left = free_rectangles(strip, [], 150)
    assert 6 <= len(left) <= 8
    for one in left:
        assert one.width + one.height == pytest.approx(325.27, abs=0.01)
        assert min(one.width, one.height) >= 150
    narrower = outline_of([(x * 0.92, y * 0.92) for x, y in strip.points])
    assert free_rectangles(narrower, [], 150) == [], "211.6 wide: 299.2, and two sides of 150 are more"


@examples(60)
@given(stars(), st.floats(0, 120), st.integers(1, 12), st.floats(20, 400))
def test_a_pad_on_another_frame_is_drawn_as_far_as_it_fits_and_says_what_does_not(outline, rail, rows, apart):
    chosen = Stack(
        (Layer("webbing", 2), Layer("foam", 40), Layer("wadding", 10)), Buttons(rows, rows, margin=60.0), rail=rail,
        channels=Channels(apart, 8),
    )  # fmt: skip
    try:
        done, told = worked(chosen, Frame(outline, 20, rail)), None
    except BadInput as refusal:
        done, told = worked_as_far_as_it_fits(chosen, Frame(outline, 20)), refusal
    whole = worked_as_far_as_it_fits(chosen, Frame(outline, 20))
    assert (whole.misfit.told if whole.misfit else None) == (told.told if told else None)
    assert whole.stack == chosen
    assert [c.size for c in whole.cuts] == [c.size for c in done.cuts]
    section(whole.stack, whole.frame)
    asked = pads_bought([PadAsk("seat", "Seat", "seat", whole, 1)])
    assert [name for name, _ in asked.left_out] == ["Seat"] * bool(told)


@examples(60)
@given(
    st.tuples(st.floats(300, 900), st.floats(300, 900), st.floats(0, 80)),
    st.integers(1, 5), st.integers(1, 5), st.booleans(), st.floats(60, 120), st.floats(0, 40),
)  # fmt: skip
def test_buttons_lie_inside_with_even_margins_and_the_cloth_travels_by_the_rule(
    panel, rows, columns, diamond, margin, deep
):
    wide, high, taper = panel
    outline = outline_of([(0, 0), (wide, 0), (wide - taper, high), (taper, high)])
    wished = Buttons(rows, columns, diamond, margin, deep)
    if (columns - 1) * 40 > wide - 2 * margin or (rows - 1) * 40 > high - 2 * margin:
        with pytest.raises(BadInput, match="fewer"):
            button_plan(outline, wished, pad=60)
        return
    assume(taper <= 0.5 * margin)
    plan = button_plan(outline, wished, pad=60)
    xs, ys = [x for x, _ in plan.at], [y for _, y in plan.at]
    assert min(xs) == pytest.approx(wide - max(xs), abs=0.01)
    if rows > 1 and not (diamond and columns == 1):
        assert min(ys) == pytest.approx(high - max(ys), abs=0.01)
        assert min(ys) == pytest.approx(margin, abs=0.01)
    assert all(outline.polygon.contains(shapely.Point(p)) for p in plan.at)
    assert plan.count == rows * columns - (rows // 2 if diamond else 0)
    assert plan.twine == plan.count * (4 * 60 + 300)
    if not diamond and columns > 1:
        assert plan.cloth_across == pytest.approx(math.sqrt(plan.across**2 + 4 * deep**2))


@given(st.floats(0, 30), st.floats(1, 15))
def test_foam_gives_more_under_more_and_never_all(pressure, hardness):
    less, more = squeeze_share(pressure, hardness), squeeze_share(pressure + 0.5, hardness)
    assert 0 <= less < more < 0.75 or (less == pytest.approx(more) and less > 0.74)
    assert squeeze_share(hardness, hardness) == pytest.approx(0.4)
    assert squeeze_share(hardness * 0.999, hardness) == pytest.approx(
        squeeze_share(hardness * 1.001, hardness), abs=0.001
    )
    assert pressure_under(75) == pytest.approx(75 * 9.81 / 0.14 / 1000)


def test_every_usual_stack_of_every_kind_can_be_built_drawn_and_bought():
    for kind in KINDS.values():
        pads = pads_of(kind)
        assert pads or kind.key == "sling"
        for part in pads:
            for usual in usual_stacks(kind, part):
                frame = Frame(rectangle(max(part.width, 250), max(part.height, 250)), 20, usual.stack.rail)
                done = worked(usual.stack, frame, role=role_of(kind, part))
                assert pads_bought([PadAsk(part.key, part.name, role_of(kind, part), done, 2)]).bought
                drawn = section(usual.stack, frame)
                assert len(drawn.bands) == len(usual.stack.layers)
                assert drawn.top == pytest.approx(usual.stack.thickness(), abs=0.5), "at rest, in the middle"
    assert any("sling" in k for k in KINDS)
    assert role_of(KINDS["wing"], Part("seat_deck", "Deck", "deck")) is None


BOARD, FRAMED = Frame(rectangle(400, 400)), Frame(rectangle(400, 400), 60, 40)
REFUSED = [
    (lambda: Layer("foam", 0), "3 to 300 mm"),
    (lambda: Layer("foam", 2000), "3 to 300 mm"),
    (lambda: outline_of([(0, 0), (300, 300), (300, 0), (0, 300)]), "neither crosses"),
    (lambda: Frame(rectangle(400, 400), 60, 190), "at most 170 mm"),
    (lambda: Stack((Layer("webbing", 2), Layer("wadding", 10))).checked(FRAMED), "nothing to sit on"),
    (lambda: Stack((Layer("sinuous", 32), Layer("foam", 40))).checked(BOARD), "how wide the rails are"),
    (lambda: button_plan(rectangle(400, 400), Buttons(9, 9), pad=50), "9 × 9 buttons"),
    (lambda: worked(Stack((Layer("coil", 110), Layer("coir", 20))), FRAMED), "webbing under them"),
    (lambda: sinuous_springs(rectangle(120, 500), crown=30), "120 mm wide"),
    (lambda: grown(rectangle(100, 60), -40), "Nothing is left"),
    (lambda: Stack((Layer("foam", 40),)).dropped(3), "not there any more"),
    (lambda: sitting(Stack((Layer("foam", 40),), sitter=0)), "1 to 300 kg"),
]  # fmt: skip


@pytest.mark.parametrize(("asked", "says"), REFUSED, ids=range(len(REFUSED)))
def test_what_cannot_be_built_is_refused_in_a_sentence(asked, says):
    with pytest.raises(BadInput) as refused:
        asked()
    assert says in refused.value.told


def test_layers_are_added_where_they_belong_moved_and_dropped():
    stack = Stack((Layer("hessian", 1), Layer("foam", 40)))
    more = stack.added(Layer("wadding", 10)).added(Layer("webbing", 2))
    assert [one.sort for one in more.layers] == ["webbing", "hessian", "foam", "wadding"]
    assert [one.sort for one in more.moved(3, 0).layers] == ["wadding", "webbing", "hessian", "foam"]
    assert more.moved(1, 3).moved(3, 1) == more
    assert [one.sort for one in more.dropped(0).layers] == ["hessian", "foam", "wadding"]


@given(st.floats(1990, 9000), st.floats(200, 980), st.sampled_from(["seat", "back"]))
def test_what_is_joined_fits_the_sheet_part_by_part_and_nothing_is_lost(wide, deep, role):
    parts, at = parted_for_sheet(FoamPiece("Seat", rectangle(wide, deep), 1, "medium", 75.0, role))
    assert len(parts) == len(at) + 1
    assert sum(part.area for part in parts) == pytest.approx(wide * deep)
    assert all(part.width <= 1992 and part.height <= 992 for part in parts), "less than a sheet by the blade's way"
    assert list(at) == sorted(at)
    if role == "seat":
        sitters = max(1, round(wide / 500))
        assert all(min(abs(place - wide * k / n) for n in (sitters, len(parts)) for k in range(n)) < 1 for place in at)
