"""Stock: never more is kept than lies there, what is short is ordered with the least stock, nothing twice."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.shop.estimate import Rates
from zonatome.core.shop.materials import Takes, bill_of_materials
from zonatome.core.shop.stock import Lying, OnItsWay, Want, order_by, packs_for, stock_lines

MONDAY = date(2026, 11, 30)
things = st.sampled_from(["webbing", "staples", "zips"])
amounts = st.floats(0, 5000).map(lambda x: round(x, 1))
days = st.integers(0, 20).map(lambda n: MONDAY + timedelta(days=n))
lyings = st.builds(Lying, things, st.just("mm"), amounts, amounts)
stocks = st.lists(lyings, max_size=3, unique_by=lambda one: one.thing)
wishes = st.lists(st.builds(Want, things, st.integers(101, 105), amounts, st.none() | days), max_size=9)
deliveries = st.lists(st.builds(OnItsWay, things, amounts, days), max_size=5)


@given(stocks, wishes, deliveries)
def test_what_is_kept_never_exceeds_what_lies_there_and_nothing_is_lost(lying, wants, coming):
    for line in stock_lines(lying, wants, coming):
        mine = [w.amount for w in wants if w.thing == line.lying.thing]
        ahead = sum(c.amount for c in coming if c.thing == line.lying.thing)
        kept, short = sum(line.kept.values()), sum(line.short.values())
        assert kept <= line.lying.there + 1e-3
        assert line.free >= -1e-3
        assert kept + short <= sum(mine) + 1e-3
        assert sum(mine) <= kept + short + ahead + 1e-3
        assert line.to_order >= short - 1e-3
        # with what is ordered there is enough for all, and the least stock lies there after them
        over = line.lying.there + ahead + line.to_order - sum(mine)
        assert over >= line.lying.least - 1e-2
        assert line.to_order == 0 or over <= max(line.lying.least, 0) + 1e-2


def test_by_hand_the_first_that_wants_it_gets_it():
    # 10 m of webbing: 118 takes 6 on Tuesday, 124 takes 7 on Thursday, 2 come on Wednesday; least 3
    lying = [Lying("webbing", "mm", 10_000, 3_000)]
    wants = [
        Want("webbing", 124, 7_000, MONDAY + timedelta(days=3)),
        Want("webbing", 118, 6_000, MONDAY + timedelta(days=1)),
        Want("webbing", 130, 500),  # no day yet: last
    ]
    coming = [OnItsWay("webbing", 2_000, MONDAY + timedelta(days=2))]
    (line,) = stock_lines(lying, wants, coming)
    assert line.kept == {118: 6_000, 124: 4_000}
    assert line.short == {124: 1_000, 130: 500}
    assert line.to_order == 4_500
    assert (line.short_by, line.late) == (MONDAY + timedelta(days=3), False)
    late = [OnItsWay("webbing", 9_000, MONDAY + timedelta(days=4))]
    (line,) = stock_lines(lying, wants, late)
    assert (line.short, line.late, line.to_order) == ({}, True, 0.0)  # 19 m less 13.5: more than the least
    (line,) = stock_lines([], [Want("zips", 118, 720)], units={"zips": "mm"})
    assert (line.lying.unit, line.to_order) == ("mm", 720)
    assert packs_for(17_610, 10_000) == 2
    assert order_by(MONDAY, 3) == date(2026, 11, 27)
    for wrong in (lambda: Lying("x", "mm", -5), lambda: packs_for(3, 0)):
        with pytest.raises(BadInput):
            wrong()


def test_bills_say_how_much_of_it_lies_in_stock():
    lines = bill_of_materials(Takes(furniture=2, buttons=6, zips=(700.0, 700.0), staples=1200), Rates(), "metric")
    assert [(m.what.split(",")[0], m.quantity, m.unit) for m in lines] == [
        ("buttons", 6, "pieces"), ("zips", 1400.0, "mm"), ("staples", 1200, "pieces"),
    ]  # fmt: skip
