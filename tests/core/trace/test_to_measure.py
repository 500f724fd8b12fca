"""What the tape measures: each line on the drawing is as long as the figure that is typed for it."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, reject
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.to_measure import to_measure, usual_measures

WAYS = ("block", "rectangle", "trapezoid", "disc", "ellipse", "rounded", "t", "board")
PANELS = [(kind.key, part) for kind in KINDS.values() for part in kind.panels]


@given(st.sampled_from(PANELS), st.sampled_from(WAYS), st.floats(0.6, 1.6), st.floats(0, 90))
def test_each_line_is_as_long_as_its_measure_and_ends_on_the_shape(panel, way, grown, pad):
    _, part = panel
    is_round = part.form == "disc"
    measures = usual_measures(part, way, pad=pad)
    measures |= {
        key: value * grown for key, value in measures.items() if value and key not in ("pad", "wrap", "board_thickness")
    }
    try:
        found = to_measure(part.name, way, measures, is_round=is_round)
    except BadInput:
        assert min(part.width, part.height) * grown < 120  # a narrow strip is no T and no ring
        reject()
    x0, y0, x1, y1 = (found.board or found.shape.outline).bounds
    for tape in found.tapes:
        assert math.dist(tape.begins, tape.ends) == pytest.approx(
            measures.get(tape.key) or measures["board_width"], abs=0.01
        )
        assert all(x0 - 0.1 <= x <= x1 + 0.1 and y0 - 0.1 <= y <= y1 + 0.1 for x, y in (tape.begins, tape.ends))
        assert any(abs(v - w) < 0.1 for v, w in zip((*tape.begins, *tape.begins), (x0, y0, x1, y1), strict=True)), (
            "it lies along a side"
        )
    assert {t.key for t in found.tapes} == {k for k in measures if k not in ("pad", "wrap", "board_thickness")} - (
        {"board_back", "board_depth"} if is_round else set()
    )


def test_what_is_usual_for_a_panel_gives_a_shape_by_every_way():
    for _, part in PANELS:
        for way in (*WAYS, "offsets"):
            assert (
                to_measure(
                    part.name, way, usual_measures(part, way, pad=45), is_round=part.form == "disc"
                ).shape.outline.area
                > 0
            )


def test_a_block_by_hand():
    """By hand: board 37 cm with 1.8 under 4.5 of pad: 37 + 2 x 6.3 = 49.6 finished; 5 cm under it all round: 59.6
    cut.
    """
    stool = KINDS["square_stool"].part("seat")
    usual = usual_measures(stool, "block", pad=45)
    found = to_measure(
        "Seat", "block", usual | {"board_width": 370, "board_depth": 370, "board_back": None, "board_thickness": 18}
    )
    assert (found.shape.outline.width, found.shape.cut_line.width) == pytest.approx((496, 596))
    assert found.board is not None
    assert found.board.bounds == pytest.approx((63, 63, 433, 433))


def test_what_gives_no_shape_is_refused_by_its_own_key():
    part = KINDS["wing"].part("seat")
    with pytest.raises(BadInput) as refused:
        to_measure("Seat", "t", usual_measures(part, "t", pad=0) | {"body": 2000})
    assert refused.value.key == "body"
    with pytest.raises(BadInput):
        to_measure("Seat", "photo", {})
