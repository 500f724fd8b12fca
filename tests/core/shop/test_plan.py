"""The fortnight: whatever is asked, nobody and nothing is in two places, no order is broken, nothing is out of hours;
never later in sum than the due order; what moved and what would mend it is said.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from icalendar import Calendar

from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats.plan_ics import plan_calendar
from zonatome.core.formats.plan_json import (
    read_plan,
    read_plan_request,
    read_spells,
    write_plan,
    write_plan_request,
    write_spells,
)
from zonatome.core.shop.plan.bound import least_late
from zonatome.core.shop.plan.check import faults_of
from zonatome.core.shop.plan.due_order import best_order, by_due, in_order
from zonatome.core.shop.plan.hours import Hours, moment_of, quarter_of, windows
from zonatome.core.shop.plan.mend import smallest_mend
from zonatome.core.shop.plan.moved import counted_later, moved
from zonatome.core.shop.plan.pins import pin_fault
from zonatome.core.shop.plan.request import DAY, Pin, Plan, PlanRequest, SpellKey, TagWork, Task, Worker, late_of
from zonatome.core.shop.plan.solver import plan, quick_plan
from zonatome.core.shop.plan.tasks import MACHINES, TASKS, Held, tasks_left

MONDAY = date(2026, 11, 30)
WEEK = Hours(((time(8), time(16)),) * 5 + (None, None), (time(12), time(13)))
ALL = frozenset(TASKS)


def hands(name: str, *, count: int = 40, skills=ALL, hours: Hours = WEEK, **more) -> Worker:
    return Worker(name, windows(hours, first=MONDAY, count=count, **more), frozenset(skills))


def work(number: int, due_day: int | None, *, waits=None, held=None, **quarters: int) -> TagWork:
    """A tag with so many quarters of each task, due on a day counted from Monday, 0."""
    minutes = {key: many * 15.0 for key, many in quarters.items()}
    left = tasks_left(minutes, {}, waits=waits, held=held)
    return TagWork(number, f"tag {number}", left, None if due_day is None else (due_day + 1) * DAY)


ONE_EACH = dict.fromkeys(MACHINES, 1)
amounts = st.fixed_dictionaries({key: st.integers(0, 9) for key in ("strip", "cut", "pad", "sew", "put_on", "trim")})
tag = st.tuples(
    amounts,
    st.one_of(st.none(), st.integers(0, 12)),
    st.sampled_from([0, 60, 12 * 60]),
    st.sampled_from([0, 40, 3 * DAY]),
)


@st.composite
def requests(draw, most: int = 5):
    rows = draw(st.lists(tag, min_size=1, max_size=most))
    tags = []
    for n, (quarters, due, wait, until) in enumerate(rows):
        held = {"cut": Held(until, "the cloth")} if until else None
        made = work(101 + n, due, waits={"pad": wait, "strip": wait}, held=held, **quarters)
        if made.tasks:
            tags.append(made)
    assume(tags)
    first = hands("ines", off=[MONDAY + timedelta(days=draw(st.integers(0, 4)))])
    rest = draw(st.sets(st.sampled_from(sorted(ALL)), min_size=6))
    workers = (first, hands("tomas", skills=rest)) if draw(st.booleans()) else (first,)
    return PlanRequest(tuple(tags), workers, ONE_EACH)


@given(requests(9))
def test_the_order_by_hand_holds_whatever_is_asked(request):
    quick = quick_plan(request)
    assert faults_of(request, quick.spells) == []
    assert not quick.left_out  # forty days are enough
    assert quick.late_in_sum >= least_late(request)
    due = in_order(request, by_due(request.tags))
    assert quick.late_in_sum <= sum(late_of(request.tags, due).values())


@examples(12)
@given(requests(), st.data())
def test_a_plan_holds_is_never_later_than_the_due_order_and_keeps_its_pins(request, data):
    due = sum(late_of(request.tags, in_order(request, by_due(request.tags))).values())
    found = plan(request, seconds=0.4)
    assert faults_of(request, found.spells) == []
    assert found.bound <= found.late_in_sum <= due
    some = data.draw(st.sampled_from(found.spells))
    pin = Pin(some.key, some.worker, some.begins)
    assert pin_fault(request, pin) == ""
    again = plan(replace(request, pins=(pin,), before=found.spells), seconds=0.4)
    assert faults_of(request, again.spells) == []
    assert not again.loosened
    assert any((s.key, s.worker, s.begins) == (pin.key, pin.worker, pin.begins) for s in again.spells)
    at_once = quick_plan(replace(request, pins=(pin,), before=found.spells))
    assert not at_once.loosened  # kept where no time is left to search
    assert faults_of(request, at_once.spells) == []
    assert read_plan_request(write_plan_request(request)) == request
    assert read_spells(write_spells(found.spells)) == found.spells
    assert read_plan(write_plan(found), found.spells) == found


@examples(6)
@given(requests(3))
def test_one_more_at_the_bench_makes_a_proven_plan_no_later(request):
    found = plan(request, seconds=0.5)
    assume(found.is_proven)
    more = plan(replace(request, workers=(*request.workers, hands("odile"))), seconds=0.5)
    assert more.late_in_sum <= found.late_in_sum


def test_by_hand_a_wait_is_filled_and_the_machine_is_not_shared():
    # 101: pad 2 h, foam glue 1 h, put on 1 h. 102: sew 2 h. One pair of hands, Monday 8 to 12 and 13 to 16.
    request = PlanRequest(
        (work(101, 0, waits={"pad": 60}, pad=8, put_on=4), work(102, 0, sew=8)), (hands("ines"),), ONE_EACH
    )
    found = plan(request, seconds=0.6)
    at = {(s.key.tag, s.key.task, s.key.from_last): (s.begins, s.ends) for s in found.spells}
    assert found.late_in_sum == 0 == found.bound
    assert at[101, "pad", 2] == (32, 36)
    assert at[101, "pad", 1] == (36, 40)  # 8 to 10
    assert at[102, "sew", 2][0] == 40  # 10 o'clock: sewing fills the wait
    assert at[101, "put_on", 1][0] >= 44  # not before 11
    assert found.spells[-1].ends == 56  # five hours of work: 8 to 12, 13 to 14
    two = replace(request, workers=(hands("ines"), hands("tomas")), tags=(work(1, 0, sew=8), work(2, 0, sew=8)))
    spells = plan(two, seconds=0.5).spells
    assert max(s.ends for s in spells) == 48  # one machine: 8 to 12, whoever sews


def test_wishes_that_nobody_can_meet_are_left_out_and_said():
    nobody = PlanRequest((work(101, 1, sew=4), work(102, 1, pad=4)), (hands("ines", skills={"pad"}),), ONE_EACH)
    assert quick_plan(nobody).left_out == {101: "nobody does sew"}
    assert {s.key.tag for s in plan(nobody, seconds=0.4).spells} == {102}
    no_machine = replace(nobody, workers=(hands("ines"),), machines={"sewing machine": 0})
    assert quick_plan(no_machine).left_out[101] == "no sewing machine for sew"
    short = PlanRequest((work(101, 1, pad=20), work(102, 2, pad=20)), (hands("ines", count=1),), ONE_EACH)
    left = quick_plan(short)  # seven hours, ten of work: the one due first is done
    assert left.left_out == {102: "no time left for it"}
    assert {s.key.tag for s in left.spells} == {101}


def test_a_pin_is_refused_in_words_for_what_stands_against_it():
    request = PlanRequest(
        (work(101, 3, held={"cut": Held(DAY, "Skerry")}, cut=4, sew=4), work(102, 3, sew=4)),
        (hands("ines"), hands("tomas", skills={"cut"})),
        ONE_EACH,
    )
    cut, sew, other = SpellKey(101, "cut", 1), SpellKey(101, "sew", 1), SpellKey(102, "sew", 1)
    assert pin_fault(request, Pin(cut, "ines", 40)) == "Not before Skerry is over."
    assert pin_fault(request, Pin(sew, "ines", DAY + 32)) == "What must come before it can’t be done by then."
    assert pin_fault(request, Pin(sew, "ines", DAY + 36)) == ""
    assert pin_fault(request, Pin(sew, "tomas", DAY + 36)) == "tomas does not sew."
    assert pin_fault(request, Pin(other, "ines", 46)) == "ines is not there for so long then."  # over noon
    pinned = replace(request, pins=(Pin(sew, "ines", DAY + 36),))
    assert pin_fault(pinned, Pin(other, "ines", DAY + 38)) == "101 is pinned there for ines."
    assert pin_fault(request, Pin(SpellKey(101, "sew", 2), "ines", 40)) == "There is no such work left."
    both = replace(request, pins=(Pin(sew, "ines", DAY + 36), Pin(other, "ines", DAY + 37)))
    assert [pin.key for pin in plan(both, seconds=0.4).loosened] == [other]


def test_a_pin_that_stands_before_the_due_order_s_turn_is_kept_without_a_search():
    # By the due order 101 has Monday from 8 to 9, and 102 can't be stripped before its sewing, pinned to 9.
    tags = (work(101, 0, strip=4), work(102, 9, strip=4, sew=8))
    pin = Pin(SpellKey(102, "sew", 2), "ines", 36)
    request = PlanRequest(tags, (hands("ines"),), ONE_EACH, (pin,))
    for made in (quick_plan(request), plan(request, seconds=0.4)):
        assert not made.loosened
        at = {(s.key.tag, s.key.task, s.key.from_last): (s.begins, s.ends) for s in made.spells}
        assert at[102, "strip", 1] == (32, 36)
        assert at[102, "sew", 2] == (36, 40)
    early = replace(request, pins=(replace(pin, begins=32),))  # nothing can stand before 8
    assert plan(early, seconds=0.4).loosened == quick_plan(early).loosened == early.pins


def test_a_search_that_runs_out_of_time_is_no_reason_to_loosen_a_pin(monkeypatch):
    """On a busy machine the first search may say nothing at all: then only whether the pins go is asked, for longer."""
    monkeypatch.setattr("zonatome.core.shop.plan.solver.LEAST_SECONDS", 1e-6)
    monkeypatch.setattr("zonatome.core.shop.plan.solver.best_order", lambda *given, **more: None)
    request = PlanRequest(
        (work(101, 0, strip=4), work(102, 9, strip=4, sew=8)),
        (hands("ines"),),
        ONE_EACH,
        (Pin(SpellKey(102, "sew", 2), "ines", 36),),
    )
    made = plan(request, seconds=0.0)
    assert not made.loosened
    assert faults_of(request, made.spells) == []
    assert len(made.spells) == 4


def test_what_moved_and_why():
    was = PlanRequest((work(101, 2, cut=4, sew=4), work(102, 3, pad=12)), (hands("ines"),), ONE_EACH)
    before = in_order(was, was.tags)
    later = replace(was, tags=(work(101, 2, held={"cut": Held(DAY, "Skerry")}, cut=4, sew=4), was.tags[1]))
    rows = moved(was, before, later, in_order(later, later.tags), first=MONDAY)
    assert [(r.tag, r.task, r.day_before.day, r.day.day) for r in rows] == [(101, "cut", 30, 1), (101, "sew", 30, 1)]
    pinned = replace(was, pins=(Pin(SpellKey(101, "cut", 1), "ines", DAY + 32),))
    put = moved(was, before, pinned, quick_plan(pinned).spells, first=MONDAY)
    assert [(r.task, r.why) for r in put if r.tag == 101] == [
        ("cut", "where you put it"),
        ("sew", "as cut did, which comes before it"),
    ]
    assert rows[0].words == "101: cut moved from Mon 30 to Tue 1 Dec, because Skerry takes longer."
    ill = replace(was, workers=(hands("ines", off=[MONDAY]),))
    assert {r.why for r in moved(was, before, ill, in_order(ill, ill.tags), first=MONDAY)} == {
        "because ines is not there then"
    }
    urgent = replace(was, tags=(*was.tags, work(103, 0, pad=28)))
    made = in_order(urgent, [urgent.tags[2], *was.tags])
    whys = {r.why for r in moved(was, before, urgent, made, first=MONDAY)}
    assert whys == {"to make room for 103", "as cut did, which comes before it"}
    next_day = counted_later(was, 1)
    assert next_day.tags[0].due == was.tags[0].due - DAY
    assert next_day.workers[0].windows[0][0] == was.workers[0].windows[0][0] - DAY


def test_the_smallest_change_that_mends():
    # four hours of padding and three and a half of trim due on Monday, seven hours there: an hour more does it
    request = PlanRequest((work(101, 0, pad=16, trim=14),), (hands("ines"),), ONE_EACH)
    late = plan(request, seconds=0.4)
    assert set(late.late) == {101}
    assert smallest_mend(request, late, request.tags[0]).words == "an hour more a day by ines until then"
    # due on Sunday: 27 spells of 75 minutes, the week has room for 25; three more on Saturday to half past twelve, none
    # in an hour more a day, since the afternoon would hold 3 h 30
    short = Hours(((time(8), time(15, 15)),) * 5 + (None, None), (time(11, 45), time(12, 45)))
    week = PlanRequest((work(102, 6, pad=135),), (hands("ines", hours=short),), ONE_EACH)
    mend = smallest_mend(week, quick_plan(week), week.tags[0])
    assert (mend.sort, mend.words) == ("saturday", "ines on the Saturday to noon")
    far = PlanRequest((work(103, 0, pad=4, held={"pad": Held(2 * DAY, "foam")}),), (hands("ines"),), ONE_EACH)
    only = smallest_mend(far, quick_plan(far), far.tags[0])
    assert (only.sort, only.due) == ("date", 2 * DAY + 36)


def test_tasks_that_are_done_hand_on_what_came_before_them():
    minutes = {"strip": 60.0, "trace": 30.0, "cut": 45.0, "pad": 50.0, "put_on": 100.0}
    left = {t.key: t for t in tasks_left(minutes, {"trace": 1.0, "strip": 0.5}, waits={"strip": 720, "pad": 20})}
    assert list(left) == ["strip", "cut", "pad", "put_on"]
    assert left["strip"].quarters == 2
    assert left["cut"].after == (("strip", 0),)  # past the trace
    assert left["pad"].after == (("strip", 48),)  # the frame's glue holds up the pad, not the shears
    assert dict(left["put_on"].after) == {"cut": 0, "strip": 48, "pad": 2}
    assert left["put_on"].spells == (3, 4)
    assert left["put_on"].machine == "compressor"
    with pytest.raises(BadInput):
        tasks_left({"upholster": 5.0}, {})


def test_hours_breaks_days_off_and_now_make_the_windows():
    noon = datetime.combine(MONDAY, time(10, 5))
    assert windows(WEEK, first=MONDAY, count=2, now=noon)[0] == (41, 48)  # from 10:15 on
    assert windows(WEEK, first=MONDAY, count=7, off=[MONDAY])[0] == (DAY + 32, DAY + 48)
    assert len(windows(WEEK, first=MONDAY, count=7)) == 10
    assert WEEK.minutes == 35 * 60
    assert moment_of(quarter_of(noon, MONDAY), MONDAY) == datetime.combine(MONDAY, time(10))
    with pytest.raises(BadInput):
        Hours(((time(9), time(8)),) * 7)


def test_the_calendar_is_read_back_by_another_reader():
    request = PlanRequest((work(101, 2, cut=4, sew=4),), (hands("ines"),), ONE_EACH)
    spells = best_order(request)
    zone = ZoneInfo("Europe/London")
    made = plan_calendar(
        spells, {101: "Bench"}, [(101, date(2026, 12, 2))], first=MONDAY, zone=zone,
        made=datetime(2026, 11, 30, 8, tzinfo=zone), workroom="Quayside Workroom",
    )  # fmt: skip
    events = list(Calendar.from_ical(made).walk("VEVENT"))
    assert [str(e["summary"]) for e in events] == ["101 Bench: cut", "101 Bench: sew", "101 Bench is due"]
    assert events[0]["dtstart"].dt == datetime(2026, 11, 30, 8, tzinfo=zone)
    assert events[0]["dtend"].dt - events[0]["dtstart"].dt == timedelta(hours=1)
    assert events[2]["dtstart"].dt == date(2026, 12, 2)


def test_what_is_no_plan_is_refused_with_its_place():
    told = write_plan_request(PlanRequest((work(101, 2, cut=4),), (hands("ines"),), ONE_EACH))
    for wrong, key in (
        ({**told, "format": "zonatome.lay"}, "format"),
        ({**told, "tags": [{"number": 101}]}, "tags[0].name"),
        ({**told, "workers": [["ines", [[3]], []]]}, "workers[0]"),
    ):
        with pytest.raises(BadInput) as refused:
            read_plan_request(wrong)
        assert refused.value.key == key
    with pytest.raises(BadInput):
        read_spells([[101, "cut", 1, "ines", 1]])
    with pytest.raises(BadInput):
        TagWork(1, "twice", (Task("cut", 1), Task("cut", 1)))
    assert Plan(()).is_proven
