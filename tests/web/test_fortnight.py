"""The fortnight's pages: planned, slipped and planned anew, pinned, hours and days off, the calendar, who may what."""

from __future__ import annotations

import re
from datetime import date, time, timedelta

import pytest
from django.contrib.auth.models import User
from django.utils import timezone
from icalendar import Calendar

from tests.web.conftest import PageClient
from zonatome.core.errors import BadInput
from zonatome.core.shop.plan.check import faults_of
from zonatome.web.fortnight.hands import hours_of
from zonatome.web.fortnight.models import DayOff, FortnightPlan, Hands, SpellPin
from zonatome.web.fortnight.services import asked_now, plan_of, spells_in
from zonatome.web.fortnight.tasks import plan_fortnight
from zonatome.web.jobs.models import Job, Wait, Workroom
from zonatome.web.jobs.services import hang_tag

MONDAY = date(2026, 11, 30)


@pytest.fixture
def monday(bench, clock, settings):
    """Monday at eight, two at the bench, three tags; plans are sought for a moment only."""
    settings.PLAN_SECONDS = 0.3
    clock(MONDAY, time(8))
    User.objects.create_user("tomas", password="quayside")
    for n, kind in enumerate(("round_stool", "wing", "ottoman")):
        hang_tag(title=kind, client="Oriel House", kind=kind, due=MONDAY + timedelta(days=3 + 4 * n), number=121 + n)
    return bench


def planned(bench) -> FortnightPlan:
    """The plan that holds, thought through as by the worker."""
    bench.get("/fortnight/moving/")
    plan_fortnight.func(FortnightPlan.objects.first().pk)
    return FortnightPlan.objects.first()


def test_a_fortnight_is_planned_slips_and_is_planned_anew(monday, clock):
    page = monday.get("/fortnight/").content.decode()
    assert "A better order is being looked for." in page
    row = planned(monday)
    assert row.state == "done"
    asked = asked_now(Workroom.the_one(), timezone.localtime())
    assert faults_of(asked.request, spells_in(row)) == []
    assert {s.key.tag for s in spells_in(row)} == {121, 122, 123}
    page = monday.get("/fortnight/").content.decode()
    assert "All in time" in page
    assert FortnightPlan.objects.count() == 1  # nothing has changed: the plan holds
    until = timezone.make_aware(timezone.datetime(2026, 12, 4, 12))
    Wait.objects.create(job=Job.objects.get(number=121), step="lay", words="Skerry", until=until)
    assert "A better order is being looked for." in monday.get("/fortnight/moving/").content.decode()
    late = planned(monday)
    assert late.pk != row.pk
    assert plan_of(late).late.keys() == {121}  # the cloth comes on Friday, it was due on Thursday
    page = monday.get("/fortnight/").content.decode()
    assert "All but one in time" in page
    assert "Only a later date mends it." in page
    assert "121: cut moved from Mon 30 to Fri 4 Dec, because Skerry takes longer." in page
    assert monday.post("/fortnight/due/121/").status_code == 302
    assert Job.objects.get(number=121).due == date(2026, 12, 4)
    assert "All in time" in monday.get("/fortnight/").content.decode()
    clock(MONDAY + timedelta(days=1), time(8))  # the next morning: nothing was done yesterday, so all is behind
    newest = planned(monday)
    assert newest.first == MONDAY + timedelta(days=1)
    assert all(s.begins >= 34 for s in spells_in(newest))
    assert newest.moved


def test_the_board_is_read_without_the_drawing_and_on_the_wall(monday):
    page = monday.get("/fortnight/").content.decode()
    assert page.count("<svg class=") == 2
    assert "Day by day, in words" in page
    wall = monday.get("/fortnight/print/").content.decode()
    assert "from Monday 30 November" in wall
    assert "<b>122 wing</b>" in wall
    rack = monday.get("/").content.decode()
    assert "Monday" in rack
    assert "tomas" in rack
    events = Calendar.from_ical(monday.get("/fortnight/fortnight.ics?who=tomas").content).walk("VEVENT")
    assert {str(e["description"]) for e in events if e.get("description")} == {"tomas"}
    assert sum(str(e["summary"]).endswith("is due") for e in events) == 3
    Job.objects.update(finished_at=timezone.now())
    assert "No work waits for hands" in monday.get("/fortnight/").content.decode()


