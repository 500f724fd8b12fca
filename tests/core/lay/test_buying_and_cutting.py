"""How much to buy, and the cut sheet's figures."""

import io
from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader
from shapely.geometry import LineString

from tests.core.lay.requests_of_the_trade import rectangles, six_chairs
from zonatome.core.errors import BadInput
from zonatome.core.formats.cut_sheet_pdf import SheetHead, cut_sheet_pdf
from zonatome.core.formats.lay_svg import lay_svg
from zonatome.core.lay.lay import easy_lay
from zonatome.core.lay.request import Lay, LayRequest, PieceAsk, Placement, Roll
from zonatome.core.lay.table.cut_sheet import cut_sheet
from zonatome.core.shop.buying import purchase
from zonatome.core.trace.by_tape import disc_shape, trapezoid_shape
from zonatome.core.trace.cut_marks import marks_up_the_roll, up_the_roll
from zonatome.core.trace.shape import Mark, Match

HEAD = SheetHead("118 Foyer side chairs × 6", "Skerry, 140 cm wide", "Laid 5.42 m, buy 5.60 m", "3 December 2026")


@pytest.mark.parametrize(
    ("laid", "step", "sold_in", "length", "cost", "margin", "below"),
    [
        pytest.param(
            5420,
            "tenth",
            "m",
            5700,
            "219.45",
            180,
            5600,
            id="5.42 + 0.10 + 0.10 is 5.62, so 5.70; 5.60 would do with 8 cm",
        ),
        pytest.param(4310, "half", "m", 5000, "192.50", 590, 4500, id="half metres"),
        pytest.param(4310, "whole", "m", 5000, "192.50", 590, None, id="a whole metre less does not hold it"),
        pytest.param(4800, "whole", "m", 5000, "192.50", 100, None, id="exactly to the step"),
        pytest.param(4172, "quarter", "yd", 4572, "192.50", 300, 4343.4, id="by the yard: 5 yd"),
        pytest.param(30, "half", "m", 500, "19.25", 370, None, id="never less than a step"),
    ],
)
def test_what_to_buy_is_the_lay_and_squaring_and_margin_up_to_the_step(
    laid, step, sold_in, length, cost, margin, below
):
    bought = purchase(laid, price=Decimal("38.50"), step=step, sold_in=sold_in)
    assert bought.length == pytest.approx(length)
    assert bought.cost == Decimal(cost)
    assert bought.margin == pytest.approx(margin)
    assert bought.below == (pytest.approx(below) if below else None)


@given(
    st.floats(10, 40_000),
    st.sampled_from(["whole", "half", "quarter", "tenth"]),
    st.sampled_from(["m", "yd"]),
    st.floats(0, 500),
)
def test_what_is_bought_always_holds_the_lay_and_a_step_less_would_not_keep_the_margin(laid, step, sold_in, margin):
    bought = purchase(laid, price=Decimal(20), step=step, sold_in=sold_in, margin=margin)
    assert bought.length >= laid + bought.squaring + margin - 1e-6
    assert bought.length - bought.step < laid + bought.squaring + margin or bought.length == pytest.approx(bought.step)
    if bought.below is not None:
        assert bought.below_margin == pytest.approx(bought.below - laid - bought.squaring)
        assert bought.below_margin >= -1e-6


@pytest.mark.parametrize("wrong", [{"step": "dozen"}, {"sold_in": "ell"}, {"price": Decimal(-1)}])
def test_a_seller_s_step_unit_and_price_are_checked(wrong):
    with pytest.raises(BadInput):
        purchase(1000, **{"price": Decimal(1), **wrong})


def test_corners_are_read_from_the_squared_end_and_the_left_selvage():
    asked = rectangles((500, 600, 1))
    sheet = cut_sheet(asked, easy_lay(asked), {"r0": "Seat"})
    row = sheet.rows[0]
    assert row.name == "Seat"
    # the piece lies on the right selvage's side: y from 12 to 612 of 1400, so 788 to 1388 from the left
    assert [(c.from_end, c.from_left) for c in row.corners] == [(0, 788), (0, 1388), (500, 788), (500, 1388)]


def test_the_order_is_cross_cuts_then_big_pieces_then_strips():
    asked = six_chairs(welt=True)
    sheet = cut_sheet(asked, easy_lay(asked), {"seat": "Seat"})
    areas = [r.outline.area for r in sheet.rows if not r.is_strip]
    assert areas == sorted(areas, reverse=True) or max(a - b for a, b in zip(areas[1:], areas, strict=False)) < 1
    kinds = [r.is_strip for r in sheet.rows]
    assert kinds == sorted(kinds)
    assert [r.number for r in sheet.rows] == list(range(1, len(sheet.rows) + 1))
    assert len({r.key for r in sheet.rows}) == len(sheet.rows)
    for cut in sheet.cross_cuts[:-1]:
        assert not any(r.outline.bounds[0] < cut - 0.1 and r.outline.bounds[2] > cut + 0.1 for r in sheet.rows), (
            "a cross cut meets a piece"
        )


