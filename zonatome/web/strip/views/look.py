"""The pieces of a set, and how it was: the record looked back at from any later step."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.drawing import drawing_of
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.rack.pages import job_page
from zonatome.web.strip import services
from zonatome.web.strip.models import Difference
from zonatome.web.strip.views.record import load_bench, refused_in_words
from zonatome.web.strip.way_back import lacking, way_back_of


@require_POST
@refused_in_words
def set_piece(request: BenchRequest, number: int) -> HttpResponse:
    """Say that one of the others of a set is off, or note in what it differs."""
    job = load_bench(number)
    text = request.POST.get("number", "")
    which = int(text) if text.isdigit() and len(text) < 4 else 0
    if request.POST.get("forget"):
        get_object_or_404(
            Difference, pk=request.POST["forget"] if request.POST["forget"].isdigit() else 0, job=job
        ).delete()
    elif "words" in request.POST:
        services.note_difference(
            job, which, request.POST["words"], job.parts_by_key().get(request.POST.get("part", ""))
        )
    else:
        services.set_piece_off(job, which, is_off=request.POST.get("off") == "1")
    return redirect(reverse("strip:home", args=[number]) + "#others")


def look(request: BenchRequest, number: int, key: str = "") -> HttpResponse:
    """Look back at the record and photos of one part, from any later step; the way back is one key away."""
    job = load_job(number)
    parts = list(job.parts.all())
    off = job.off_keys
    part = panel_or_404(parts, key or (off[-1] if off else parts[0].key))
    order = [line["keys"] for line in way_back_of(job)]
    kind = job.kind
    place = next((n for n, keys in enumerate(order, 1) if part.key in keys), None)
    return_to = request.GET.get("back", "")
    if not url_has_allowed_host_and_scheme(return_to, allowed_hosts={request.get_host()}) or "/look" in return_to:
        return_to = reverse("strip:home", args=[number])
    tones = {
        p.key: ("off" if p.off_number is not None else "plain") + (" part--in-hand" if p.key == part.key else "")
        for p in parts
    }
    words = {p.key: "in the record" if p.off_number is not None else "not off yet" for p in parts}
    context = {
        "part": part,
        "photos": [p for p in job.photos.all() if p.part_id == part.pk],
        "whole": [p for p in job.photos.all() if p.part_id is None],
        "spoken": part.spoken.all(),
        "bag": next((b for b in job.bags.all() if b.part_id == part.pk), None),
        "line": next((line["back"] for line in way_back_of(job) if part.key in line["keys"]), None),
        "place": place,
        "places": len(order),
        "under": [kind.part(u).name for u, o in kind.over if o == part.key],
        "over": [kind.part(o).name for u, o in kind.over if u == part.key],
        "meets": [(kind.part(m.partner(part.key)).name, m.join.replace("_", " ")) for m in kind.meetings_of(part.key)],
        "differences": part.differences.all(),
        "checks": [c for c in lacking(job) if c.part == part.key],
        "return_to": return_to,
        "drawing": drawing_of(job, tones=tones, words=words),
    }
    return job_page(request, job, "strip", "strip/look.html", context)
