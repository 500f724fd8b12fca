"""The clock on every page of a tag: started, stopped, moved, corrected; the workroom's own pace from it."""

from __future__ import annotations

import io
import random
from datetime import timedelta

import pytest
from django.contrib.auth.models import User
from django.utils import timezone

from zonatome.core.shop.own_pace import OwnPace, write_paces
from zonatome.web.fortnight.services import asked_now
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.rack.archive import job_from_zip, job_zip
from zonatome.web.rack.log import steps_of, took_of
from zonatome.web.shop.models import StepTook, TimeEntry
from zonatome.web.shop.services import money_of


def hung(kind: str = "drop_in") -> Job:
    return load_job(hang_tag(title="x", client="y", kind=kind).number)


def press(bench, job: Job, step: str, part: str = "", **more):
    return bench.post(f"/tags/{job.number}/clock/", {"step": step, "part": part, **more})


def ran(minutes: float) -> None:
    """The clock that runs was started so long ago."""
    TimeEntry.objects.filter(ended=None).update(began=timezone.now() - timedelta(minutes=minutes))


def test_one_press_starts_it_another_keeps_what_ran_and_the_page_comes_back(bench, workroom):
    job, other = hung(), hung("wing")
    shown = bench.get(f"/tags/{job.number}/pad/").content.decode()
    assert 'data-key="q"' in shown
    answer = press(bench, job, "pad", "seat", back=f"/tags/{job.number}/pad/?x=1")
    assert answer.url == f"/tags/{job.number}/pad/?x=1"
    assert "data-began=" in bench.get(f"/tags/{job.number}/pad/").content.decode()
    ran(50)
    elsewhere = bench.get(f"/tags/{other.number}/trace/", follow=True).content.decode()
    assert f"{job.number} Pad" in " ".join(elsewhere.split()), "another tag says where it runs"
    press(bench, other, "trace")
    first, second = TimeEntry.objects.order_by("id")
    assert (first.step, first.part.key, round(first.minutes)) == ("pad", "seat", 50)
    assert (second.job, second.ended) == (other, None), "one has one clock"
    press(bench, other, "trace")
    assert TimeEntry.objects.count() == 1, "too short to be kept"
    for wrong in ("", "lunch", "x" * 400):
        assert press(bench, job, wrong).status_code == 302
    assert TimeEntry.objects.count() == 1
    for wrong in ("https://elsewhere.example/", "//elsewhere.example/", "elsewhere", "", "java script:x"):
        assert press(bench, job, "pad", back=wrong).url == f"/tags/{job.number}/log/", wrong
    assert bench.get(f"/tags/{job.number}/strip/").content.decode().count('data-key="q"') == 0, "pulling has its own"


def test_a_clock_left_running_for_days_ends_after_one_and_two_people_have_two(bench, workroom, client):
    job = hung()
    press(bench, job, "fasten")
    ran(3 * 24 * 60)
    press(bench, job, "fasten")
    assert TimeEntry.objects.get().minutes == pytest.approx(24 * 60)
    press(bench, job, "fasten")
    client.force_login(User.objects.create_user("tom"))
    press(client, job, "pad")
    runs = TimeEntry.objects.filter(ended=None)
    assert (runs.count(), len({entry.by for entry in runs})) == (2, 2)


def test_entries_are_corrected_refused_and_forgotten_and_go_along_in_a_zip(bench, workroom):
    job = hung()
    press(bench, job, "pad", "seat")
    ran(30)
    press(bench, job, "pad")
    entry = TimeEntry.objects.get()
    at = f"/tags/{job.number}/log/{entry.pk}/"
    for text, minutes in (("95", 95), ("1:35", 95), (" 0:20 ", 20), ("12,5", 12.5)):
        assert bench.post(at, {"minutes": text}).status_code == 302, text
        entry.refresh_from_db()
        assert entry.minutes == pytest.approx(minutes)
    for wrong in ("", "0", "-5", "soon", "1:2:3", "9" * 12, "½", "nan", "25:00"):
        assert bench.post(at, {"minutes": wrong}).status_code == 422, wrong
    entry.refresh_from_db()
    assert entry.minutes == pytest.approx(12.5)
    again = load_job(job_from_zip(io.BytesIO(job_zip(job.number))).number)
    (brought,) = TimeEntry.objects.filter(job=again)
    assert (brought.step, brought.part.key, brought.minutes) == ("pad", "seat", pytest.approx(12.5))
    bench.post(at, {"act": "forget"})
    assert not TimeEntry.objects.filter(job=job).exists()
    assert "Nothing yet" in bench.get(f"/tags/{job.number}/log/").content.decode()
    assert bench.post(at, {"minutes": "5"}).status_code == 404


