"""The workroom's own pace from its log: known paces are found among clocks left running; by hand, and for any."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.shop.estimate import Quantities, Rates, step_times
from zonatome.core.shop.own_pace import OwnPace, Took, own_paces, read_paces, write_paces
from zonatome.core.shop.work import TRADE_SPREAD, Work

paces = st.builds(
    lambda factor, down, up, n: OwnPace(factor, factor * down, factor * up, n),
    st.floats(0.2, 5), st.floats(0.3, 1), st.floats(1, 2), st.integers(3, 500),
)  # fmt: skip


def test_by_hand_four_tags_and_a_clock_that_ran_over_night():
    """Foreseen 60 each; 66, 72, 78, 84, and 900 over night, which is more than ten times: the middle is 1.25, a quarter
    took 1.175 or less, a quarter 1.325 or more: a tenth each way reaches further.
    """
    log = [Took("fasten", 60, took) for took in (66, 72, 78, 84, 900)]
    (pace,) = own_paces(log).values()
    assert pace.factor == pytest.approx(1.25)
    assert (pace.low, pace.high) == (pytest.approx(1.125), pytest.approx(1.375))
    assert pace.entries == 4
    assert own_paces(log[:2]) == {}, "two say nothing yet"


@given(st.floats(0.3, 3), st.lists(st.floats(0.92, 1.08), min_size=9, max_size=40), st.integers(0, 4), st.data())
def test_a_known_pace_is_found_among_outliers(known, noise, wrong, data):
    log = [Took("pad", 40, 40 * known * each) for each in noise]
    outliers = data.draw(st.lists(st.floats(0.05, 3000), min_size=wrong, max_size=wrong))
    log += [Took("pad", 40, took) for took in outliers]
    (pace,) = own_paces(log).values()
    assert pace.factor == pytest.approx(known, rel=0.09)
    assert pace.low <= pace.factor <= pace.high


@given(paces, st.integers(1, 12))
def test_an_estimate_goes_by_the_workroom_s_own_pace_where_it_has_one(pace, furniture):
    job = Quantities(furniture=furniture, works=(Work("panel", 3), Work("strap", 8)))
    by_trade = {t.step: t for t in step_times(job, Rates())}
    by_own = {t.step: t for t in step_times(job, Rates(own={"fasten": pace}))}
    assert by_own["fasten"].minutes == pytest.approx(by_trade["fasten"].minutes * pace.factor)
    assert by_own["fasten"].likely == (
        pytest.approx(by_trade["fasten"].minutes * pace.low),
        pytest.approx(by_trade["fasten"].minutes * pace.high),
    )
    assert by_own["pad"] == by_trade["pad"]
    assert by_own["pad"].likely[0] == pytest.approx(by_own["pad"].minutes * TRADE_SPREAD[0])
    assert read_paces(write_paces({"fasten": pace})) == {"fasten": pace}


@pytest.mark.parametrize("wrong", [(0, 0, 0, 3), (1, 1.1, 1.2, 3), (1, 0.9, 1.1, 0), (50, 40, 60, 3)])
def test_a_pace_that_no_log_gives_is_refused(wrong):
    with pytest.raises(BadInput):
        OwnPace(*wrong)
