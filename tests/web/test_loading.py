"""A tag as its pages load it is the tag as Django's own prefetch loads it, row for row, with nothing asked twice."""

from __future__ import annotations

import random
from datetime import timedelta
from itertools import pairwise

import pytest
from django.db import OperationalError, connection
from django.db.models.query import RawQuerySet
from django.http import Http404
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from zonatome.web.fasten.models import KeepOutMark
from zonatome.web.jobs.loading import load_all, load_job, load_some
from zonatome.web.jobs.models import Job, Wait, everything
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth, CutTick, JobCloth, LayRun
from zonatome.web.strip.models import Bag, SetPiece
from zonatome.web.survey.models import LayerFinding, LayerVerdict
from zonatome.web.trim.models import TrimLine


def filled(kind: str, cloth, chance: random.Random) -> Job:
    """A tag with some rows of every sort, made in no order."""
    job = Job.objects.get(number=hang_tag(title="x", client="y", kind=kind, count=3).number)
    parts = list(job.parts.all())
    chance.shuffle(parts)
    for part in parts[: chance.randint(0, 4)]:
        for _ in range(chance.randint(1, 3)):
            KeepOutMark.objects.create(part=part, x=chance.uniform(10, 300), y=20.0)
    for number in range(chance.randint(0, 3)):
        TrimLine.objects.create(job=job, name=f"line {number}", length=900.0, corners=[300.0, 600.0])
        Bag.objects.create(job=job, number=number + 1, contents="4 screws")
    if chance.random() < 0.7:
        LayerFinding.objects.create(job=job, layer="frame", finding="frame_loose")
        LayerVerdict.objects.create(job=job, layer="frame", verdict="keep")
        SetPiece.objects.create(job=job, number=2)
    for n in range(chance.randint(0, 2)):
        until = timezone.now() + timedelta(hours=n)
        Wait.objects.create(job=job, step="pad", words="glue", began=timezone.now(), until=until)
    for n in range(chance.randint(0, 2)):
        own = Cloth.objects.create(name=f"Cloth {n}", width=1400, price="20") if n else cloth
        job_cloth = JobCloth.objects.create(job=job, cloth=own)
        for _ in range(chance.randint(0, 3)):
            run = LayRun.objects.create(job_cloth=job_cloth, request={}, seconds=1.0, seed=1)
            for key in ("seat", "back")[: chance.randint(0, 2)]:
                CutTick.objects.create(run=run, key=key)
    return job


def rows_of(job: Job) -> dict[str, list]:
    """Every row that hangs on a loaded tag, with what it holds, path by path."""
    found: dict[str, list] = {}
    for one in everything():
        path = one if isinstance(one, str) else one.prefetch_to
        rows = [job]
        for name in path.split("__"):
            below = [getattr(row, name) for row in rows]
            rows = [r for each in below for r in (each.all() if hasattr(each, "all") else [each])]
        found[path] = [(type(row).__name__, _held(row)) for row in rows]
    return found


def _held(row) -> dict[str, object]:
    """The columns that were loaded; those left for later are not among them."""
    names = [field.attname for field in row._meta.concrete_fields]
    return {name: row.__dict__[name] for name in names if name in row.__dict__}