def test_three_tags_that_took_half_as_long_again_make_the_workroom_s_own_pace(bench, workroom):
    """Three that went home; a fourth one on the rail is estimated by them, and by the trade again once they are
    forgotten.
    """
    before = money_of(hung(), Workroom.the_one())
    foreseen = {t.step: t.minutes for t in before.times}
    for n in range(3):
        job = hung()
        Job.objects.filter(pk=job.pk).update(finished_at=timezone.now())
        press(bench, job, "fasten")
        ran(foreseen["fasten"] * 1.5)
        press(bench, job, "fasten")
        assert bool(Workroom.the_one().own_times) == (n == 2), "three are wanted"
    after = money_of(hung(), Workroom.the_one())
    took = {t.step: t.minutes for t in after.times}
    assert took["fasten"] == pytest.approx(1.5 * foreseen["fasten"], rel=0.01)
    assert took["pad"] == foreseen["pad"]
    shown = " ".join(bench.get(f"/tags/{job.number}/log/").content.decode().split())
    assert "<b>Fasten</b> takes 150" in shown
    assert "by 3 tags" in " ".join(bench.get(f"/tags/{job.number}/money/").content.decode().split())
    assert {s.step: round(s.took / s.foreseen, 2) for s in steps_of(load_job(job.number), "metric") if s.took} == {
        "fasten": 1.5
    }
    assert StepTook.objects.filter(is_done=True, step="fasten").count() == 3
    for entry in TimeEntry.objects.all():
        bench.post(f"/tags/{entry.job.number}/log/{entry.pk}/", {"act": "forget"})
    assert Workroom.the_one().own_times == {}


def test_a_step_that_is_not_done_says_nothing_of_the_pace(bench, workroom):
    for _ in range(4):
        job = hung()
        press(bench, job, "fasten")
        ran(90)
        press(bench, job, "fasten")
    assert Workroom.the_one().own_times == {}
    assert StepTook.objects.count() == 4


@pytest.mark.parametrize("seed", range(4))
def test_whatever_is_pressed_nobody_is_at_two_things_at_once_and_sums_are_those_of_the_entries(bench, workroom, seed):
    chance = random.Random(seed)
    jobs = [hung(kind) for kind in ("drop_in", "ottoman", "bench_box")]
    for _ in range(14):
        job, minutes = chance.choice(jobs), chance.uniform(0, 3000)
        ended = TimeEntry.objects.filter(job=job).exclude(ended=None).first()
        what = chance.choice(["press", "press", "press", "correct", "forget"])
        if what == "press":
            ran(minutes)
            press(bench, job, chance.choice(["survey", "trace", "pad", "fasten", "trim", "finish"]))
        elif ended is not None:
            told = {"act": "forget"} if what == "forget" else {"minutes": f"{minutes:.1f}"}
            bench.post(f"/tags/{job.number}/log/{ended.pk}/", told)
        assert TimeEntry.objects.filter(ended=None).count() <= 1
    for job in jobs:
        entries = [e for e in TimeEntry.objects.filter(job=job) if e.ended]
        assert all(0 < e.minutes <= 24 * 60 for e in entries)
        sums = {step: sum(e.minutes for e in entries if e.step == step) for step in {e.step for e in entries}}
        assert took_of(load_job(job.number)) == pytest.approx(sums)
        kept = {row.step: row.took for row in StepTook.objects.filter(job=job)}
        assert kept == pytest.approx(sums), "what is learned from is what stands there"
        assert bench.get(f"/tags/{job.number}/log/").status_code == 200


def test_a_helper_at_the_bench_has_the_clock_and_the_log_and_sees_no_money(bench, workroom, client):
    job = hung()
    client.force_login(User.objects.create_user("tom"))
    press(client, job, "pad", back=f"/tags/{job.number}/pad/")
    ran(20)
    shown = client.get(f"/tags/{job.number}/pad/").content.decode()
    assert 'data-key="q"' in shown
    press(client, job, "pad")
    page = client.get(f"/tags/{job.number}/log/").content.decode()
    assert "tom" in page
    assert "€" not in page and 'data-key="m"' not in page  # noqa: PT018
    assert client.get(f"/tags/{job.number}/money/").status_code in (302, 403)
    assert client.get(f"/tags/{job.number}/clock/").status_code == 405


def test_the_day_above_the_rail_goes_by_the_workroom_s_own_pace(bench, workroom):
    """A tag that is looked over next, 15 minutes by the trade: at twice the pace of the trade half an hour."""
    Workroom.objects.update(opens="00:00", closes="23:59")
    hung_number = hung("wing").number

    def at_the_bench() -> float:
        asked = asked_now(Workroom.the_one(), timezone.localtime().replace(hour=12, minute=0))
        found = next(tag for tag in asked.request.tags if tag.number == hung_number)
        return 15 * next(task.quarters for task in found.tasks if task.key == "survey")

    before = at_the_bench()
    Workroom.objects.update(own_times=write_paces({"survey": OwnPace(2.0, 1.8, 2.3, 5)}))
    assert at_the_bench() == pytest.approx(2 * before)
    assert before == pytest.approx(15, abs=0.1)


def test_a_clock_on_a_tag_that_was_taken_down_comes_over_and_none_runs_on_in_a_zip(bench, workroom):
    gone, job = hung("ottoman"), hung()
    press(bench, gone, "pad")
    ran(15)
    content = job_zip(gone.number)
    Job.every.filter(pk=gone.pk).update(taken_down_at=timezone.now())
    assert press(bench, job, "pad").status_code == 302
    assert [(e.job, e.step) for e in TimeEntry.objects.filter(ended=None)] == [(job, "pad")]
    assert TimeEntry.objects.get(job_id=gone.pk).minutes == pytest.approx(15, abs=0.1)
    brought = job_from_zip(io.BytesIO(content))
    assert not TimeEntry.objects.filter(job=brought).exists()
