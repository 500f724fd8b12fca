"""Pages of the log: the clock that every page of a tag has, and what a tag took."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.plots import took_plot
from zonatome.core.shop.own_pace import ENTRIES_WANTED, read_paces
from zonatome.web.base.answers import go_back
from zonatome.web.base.owners import owners_only
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.rack import log
from zonatome.web.rack.pages import job_page
from zonatome.web.shop.models import TimeEntry

SHOWN = 60  # entries of a tag on its page


@require_POST
def press(request: BenchRequest, number: int) -> HttpResponse:
    """Start the clock on a step of a tag, or stop the one that runs on it; one that runs elsewhere comes over."""
    job = load_job(number)
    step, part = request.POST.get("step", ""), job.parts_by_key().get(request.POST.get("part", ""))
    now = log.running()
    try:
        if now is not None and (now.job_id, now.step) == (job.pk, step):
            entry = log.stop_clock()
            words = f"{entry.minutes:.0f} min at {step.title()} are in the log." if entry else "Too short to be kept."
            messages.info(request, words)
        else:
            log.start_clock(job, step, part)
    except BadInput as refusal:
        messages.error(request, refusal.told)
    return go_back(request, reverse("jobs:log", args=[number]))


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show what a tag took beside what was foreseen, and its entries to correct."""
    return _page(request, load_job(number))


def _page(request: BenchRequest, job: Job, *, refusal: str = "") -> HttpResponse:
    rows = log.steps_of(job, request.workroom.units)
    told = request.GET.get("page", "1")
    entries = Paginator(TimeEntry.objects.filter(job=job).select_related("part"), SHOWN).get_page(told)
    for row in entries:
        if row.part is not None:
            row.part.job = job  # its name comes from the furniture, which is loaded
    context = {
        "rows": rows,
        "entries": entries,
        "own": log.own_rates_now(request.workroom),
        "paces": read_paces(request.workroom.own_times),
        "entries_wanted": ENTRIES_WANTED,
        "foreseen": sum(row.foreseen for row in rows),
        "took": sum(row.took for row in rows),
        "refusal": refusal,
    }
    return job_page(request, job, "log", "rack/log.html", context, status=422 if refusal else 200)


def plot(request: BenchRequest, number: int) -> HttpResponse:
    """Send what a tag took beside what was foreseen, as a plot."""
    rows = log.steps_of(load_job(number), request.workroom.units)
    content = took_plot([(row.step, row.foreseen, row.took) for row in rows])
    return HttpResponse(content, content_type="image/svg+xml", headers={"Cache-Control": "no-store"})


@owners_only
@require_POST
def take_rates(request: BenchRequest, number: int) -> HttpResponse:
    """Take the rates that the log says as the workroom's own rules."""
    many = log.take_rates(request.workroom)
    messages.success(request, f"{many} rates are your own now, among the workroom’s rules.")
    return redirect("jobs:log", number=number)


@require_POST
def entry(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Correct how long an entry took, or forget it."""
    row = get_object_or_404(TimeEntry, pk=pk, job__number=number)
    if request.POST.get("act") == "forget":
        log.forget(row)
        return redirect("jobs:log", number=number)
    try:
        log.correct(row, _minutes(request.POST.get("minutes", "")))
    except BadInput as refusal:
        return _page(request, load_job(number), refusal=refusal.told)
    return redirect("jobs:log", number=number)


def _minutes(text: str) -> float:
    """Minutes as they are typed: `95`, or `1:35`."""
    hours, _, rest = text.strip()[:12].rpartition(":")
    parts = [hours or "0", rest.replace(",", ".")]
    if not all(part.replace(".", "", 1).isdigit() and part.isascii() for part in parts):
        raise BadInput("minutes", text[:12], "minutes as 95, or hours and minutes as 1:35")
    return float(parts[0]) * 60 + float(parts[1])
