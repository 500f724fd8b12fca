"""What is kept of how a job stands is what one would work out anew, whatever is pressed; and what older versions stored
is carried over.
"""

from __future__ import annotations

import random

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from tests.web.conftest import another_version, block, found, pad
from zonatome.core.strip.order import can_come_off
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Wait
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import CutTick, JobCloth, LayRun
from zonatome.web.lay.services import add_cloth, start_lay
from zonatome.web.rack import standing
from zonatome.web.rack.standing import keep_standing, kept_of
from zonatome.web.strip.services import take_off


def kept_and_anew(number: int) -> tuple[dict, dict]:
    job = Job.objects.get(number=number)
    kept = kept_of(job, "metric")
    Job.objects.filter(pk=job.pk).forget_kept()
    return kept, kept_of(Job.objects.get(pk=job.pk), "metric")


@pytest.mark.parametrize("seed", range(6))
def test_after_any_press_the_rack_shows_what_would_be_worked_out_anew(bench, skerry, jpeg, seed):
    chance = random.Random(seed)
    job = hang_tag(title="Stools", client="x", kind="square_stool", count=2)
    base = f"/tags/{job.number}/"
    add_cloth(load_job(job.number), skerry, "main")

    def off():
        ready = can_come_off(load_job(job.number).kind, load_job(job.number).off_keys)
        return bench.post(base + "strip/off/", {"part": ready[0]}) if ready else None

    def cut():
        run = LayRun.objects.order_by("-pk").first()
        return (
            bench.post(f"{base}lay/{JobCloth.objects.get().pk}/cut-sheet/tick/", {"key": "seat.1", "cut": "1"})
            if run
            else None
        )

    presses = {
        "find": lambda: found(
            bench,
            job,
            chance.choice(
                ["frame_sound", "frame_loose", "cover_worn", "cover_sound", "filling_mould", "support_slack"]
            ),
        ),
        "off": off,
        "undo": lambda: bench.post(base + "strip/undo/"),
        "write": lambda: bench.post(base + "strip/parts/seat/", {"whole": "1", "marks": ["top"], "fate": "pattern"}),
        "bag": lambda: bench.post(base + "strip/bags/", {"number": "1", "contents": "8 screws"}),
        "set": lambda: bench.post(base + "strip/set/", {"number": "2", "off": "1"}),
        "way": lambda: bench.post(base + "strip/way/", {"way": "flush"}),
        "reach": lambda: bench.post(base + "strip/reach/", {"part": chance.choice(["", "bottom_cloth"])}),
        "block": lambda: block(bench, job),
        "pad": lambda: pad(bench, job, foam=chance.choice(["40", "60"])),
        "pad taken back": lambda: bench.post(base + "pad/seat/undo/"),
        "lay": lambda: bench.post(f"{base}lay/{JobCloth.objects.get().pk}/start/"),
        "cut": cut,
        "rename": lambda: bench.post(
            base + "survey/panels/rename/", {"key": "seat", "name": f"Seat {chance.random():.3f}"}
        ),
        "trim": lambda: bench.post(base + "survey/restyle/trim/", {"trim": "gimp"}),
        "taken back": lambda: bench.post(base + "survey/panels/undo/"),
        "all on": lambda: bench.post(base + "finish/all-on/"),
        "feet": lambda: bench.post(base + "finish/tick/feet/"),
        "photo": lambda: bench.post(base + "finish/photo/", {"photo": jpeg()}),
        "count": lambda: bench.post(
            base + "edit/", {"title": "Stools", "client": "x", "count": chance.choice(["1", "3"]), "new_price": "75"}
        ),
        "clock": lambda: bench.post(base + "strip/timer/", {"part": "seat"}),
    }
    for name in chance.choices(sorted(presses), k=16):
        presses[name]()
        kept, anew = kept_and_anew(job.number)
        assert kept == anew, f"after {name}"


def test_what_was_worked_out_from_older_rows_is_not_kept(workroom, monkeypatch):
    job = hang_tag(title="Stools", client="x", kind="square_stool")
    slow = standing.job_state

    def interrupted(full, units):
        told = slow(full, units)
        monkeypatch.setattr(standing, "job_state", slow)
        take_off(load_job(job.number), "screws")  # somebody presses while the rack is working it out
        return told

    monkeypatch.setattr(standing, "job_state", interrupted)
    shown = Job.objects.get(pk=job.pk)
    keep_standing([shown], "metric")
    assert shown.standing_cache["state"]["parts_off"] == 0
    assert Job.objects.get(pk=job.pk).standing_cache is None
    assert kept_of(Job.objects.get(pk=job.pk), "metric")["state"]["parts_off"] == 1


