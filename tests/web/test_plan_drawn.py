"""The plan as it is drawn, and what happens when its task is late, superseded or breaks."""

from __future__ import annotations

from datetime import date, time, timedelta
from itertools import pairwise

import pytest
from django.contrib.auth.models import User
from django.utils import timezone

from zonatome.core.shop.plan.solver import quick_plan
from zonatome.web.fortnight.day import day_of
from zonatome.web.fortnight.drawing import blocks_of, dropped_at, filled, waits_in, weeks_of, working_days
from zonatome.web.fortnight.models import FortnightPlan, Hands
from zonatome.web.fortnight.services import KEPT, MOST_TAGS, SILENT_AFTER, asked_now, plan_in_hand
from zonatome.web.fortnight.tasks import plan_fortnight
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Wait, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth, LayRun
from zonatome.web.lay.services import add_cloth

MONDAY = date(2026, 11, 30)


@pytest.fixture
def three(bench, clock):
    """Monday at ten, two at the bench of other hours, five tags, one of which waits."""
    clock(MONDAY, time(10))
    tomas = User.objects.create_user("tomas", password="quayside")
    Hands.objects.create(user=tomas, days=[["10:00", "14:00"]] * 6 + [None], pause=None)
    for n, kind in enumerate(("round_stool", "wing", "ottoman", "bench_box", "drop_in")):
        hang_tag(title=kind, client="x", kind=kind, due=MONDAY + timedelta(days=2 + n), number=121 + n)
    until = timezone.now() + timedelta(days=1)
    Wait.objects.create(job=asked().jobs[122], step="lay", words="Skerry", until=until)
    return bench


def asked():
    return asked_now(Workroom.the_one(), timezone.localtime())


def test_bars_lie_in_their_rows_in_order_and_never_over_each_other(three):
    now, told = timezone.localtime(), asked()
    plan = quick_plan(told.request)
    waits = waits_in(plan, told, now)
    weeks = weeks_of(plan, told, now, waits)
    assert len(weeks) == 2
    assert sum(len(week["days"]) for week in weeks) == 10
    drawn = 0
    for week in weeks:
        rows = [*week["people"], *week["machines"], *week["wait_rows"]]
        for row in rows:
            for one, other in pairwise(row["bars"]):
                assert one["x"] + one["width"] <= other["x"] + 0.6
            for bar in row["bars"]:
                assert week["days"][0]["x"] - 0.1 <= bar["x"]
                assert bar["x"] + bar["width"] <= week["width"] + 0.1
                assert bar["title"]
        tops = [row["y"] for row in (*week["people"], *week["wait_rows"], *week["machines"])]
        assert tops == sorted(set(tops))
        drawn += sum(len(person["bars"]) for person in week["people"])
    shown = set(working_days(told))
    blocks = [blocks_of(s for s in plan.spells if s.worker == w.name) for w in told.request.workers]
    assert drawn == sum(block.begins // 96 in shown for row in blocks for block in row)
    assert weeks[0]["now"] is not None
    assert weeks[1]["now"] is None
    assert 0 <= filled(plan, waits) <= len(waits)
    assert any("Skerry" in w["title"] for w in waits)


def test_a_block_is_one_tag_on_one_day_over_a_break_and_no_more(three):
    plan = quick_plan(asked().request)
    for worker in ("ines", "tomas"):
        blocks = blocks_of(s for s in plan.spells if s.worker == worker)
        assert [s for b in blocks for s in b.spells] == sorted(
            (s for s in plan.spells if s.worker == worker), key=lambda s: s.begins
        )
        for block in blocks:
            assert len({s.key.tag for s in block.spells}) == 1
            assert block.begins // 96 == (block.ends - 1) // 96
            assert block.words


def test_where_a_spell_is_dropped_is_a_quarter_of_the_hours_drawn(three):
    told = asked()
    assert dropped_at(told, 0.0) == time(8, 30)
    assert dropped_at(told, 0.5) == time(12, 45)
    assert dropped_at(told, 1.0) == time(17)
    day = day_of(quick_plan(told.request), told, timezone.localtime())
    assert [row["name"] for row in day["rows"]] == ["ines", "tomas"]
    assert all(0 <= bar["x"] <= 1000 for row in day["rows"] for bar in row["bars"])
    assert day["has_names"]


def test_a_silent_worker_a_newer_plan_and_one_that_breaks(three, clock, monkeypatch, settings):
    settings.PLAN_SECONDS = 0.2
    three.get("/fortnight/")
    first = FortnightPlan.objects.get()
    clock(MONDAY, time(10, 2))
    page = three.get("/fortnight/").content.decode()
    assert "the worker, which would find a better one, is silent" in page
    assert 'data-moving="no"' in page
    assert timezone.now() - first.made_at > SILENT_AFTER
    cloth = Cloth.objects.create(name="Skerry", width=1400, direction="two_way", price="34.50", sold_by="half")
    laid = add_cloth(load_job(121), cloth, "main")
    run = LayRun.objects.create(
        job_cloth=laid, request={}, fingerprint="x", seconds=9, seed=1, version="1", state="running"
    )
    page = three.get("/fortnight/").content.decode()
    assert "when the lay that is being searched is done" in page
    assert 'data-moving="yes"' in page
    run.delete()
    hang_tag(title="another", client="x", kind="square_stool")
    three.get("/fortnight/")
    plan_fortnight.func(first.pk)  # what it was made from is over: it is left
    first.refresh_from_db()
    assert first.state == "failed"
    newest = FortnightPlan.objects.first()
    before = newest.spells
    monkeypatch.setattr("zonatome.web.fortnight.tasks.smallest_mend", None)
    monkeypatch.setattr("zonatome.core.shop.plan.solver.plan", lambda *_, **__: 1 / 0)
    with pytest.raises(ZeroDivisionError):
        plan_fortnight.func(newest.pk)
    newest.refresh_from_db()
    assert (newest.state, newest.spells) == ("failed", before)  # the quick plan stands
    plan_fortnight.func(newest.pk)
    assert three.get("/fortnight/").status_code == 200
    assert three.get("/").status_code == 200


def test_old_plans_go_and_those_due_first_are_planned(three):
    for n in range(MOST_TAGS):
        hang_tag(title=f"Stool {n}", client="x", kind="round_stool", due=MONDAY + timedelta(days=40))
    told = asked()
    assert told.has_more
    assert {121, 122, 123, 124, 125} <= set(told.jobs)
    assert "Tags that are due later than all these" in three.get("/fortnight/").content.decode()
    for n in range(KEPT + 3):
        FortnightPlan.objects.create(first=MONDAY, fingerprint=str(n), request={}, spells=[], said={}, state="failed")
    plan_in_hand(asked(), timezone.localtime())
    assert FortnightPlan.objects.count() == KEPT
