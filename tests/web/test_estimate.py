"""Minutes of whole tags, counted from their own rows, held against the trade's usual hours; how Money shows them."""

from __future__ import annotations

import re
from dataclasses import replace
from decimal import Decimal

import pytest

from zonatome.core.pad.stack import Buttons
from zonatome.core.shop.estimate import usual_hours
from zonatome.core.shop.work import TRADE_SPREAD, WORK
from zonatome.core.survey.kinds import KINDS
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.pad.services import set_stack, stack_of
from zonatome.web.shop.services import money_of
from zonatome.web.shop.work import works_of
from zonatome.web.trim.models import TrimLine


@pytest.fixture
def wing(workroom) -> Job:
    return hung("wing")


def hung(kind: str, count: int = 1) -> Job:
    return load_job(hang_tag(title="x", client="y", kind=kind, count=count).number)


def amounts(job: Job) -> dict[str, float]:
    """How much of each sort of work there is on one."""
    found: dict[str, float] = {}
    for work in works_of(load_job(job.number)):
        found[work.key] = found.get(work.key, 0.0) + work.amount
    return found


@pytest.mark.parametrize(("kind", "count"), [("drop_in", 1), ("drop_in", 6), ("wing", 1)])
def test_what_the_trade_knows_is_within_what_is_likely(workroom, kind, count):
    money = money_of(hung(kind, count), Workroom.the_one())
    usual = usual_hours(kind, count)
    assert money.usual == usual
    low, high = (money.held_against / 60 * share for share in TRADE_SPREAD)
    assert low <= usual.high and usual.low <= high, (low, high)  # noqa: PT018
    assert money.held_against <= money.minutes


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_has_minutes_at_every_step_that_it_has_and_money_says_what_of(bench, workroom, kind):
    job = hung(kind, 3)
    money = money_of(load_job(job.number), Workroom.the_one())
    steps = {time.step: time.minutes for time in money.times}
    assert all(steps[step] > 0 for step in ("survey", "strip", "trace", "lay", "fasten", "finish")), steps
    assert sum(steps.values()) == pytest.approx(money.minutes)
    shown = " ".join(bench.get(f"/tags/{job.number}/money/").content.decode().split())
    assert "What it is summed from" in shown
    for time in money.times:
        for line in time.lines:
            assert WORK[line.sort.key].words.capitalize() in shown


def test_by_hand_the_work_on_a_drop_in_seat(workroom):
    """One panel on a board of 460 by 400: pulled under all round; usual pad of webbing or foam on a board."""
    found = amounts(hung("drop_in"))
    assert (found["survey"], found["shape"], found["piece"], found["panel"], found["finish"]) == (1, 1, 1, 1, 1)
    assert found["corner"] == 4
    assert found["staple"] == pytest.approx(2 * (460 + 400) / 16, rel=0.25)
    assert (found["foam_cut"], found["foam_glued"], found["wadding"]) == (1, 1, 1)
    assert "seam" not in found


def test_what_is_chosen_is_counted(bench, wing):
    before = amounts(wing)
    pairs = sum(1 for p in load_job(wing.number).panels() if p.part.mirror) // 2
    assert before["shape"] == len(load_job(wing.number).panels()) - pairs, "a pair is traced once"
    back = load_job(wing.number).parts_by_key()["inside_back"]
    set_stack(back, replace(stack_of(back), buttons=Buttons(2, 3, deep=20.0)))
    TrimLine.objects.create(job=wing, name="Arms", length=2000, times=2, kind="gimp")
    at = f"/tags/{wing.number}/"
    bench.post(f"{at}fasten/inside_back/do/post/", {"x": "10", "y": "6", "width": "40", "sort": "y", "stop": "10"})
    bench.post(f"{at}trim/skirt/", {"sides": "70, 75, 70, 75", "drop": "18", "sort": "kick", "deep": "75",
                                    "pleat": "60"})  # fmt: skip
    after = amounts(wing)
    assert after["button"] == before.get("button", 0) + 6
    assert after["gimp"] == pytest.approx((2 * 2000 + 4 * 40) / 1000)
    assert after["cut"] == 1
    assert after["seam_metre"] == pytest.approx(before["seam_metre"] + 2 * (2900 + 1200 + 26) / 1000)


def test_a_set_costs_less_each_and_a_slower_workroom_more(bench, workroom):
    one, six = (money_of(hung("drop_in", count), Workroom.the_one()) for count in (1, 6))
    assert one.minutes < six.minutes < 6 * one.minutes
    Workroom.objects.update(own_rules={"minutes_panel": 60.0})
    slow = money_of(hung("drop_in"), Workroom.the_one())
    assert slow.minutes == pytest.approx(one.minutes + 48)
    assert slow.quote.labour - one.quote.labour == pytest.approx(
        Workroom.the_one().hour * Decimal("0.8"), abs=Decimal("0.01")
    )


def test_what_a_workroom_had_set_for_a_metre_of_seam_stays_with_it(workroom):
    from importlib import import_module  # its name begins with a number

    from django.apps import apps

    Workroom.objects.update(own_rules={"minutes_seam": 9.0, "minutes_pad": 40.0, "later_in_a_set": 0.5, "strap": 80.0})
    import_module("zonatome.web.jobs.migrations.0017_minutes_of_each_sort_of_work").renamed(apps, None)
    rules = Workroom.objects.get().rules
    assert (rules["minutes_seam_metre"], rules["strap"], rules["minutes_seam"]) == (9.0, 80.0, 2.0)


def test_the_range_stands_beside_the_hours(bench, wing):
    shown = " ".join(bench.get(f"/tags/{wing.number}/money/").content.decode().split())
    assert re.search(r"\d+ h \d\d at the bench, likely \d+ h \d\d to \d+ h \d\d", shown)
    assert "The trade’s usual for a wing chair: 12 to 24 hours; here" in shown
