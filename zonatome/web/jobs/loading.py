"""Jobs as their pages read them, loaded in no more than a fixed number of queries."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterable
from functools import cache
from typing import Any

from django.db.models import ForeignKey, ManyToOneRel, Model, Prefetch, prefetch_related_objects
from django.db.models.query import RawQuerySet
from django.http import Http404
from django.shortcuts import get_object_or_404

from zonatome.web.jobs.models import Job, JobPart, everything


def load_job(number: int) -> Job:
    """Return a job with everything its pages read, or answer that there is none."""
    job: Job = get_object_or_404(Job.objects, number=number)
    load_all([job])
    return job


def load_all(jobs: Collection[Job]) -> None:
    """Load what hangs on these jobs and is read by their pages, in as many queries as for one of them."""
    _load(jobs, everything())
    for job in jobs:
        cloths = {job_cloth.pk: job_cloth for job_cloth in job.cloths.all()}
        for job_cloth in cloths.values():
            job_cloth.job = job
        for part in job.parts.all():
            part.job = job  # one object, so that what is loaded once serves all
            if part.cloth_id in cloths:
                part.cloth = cloths[part.cloth_id]


def load_some(number: int, *related: str) -> Job:
    """Return a job with its parts and only what is named besides: for pages that are opened again and again at the
    bench.
    """
    job: Job = get_object_or_404(Job.objects.defer("furniture_past"), number=number)
    _load([job], ("parts", *related))
    for row in job.parts.all():
        row.job = job
    return job


def panel_or_404(panels: list[JobPart], key: str) -> JobPart:
    """Return the panel of this key among those that a room works on, or answer that there is none."""
    for part in panels:
        if part.key == key:
            return part
    raise Http404


def _load(jobs: Collection[Job], related: tuple[str | Prefetch[Any], ...]) -> None:
    """Load what hangs on jobs: a query for each kind of row that there may be, whose SQL is put together once and then
    kept, since putting it together takes longer than to answer it. What a row has one of is left to Django.
    """
    if not jobs:
        return
    keys = json.dumps([job.pk for job in jobs])
    for one in related:
        path = one if isinstance(one, str) else one.prefetch_to
        way = _way(path)
        if way is None:
            prefetch_related_objects(list(jobs), one)
            continue
        *above, name = path.split("__")
        owners = _rows(list(jobs), above)
        if owners:  # else there is nothing that rows could hang on
            _keep(owners, name, RawQuerySet(_rows_sql(path, one), way.related_model, params=(keys,)), way.field)


@cache
def _way(path: str) -> ManyToOneRel | None:
    """Return the last step of a path from a job where a row may have many of what it leads to."""
    model: type[Model] = Job
    last: ManyToOneRel | None = None
    for name in path.split("__"):
        way = model._meta.get_field(name)
        if not isinstance(way, ManyToOneRel):
            return None
        last, model = way, way.related_model
    return last


@cache
def _rows_sql(path: str, related: str | Prefetch[Any]) -> str:
    """SQL of all rows at the end of a path from jobs, in the order of their model; it takes the jobs' keys as JSON."""
    ways = [way for n in range(path.count("__") + 1) if (way := _way(path.rsplit("__", n)[0]))]
    to_job = "__".join(way.field.name for way in ways)
    rows = ways[0].field.model._default_manager.all()
    if isinstance(related, Prefetch) and related.queryset is not None:
        rows = related.queryset
    sql: str = rows.filter(**{f"{to_job}__in": [0]}).query.sql_with_params()[0]
    return sql.replace("IN (%s)", "IN (SELECT value FROM json_each(%s))")


def _rows(rows: list[Any], path: list[str]) -> list[Any]:
    for name in path:
        rows = [row for above in rows for row in getattr(above, name).all()]
    return rows


def _keep(owners: list[Any], name: str, found: Iterable[Model], field: ForeignKey[Any, Any]) -> None:
    """Keep the rows with their owners, as a query that Django loads beforehand does."""
    by_key: dict[Any, list[Model]] = {}
    for row in found:
        by_key.setdefault(getattr(row, field.attname), []).append(row)
    there = field.model._default_manager.all()
    for owner in owners:
        rows = by_key.get(owner.pk, [])
        for row in rows:
            setattr(row, field.name, owner)
        kept = there.all()
        # Django's own names for what a prefetch leaves behind; who asks it for some of them only asks the store again
        vars(kept).update(
            _result_cache=rows,
            _prefetch_done=True,
            _deferred_filter=(False, (), {field.name: owner}),
            _known_related_objects={field: {owner.pk: owner}},
        )
        vars(owner).setdefault("_prefetched_objects_cache", {})[name] = kept