def test_a_spell_is_pinned_by_the_boxes_and_by_dragging(monday):
    monday.get("/fortnight/")
    address = "/fortnight/spell/122/strip/1/"
    assert "look over" not in monday.get(address).content.decode()
    where = {"worker": "tomas", "day": "2026-12-02", "at": "10:00"}
    assert monday.post(address, where).status_code == 302
    pin = SpellPin.objects.get()
    assert timezone.localtime(pin.begins).isoformat()[:16] == "2026-12-02T10:00"
    row = planned(monday)
    spell = next(s for s in spells_in(row) if (s.key.tag, s.key.task, s.key.from_last) == (122, "strip", 1))
    assert (spell.worker, spell.begins) == ("tomas", 2 * 96 + 40)
    assert "week__pin" in monday.get("/fortnight/").content.decode()
    assert "Pinned here" in monday.get(address).content.decode()
    dragged = monday.post(address, {"worker": "ines", "day": "2026-12-03", "share": "0.0"}, headers={"X-Drag": "1"})
    assert dragged.json()["words"] == "122: strip is pinned to Thu 3 Dec, 08:30, ines."
    for bad, why in (
        ({"worker": "ines", "day": "2026-12-05", "at": "10:00"}, "ines is not there for so long then."),
        ({"worker": "ines", "day": "2026-11-30", "at": "08:30"}, "What must come before it can’t be done by then."),
        ({"worker": "ines", "day": "9999-12-31", "at": "10:00"}, "ines is not there"),
        ({"worker": "nobody", "day": "2026-12-02", "at": "10:00"}, "Select a valid choice"),
        ({"worker": "ines", "day": "x", "at": "25:00"}, "Enter a valid date"),
    ):
        answer = monday.post(address, bad)
        assert answer.status_code == 422
        assert why in answer.content.decode()
        assert monday.post(address, bad, headers={"X-Drag": "1"}).status_code == 422
    assert SpellPin.objects.get().user.username == "ines"
    assert monday.post(f"{address}unpin/").status_code == 302
    assert not SpellPin.objects.exists()
    for gone in ("/fortnight/spell/122/strip/99/", "/fortnight/spell/999/strip/1/", "/fortnight/spell/122/nail/1/"):
        assert monday.get(gone).status_code == 404
        assert monday.post(gone, where, headers={"X-Drag": "1"}).status_code == 404
    monday.post(address, where)
    monday.post("/fortnight/again/", {"loose": "1"})
    assert not SpellPin.objects.exists()


def test_hours_breaks_and_days_off_move_the_plan(monday):
    tomas = User.objects.get(username="tomas")
    week = {"is_at_bench": "on", "does": ["strip", "pad"], "pause_from": "", "pause_to": ""}
    for day in ("Mon", "Tue", "Wed"):
        week |= {f"{day}_from": "09:00", f"{day}_to": "13:00"}
    assert monday.post(f"/fortnight/hours/{tomas.pk}/", week).status_code == 302
    monday.post("/fortnight/hours/off/", {"user": str(tomas.pk), "first": "2026-12-01", "words": "ill"})
    asked = asked_now(Workroom.the_one(), timezone.localtime())
    mine = next(w for w in asked.request.workers if w.name == "tomas")
    assert mine.skills == {"strip", "pad"}
    assert mine.windows[:3] == ((36, 52), (2 * 96 + 36, 2 * 96 + 52), (7 * 96 + 36, 7 * 96 + 52))
    page = monday.get("/fortnight/hours/").content.decode()
    assert "12 h 00 a week at the bench" in page
    assert "Tue 1 Dec" in page
    monday.post(f"/fortnight/hours/off/{DayOff.objects.get().pk}/")
    assert not DayOff.objects.exists()
    for bad, why in (
        ({**week, "Mon_to": ""}, "Expected both times, or neither."),
        ({**week, "Mon_to": "08:00"}, "Expected an end after its beginning."),
        ({**week, "Mon_to": "xx"}, "Enter a valid time"),
        ({**week, "does": []}, "Expected at least one kind of work."),
        ({**week, "pause_from": "14:00", "pause_to": "13:00"}, "Expected an end after its beginning."),
    ):
        answer = monday.post(f"/fortnight/hours/{tomas.pk}/", bad)
        assert answer.status_code == 422
        assert why in answer.content.decode()
    for bad in ({"first": "2026-12-05", "last": "2026-12-01"}, {"first": ""}, {"first": "2026-12-05", "user": "999"}):
        assert monday.post("/fortnight/hours/off/", bad).status_code == 422
    monday.post(f"/fortnight/hours/{tomas.pk}/", {**week, "is_at_bench": ""})
    ines = User.objects.get(username="ines")
    monday.post(f"/fortnight/hours/{ines.pk}/", {**week, "is_at_bench": ""})
    assert "Nobody is at the bench" in monday.get("/fortnight/").content.decode()
    assert monday.get("/").status_code == 200
    hands = Hands(days=[["9", "x"]] * 7)
    with pytest.raises(BadInput):
        hours_of(hands, Workroom.the_one())


def test_at_the_bench_one_pins_and_takes_days_off_of_one_s_own_and_sets_no_hours(monday):
    client = PageClient()
    tomas = User.objects.get(username="tomas")
    client.force_login(tomas)
    assert client.get("/fortnight/").status_code == 200
    assert "Change the hours" not in client.get("/fortnight/hours/").content.decode()
    assert client.post(f"/fortnight/hours/{tomas.pk}/", {}).status_code == 403
    assert client.post("/fortnight/hours/off/", {"first": "2026-12-01"}).status_code == 422
    assert client.post("/fortnight/hours/off/", {"user": tomas.pk, "first": "2026-12-01"}).status_code == 302
    row = DayOff.objects.create(first=MONDAY, last=MONDAY)
    client.post(f"/fortnight/hours/off/{row.pk}/")
    assert DayOff.objects.filter(pk=row.pk).exists()


def test_work_that_is_done_leaves_the_plan_and_a_tag_that_waits_is_named(monday):
    monday.get("/fortnight/")
    before = {s.key.task for s in spells_in(FortnightPlan.objects.first()) if s.key.tag == 121}
    assert "survey" in before
    for layer in ("cover", "padding", "support", "frame"):
        monday.post("/tags/121/survey/find/", {"layer": layer, "finding": "sound"})
    Job.objects.filter(number=123).update(waits_for="their yes")
    page = monday.get("/fortnight/").content.decode()
    assert re.search(r"123 ottoman</a> waits for their yes", page)
    assert not [s for s in spells_in(FortnightPlan.objects.first()) if s.key.tag == 123]
