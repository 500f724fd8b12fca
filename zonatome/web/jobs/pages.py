"""What every page of a job shows around its own: the tag, the tape, the cautions of the step."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.http import url_has_allowed_host_and_scheme

from zonatome.core.cautions import cautions_for
from zonatome.core.units import said_in
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.rack.standing import kept_of, tape_of

SAYS_NEXT = ("survey", "trace", "lay", "pad", "fasten", "trim")  # Strip and Finish have a next move of their own


def load_job(number: int) -> Job:
    """Return a job with everything its pages read, or answer that there is none."""
    job: Job = get_object_or_404(Job.objects.with_all(), number=number)
    for row in (*job.parts.all(), *job.cloths.all()):
        row.job = job  # one object, so that what is loaded once serves all
    return job


def load_some(number: int, *related: str) -> Job:
    """Return a job with its parts and only what is named besides: for pages that are opened again and again at the bench."""
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


def job_page(request: HttpRequest, job: Job, step: str, template: str, context: dict[str, Any], *, status: int = 200) -> HttpResponse:
    """Render a page of a job under its tape."""
    tape = tape_of(job, request.workroom.units)  # type: ignore[attr-defined]
    found = tuple(kept_of(job, request.workroom.units)["found"])  # type: ignore[attr-defined]
    cautions = cautions_for(step, kind_cautions=job.kind.cautions, found=found)
    in_hand = context.get("part")
    in_hand_key = in_hand.key if isinstance(in_hand, JobPart) else ""
    around = {
        "job": job,
        "in_hand_key": in_hand_key,
        "tape": tape,
        "step": step,
        "step_cautions": cautions,
        "seen": {s.key for s in job.seen.all()},
        "here": f"{step}:home",
        "next_move": tape.move
        if step in SAYS_NEXT and any(s.is_done for s in tape.steps if s.step == step) and tape.move.step != step
        else None,
    }
    return render(request, template, {**around, **context}, status=status)


def said(request: HttpRequest, words: str, *, status: int = 422, **more: Any) -> JsonResponse:
    """Answer a page's script in words, lengths in the workroom's unit."""
    return JsonResponse({"words": said_in(words, request.workroom.units), **more}, status=status)  # type: ignore[attr-defined]


def go_back(request: HttpRequest, otherwise: str) -> HttpResponse:
    """Go back to the page of this site that the form names in `back`; to another where it names none."""
    back = request.POST.get("back", "")
    here = back.startswith("/") and url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
    return HttpResponseRedirect(back) if here else redirect(otherwise)
