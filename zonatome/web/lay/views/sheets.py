"""The cut sheet: on the page with its ticks, on paper, on the wall, as files for other programs; what the lay leaves
over.
"""

from __future__ import annotations

import json
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.formats.cut_sheet_files import cut_sheet_csv, cut_sheet_dxf
from zonatome.core.formats.cut_sheet_pdf import SheetHead, corner_words, cut_sheet_pdf, wall_sheet_pdf
from zonatome.core.formats.lay_svg import lay_svg
from zonatome.core.lay.table.cut_sheet import before_the_shears
from zonatome.core.units import Units, format_length
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.models import Job
from zonatome.web.lay import offcuts, services
from zonatome.web.lay.asking import members_of, names_in, pairs_in
from zonatome.web.lay.drawing import cloth_drawing, lay_drawing
from zonatome.web.lay.models import LayRun
from zonatome.web.lay.pages import as_file, run_or_404, sheet_of
from zonatome.web.lay.photo import tile_address
from zonatome.web.rack.pages import job_page


def sheet(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show the cut sheet, with its ticks."""
    job, run = run_or_404(number, pk)
    units = request.workroom.units
    asked, lay, cuts = sheet_of(run)
    ticked = {t.key: t.cut_by for t in run.ticks.all()}
    rows = [
        {
            "row": r,
            "is_cut": r.key in ticked,
            "cut_by": ticked.get(r.key, ""),
            "corners": [corner_words(c, units) for c in r.corners],
        }
        for r in cuts.rows
    ]
    rest = offcuts.rest_of(run, asked, lay)
    context = {
        "job_cloth": run.job_cloth,
        "run": run,
        "lay": lay,
        "rows": rows,
        "sheet": cuts,
        "drawing": lay_drawing(asked, cuts, units, photo=tile_address(run.job_cloth.cloth)),
        "cross_words": [format_length(c, units, "sheet") for c in cuts.cross_cuts],
        "cut": len(ticked),
        "bought": None if lay.on_panels else services.purchase_of(run.job_cloth, lay.length),
        "is_stale": services.cloth_standing(run.job_cloth).is_stale,
        "before": before_the_shears(asked, lay, names_in(run.job_cloth), pairs_in(run.job_cloth)),
        "rest": [{"left": one, "drawing": cloth_drawing(one.outline, (), units)} for one in rest],
    }
    return job_page(request, job, "lay", "lay/sheet.html", context)


@require_POST
def tick(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Tick a piece as cut, or take the tick back."""
    _, run = run_or_404(number, pk)
    _, _, cuts = sheet_of(run)
    row = next((r for r in cuts.rows if r.key == request.POST.get("key")), None)
    if row is None:
        raise Http404
    services.set_tick(run, row.key, is_cut=request.POST.get("cut") == "1", is_strip=row.is_strip)
    if request.headers.get("X-Tick"):
        return HttpResponse(status=204)
    return redirect("lay:sheet", number=number, pk=pk)


@require_POST
def keep_rest(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Put what is ticked of the left-overs into the store; what the lay was cut from is used up then."""
    _, run = run_or_404(number, pk)
    kept = offcuts.keep_rest(run, [k for k in request.POST.getlist("keep") if k.isdigit() and len(k) < 5])
    messages.success(
        request, f"{kept} left over {'are' if kept != 1 else 'is'} in the store now." if kept else "Nothing kept."
    )
    return redirect("lay:sheet", number=number, pk=pk)


def _head(job: Job, run: LayRun, units: Units) -> SheetHead:
    lay, fabric = run.lay(), run.job_cloth.cloth
    words = f"{fabric.name}, {format_length(fabric.width, units)} wide, {fabric.get_direction_display()}"
    if lay.on_panels:
        words, buy = f"{fabric.name}, {fabric.get_direction_display()}", "Cut from pieces in the store"
    else:
        bought = services.purchase_of(run.job_cloth, lay.length)
        buy = (
            f"Laid {format_length(lay.length, units, 'cloth')}, buy "
            f"{format_length(bought.length, units, 'cloth', up=True)}"
        )
    now = timezone.localtime()
    jobs = [member.job for member in members_of(run.job_cloth)]
    tags = (
        f"{job.number} {job.name}, {job.client}" if len(jobs) == 1 else "tags " + ", ".join(str(j.number) for j in jobs)
    )
    return SheetHead(tags, words, buy, f"{now.day} {now:%B %Y}")


def sheet_pdf(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give the cut sheet on paper."""
    job, run = run_or_404(number, pk)
    units = request.workroom.units
    content = cut_sheet_pdf(sheet_of(run)[2], _head(job, run, units), units=units)
    return as_file(content, "application/pdf", f"{number}-cut-sheet.pdf")


def wall_pdf(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give the sheet for the wall at the table."""
    job, run = run_or_404(number, pk)
    units = request.workroom.units
    content = wall_sheet_pdf(sheet_of(run)[2], _head(job, run, units), units=units)
    return as_file(content, "application/pdf", f"{number}-wall-sheet.pdf")


def sheet_dxf(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give the lay as DXF in millimetres."""
    _, run = run_or_404(number, pk)
    return as_file(cut_sheet_dxf(sheet_of(run)[2]), "image/vnd.dxf", f"{number}-lay.dxf")


def sheet_csv(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give the corners as CSV."""
    _, run = run_or_404(number, pk)
    return as_file(cut_sheet_csv(sheet_of(run)[2]), "text/csv; charset=utf-8", f"{number}-cut-sheet.csv")


def lay_as_svg(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give the lay as SVG in millimetres."""
    job, run = run_or_404(number, pk)
    return as_file(
        lay_svg(sheet_of(run)[2], title=f"{job.number} {job.name}").encode(), "image/svg+xml", f"{number}-lay.svg"
    )


def lay_as_json(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give the lay as a lay file."""
    return _json(run_or_404(number, pk)[1].best, f"{number}-lay.json")


def request_as_json(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give what was asked as a lay request, for the command line."""
    return _json(run_or_404(number, pk)[1].request, f"{number}-lay-request.json")


def _json(document: Any, name: str) -> HttpResponse:
    return as_file(json.dumps(document, indent=1).encode(), "application/json", name)
