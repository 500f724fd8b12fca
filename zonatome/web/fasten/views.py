"""Fasten: the staples of a board, stepped through in order."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.fasten.staples import (
    KeepOut,
    bottom_staples,
    boxes_for,
    staple_leg,
    temporary_staples,
    through_cloth,
)
from zonatome.core.trim.welt import USUAL_CLOTH
from zonatome.web.base.answers import said
from zonatome.web.base.request import BenchRequest
from zonatome.web.fasten.drawing import board_drawing
from zonatome.web.fasten.forms import KeepOutForm, StapleForm
from zonatome.web.fasten.models import KeepOutMark
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.pad.forms import BoardForm
from zonatome.web.rack.pages import job_page
from zonatome.web.strip.way_back import way_back_of
from zonatome.web.trace.boards import board_of, plan_of
from zonatome.web.trace.services import plan_staples

MOST_KEEP_OUTS = 40


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the first panel that is not fastened yet."""
    job = load_job(number)
    padded = job.padded()
    if not padded:
        return job_page(request, job, "fasten", "fasten/no_board.html", {"back": way_back_of(job)})
    first = next(
        (p for p in padded if not p.staples_planned or p.staples_done < p.staples_planned * job.count), padded[0]
    )
    return redirect("fasten:panel", number=number, key=first.key)


def panel(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show one board and its staples."""
    job = load_job(number)
    return _page(request, job, panel_or_404(job.padded(), key))


def _page(
    request: BenchRequest, job: Job, part: JobPart, *, form: StapleForm | None = None, hole: KeepOutForm | None = None
) -> HttpResponse:
    units = request.workroom.units
    context: dict[str, Any] = {"part": part, "panels": job.padded(), "uncounted": len(job.panels()) - len(job.padded())}
    refused = form is not None or hole is not None
    if not part.has_board:
        context["board_form"] = BoardForm(units=units, prefix=f"{part.key}-board", is_round=part.part.form == "disc")
        return job_page(request, job, "fasten", "fasten/measure.html", context)
    plan = plan_of(part)
    board = board_of(part)
    a_set = len(plan.staples) * job.count
    piece, at = divmod(min(part.staples_done, a_set), max(1, len(plan.staples)))
    through = through_cloth(part.cloth.cloth.thickness if part.cloth else USUAL_CLOTH)
    leg = staple_leg(through=through, rail=max(1.0, board.thickness)) if board.thickness else None
    bottom = bottom_staples(board.outline, job.rules)
    context |= {
        "plan": plan,
        "board": board,
        "drawing": board_drawing(part, board.outline, plan),
        "leg": leg,
        "whole": a_set,
        "bottom": bottom * job.count,
        "boxes": boxes_for(a_set + bottom * job.count),
        "piece": min(piece + 1, job.count),
        "at": at if part.staples_done < a_set else len(plan.staples),
        "form": form or StapleForm(units=units, initial={"pitch": part.pitch, "order": part.staple_order}),
        "hole_form": hole or KeepOutForm(units=units),
        "corner_count": sum(s.at_corner for s in plan.staples),
        "temporary": temporary_staples(len(plan.staples)),
        "data": {
            "each": len(plan.staples),
            "count": job.count,
            "done": part.staples_done,
            "words": [s.words for s in board_drawing(part, board.outline, plan).staples],
        },
    }
    return job_page(request, job, "fasten", "fasten/panel.html", context, status=422 if refused else 200)


@require_POST
def choose(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Choose pitch and order; the count of what is done begins again when the plan changes."""
    job = load_job(number)
    part = panel_or_404(job.padded(), key)
    form = StapleForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _page(request, job, part, form=form)
    changed = (part.pitch, part.staple_order) != (form.cleaned_data["pitch"], form.cleaned_data["order"])
    part.pitch, part.staple_order = form.cleaned_data["pitch"], form.cleaned_data["order"]
    if changed:
        part.staples_done = 0
    part.save()
    plan_staples(part)
    return redirect("fasten:panel", number=number, key=key)


@require_POST
def add_hole(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Mark a screw hole to keep clear of."""
    job = load_job(number)
    part = panel_or_404(job.padded(), key)
    form = KeepOutForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _page(request, job, part, hole=form)
    board = board_of(part).outline
    x0, y0, x1, y1 = board.bounds
    mark = KeepOut(x0 + form.cleaned_data["x"], y0 + form.cleaned_data["y"], form.cleaned_data["radius"])
    if not (x0 <= mark.x <= x1 and y0 <= mark.y <= y1):
        form.refuse(
            BadInput("x", f"{mark.x:.0f}, {mark.y:.0f} mm", f"a place on the board of {x1 - x0:.0f} × {y1 - y0:.0f} mm")
        )
        return _page(request, job, part, hole=form)
    if part.keep_outs.count() >= MOST_KEEP_OUTS:
        form.refuse(BadInput("holes", MOST_KEEP_OUTS + 1, f"at most {MOST_KEEP_OUTS} marks"))
        return _page(request, job, part, hole=form)
    KeepOutMark.objects.create(part=part, x=mark.x, y=mark.y, radius=mark.radius)
    return _replanned(number, key)


@require_POST
def remove_hole(request: BenchRequest, number: int, key: str, pk: int) -> HttpResponse:
    """Take a mark away."""
    KeepOutMark.objects.filter(part__job__number=number, part__key=key, pk=pk).delete()
    return _replanned(number, key)


def _replanned(number: int, key: str) -> HttpResponse:
    part = panel_or_404(load_job(number).padded(), key)
    plan_staples(part)
    return redirect("fasten:panel", number=number, key=key)


@require_POST
def done(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep how many staples are in, over the whole set."""
    job = load_job(number)
    part = panel_or_404(job.padded(), key)
    most = part.staples_planned * job.count
    try:
        count = int(request.POST.get("done", ""))
    except ValueError:
        count = -1
    if not 0 <= count <= most:
        return said(request, f"done: expected 0 to {most}")
    JobPart.objects.filter(pk=part.pk).update(staples_done=count)
    Job.objects.filter(pk=part.job_id).forget_kept()
    if request.headers.get("X-Staple"):
        return JsonResponse({"done": count})
    return redirect("fasten:panel", number=number, key=key)
