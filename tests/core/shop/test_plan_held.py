"""Plans held against what stands apart from the planners: the check that finds each fault, plans worked by hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, time, timedelta

import pytest

from zonatome.core.errors import BadInput
from zonatome.core.shop.estimate import Quantities, Rates, step_times
from zonatome.core.shop.own_pace import OwnPace
from zonatome.core.shop.plan.bound import least_late
from zonatome.core.shop.plan.check import faults_of
from zonatome.core.shop.plan.due_order import best_order, by_due, in_order
from zonatome.core.shop.plan.hours import Hours, windows
from zonatome.core.shop.plan.request import DAY, PlanRequest, SpellKey, TagWork, Task, Worker, late_of
from zonatome.core.shop.plan.solver import plan, quick_plan
from zonatome.core.shop.plan.tasks import MACHINES, TASKS, minutes_by_task
from zonatome.core.shop.work import Work

MONDAY = date(2026, 11, 30)
WEEK = Hours(((time(8), time(16)),) * 5 + (None, None), (time(12), time(13)))
ONE_EACH = dict.fromkeys(MACHINES, 1)


def hands(name: str, skills=frozenset(TASKS), *, count: int = 12) -> Worker:
    return Worker(name, windows(WEEK, first=MONDAY, count=count), frozenset(skills))


def sewn(number: int, quarters: int, due: int | None = None, *, before: int = 0) -> TagWork:
    """A tag of which something is sewn and then put on for half an hour, an hour's wait between."""
    tasks = (
        Task("sew", quarters, "sewing machine", not_before=before),
        Task("put_on", 2, "compressor", (("sew", 4),)),
    )
    return TagWork(number, f"tag {number}", tasks, None if due is None else (due + 1) * DAY)


@pytest.fixture
def planned():
    """Two tags and their spells in due order, without a fault."""
    request = PlanRequest((sewn(101, 8, 0, before=34), sewn(102, 4, 1)), (hands("ines"), hands("tomas")), ONE_EACH)
    spells = in_order(request, by_due(request.tags))
    assert faults_of(request, spells) == []
    return request, spells


def moved(spells, key: SpellKey, **more):
    return [replace(s, **more) if s.key == key else s for s in spells]


def shifted(spells, key: SpellKey, by: int):
    return [replace(s, begins=s.begins + by, ends=s.ends + by) if s.key == key else s for s in spells]


FIRST, SECOND = SpellKey(101, "sew", 2), SpellKey(101, "sew", 1)
ON = SpellKey(101, "put_on", 1)
OTHER = SpellKey(105, "pad", 1)


@pytest.mark.parametrize(
    ("change", "fault"),
    [
        pytest.param(lambda s: [*s, s[0]], "stands twice", id="twice"),
        pytest.param(lambda s: [x for x in s if x.key != SECOND], "101 sew 1 is missing", id="a spell is left out"),
        pytest.param(lambda s: moved(s, FIRST, ends=99), "takes 4 quarters", id="too long"),
        pytest.param(lambda s: moved(s, FIRST, worker="bo"), "bo does not do sew", id="nobody of that name"),
        pytest.param(lambda s: shifted(s, FIRST, 46 - 34), "is out of the hours of", id="over noon"),
        pytest.param(lambda s: shifted(s, FIRST, 5 * DAY), "is out of the hours of", id="on Saturday"),
        pytest.param(lambda s: shifted(s, FIRST, -2), "begins before it can", id="before the cloth is there"),
        pytest.param(lambda s: shifted(s, SECOND, -1), "before the spell before it ends", id="the second in the first"),
        pytest.param(lambda s: shifted(s, ON, -1), "101 put_on 1 begins before it can", id="in the wait"),
        pytest.param(
            lambda s: [*s, replace(s[0], key=SpellKey(105, "pad", 1))], "is no work of this request", id="unknown"
        ),
    ],
)
def test_each_fault_of_a_plan_is_found(planned, change, fault):
    request, spells = planned
    assert any(fault in wrong for wrong in faults_of(request, change(spells)))


def test_two_at_once_are_found(planned):
    request, spells = planned
    other = next(s for s in spells if s.key == SpellKey(102, "sew", 1))
    at = next(s for s in spells if s.key == FIRST)
    both = moved(spells, other.key, begins=at.begins, ends=at.ends, worker=at.worker)
    wrong = faults_of(request, both)
    assert f"{at.worker} is in two places" in wrong
    assert "more than one at the sewing machine" in wrong
    elsewhere = moved(both, other.key, worker=next(w.name for w in request.workers if w.name != at.worker))
    assert "more than one at the sewing machine" in faults_of(request, elsewhere)
    two = replace(request, machines={**ONE_EACH, "sewing machine": 2})
    assert faults_of(two, elsewhere) == []