def test_a_round_piece_is_given_by_its_box():
    disc = disc_shape("Top", 400, {}).outline
    asked = LayRequest(Roll(1400), 0, (PieceAsk("top", disc, 1),))
    row = cut_sheet(asked, easy_lay(asked), {}).rows[0]
    assert row.is_box
    assert len(row.corners) == 4


def test_the_pdf_holds_every_piece_and_its_corner_figures():
    asked = six_chairs(welt=True)
    lay = easy_lay(asked)
    sheet = cut_sheet(asked, lay, {"seat": "Seat", "inside-back": "Inside back", "welt": "Welt"})
    pages = PdfReader(io.BytesIO(cut_sheet_pdf(sheet, HEAD, units="metric"))).pages
    text = "\n".join(p.extract_text() for p in pages)
    assert len(pages) >= 2
    for row in sheet.rows:
        assert row.name in text
        if not row.is_box:
            first = row.corners[0]
            assert f"{first.from_end / 10:.1f} cm" in text, "one unit throughout, to the millimetre"
    assert "Skerry" in text
    assert "buy 5.60 m" in text


def test_on_the_cut_sheet_a_long_name_stands_in_lines_of_its_own_column_and_the_head_on_every_page():
    long = "Inside back of the settee by the window, with its piping, second time cut " * 2
    asked = six_chairs(welt=True)
    sheet = cut_sheet(asked, easy_lay(asked), dict.fromkeys(("seat", "inside-back"), long))
    where: dict[str, list[float]] = {}
    pages = PdfReader(io.BytesIO(cut_sheet_pdf(sheet, HEAD, units="metric"))).pages[1:]
    for page in pages:
        page.extract_text(visitor_text=lambda text, _, at, *__: where.setdefault(text.strip(), []).append(at[4]))
    names = {w: xs for w, xs in where.items() if w and w in " ".join(long.split()) and len(w) > 12}
    corners = [x for words, xs in where.items() if " / " in words and "cm" in words for x in xs]
    assert names
    assert max(x + 4.2 * len(w) for w, xs in names.items() for x in xs) < min(corners), "no name under a corner"
    assert len(where["piece"]) == len(pages) > 1


def test_the_pdf_speaks_inches_in_an_imperial_workroom():
    asked = rectangles((508, 609.6, 2))
    lay = easy_lay(asked)
    text = (
        PdfReader(io.BytesIO(cut_sheet_pdf(cut_sheet(asked, lay, {}), HEAD, units="imperial"))).pages[1].extract_text()
    )
    assert "20 in / " in text


def test_the_svg_is_in_millimetres_with_the_left_selvage_on_top():
    asked = rectangles((500, 600, 1))
    lay = Lay(500, 0.4, 400, 0, (Placement("r0", 1, 0, 788),))
    text = lay_svg(cut_sheet(asked, lay, {"r0": "Seat <6> & welt"}), title="118 & co")
    assert 'width="500.0mm" height="1400.0mm"' in text
    assert "M0.0 612.0L500.0 612.0" in text  # y = 788 from the right selvage is 612 from the left one
    assert "Seat &lt;6&gt; &amp; welt" in text


@given(st.sampled_from([0.0, 90.0, 180.0, 270.0]), st.booleans(), st.floats(0, 900), st.floats(0, 900))
def test_marks_lie_on_the_piece_however_it_is_turned_and_flipped(turn, flip, x, y):
    shape = trapezoid_shape("Back", 420, 380, 560, {"bottom": "stapled_under"})
    shape = replace(shape, matches=(Match("b", 200.0, True),), marks=(Mark("button", ((200.0, 300.0),)),))
    piece = up_the_roll(shape.cut_line)
    asked = LayRequest(Roll(1400, (0, 0)), 0, (PieceAsk("back", piece, 1, (turn,)),), ())
    lay = Lay(900, 0.5, 800, 0, (Placement("back", 1, x, y, turn, flip),))
    row = cut_sheet(asked, lay, {}, {"back": marks_up_the_roll(shape)}).rows[0]
    lines = [LineString(line) for line in row.marks]
    assert len(lines) == 4 + 2 + 2, "four centre notches, a double one, the cross of a button"
    edge = row.outline.polygon.exterior
    assert all(row.outline.polygon.buffer(0.01).covers(line) for line in lines)
    assert sum(line.distance(edge) < 0.5 for line in lines) == 6, (
        "each notch reaches the cut edge, where the shears snip it"
    )