def test_units_are_kept_apart_and_a_wait_needs_no_working_out(bench, stool, skerry):
    block(bench, stool)
    add_cloth(load_job(stool.number), skerry, "main")
    run = start_lay(load_job(stool.number).cloths.first())
    assert " m" in kept_of(Job.objects.get(), "metric")["state"]["buy"]
    assert " yd" in kept_of(Job.objects.get(), "imperial")["state"]["buy"]
    CutTick.objects.create(run=run, key="seat.1")
    kept, anew = kept_and_anew(stool.number)
    assert kept == anew
    assert kept["state"]["pieces_cut"] == 1
    Wait.objects.create(job=stool, step="pad", words="glue", until="2030-01-01T10:00Z")
    assert Job.objects.get().standing_cache is not None


def test_a_tag_that_is_loaded_holds_all_its_rows_and_knows_of_what_it_has_none(
    bench, stool, skerry, django_assert_num_queries
):
    bare, full = stool, load_job(hang_tag(title="Bench", client="Oriel House", kind="square_stool").number)
    block(bench, full)
    found(bench, full, "frame_loose")
    add_cloth(full, skerry, "main")
    start_lay(load_job(full.number).cloths.get())
    Wait.objects.create(job=full, step="Pad", words="glue", until=full.hung_at)
    for number in (bare.number, full.number):
        quick, plain = load_job(number), Job.objects.with_all().get(number=number)
        held = _all_that_hangs_on(quick)
        with django_assert_num_queries(0):
            assert _all_that_hangs_on(quick) == held == _all_that_hangs_on(plain)
    assert _all_that_hangs_on(load_job(bare.number))["waits"] == []
    assert all(_all_that_hangs_on(load_job(full.number))[name] for name in ("parts", "findings", "waits", "runs"))
    job = load_job(bare.number)
    job.bags.create(number=1)
    assert job.bags.filter(number=1).exists(), "what is asked anew is seen"


def _all_that_hangs_on(job: Job) -> dict[str, list]:
    names = ("parts", "findings", "verdicts", "photos", "bags", "set_pieces", "waits", "cloths", "trim_lines")
    return {
        **{name: [row.pk for row in getattr(job, name).all()] for name in names},
        "keep_outs": [row.pk for part in job.parts.all() for row in part.keep_outs.all()],
        "runs": [run.pk for cloth in job.cloths.all() for run in cloth.runs.all()],
        "ticks": [tick.pk for cloth in job.cloths.all() for run in cloth.runs.all() for tick in run.ticks.all()],
        "cloth": [cloth.cloth.name for cloth in job.cloths.all()],
    }


@pytest.mark.django_db(transaction=True)
def test_bags_and_verdicts_of_an_older_store_are_carried_over():
    now = [("jobs", "0004_bags_of_their_own"), ("survey", "0002_strip_and_survey_in_full")]
    with another_version():
        executor = MigrationExecutor(connection)
        executor.migrate([("strip", None), ("jobs", "0002_initial"), ("survey", "0001_initial")])
        old = executor.loader.project_state([("jobs", "0002_initial"), ("survey", "0001_initial")]).apps
        job = old.get_model("jobs", "Job").objects.create(
            number=7, title="Chair", client="x", kind_key="square_stool", new_price=1
        )
        part = old.get_model("jobs", "JobPart").objects.create(
            job=job, key="screws", off_number=1, bag=3, bag_emptied=True
        )
        findings = old.get_model("survey", "LayerFinding")
        findings.objects.create(job=job, layer="filling", finding="filling_flat", verdict="keep", note="client insists")
        findings.objects.create(job=job, layer="frame", finding="frame_sound", verdict="keep")
        executor = MigrationExecutor(connection)
        executor.migrate(now)
        new = executor.loader.project_state(now).apps
        bag = new.get_model("strip", "Bag").objects.get()
        assert (bag.number, bag.part_id, bag.emptied) == (3, part.pk, True)
        verdict = new.get_model("survey", "LayerVerdict").objects.get()
        assert (verdict.layer, verdict.verdict, verdict.note) == ("filling", "keep", "client insists")
        assert new.get_model("survey", "LayerFinding").objects.count() == 2
