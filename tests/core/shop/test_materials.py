"""The bill of materials: worked by hand for a set of four stools."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.outline import rectangle
from zonatome.core.pad.buying import PadAsk, pads_bought
from zonatome.core.pad.nest import FOAM_SHEET
from zonatome.core.pad.stack import Frame, Layer, Stack
from zonatome.core.pad.worked import worked
from zonatome.core.shop.estimate import Rates
from zonatome.core.shop.materials import (
    BOTTOM_ROLL_WIDTH,
    ClothBought,
    FoamOnOldPads,
    Takes,
    bill_of_materials,
    bottom_run,
    foam_sheets,
)
from zonatome.core.trim.bottom import BottomCloth
from zonatome.core.trim.welt import TrimSum

SEAT = worked(Stack((Layer("foam", 50), Layer("wadding", 10))), Frame(rectangle(400, 380), 18))
STOOLS = Takes(
    furniture=4,
    cloths=(ClothBought("Skerry, slate", 2600, Decimal("89.70")),),
    pads=pads_bought([PadAsk("seat", "Seat", "stool", SEAT, 4)]).bought,
    on_old_pads=(FoamOnOldPads(25, 1_000_000), FoamOnOldPads(25, 800_000)),
    buttons=4,
    trims=(TrimSum("welt", 2000, 8000, 8800, 48), TrimSum("double_welt", 750, 3000, 3300, 58)),
    bottom=BottomCloth((350, 350), (400, 400)),
    staples=1040,
)


def test_four_stools_by_hand():
    """Foam 410 x 390: ten to a sheet. Wadding 546 x 526: two across 1500, two rows of 526. Bottom: three across."""
    lines = [(m.what, m.amount, m.cost) for m in bill_of_materials(STOOLS, Rates(), "metric")]
    assert lines == [
        ("Skerry, slate", "2.60 m", Decimal("89.70")),
        ("wadding, 10 mm", "1.06 m", Decimal("4.42")),
        ("medium foam, 50 mm", "1 sheet", Decimal("38.00")),
        ("foam, 25 mm, on the old pads", "2 sheets", Decimal("76.00")),
        ("buttons, covered, with twine", "4", Decimal("2.80")),
        ("welt cord", "8.00 m", Decimal("2.80")),
        ("welt cord", "6.00 m", Decimal("2.10")),
        ("bottom cloth", "0.80 m", Decimal("2.32")),
        ("staples", "1040, 2 boxes", Decimal("13.00")),
    ]


def test_amounts_are_said_in_yards_where_the_workroom_reads_inches_and_cost_the_same():
    metric, imperial = (bill_of_materials(STOOLS, Rates(), units) for units in ("metric", "imperial"))
    assert [m.cost for m in metric] == [m.cost for m in imperial]
    assert not [m for m in imperial if " m" in m.amount]


def test_nothing_taken_is_nothing_bought():
    assert bill_of_materials(Takes(), Rates(), "metric") == ()


@given(st.floats(1, 1e8))
def test_foam_bought_covers_what_is_cut_and_never_by_a_whole_sheet_too_much(area):
    sheet = FOAM_SHEET[0] * FOAM_SHEET[1]
    sheets = foam_sheets(area)
    assert area < sheets * sheet
    assert (sheets - 1) * sheet < area * 1.15 + 1


@given(st.floats(60, 3000), st.floats(60, 3000), st.integers(1, 60))
def test_bottom_cloths_lie_side_by_side_as_many_as_the_roll_takes(width, depth, count):
    run = bottom_run(BottomCloth((width - 50, depth - 50), (width, depth)), count)
    rows = round(run / depth)
    across = max(1, BOTTOM_ROLL_WIDTH // width)
    assert run == pytest.approx(rows * depth)
    assert rows * across >= count > (rows - 1) * across
