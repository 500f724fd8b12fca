"""Own rates: from a made-up log with outliers the rates come back that it was made with, and the pace of sets."""

from __future__ import annotations

import random
import xml.etree.ElementTree as ET
from statistics import median

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.often import examples
from zonatome.core.formats.plots import took_plot
from zonatome.core.shop.own_rates import TimedStep, own_rates
from zonatome.core.shop.work import WORK, one_takes

KEYS = ("panel", "staple", "corner", "seam_metre")
factors = st.tuples(*(st.floats(0.5, 2.2) for _ in KEYS))


def made_up(chance: random.Random, factors, *, tags: int, outliers: int, sixth: float = 0.6) -> list[TimedStep]:
    """A log of fastening: each tag of other amounts, a tenth off from day to day, some clocks forgotten or lost."""
    rates = {key: one_takes(key) * f for key, f in zip(KEYS, factors, strict=True)}
    rates = {**{key: one_takes(key) for key in WORK}, **rates}
    log = []
    for n in range(tags):
        count = chance.choice([1, 1, 2, 4, 6, 8])
        each = {"panel": chance.randint(1, 9), "staple": chance.randint(20, 300), "corner": chance.randint(0, 12),
                "seam_metre": chance.uniform(0, 14)}  # fmt: skip
        each = {key: amount for key, amount in each.items() if amount}
        took = TimedStep(count, 1.0, each=each).foreseen(rates, sixth) * chance.uniform(0.9, 1.1)
        if n < outliers:
            took *= chance.choice([0.3, 3.5, 25])
        log.append(TimedStep(count, took, each=each))
    return log


@examples(12)
@given(factors, st.integers(0, 10**6), st.sampled_from([0.45, 0.6, 0.8]))
def test_rates_come_back_from_a_log_with_outliers(factors, seed, sixth):
    found = own_rates(made_up(random.Random(seed), factors, tags=100, outliers=10, sixth=sixth))
    off = []
    for key, factor in zip(KEYS, factors, strict=True):
        rate = next(one for one in found.rates if one.key == key)
        assert rate.low <= rate.minutes <= rate.high
        assert rate.usual == one_takes(key)
        off.append(abs(rate.minutes / (one_takes(key) * factor) - 1))
    assert max(off) < 0.6  # two that always come together are hard to tell apart
    assert median(off) < 0.2
    assert found.sixth == pytest.approx(sixth, abs=0.2)
    said = {**{key: one_takes(key) for key in WORK}, **{one.key: one.minutes for one in found.rates}}
    fresh = made_up(random.Random(seed + 1), factors, tags=40, outliers=0, sixth=sixth)
    errors = [abs(one.foreseen(said, found.sixth or 0.6) / one.took - 1) for one in fresh]
    assert median(errors) < 0.1  # what it is for: the next tag


def test_what_the_log_says_nothing_of_stays_and_few_tags_say_nothing():
    log = [TimedStep(1, 60.0, each={"panel": 2, "staple": 100}) for _ in range(2)]
    assert own_rates(log).rates == ()
    steady = [TimedStep(1, 2 * (12 * n + 4 * n), each={"panel": n, "corner": n}) for n in range(1, 9)]
    found = {one.key: one for one in own_rates(steady).rates}
    assert set(found) == {"panel", "corner"}
    assert found["panel"].minutes == pytest.approx(24, rel=0.05)  # both double: the log can't tell them apart
    assert found["corner"].minutes == pytest.approx(8, rel=0.05)
    assert found["panel"].entries == 8
    assert own_rates(steady).sixth is None
    forgotten = [*steady, TimedStep(1, 5000.0, each={"panel": 1})]
    assert {one.key: one.entries for one in own_rates(forgotten).rates} == {"panel": 8, "corner": 8}


def test_the_plot_is_an_svg_that_says_its_steps():
    drawn = ET.fromstring(took_plot([("survey", 15, 12), ("strip", 199, 240), ("lay", 0, 0)]))
    assert drawn.tag.endswith("svg")
    assert sum(1 for _ in drawn.iter("{http://www.w3.org/2000/svg}path")) > 8
    assert took_plot([]) == took_plot([])
