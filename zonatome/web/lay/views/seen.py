"""The lay on the furniture: the opened-out drawing with the cloth in place, one piece of a set at a time."""

from __future__ import annotations

from django.http import HttpResponse

from zonatome.web.base.request import BenchRequest
from zonatome.web.lay import services
from zonatome.web.lay.drawing import lay_drawing
from zonatome.web.lay.in_place import cloth_in_place
from zonatome.web.lay.pages import job_cloth_or_404, run_or_404, sheet_of
from zonatome.web.lay.photo import tile_address
from zonatome.web.rack.pages import job_page

MOST_TRIALS = 3  # cloths on trial beside the one that is laid


def seen(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show what lands on each panel."""
    job, run = run_or_404(number, pk)
    job_cloth = job_cloth_or_404(job, pk)
    which = request.GET.get("piece", "1")
    piece = min(int(which), job.count) if which.isdigit() and 0 < len(which) < 4 and int(which) else 1
    found = cloth_in_place(job, job_cloth, run, piece)
    asked, _, cuts = sheet_of(run)
    tried = job_cloth.trials.select_related("cloth").filter(state="done").exclude(cloth_id=job_cloth.cloth_id)
    context = {
        "job_cloth": job_cloth,
        "drawing": found.drawing,
        "piece": piece,
        "pieces": range(1, job.count + 1),
        "is_stale": services.cloth_standing(job_cloth).is_stale,
        "missing": found.missing,
        "roll": lay_drawing(asked, cuts, request.workroom.units, photo=tile_address(job_cloth.cloth)),
        "query": f"?piece={piece}",
        "trials": [{"name": t.cloth.name, "query": f"?of={pk}&cloth={t.cloth_id}"} for t in tried[:MOST_TRIALS]],
    }
    return job_page(request, job, "lay", "lay/seen.html", context)
