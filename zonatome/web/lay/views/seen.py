"""The lay on the furniture: the opened-out drawing with the cloth in place, one piece of a set at a time."""

from __future__ import annotations

from django.http import HttpResponse

from zonatome.core.lay.table.on_a_panel import in_step, on_the_panel
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.drawing import opened_out_of
from zonatome.web.lay import services
from zonatome.web.lay.asking import host_of, parts_laid
from zonatome.web.lay.cut_shape import laid_shape
from zonatome.web.lay.drawing import TONES, seen_drawing
from zonatome.web.lay.pages import job_cloth_or_404, run_or_404
from zonatome.web.lay.photo import tile_address
from zonatome.web.rack.pages import job_page


def seen(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show what lands on each panel."""
    job, run = run_or_404(number, pk)
    job_cloth = job_cloth_or_404(job, pk)
    asked, host = run.asked(), host_of(job_cloth)
    which = request.GET.get("piece", "1")
    piece = min(int(which), job.count) if which.isdigit() and 0 < len(which) < 4 and int(which) else 1
    order = {p.id: n for n, p in enumerate(asked.pieces)}
    at = {(p.piece, p.copy): p for p in run.lay().placements}
    laid = {}
    for key, part, member in parts_laid(host):
        placement = at.get((key, (piece - 1) * part.part.per_furniture + 1))
        if member.pk == job_cloth.pk and placement is not None and key in order:
            laid[part.key] = (
                on_the_panel(laid_shape(part, member.cloth), in_step(asked, placement)),
                f"tone-{order[key] % TONES}",
            )
    names = {p.key: p.name for p in job.kind.parts}
    context = {
        "job_cloth": job_cloth,
        "drawing": seen_drawing(opened_out_of(job), names, laid, asked.repeat, tile_address(job_cloth.cloth)),
        "piece": piece,
        "pieces": range(1, job.count + 1),
        "is_stale": services.cloth_standing(job_cloth).is_stale,
        "missing": [names[p.key] for p in job.kind.panels if p.key not in laid],
    }
    return job_page(request, job, "lay", "lay/seen.html", context)
