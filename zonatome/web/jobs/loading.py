"""Jobs as their pages read them, loaded in no more than a fixed number of queries."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection
from dataclasses import dataclass, field
from functools import cache
from typing import Any

from django.db.models import ManyToOneRel, Model, Prefetch, QuerySet, prefetch_related_objects
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


class _Later:
    """The rows of one owner, looked up for it and its fellows when any of them is asked for them: a query asks itself
    for `_result_cache` before it does anything.
    """

    look_up: Callable[[], None] | None = None  # until they are there

    @property
    def _result_cache(self) -> list[Model] | None:
        if self.look_up is not None:
            self.look_up()
        rows: list[Model] | None = vars(self)["rows"]
        return rows

    @_result_cache.setter
    def _result_cache(self, rows: list[Model] | None) -> None:
        vars(self)["rows"] = rows


@cache
def _later(sort: type[QuerySet[Any]]) -> type[QuerySet[Any]]:
    """Return the same sort of query, its rows looked up later."""
    return type(f"{sort.__name__}Later", (_Later, sort), {})


@dataclass
class _Hanging:
    """What hangs on jobs by one path: a question for all of it, asked once and only if any of it is asked for. With its
    rows come `along` what each has one of; `below` is what then hangs on them.
    """

    way: ManyToOneRel
    sql: str
    keys: str  # of the jobs, as JSON
    along: list[str] = field(default_factory=list)
    below: list[_Hanging] = field(default_factory=list)
    kept: list[tuple[Model, Any]] = field(default_factory=list)  # each owner, with the query that keeps its rows

    def hang_on(self, owners: Collection[Model]) -> None:
        """Hang it on these, of which none has been asked for it."""
        there = self.way.related_model._default_manager.all()
        for owner in owners:
            kept = there.all()
            kept.__class__ = _later(type(kept))
            # Django's own names for what a prefetch leaves behind; who asks it for some only asks the store again
            vars(kept).update(
                rows=None,
                look_up=self.look_up,
                _prefetch_done=True,
                _deferred_filter=(False, (), {self.way.field.name: owner}),
                _known_related_objects={self.way.field: {owner.pk: owner}},
            )
            vars(owner).setdefault("_prefetched_objects_cache", {})[self.way.get_accessor_name()] = kept
            self.kept.append((owner, kept))

    def look_up(self) -> None:
        """Ask for it and keep the rows with their owners, as a query that Django loads beforehand does. What has come
        meanwhile to an owner that was not there yet is left out.
        """
        to_owner = self.way.field
        owners = {owner.pk: owner for owner, _ in self.kept}
        rows_of: dict[Any, list[Model]] = {key: [] for key in owners}
        for row in RawQuerySet(self.sql, self.way.related_model, params=(self.keys,)):
            key = getattr(row, to_owner.attname)
            if key in owners:
                setattr(row, to_owner.name, owners[key])
                rows_of[key].append(row)
        for owner, kept in self.kept:
            vars(kept).update(rows=rows_of[owner.pk], look_up=None)
        self.kept.clear()
        rows = [row for those in rows_of.values() for row in those]
        if rows:
            prefetch_related_objects(rows, *self.along)
            for hanging in self.below:
                hanging.hang_on(rows)


def _load(jobs: Collection[Job], related: tuple[str | Prefetch[Any], ...]) -> None:
    """Load what hangs on jobs as it is asked for: a question for each kind of row that there may be, whose SQL is put
    together once and then kept, since putting it together takes longer than to answer it. What a row has one of is left
    to Django.
    """
    keys = json.dumps([job.pk for job in jobs])
    hung: dict[str, _Hanging] = {}
    for one in related:
        path = one if isinstance(one, str) else one.prefetch_to
        above, _, name = path.rpartition("__")
        way = _way(path)
        if way is not None:
            hung[path] = _Hanging(way, _rows_sql(path, one), keys)
            if above:
                hung[above].below.append(hung[path])
            else:
                hung[path].hang_on(jobs)
        elif above:
            hung[above].along.append(name)
        else:
            prefetch_related_objects(list(jobs), one)


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