def test_who_can_t_sew_pads_meanwhile():
    # Ines does all, Tomas pads only: both tags are ready at noon; alone Ines is at it until four
    tags = (
        TagWork(101, "cushion", (Task("sew", 16, "sewing machine"),), DAY),
        TagWork(102, "seat", (Task("pad", 12),), DAY),
    )
    both = PlanRequest(tags, (hands("ines"), hands("tomas", {"pad"})), ONE_EACH)
    found = plan(both, seconds=0.5)
    assert {(s.key.task, s.worker) for s in found.spells} == {("sew", "ines"), ("pad", "tomas")}
    assert max(s.ends for s in found.spells) == 48
    alone = plan(replace(both, workers=both.workers[:1]), seconds=0.5)
    assert max(s.ends for s in alone.spells) == 64
    assert faults_of(both, found.spells) == []


def test_the_one_due_first_has_the_most_room_and_little_moves():
    tags = (sewn(101, 8, 8), sewn(102, 8, 2), sewn(103, 8, 5))
    request = PlanRequest(tags, (hands("ines"),), ONE_EACH)
    found = plan(request, seconds=0.6)
    ready = {n: max(s.ends for s in found.spells if s.key.tag == n) for n in (101, 102, 103)}
    assert ready[102] < ready[103] < ready[101]
    more = replace(request, tags=(*tags, TagWork(104, "late comer", (Task("pad", 4),), None)), before=found.spells)
    again = plan(more, seconds=0.6)
    days = {s.key: s.begins // DAY for s in found.spells}
    stayed = [s for s in again.spells if s.key in days and s.begins // DAY == days[s.key]]
    assert len(stayed) >= len(found.spells) - 1


def test_the_bound_is_a_bound_and_an_order_without_time_is_none():
    # two tags of six hours each, both due on Monday, one pair of hands of seven hours: one is ready on Tuesday
    tags = tuple(TagWork(n, "", (Task("pad", 24),), DAY) for n in (101, 102))
    request = PlanRequest(tags, (hands("ines"),), ONE_EACH)
    made = best_order(request)
    late = sum(late_of(tags, made).values())
    assert 0 < least_late(request) <= late
    assert least_late(replace(request, workers=(hands("ines"), hands("tomas")))) == 0
    assert in_order(replace(request, workers=(hands("ines", count=1),)), tags) is None
    assert plan(replace(request, tags=())).spells == ()
    assert quick_plan(replace(request, workers=())).left_out == {101: "nobody does pad", 102: "nobody does pad"}
    stopped = plan(request, seconds=5, stopped=lambda: True)
    assert faults_of(request, stopped.spells) == []


def test_what_is_no_request_is_refused():
    with pytest.raises(BadInput):
        PlanRequest((sewn(101, 4), sewn(101, 4)), (hands("ines"),))
    with pytest.raises(BadInput):
        PlanRequest((), (hands("ines"), hands("ines")))
    with pytest.raises(BadInput):
        TagWork(101, "", (Task("sew", 0),))
    with pytest.raises(BadInput):
        TagWork(101, "", (Task("put_on", 1, after=(("sew", 0),)),))


def test_minutes_of_steps_become_minutes_of_tasks_and_none_is_lost():
    works = (
        Work("seam"),
        Work("seam_metre", 3),
        Work("panel", 2),
        Work("welt_made", 2),
        Work("gimp", 1),
        Work("piece"),
    )
    job = Quantities(strip_minutes=40, works=works, frame_minutes=25)
    times = step_times(job, Rates())
    tasks = minutes_by_task(times, coats=25)
    assert sum(tasks.values()) == pytest.approx(sum(t.minutes for t in times))
    assert tasks["sew"] == pytest.approx(2 + 9 + 8)  # a seam, three metres of it, two of welt
    assert tasks["coats"] == 25
    assert tasks["put_on"] == pytest.approx(24)
    slow = step_times(job, Rates(own={"fasten": OwnPace(2.0, 1.8, 2.2, 5)}))
    twice = minutes_by_task(slow, coats=25)
    assert twice["put_on"] == pytest.approx(48)
    assert twice["sew"] == pytest.approx(2 * (2 + 9) + 8)
    assert sum(twice.values()) == pytest.approx(sum(t.minutes for t in slow))


def test_days_off_and_short_days_leave_the_rest():
    part = Hours((None, (time(9), time(13)), None, (time(9), time(13)), None, None, None), None)
    spans = windows(part, first=MONDAY, count=14, off=[MONDAY + timedelta(days=3)])
    assert [begin // DAY for begin, _ in spans] == [1, 8, 10]
    assert part.minutes == 8 * 60
