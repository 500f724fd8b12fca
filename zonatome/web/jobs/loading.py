"""Jobs as their pages read them, loaded in a fixed number of queries."""

from __future__ import annotations

from django.http import Http404
from django.shortcuts import get_object_or_404

from zonatome.web.jobs.models import Job, JobPart


def load_job(number: int) -> Job:
    """Return a job with everything its pages read, or answer that there is none."""
    job: Job = get_object_or_404(Job.objects.with_all(), number=number)
    for part in job.parts.all():
        part.job = job  # one object, so that what is loaded once serves all
    for job_cloth in job.cloths.all():
        job_cloth.job = job
    return job


def load_some(number: int, *related: str) -> Job:
    """Return a job with its parts and only what is named besides: for pages that are opened again and again at the
    bench.
    """
    job: Job = get_object_or_404(Job.objects.defer("furniture_past").prefetch_related("parts", *related), number=number)
    for row in job.parts.all():
        row.job = job
    return job


def panel_or_404(panels: list[JobPart], key: str) -> JobPart:
    """Return the panel of this key among those that a room works on, or answer that there is none."""
    for part in panels:
        if part.key == key:
            return part
    raise Http404
