"""The strip step on paper: labels for bags and panels, and the whole record."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone

from zonatome.core.formats.labels_pdf import Label, labels_pdf
from zonatome.core.formats.record_pdf import RecordLine, RecordPage, record_pdf
from zonatome.core.strip.order import things
from zonatome.core.strip.record import FATES
from zonatome.web.jobs.models import Job, Photo, Workroom
from zonatome.web.jobs.pages import load_job
from zonatome.web.rack.standing import lacking, verdicts_of, way_back_of


def _pdf(content: bytes, name: str) -> HttpResponse:
    return HttpResponse(content, content_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}.pdf"'})


def bag_labels(request: HttpRequest, number: int) -> HttpResponse:
    """Print a label for each bag; its code opens the tag's record."""
    job = load_job(number)
    bags = list(job.bags.all())
    if not bags:
        return redirect("strip:home", number=number)
    address = request.build_absolute_uri(reverse("strip:home", args=[number]))
    tag = f"{job.number} {job.name}, {job.client}"
    labels = [Label(f"Bag {b.number}", tuple(filter(None, (b.contents or "contents: …", b.came_from, tag))), address) for b in bags]
    return _pdf(labels_pdf(labels, units=request.workroom.units, title=f"Bags of {number}"), f"bags-{number}")


def panel_labels(request: HttpRequest, number: int) -> HttpResponse:
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


def record(request: HttpRequest, number: int) -> HttpResponse:
    """Print the strip record with its photos."""
    job = load_job(number)
    return _pdf(record_of(job), f"strip-record-{number}")


def record_of(job: Job) -> bytes:
    """Return a job's strip record as PDF, on the workroom's paper."""
    return record_pdf(_record(job), units=Workroom.the_one().units)


def _record(job: Job) -> RecordPage:
    photos: dict[int | None, list[Photo]] = {}
    for photo in job.photos.all():
        photos.setdefault(photo.part_id, []).append(photo)
    by_key = job.parts_by_key()
    lines = []
    numbers = {key: n for n, group in enumerate(things(job.kind, job.off_keys), 1) for key in group}
    for part in (by_key[k] for k in job.off_keys):
        words = ["Lay loose" if part.held == "loose" else f"Held by {part.held}"]
        words += [f"Marked: {', '.join(part.mark_names)}"] if part.marks else []
        words += [FATES[part.fate].capitalize()] if part.fate else []
        words += [part.note] if part.note else []
        lines.append(
            RecordLine(numbers[part.key], part.name, tuple(words), tuple(_read(p) for p in photos.get(part.pk, []) if p.path.exists()))
        )
    survey = []
    for layer in verdicts_of(job).values():
        if layer.found:
            found = ", ".join(f.data.words.lower() for f in layer.found)
            survey.append(f"{layer.layer.capitalize()}: {layer.words} ({found}). {layer.note}".strip())
    bags = tuple(f"Bag {b.number}: {b.contents or '…'}{', ' + b.came_from if b.came_from else ''}" for b in job.bags.all())
    back = tuple(
        f"{n}  {line['back'].name}: {', '.join(line['back'].held)} ({line['back'].words})" for n, line in enumerate(way_back_of(job), 1)
    )
    tag = f"{job.number} {job.name}, {job.client}"
    return RecordPage(
        tag, f"{timezone.localdate():%-d %B %Y}", tuple(survey), tuple(lines), tuple(c.words for c in lacking(job)), bags, back
    )


def _read(photo: Photo) -> bytes:
    return photo.path.read_bytes()
