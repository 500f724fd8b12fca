"""Layers, what they measure, and what to buy."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.pad.layers import PadChoice, block_growth, layer_sizes, measured_pad, straps_across, to_buy
from zonatome.core.trace.by_tape import Board, block_shape

BOARD = Board(400, 380, 18)


def test_foam_and_wadding_give_a_tenth_under_the_cover():
    assert measured_pad(PadChoice(foam=50, wadding=10)) == pytest.approx(54)


@given(st.floats(5, 150), st.floats(0, 40), st.floats(0, 100))
def test_the_growth_foretold_is_the_growth_of_the_block(foam, wadding, more):
    before, after = PadChoice(foam=foam, wadding=wadding), PadChoice(foam=foam + more, wadding=wadding)
    cut = [block_shape("Seat", BOARD, pad=measured_pad(c)).cut_line.width for c in (before, after)]
    assert cut[1] - cut[0] == pytest.approx(block_growth(before, after), abs=0.01)


def test_sizes_come_from_the_board():
    layers = {s.what: s for s in layer_sizes(BOARD, PadChoice(foam=50, wadding=10, oversize=5), pads=4)}
    foam, wadding = layers["foam"], layers["wadding"]
    assert (foam.width, foam.depth, foam.thickness, foam.count) == (410, 390, 50, 4)
    assert (wadding.width, wadding.depth) == (400 + 10 + 2 * (50 + 18), 380 + 10 + 2 * (50 + 18))


@given(st.floats(60, 1500))
def test_straps_leave_no_gap_wider_than_a_strap(opening):
    straps = straps_across(opening)
    assert (opening - 50 * straps) / (straps + 1) <= 50 + 1e-6
    assert straps == 1 or (opening - 50 * (straps - 1)) / straps > 50 - 1e-6, "one strap less would do"


def test_webbing_runs_both_ways_with_its_ends_folded():
    layers = [s for s in layer_sizes(BOARD, PadChoice(webbing=True), pads=1) if s.what.startswith("webbing")]
    assert [(s.depth, s.count) for s in layers] == [(460, 4), (480, 4)]
    assert {thing.what: thing.amount for thing in to_buy(tuple(layers))} == {"webbing": 4 * 460 + 4 * 480}


@pytest.mark.parametrize(
    ("board", "pads", "sheets"),
    [
        pytest.param(BOARD, 8, 1, id="4 x 2 of 410 x 390 on a sheet of 2 m by 1 m, or 5 x 2 turned"),
        pytest.param(BOARD, 11, 2, id="ten fit, eleven do not"),
        pytest.param(Board(1580, 430, 22), 2, 1, id="two bench cushions"),
        pytest.param(Board(2300, 430, 22), 1, 1, id="larger than a sheet: joined"),
    ],
)
def test_foam_is_bought_in_sheets(board, pads, sheets):
    bought = next(t for t in to_buy(layer_sizes(board, PadChoice(foam=50), pads=pads)) if t.what.startswith("foam"))
    assert (bought.amount, bought.unit) == (sheets, "sheets")


def test_wadding_is_bought_by_the_roll_s_length():
    layers = layer_sizes(
        BOARD, PadChoice(foam=50, wadding=10), pads=6
    )  # 546 x 526: two abreast on 150 cm, three lengths
    bought = next(t for t in to_buy(layers) if t.what == "wadding")
    assert bought.amount == pytest.approx(3 * 546)


@pytest.mark.parametrize(
    "wrong", [{"foam": -1}, {"foam": 900}, {"wadding": 200}, {"oversize": 90}, {"foam": 0, "wadding": 0}]
)
def test_a_pad_that_nobody_sits_on_is_refused(wrong):
    with pytest.raises(BadInput):
        PadChoice(**wrong)


def test_no_pads_are_refused():
    with pytest.raises(BadInput, match="at least 1"):
        layer_sizes(BOARD, PadChoice(), pads=0)
