"""Estimates summed from counts: the trade's table, sets, likely ranges; by hand, and for any."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.fasten.closings import CLOSINGS
from zonatome.core.rules import RULES, Rules
from zonatome.core.shop.estimate import STEPS, Quantities, Rates, likely, step_times
from zonatome.core.shop.work import CLOSED_BY, PER_MINUTE, WORK, Work, lines_of, minutes_read, one_takes, whole_set

counts = st.integers(1, 60)
works = st.lists(st.builds(Work, st.sampled_from(sorted(WORK)), st.floats(0.1, 500), st.booleans()), max_size=12)


def test_what_is_counted_in_metres_has_a_rule_that_says_a_metre_and_nothing_else_has():
    ruled = {key: RULES[f"minutes_{key}"] for key in WORK if key not in PER_MINUTE}
    assert {key for key, rule in ruled.items() if rule.is_a_metre_s} == {k for k, w in WORK.items() if w.unit == "m"}
    for key, rule in ruled.items():
        assert minutes_read(key, rule.figure, "imperial") == rule.shown(rule.figure, "imperial")


def test_by_hand_a_drop_in_seat():
    """Traced 12, cut 4, foam and wadding 20, set 12, 72 staples at 6 a minute 12, four corners 16; looked over 15, sent
    home 20: 111.
    """
    seat = (Work("survey", once=True), Work("shape", once=True), Work("piece"), Work("foam_cut"), Work("foam_glued"),
            Work("wadding"), Work("panel"), Work("staple", 72), Work("corner", 4), Work("finish"))  # fmt: skip
    times = step_times(Quantities(works=seat), Rates())
    assert {t.step: t.minutes for t in times if t.minutes} == {
        "survey": 15, "trace": 12, "lay": 4, "pad": 20, "fasten": pytest.approx(40), "finish": 20,
    }  # fmt: skip
    assert likely(times) == (pytest.approx(0.8 * 111), pytest.approx(1.35 * 111))


def test_by_hand_a_set_of_six_takes_4_8_times_the_first():
    """1 + 0.92 + 0.84 + 0.76 + 0.68 + 0.6; what is done once is done once."""
    lines = lines_of([Work("shape", once=True), Work("panel"), Work("corner", 4)], furniture=6)
    assert [(line.sort.key, line.amount, line.minutes) for line in lines] == [
        ("shape", 1, 12), ("panel", 6, pytest.approx(12 * 4.8)), ("corner", 24, pytest.approx(16 * 4.8)),
    ]  # fmt: skip


@given(counts, st.floats(0.3, 1))
def test_one_more_of_a_set_is_never_slower_than_the_one_before_nor_faster_than_the_sixth(count, sixth):
    steps = [whole_set(n, sixth) for n in range(1, count + 2)]
    more = [b - a for a, b in zip([0.0, *steps], steps, strict=False)]
    assert more[0] == 1
    assert all(sixth - 1e-5 <= later <= earlier + 1e-5 for earlier, later in itertools.pairwise(more))


@given(works, counts)
def test_an_estimate_is_the_sum_of_its_lines_in_the_order_of_the_work(works, count):
    times = step_times(Quantities(furniture=count, works=tuple(works)), Rates())
    assert [t.step for t in times] == list(STEPS)
    for time in times:
        assert time.minutes == pytest.approx(sum(line.minutes for line in time.lines))
        assert time.likely[0] <= time.minutes <= time.likely[1]
    alone = step_times(Quantities(furniture=1, works=tuple(works)), Rates())
    total, one = (sum(t.minutes for t in each) for each in (times, alone))
    assert one - 1e-6 <= total <= count * one + 1e-6
    slow = Rates(Rules((("minutes_panel", 24.0), ("staples_set", 3.0))))
    assert sum(t.minutes for t in step_times(Quantities(furniture=count, works=tuple(works)), slow)) >= total - 1e-6


def test_each_sort_of_work_has_its_rule_and_each_closing_its_sort_at_the_trade_s_minutes():
    for key in WORK:
        assert PER_MINUTE.get(key, f"minutes_{key}") in RULES, key
        assert one_takes(key) > 0
    for closing in CLOSINGS.values():
        assert one_takes(CLOSED_BY[closing.key]) == closing.minutes_a_metre
    for wrong in (lambda: Work("dreaming"), lambda: whole_set(0), lambda: lines_of([], furniture=0)):
        with pytest.raises(BadInput):
            wrong()
