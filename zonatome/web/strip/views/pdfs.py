"""The strip step on paper: labels for bags and panels, and the whole record."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from zonatome.core.formats.labels_pdf import Label, labels_pdf
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.strip.record import record_of


def _pdf(content: bytes, name: str) -> HttpResponse:
    return HttpResponse(
        content, content_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}.pdf"'}
    )


def bag_labels(request: BenchRequest, number: int) -> HttpResponse:
    """Print a label for each bag; its code opens the tag's record."""
    job = load_job(number)
    bags = list(job.bags.all())
    if not bags:
        return redirect("strip:home", number=number)
    address = request.build_absolute_uri(reverse("strip:home", args=[number]))
    tag = f"{job.number} {job.name}, {job.client}"
    labels = [
        Label(f"Bag {b.number}", tuple(filter(None, (b.contents or "contents: …", b.came_from, tag))), address)
        for b in bags
    ]
    return _pdf(labels_pdf(labels, units=request.workroom.units, title=f"Bags of {number}"), f"bags-{number}")


def panel_labels(request: BenchRequest, number: int) -> HttpResponse:
    """Print a label for each panel, with an arrow to its top; its code opens the panel's record."""
    job = load_job(number)
    tag = f"{job.number} {job.name}, {job.client}"
    labels = []
    for part in job.parts.all():
        if part.part.is_cut and part.part.is_on_old:
            place = f"came off {part.off_number}" if part.off_number is not None else "still on"
            lines = (tag, place, part.held, f"marks: {', '.join(part.mark_names) or '…'}")
            address = request.build_absolute_uri(reverse("strip:look", args=[number, part.key]))
            labels.append(Label(part.name, lines, address, has_arrow=True))
    return _pdf(labels_pdf(labels, units=request.workroom.units, title=f"Panels of {number}"), f"panels-{number}")


def record(request: BenchRequest, number: int) -> HttpResponse:
    """Print the strip record with its photos."""
    job = load_job(number)
    return _pdf(record_of(job), f"strip-record-{number}")
