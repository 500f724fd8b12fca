"""Trim: lengths, strips, what to buy, the bottom cloth."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.trim.welt import CUT_FROM_CLOTH, DOUBLE_SEAM, KINDS, bottom_cloth, offered_line
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay.services import cloth_standing, strip_ways
from zonatome.web.rack.pages import job_page
from zonatome.web.trace.services import shape_of_part
from zonatome.web.trim.forms import LineForm, TrimForm, UndersideForm
from zonatome.web.trim.models import TrimLine
from zonatome.web.trim.services import trims_of_job

MOST_LINES = 30


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the trim's lines and sums."""
    return _page(request, load_job(number))


def _cloths(job: Job) -> list[tuple[str, str]]:
    return [(str(c.pk), c.cloth.name) for c in job.cloths.all()]


def _page(
    request: BenchRequest,
    job: Job,
    *,
    trim: TrimForm | None = None,
    line: LineForm | None = None,
    underside: UndersideForm | None = None,
) -> HttpResponse:
    units = request.workroom.units
    initial = {
        "kind": job.trim_kind or "welt",
        "cord": job.cord,
        "cloth": str(job.trim_cloth_id or ""),
        "way": job.trim_way,
    }
    has_bottom = any(p.part.what == "bottom cloth" for p in job.parts.all())
    first = next((p for p in job.padded() if p.has_board), None)
    under = {
        "width": job.underside_width or (first and first.board_width),
        "depth": job.underside_depth or (first and first.board_depth),
    }
    is_round = any(p.part.what == "bottom cloth" and p.part.form == "disc" for p in job.parts.all())
    context = {
        "trim_form": trim or TrimForm(units=units, initial=initial, cloths=_cloths(job)),
        "line_form": line or LineForm(units=units, auto_id="line_%s"),
        "lines": job.trim_lines.all(),
        "sums": [{"sum": s, "name": KINDS[s.kind]} for s in trims_of_job(job)],
        "welt_seam": job.rules["welt_seam"],
        "double_seam": DOUBLE_SEAM,
        "has_bottom": has_bottom,
        "stale": [c.cloth.name for c in job.cloths.all() if cloth_standing(c).is_stale],
        "underside_form": underside or UndersideForm(units=units, initial={k: v for k, v in under.items() if v}),
        "bottom": bottom_cloth(job.underside_width, job.underside_depth, is_round=is_round, rules=job.rules)
        if job.underside_width and job.underside_depth
        else None,
        "offers": _offers(job),
        "ways": strip_ways(job) if request.GET.get("ways") else None,
    }
    return job_page(request, job, "trim", "trim/home.html", context, status=422 if trim or line or underside else 200)


def _offers(job: Job) -> list[dict[str, Any]]:
    """Lines that the shapes offer: what is held raw under trim, and the seam round a sewn top."""
    known = {line.name for line in job.trim_lines.all()}
    found: list[dict[str, Any]] = []
    for part in job.panels():
        if not part.shape or part.name in known:
            continue
        length = round(offered_line(shape_of_part(part), is_padded=part.part.padded), 1)
        if length:
            found.append({"name": part.name, "length": length, "times": part.part.per_furniture, "key": part.key})
    return found


@require_POST
def choose(request: BenchRequest, number: int) -> HttpResponse:
    """Choose the trim."""
    job = load_job(number)
    form = TrimForm(request.POST, units=request.workroom.units, cloths=_cloths(job))
    if not form.is_valid():
        return _page(request, job, trim=form)
    job.trim_kind, job.cord = form.cleaned_data["kind"], form.cleaned_data["cord"]
    job.trim_cloth_id = (
        int(form.cleaned_data["cloth"]) if form.cleaned_data["cloth"] and job.trim_kind in CUT_FROM_CLOTH else None
    )
    job.trim_way = form.cleaned_data["way"]
    job.trim_done = job.trim_kind == "none"
    job.save()
    return redirect("trim:home", number=number)


@require_POST
def add_line(request: BenchRequest, number: int) -> HttpResponse:
    """Add an exposed line, measured or offered by a shape."""
    job = load_job(number)
    offer = next((o for o in _offers(job) if o["key"] == request.POST.get("offer")), None)
    if offer:
        TrimLine.objects.create(
            job=job, name=offer["name"], length=offer["length"], times=offer["times"], is_closed=True
        )
        return redirect("trim:home", number=number)
    form = LineForm(request.POST, units=request.workroom.units, auto_id="line_%s")
    if not form.is_valid():
        return _page(request, job, line=form)
    if job.trim_lines.count() >= MOST_LINES:
        form.refuse(BadInput("name", MOST_LINES + 1, f"at most {MOST_LINES} lines"))
        return _page(request, job, line=form)
    TrimLine.objects.create(job=job, **form.cleaned_data)
    return redirect("trim:home", number=number)


@require_POST
def remove_line(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Take a line away; a word on how to get it back."""
    line = TrimLine.objects.filter(job__number=number, pk=pk).first()
    if line:
        messages.info(request, f"{line.name} is off the list.")
        line.delete()
    return redirect("trim:home", number=number)


@require_POST
def underside(request: BenchRequest, number: int) -> HttpResponse:
    """Measure the underside."""
    job = load_job(number)
    form = UndersideForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _page(request, job, underside=form)
    job.underside_width, job.underside_depth = form.cleaned_data["width"], form.cleaned_data["depth"]
    job.save()
    return redirect("trim:home", number=number)


@require_POST
def done(request: BenchRequest, number: int) -> HttpResponse:
    """Say that the trim is on, or not yet."""
    job = load_job(number)
    job.trim_done = request.POST.get("done") == "1"
    job.save()
    return redirect("trim:home", number=number)