@pytest.mark.parametrize("seed", range(5))
def test_a_tag_is_loaded_as_django_would_load_it_alone_and_with_others(
    workroom, skerry, django_assert_num_queries, seed
):
    chance = random.Random(seed)
    others = [filled(kind, skerry, chance) for kind in ("wing", "drop_in")]
    job = filled(chance.choice(["wing", "ottoman", "round_stool"]), skerry, chance)
    on_rolls = [next(iter(each.cloths.order_by("pk")), None) for each in (job, *others)]
    for host, guest in pairwise(cloth for cloth in on_rolls if cloth):
        JobCloth.objects.filter(pk=guest.pk).update(laid_with=host)
    for each in (job, *others):
        ours = load_job(each.number)
        django = Job.objects.with_all().get(number=each.number)
        told = rows_of(ours)
        owners = {row.job for row in (*ours.parts.all(), *ours.cloths.all())}
        with django_assert_num_queries(0):
            assert rows_of(ours) == told
        assert told == rows_of(django)
        assert all(owner is ours for owner in owners), "one object, so that what is loaded once serves all"
        for part in ours.parts.all():
            assert all(mark.part is part for mark in part.keep_outs.all())
        for name in ("parts", "cloths", "bags"):  # some of them are asked for anew, of this tag alone
            every = getattr(ours, name).all()
            some = list(getattr(ours, name).filter(pk__in=[row.pk for row in [*every][1:]] or [0]))
            assert some == [*every][1:]
            assert all(row.job is ours for row in some)
            assert list(getattr(ours, name).exclude(pk=0)) == [*every]
        assert "request" not in next((r.__dict__ for c in ours.cloths.all() for r in c.runs.all()), {})
    together = list(Job.objects.order_by("-number"))
    with CaptureQueriesContext(connection) as asked:
        load_all(together)
        told = [rows_of(each) for each in together]
    assert len(asked.captured_queries) <= len(everything()), "as many questions for all as for one"
    assert told == [rows_of(Job.objects.with_all().get(pk=each.pk)) for each in together]


def test_a_tag_asks_once_for_each_sort_of_row_that_it_may_have_and_only_for_what_is_read_of_it(workroom, skerry):
    counts = set()
    for seed in range(6):
        full = filled("wing", skerry, random.Random(seed))
        of_cloths = 4 if full.cloths.count() else 0  # its rolls, who else is laid on them, lays, ticks of lays
        if of_cloths and not LayRun.objects.filter(job_cloth__job=full).exists():
            of_cloths = 3
        with CaptureQueriesContext(connection) as asked:
            job = load_job(full.number)
        assert len(asked.captured_queries) == (4 if of_cloths else 3), "itself, its parts, its cloths, their rolls"
        with CaptureQueriesContext(connection) as more:
            assert job.waits.count() == len(job.waits.all()) == sum(1 for _ in job.waits.all())
            assert job.waits.exists() == bool(job.waits.all())
            assert job.waits.first() == next(iter(job.waits.all()), None)
        assert len(more.captured_queries) == 1, "however it is asked for"
        with CaptureQueriesContext(connection) as rest:
            rows_of(job)
        together = len(asked.captured_queries) + 1 + len(rest.captured_queries)
        assert together == 1 + len(everything()) - 4 + of_cloths
        counts.add(of_cloths)
    assert {0, 4} <= counts, "tags with and without"
    with CaptureQueriesContext(connection) as asked:
        load_some(full.number)
    assert len(asked.captured_queries) == 2
    for number in (0, 99_999):
        with pytest.raises(Http404):
            load_job(number)


def test_what_comes_while_a_page_is_made_is_kept_with_its_own_or_left_out_and_a_question_that_fails_is_asked_again(
    workroom, skerry, monkeypatch
):
    job = load_job(filled("wing", skerry, random.Random(3)).number)
    part = job.parts.all()[0]
    another = job.parts.model.objects.create(job_id=job.pk, key="more")
    late = KeepOutMark.objects.create(part_id=part.pk, x=50.0, y=60.0)
    KeepOutMark.objects.create(part=another, x=50.0, y=60.0)

    def fails(*_: object) -> None:
        raise OperationalError("database is locked")

    with monkeypatch.context() as locked:
        locked.setattr(RawQuerySet, "__iter__", fails)
        with pytest.raises(OperationalError):
            list(part.keep_outs.all())
    assert late in part.keep_outs.all()
    assert another not in job.parts.all()
    marks = [mark for each in job.parts.all() for mark in each.keep_outs.all()]
    assert {mark.part for mark in marks} <= set(job.parts.all())
