"""Jobs as their pages read them, loaded in a fixed number of queries."""

from __future__ import annotations

from functools import cache
from typing import Any

from django.db import connection
from django.db.models import ManyToOneRel, Model, Prefetch, prefetch_related_objects
from django.http import Http404
from django.shortcuts import get_object_or_404

from zonatome.web.jobs.models import Job, JobPart, everything


def load_job(number: int) -> Job:
    """Return a job with everything its pages read, or answer that there is none."""
    job: Job = get_object_or_404(Job.objects, number=number)
    _load(job, everything())
    for part in job.parts.all():
        part.job = job  # one object, so that what is loaded once serves all
    for job_cloth in job.cloths.all():
        job_cloth.job = job
    return job


def load_some(number: int, *related: str) -> Job:
    """Return a job with its parts and only what is named besides: for pages that are opened again and again at the
    bench.
    """
    job: Job = get_object_or_404(Job.objects.defer("furniture_past"), number=number)
    _load(job, ("parts", *related))
    for row in job.parts.all():
        row.job = job
    return job


def panel_or_404(panels: list[JobPart], key: str) -> JobPart:
    """Return the panel of this key among those that a room works on, or answer that there is none."""
    for part in panels:
        if part.key == key:
            return part
    raise Http404


def _load(job: Job, related: tuple[str | Prefetch[Any], ...]) -> None:
    """Load what hangs on a job. One question tells first what there is: a new tag has nearly nothing, and each kind of
    row that is asked for in vain would cost a millisecond.
    """
    paths = tuple(one if isinstance(one, str) else one.prefetch_to for one in related)
    with connection.cursor() as asked:
        asked.execute(_what_is_there(paths), [job.pk] * len(paths))
        there = {path for path, found in zip(paths, asked.fetchone(), strict=True) if found}
    prefetch_related_objects([job], *(one for path, one in zip(paths, related, strict=True) if path in there))
    for path in paths:
        if path not in there:
            *above, last = path.split("__")
            for row in _rows([job], above):
                _none_of(row, last)


@cache
def _what_is_there(paths: tuple[str, ...]) -> str:
    """SQL that says of each path from a job whether it leads to any row; it takes the job's key once for each."""
    return "SELECT " + ", ".join(f"EXISTS({_leading(path.split('__'))})" for path in paths)


def _leading(path: list[str]) -> str:
    model: type[Model] = Job
    keys = "%s"
    for name in path:
        way = model._meta.get_field(name)
        if not isinstance(way, ManyToOneRel):  # what each row has one of is there as soon as the row is
            break
        model, column = way.related_model, way.field.column
        rows = f"SELECT id FROM {connection.ops.quote_name(model._meta.db_table)} WHERE {column} IN ({keys})"
        keys = rows
    return rows


def _rows(rows: list[Any], path: list[str]) -> list[Any]:
    for name in path:
        rows = [row for above in rows for row in getattr(above, name).all()]
    return rows


def _none_of(row: Any, name: str) -> None:
    """Keep with a row that it has none of these, as a query that found none would have."""
    none = getattr(row, name).get_queryset()
    vars(none).update(_result_cache=[], _prefetch_done=True)  # Django's own names for what a prefetch leaves behind
    vars(row).setdefault("_prefetched_objects_cache", {})[name] = none
