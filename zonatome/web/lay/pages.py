"""What the pages of the lay share."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse

from zonatome.core.errors import BadInput
from zonatome.core.lay.request import Lay, LayRequest
from zonatome.core.lay.table.cut_sheet import CutSheet, cut_sheet
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay import services
from zonatome.web.lay.asking import marks_of, names_in
from zonatome.web.lay.models import JobCloth, LayRun


def job_cloth_or_404(job: Job, pk: int) -> JobCloth:
    """Return one of a job's cloths, or answer that there is none."""
    for job_cloth in job.cloths.all():
        if job_cloth.pk == pk:
            return job_cloth
    raise Http404


def run_or_404(number: int, pk: int) -> tuple[Job, LayRun]:
    """Return a job and the run whose lay stands on one of its cloths, or answer that there is none."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    run = services.best_run(job_cloth)
    if run is None:
        raise Http404
    if job_cloth.laid_with_id is None:
        run.job_cloth = job_cloth
    return job, run


def sheet_of(run: LayRun) -> tuple[LayRequest, Lay, CutSheet]:
    """Return what was asked, the lay, and the order in which it is cut."""
    asked, lay = run.asked(), run.lay()
    return asked, lay, cut_sheet(asked, lay, names_in(run.job_cloth), marks_of(run.job_cloth, asked))


def without(rows: list[Any], number: str) -> list[Any]:
    """Return a list without its entry of a number that a page sent, from 0. Raises BadInput where there is none."""
    if not (number.isdigit() and len(number) < 6 and int(number) < len(rows)):
        raise BadInput("take_back", number[:20], "one that is there")
    return [row for n, row in enumerate(rows) if n != int(number)]


def as_file(content: bytes, kind: str, name: str) -> HttpResponse:
    """Return a file to keep."""
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
