"""What is bought, what is left over, how it is cut from panels, what lands on the furniture."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import replace
from decimal import Decimal

import ezdxf
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from pypdf import PdfReader

from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import HIDE, any_cloth, any_request, rectangles, six_chairs
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats.cut_sheet_files import cut_sheet_csv, cut_sheet_dxf
from zonatome.core.formats.cut_sheet_pdf import WALL_COLUMNS, SheetHead, cut_sheet_pdf, wall_pages, wall_sheet_pdf
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.ranking import better, rank
from zonatome.core.lay.request import Flaw, Lay, LayRequest, Panels, PieceAsk, Placement, Repeat, Roll
from zonatome.core.lay.table import by_hand
from zonatome.core.lay.table.by_hand import Handwork, judged
from zonatome.core.lay.table.cut_sheet import before_the_shears, cut_sheet, table_for
from zonatome.core.lay.table.left_over import LEAST_KEPT, NARROWEST, left_overs
from zonatome.core.lay.table.on_a_panel import moved_by, on_the_panel
from zonatome.core.outline import outline_of, rectangle
from zonatome.core.shop.buying import (
    PriceBreak,
    StockLot,
    lots_for,
    price_at,
    priced_by_area,
    purchase,
    rule_of_thumb,
    shared,
)
from zonatome.core.trace.by_tape import trapezoid_shape
from zonatome.core.trace.cut_marks import up_the_roll

HEAD = SheetHead("127 Bar stools × 8", "Saltmarsh hide", "Cut from pieces in the store", "26 November 2026")
PRICES = st.decimals(Decimal("1.00"), Decimal("90.00"), places=2)
ON_HIDES = LayRequest(
    Panels((HIDE.moved(400, -90), rectangle(900, 700)), (Flaw(0, rectangle(60, 80).moved(1300, 400)),)),
    4,
    (PieceAsk("seat", rectangle(420, 390), 5, (0.0, 90.0)), PieceAsk("back", rectangle(300, 500), 2, (0.0,))),
)


# --- buying


@given(
    st.floats(10, 40_000),
    PRICES,
    st.sampled_from(["whole", "half", "quarter", "tenth"]),
    st.sampled_from(["m", "yd"]),
    st.floats(0, 8000),
    st.lists(st.tuples(st.floats(500, 50_000), PRICES), max_size=3, unique_by=lambda b: round(b[0])),
)
def test_what_is_bought_holds_the_lay_reaches_the_least_cut_and_no_further_break_is_missed(
    laid, price, step, sold_in, least, breaks
):
    told = tuple(PriceBreak(length, cost) for length, cost in sorted(breaks))
    bought = purchase(laid, price=price, sold_in=sold_in, step=step, squaring=100, margin=50, least=least, breaks=told)
    assert bought.length >= laid + 150 - 1e-6
    assert bought.length >= least - 1e-6
    assert bought.margin == pytest.approx(bought.length - laid - 100)
    assert bought.is_least == (bought.length - bought.step >= laid + 150)
    reached = [b for b in told if bought.length >= b.from_length - 1e-6]
    assert bought.price == (reached[-1].price if reached else price)
    per = Decimal(repr(bought.length / (1000 if sold_in == "m" else 914.4)))
    assert abs(bought.cost - bought.price * per) < Decimal("0.02")
    if bought.below is not None:
        assert bought.below >= max(laid + 100, least) - 1e-6
    for longer in (bought.length + n * bought.step for n in range(1, 400)):
        cost = price_at(longer, price, told) * Decimal(repr(longer / (1000 if sold_in == "m" else 914.4)))
        if cost < bought.cost - Decimal("0.02"):
            assert bought.break_length is not None
            assert bought.break_saves > 0
            break
    if bought.break_length is not None:
        assert bought.break_length > bought.length


@given(st.lists(st.floats(0.5, 5e6), min_size=1, max_size=8), st.decimals(Decimal("0.00"), Decimal("2000"), places=2))
def test_shares_of_a_cost_add_up_to_the_last_cent_and_follow_the_areas(areas, cost):
    parts = shared(cost, areas)
    assert sum(parts) == cost
    for area, part in zip(areas, parts, strict=True):
        assert abs(float(part) - float(cost) * area / sum(areas)) < 0.01 * len(areas) + 0.01


@given(st.floats(500, 12_000), st.lists(st.floats(0, 9_000), max_size=6))
def test_one_lot_is_taken_where_one_holds_and_it_is_the_shortest_that_does(length, lengths):
    stock = [StockLot(f"L{n}", v) for n, v in enumerate(lengths)]
    advice = lots_for(length, stock)
    holding = sorted(v for v in lengths if v >= length - 0.5)
    assert advice.holds == bool(holding)
    if holding:
        assert (advice.lots[0].length, advice.spare) == (holding[0], holding[0] - length)
    else:
        assert advice.spare == pytest.approx(sum(s.length for s in advice.lots) - length)


@given(st.floats(500, 12_000), st.lists(st.floats(0, 9_000), max_size=6))
def test_where_no_lot_holds_the_fewest_that_do_are_taken_or_all_there_are(length, lengths):
    assume(not [v for v in lengths if v >= length - 0.5])
    advice = lots_for(length, [StockLot(f"L{n}", v) for n, v in enumerate(lengths)])
    if advice.spare >= 0:
        fewest = next(k for k in range(1, 7) if sum(sorted(lengths, reverse=True)[:k]) >= length)
        assert len(advice.lots) == fewest
    else:
        assert sum(lengths) < length


def test_a_chart_knows_width_count_and_repeat_and_no_strange_kind():
    plain = rule_of_thumb("side_chair", 6, width=1370)
    assert plain == 10_000, "six times 1.6 m, up to the half metre"
    assert rule_of_thumb("side_chair", 6, width=685) == pytest.approx(2 * 9_600, abs=500)
    assert [rule_of_thumb("wing", 1, width=1370, repeat=r) for r in (0, 100, 300, 450, 800)] == [
        6000,
        7000,
        7000,
        7500,
        7500,
    ]
    assert rule_of_thumb("wing", 1, width=1370, share=0.25) == 1500
    assert rule_of_thumb("canoe", 1, width=1370) is None
    assert priced_by_area(2.5e6, Decimal("78.00")) == Decimal("195.00")
    for wrong in ({"least": -1.0}, {"breaks": (PriceBreak(1000, Decimal(-1)),)}):
        with pytest.raises(BadInput):
            purchase(1000, price=Decimal(1), **wrong)
    with pytest.raises(BadInput, match="areas above 0"):
        shared(Decimal(5), [])


# --- what is left over


@examples(30)
@given(st.one_of(any_cloth(), any_request()), st.floats(0, 1500))
def test_what_is_left_over_is_there_touches_no_piece_and_is_wide_enough_for_a_hand(request_, more):
    lay = easy_lay(request_)
    assume(lay.placements)
    rest = left_overs(request_, lay, bought=lay.length + more)
    cut = [(p.panel, p.on_cloth(request_.by_id[p.piece]).polygon) for p in lay.placements] + [
        (s.panel, s.outline.polygon) for s in lay.strips
    ]
    cut += [(f.panel, f.outline.polygon) for f in request_.flaws]
    on_panels = isinstance(request_.cloth, Panels)
    for one in rest:
        lying = one.outline.moved(*one.at).polygon
        assert one.area >= LEAST_KEPT
        ground = (
            request_.cloth.outlines[one.panel].polygon
            if on_panels
            else shapely.box(0, 0, lay.length + more, request_.cloth.width)
        )
        assert ground.buffer(0.2).covers(lying)
        assert all(panel != one.panel or lying.distance(other) > 1.0 for panel, other in cut)
        assert not lying.buffer(-NARROWEST / 2 + 4).is_empty, "no rag"
        x0, y0, _, _ = one.outline.bounds
        assert (x0, y0) == pytest.approx((0, 0), abs=0.11)
    ends = [one for one in rest if one.is_whole]
    spoilt = any(f.outline.bounds[2] + 2 > lay.length for f in request_.flaws)
    short = on_panels or more * request_.cloth.width < LEAST_KEPT * 1.1 or more <= NARROWEST + 8
    assert len(ends) <= (0 if on_panels else 1)
    assert short or spoilt or len(ends) == 1
    for one, other in ((a, b) for n, a in enumerate(rest) for b in rest[:n] if a.panel == b.panel):
        assert (
            not one.outline.moved(*one.at)
            .polygon.buffer(-0.5)
            .intersects(other.outline.moved(*other.at).polygon.buffer(-0.5))
        )


def test_a_lay_takes_what_another_left_over():
    first = rectangles((600, 500, 3), gap=4, turns=(0.0,))
    lay = easy_lay(first)
    rest = left_overs(first, lay, bought=lay.length + 700)
    assert [round(one.outline.height) for one in rest if one.is_whole] == [1400]
    again = LayRequest(Panels(tuple(one.outline for one in rest)), 4, (PieceAsk("seat", rectangle(500, 450), 3),))
    second = search_lay(again, seconds=0.6)
    assert wrong_with(again, second) == []
    assert second.is_whole, "the end of the roll holds three more seats"


def test_a_hole_in_what_is_left_is_cut_open():
    asked = LayRequest(Panels((rectangle(2000, 1400),)), 4, (PieceAsk("seat", rectangle(400, 400), 1),))
    rest = left_overs(asked, Lay(0, 0, 0, 0, (Placement("seat", 1, 800, 500),), on_panels=True))
    assert len(rest) == 2
    assert sum(one.area for one in rest) == pytest.approx(2000 * 1400 - 404 * 404, rel=0.03)


# --- the table, the sheet, its files


@examples(25)
@given(any_cloth())
def test_on_the_table_nothing_moves_against_its_panel_and_corners_are_read_from_its_own_edges(request_):
    lay = easy_lay(request_)
    table, sheet = table_for(request_, lay.length), cut_sheet(request_, lay, {})
    assert len(sheet.rows) == len(lay.placements) + len(lay.strips)
    for a, b in zip(table.grounds, table.grounds[1:], strict=False):
        assert b.bounds[0] > a.bounds[2], "side by side"
    for row in sheet.rows:
        ground = table.grounds[row.panel]
        x0, _, _, y1 = ground.bounds
        assert ground.polygon.buffer(0.1).covers(row.outline.polygon)
        xs, ys = [x0 + c.from_end for c in row.corners], [y1 - c.from_left for c in row.corners]
        box = row.outline.bounds
        assert (min(xs), max(xs)) == pytest.approx((box[0], box[2]), abs=0.01) or not row.is_box
        assert all(c.from_end >= -0.01 and c.from_left >= -0.01 for c in row.corners)
        assert min(ys) >= box[1] - 0.01
    assert sheet.on_panels == (not sheet.cross_cuts and request_.on_panels)


def test_the_files_of_a_cut_sheet_hold_every_corner():
    for asked in (six_chairs(welt=True), ON_HIDES):
        lay = easy_lay(asked)
        sheet = cut_sheet(asked, lay, {"seat": "=Seat", "welt": "Welt"})
        rows = list(csv.DictReader(io.StringIO(cut_sheet_csv(sheet).decode())))
        corners = [r for r in rows if r["kind"] != "cross cut"]
        assert len(corners) == sum(len(row.corners) for row in sheet.rows)
        assert len(rows) - len(corners) == len(sheet.cross_cuts)
        assert not any(r["piece"].startswith("=") for r in rows), "no spreadsheet takes a name for a formula"
        first = sheet.rows[0]
        assert [float(r["from_end_mm"]) for r in corners if r["key"] == first.key] == pytest.approx(
            [c.from_end for c in first.corners], abs=0.051
        )
        drawn = ezdxf.read(io.StringIO(cut_sheet_dxf(sheet).decode()))
        assert drawn.header["$INSUNITS"] == 4
        lines = {
            layer: [e for e in drawn.modelspace() if e.dxf.layer == layer and e.dxftype() == "LWPOLYLINE"]
            for layer in ("CUT", "STRIPS", "CLOTH", "FLAWS")
        }
        assert len(lines["CUT"]) == len(lay.placements)
        assert len(lines["STRIPS"]) == len(lay.strips)
        assert len(lines["CLOTH"]) == len(sheet.table.grounds)
        assert len(lines["FLAWS"]) == len(asked.flaws)
        areas = sorted(shapely.Polygon([p[:2] for p in e.get_points()]).area for e in lines["CUT"])
        assert areas == pytest.approx(sorted(asked.by_id[p.piece].outline.area for p in lay.placements), rel=1e-5)


@pytest.mark.parametrize("units", ["metric", "imperial"])
def test_the_wall_sheet_is_large_and_has_every_piece(units):
    for asked in (six_chairs(welt=True), ON_HIDES):
        sheet = cut_sheet(asked, easy_lay(asked), {"seat": "Seat", "back": "Inside back"})
        reader = PdfReader(io.BytesIO(wall_sheet_pdf(sheet, HEAD, units=units)))
        assert float(reader.pages[0].mediabox.width) == pytest.approx(1190.55, abs=0.1), "A3 on its side"
        text = "".join(page.extract_text() for page in reader.pages)
        found = [
            re.findall(rb"/F\d\+?\d* ([\d.]+) Tf", page.get_contents().get_data())[1:] for page in reader.pages[1:]
        ]
        sizes = [float(size) for page in found for size in page]  # the first of a page is what a page begins with
        assert min(sizes) >= 15, "nothing in the order of cutting is smaller than 15 points"
        for row in sheet.rows:
            assert row.name in text
        assert (" cm" in text) == (units == "metric")
        if asked is ON_HIDES:
            assert "panel 2" in text
            assert "upper edge" in text
            plain = "".join(
                p.extract_text() for p in PdfReader(io.BytesIO(cut_sheet_pdf(sheet, HEAD, units=units))).pages
            )
            assert "the panel's left end" in plain


@given(st.integers(0, 300), st.floats(-80, 500), st.floats(60, 700), st.floats(30, 60))
def test_the_rows_of_the_wall_sheet_fill_its_pages_each_once(count, first, others, row):
    pages = wall_pages(count, first, others, row)
    held = [n for start, per_column in pages for n in range(start, min(count, start + WALL_COLUMNS * per_column))]
    assert held == list(range(count))
    assert pages[0][1] * row <= max(0.0, first)
    assert all(1 <= per_column <= max(1, others / row) for _, per_column in pages[1:])


def a_panel_with_a_flaw(wide: float, x: float, y: float) -> LayRequest:
    """One small piece on a panel of 900 mm across, and a flaw of 100 x 100 mm in it."""
    panels = Panels((rectangle(wide, 900),), (Flaw(0, rectangle(100, 100).moved(x, y)),))
    return LayRequest(panels, 0.0, (PieceAsk("p", rectangle(50, 50), 1),))


@pytest.mark.parametrize(
    ("wide", "x", "y", "kept"),
    [(1500, 700, 400, 0.97), (1500, 1390, 400, 0.92), (400, 150, 400, 0.90), (1500, 700, 10, 0.90)],
    ids=["in the middle", "near the end", "on a narrow panel", "near the edge"],
)
def test_a_hole_costs_a_left_over_little_and_leaves_no_rag(wide, x, y, kept):
    asked = a_panel_with_a_flaw(wide, x, y)
    rest = left_overs(asked, easy_lay(asked))
    area = sum(one.area for one in rest)
    assert kept * (wide * 900 - 100 * 100 - 50 * 50) <= area <= wide * 900 - 100 * 100 - 50 * 50
    flaw = asked.flaws[0].outline.polygon
    for one in rest:
        lying = one.outline.moved(*one.at).polygon
        assert not lying.interiors
        assert lying.distance(flaw) > 1.0
        assert not lying.buffer(-NARROWEST / 2 + 4).is_empty


# --- before the shears


def test_the_check_before_the_shears_says_what_holds_and_what_does_not():
    arm = up_the_roll(outline_of([(0, 0), (400, 0), (380, 500), (60, 500)]))
    mirrored = up_the_roll(outline_of([(0, 0), (400, 0), (340, 500), (20, 500)]))
    repeat = Repeat(400, 350, 0.0, (100, 200))
    seat = PieceAsk("seat", rectangle(400, 400), 2, (0.0,), False, (200, 200), True, True)
    asked = LayRequest(
        Roll(1400, (0, 0), repeat),
        3,
        (seat, PieceAsk("arm_left", arm, 1, (0.0,)), PieceAsk("arm_right", mirrored, 1, (0.0,))),
    )
    lay = easy_lay(asked)
    names = {"seat": "Seat", "arm_left": "Arm, left", "arm_right": "Arm, right"}
    pairs = [("arm_left", "arm_right")]
    said = before_the_shears(asked, lay, names, pairs)
    assert all(look.holds for look in said), [look.words for look in said]
    assert [look.words for look in said] == [
        "All there: 4 of 4 pieces are laid",
        "All the same way: every top up the roll",
        "Motif on centre of seat",
        "Arm, left and arm, right are a pair",
    ]
    off = replace(lay, placements=tuple(replace(p, x=p.x + 7) if p.piece == "seat" else p for p in lay.placements))
    turned = replace(
        off, placements=tuple(replace(p, turn_degrees=180.0) if p.piece == "arm_left" else p for p in off.placements)
    )
    few = replace(turned, placements=turned.placements[1:], unplaced=((turned.placements[0].piece, 1),))
    alike = replace(asked, pieces=(*asked.pieces[:2], replace(asked.pieces[2], outline=arm)))
    wrong = [look.words for look in before_the_shears(alike, few, names, pairs) if not look.holds]
    assert len(wrong) == 4
    assert "no room for 1 × " in wrong[0]
    assert "lie another way" in wrong[1]
    assert "off their motif" in wrong[2]
    assert "not each other's mirror image" in wrong[3]


# --- what lands on the furniture


@given(st.sampled_from([0.0, 90.0, 180.0, 270.0]), st.booleans(), st.floats(-500, 3000), st.floats(-500, 1400))
def test_a_point_of_the_cloth_lands_on_the_panel_where_the_piece_was_cut_from(turn, flip, x, y):
    shape = trapezoid_shape("Back", 420, 380, 560, {"bottom": "stapled_under"})
    placement = Placement("back", 1, x, y, turn, flip)
    piece = up_the_roll(shape.cut_line)
    affine = on_the_panel(shape, placement)
    left, low, right, high = shape.outline.bounds
    middle = ((left + right) / 2, (low + high) / 2)
    x0, _, _, y1 = shape.cut_line.bounds
    for px, py in piece.points:
        at = moved_by(affine, placement.spot((px, py)))
        assert at == pytest.approx((py + x0 - middle[0], y1 - px - middle[1]), abs=1e-6)
    a, b, c, d, _, _ = affine
    assert abs(a * d - b * c) == pytest.approx(1)
    assert (a * d - b * c > 0) == (not flip)


# --- by hand, and telling lays on panels apart


def test_a_piece_dragged_over_another_panel_lies_on_that_one():
    lay = easy_lay(ON_HIDES)
    work = Handwork(lay.placements)
    table = table_for(ON_HIDES, 0)
    one = next(p for p in lay.placements if p.panel == 0)
    here = cut_sheet(ON_HIDES, lay, {}).rows
    box = next(r.outline.bounds for r in here if r.key == f"{one.piece}.{one.copy}")
    to = table.grounds[1].bounds
    moved = by_hand.moved(ON_HIDES, work, by_hand.key_of(one), to[0] + 20 - box[0], to[1] + 20 - box[1])
    placed = moved.placed(by_hand.key_of(one))
    assert placed.panel == 1
    after = cut_sheet(ON_HIDES, judged(ON_HIDES, moved)[0], {}).rows
    there = next(r.outline.bounds for r in after if r.key == f"{one.piece}.{one.copy}")
    assert there[:2] == pytest.approx((to[0] + 20, to[1] + 20), abs=1e-6), "it lies on the table where the hand put it"
    back = by_hand.moved(ON_HIDES, moved, by_hand.key_of(one), box[0] - to[0] - 20, box[1] - to[1] - 20)
    found = back.placed(by_hand.key_of(one))
    assert (found.panel, found.x, found.y) == (0, pytest.approx(one.x), pytest.approx(one.y))


@examples(20)
@given(any_cloth())
def test_the_rank_of_lays_says_the_same_as_better(request_):
    first = easy_lay(request_)
    lay = search_lay(request_, seconds=0.3)
    if better(request_, lay, first):
        assert rank(request_, lay) < rank(request_, first)
    else:
        assert rank(request_, lay) == pytest.approx(rank(request_, first), abs=0.1)
