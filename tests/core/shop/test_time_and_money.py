"""Hours, waits, the quote and the next move."""

from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.shop.estimate import STEPS, Material, Quantities, Rates, step_times, whole_days
from zonatome.core.shop.progress import JobState, next_move, step_states
from zonatome.core.shop.quote import quote
from zonatome.core.shop.work import Work

ONE = Quantities(
    strip_minutes=30,
    works=(Work("shape", 2, once=True), Work("piece", 4), Work("seam_metre", 2), Work("foam_cut"), Work("staple", 60),
           Work("gimp", 3), Work("finish")),
)  # fmt: skip


def minutes(job, step):
    return next(t.minutes for t in step_times(job, Rates()) if t.step == step)


def test_the_first_of_a_kind_takes_its_quantities_times_the_rates():
    assert minutes(ONE, "strip") == 30
    assert minutes(ONE, "trace") == 24
    assert minutes(ONE, "fasten") == pytest.approx(60 / 6 + 2 * 3)
    assert minutes(ONE, "trim") == pytest.approx(12)
    assert [t.step for t in step_times(ONE, Rates())] == list(STEPS)


def test_the_others_of_a_set_go_faster_and_faster():
    four = replace(ONE, furniture=4)
    assert minutes(four, "strip") == pytest.approx(30 * (1 + 0.92 + 0.84 + 0.76))
    assert minutes(four, "lay") == pytest.approx(minutes(ONE, "lay") * 3.52)
    assert minutes(four, "trace") == minutes(ONE, "trace"), "shapes are traced once for the set"


def test_waits_run_by_themselves_and_cost_no_labour():
    glued = replace(ONE, is_glued_frame=True, glue_waits=1)
    waits = {t.step: t.wait_minutes for t in step_times(glued, Rates())}
    assert waits["survey"] == 720
    assert waits["pad"] == 120
    assert sum(t.minutes for t in step_times(glued, Rates())) == sum(t.minutes for t in step_times(ONE, Rates()))


def test_the_quote_is_materials_with_margin_labour_and_sundries():
    times = step_times(ONE, replace(Rates(), hour=Decimal(60)))
    found = quote(
        (Material("cloth", "2 m", Decimal("80.00")),), times, replace(Rates(), hour=Decimal(60)), new=Decimal(500)
    )
    assert found.materials_with_margin == Decimal("100.00")
    assert found.labour == Decimal(str(round(sum(t.minutes for t in times), 2))).quantize(Decimal("0.01"))
    assert found.sundries == ((found.materials_with_margin + found.labour) * Decimal("0.05")).quantize(Decimal("0.01"))
    assert found.total == found.materials_with_margin + found.labour + found.sundries + found.rounding
    assert abs(found.rounding) <= Decimal("0.50")
    assert found.saves == 500 - found.total


@given(st.integers(1, 40), st.lists(st.decimals(0, 500, places=2), max_size=6))
def test_a_quote_never_loses_a_cent(furniture, costs):
    materials = tuple(Material("x", "", c) for c in costs)
    found = quote(materials, step_times(replace(ONE, furniture=furniture), Rates()), Rates(), new=Decimal(0))
    assert found.materials == sum(costs, Decimal(0))
    assert found.total == found.materials_with_margin + found.labour + found.sundries + found.rounding
    assert found.total.as_tuple().exponent == -2


@pytest.mark.parametrize(
    ("minutes", "waits", "days"),
    [
        pytest.param(0, 0, 1, id="the least is a day"),
        pytest.param(360, 0, 1, id="six hours at the bench are a day"),
        pytest.param(362, 0, 1, id="two minutes more too"),
        pytest.param(400, 0, 2, id="forty are another"),
        pytest.param(180, 12 * 60, 1, id="half a day, and glue over night"),
        pytest.param(360, 12 * 60, 2, id="a whole day, and glue over night"),
    ],
)
def test_a_day_has_six_hours_at_the_bench_and_twenty_four_of_waiting(minutes, waits, days):
    assert whole_days(minutes, waits) == days


def test_no_furniture_is_refused():
    with pytest.raises(BadInput):
        step_times(replace(ONE, furniture=0), Rates())


FRESH = JobState(
    parts=3, next_off="Screws", shapes=1, next_shape="Seat", pads=1, next_pad="Seat", next_fasten="Seat", to_finish=4
)


@pytest.mark.parametrize(
    ("change", "step", "words"),
    [
        pytest.param({}, "survey", "4 of 4", id="a fresh tag is looked at"),
        pytest.param({"findings": 4}, "strip", "screws comes off next", id="then stripped"),
        pytest.param(
            {"findings": 4, "is_covered_over": True},
            "trace",
            "a shape for the seat",
            id="covered over: nothing to strip",
        ),
        pytest.param({"findings": 4, "parts_off": 3}, "trace", "a shape for the seat", id="then traced"),
        pytest.param({"findings": 4, "parts_off": 3, "shapes_made": 1}, "lay", "choose the cloth", id="then laid"),
        pytest.param(
            {"findings": 4, "parts_off": 3, "shapes_made": 1, "cloths": 1, "pieces": 4},
            "lay",
            "4 pieces to lay",
            id="cloth, no lay",
        ),
        pytest.param(
            {"findings": 4, "parts_off": 3, "shapes_made": 1, "cloths": 1, "lays": 1, "stale_lays": 1, "pieces": 4},
            "lay",
            "lay again",
            id="stale",
        ),
        pytest.param(
            {"findings": 4, "parts_off": 3, "shapes_made": 1, "cloths": 1, "lays": 1, "pieces": 4, "buy": "1.50 m"},
            "lay",
            "1.50 m, 4 of 4",
            id="to cut",
        ),
        pytest.param(
            {"findings": 4, "parts_off": 3, "shapes_made": 1, "cloths": 1, "lays": 1, "pieces": 4, "pieces_cut": 4},
            "pad",
            "layers of the seat",
            id="then padded",
        ),
    ],
)
def test_there_is_one_next_move_and_it_says_what(change, step, words):
    move = next_move(replace(FRESH, **change))
    assert move.step == step
    assert words in move.words


DONE = replace(
    FRESH,
    findings=4,
    parts_off=3,
    shapes_made=1,
    cloths=1,
    lays=1,
    pieces=4,
    pieces_cut=4,
    pads_made=1,
    staples=80,
    staples_done=80,
    trim_done=True,
    to_finish=0,
)


def test_the_last_moves_are_staples_trim_and_going_home():
    assert next_move(replace(DONE, staples=0, staples_done=0)).words == "measure the board under the seat"
    assert next_move(replace(DONE, staples_done=10)).words == "seat, 70 staples to go"
    assert next_move(replace(DONE, trim_done=False)).step == "trim"
    assert next_move(replace(DONE, to_finish=2)).words == "2 things before it goes home"
    assert next_move(DONE).words == "ready to go home"
    assert next_move(replace(DONE, is_finished=True)).words == "gone home"


def test_the_tape_shows_every_step_s_figure_and_share():
    states = {s.step: s for s in step_states(replace(DONE, staples_done=20, buy="1.50 m"))}
    assert list(states) == list(STEPS)
    assert states["fasten"].figure == "20 of 80"
    assert states["fasten"].share == pytest.approx(0.25)
    assert states["lay"].figure == "1.50 m"
    assert states["lay"].is_done
    assert step_states(replace(DONE, stale_lays=1))[3].figure == "out of date"
    assert all(s.is_done for s in step_states(replace(DONE, is_finished=True)))
