"""A job's strip record on paper."""

from __future__ import annotations

from django.utils import timezone

from zonatome.core.formats.record_pdf import RecordLine, RecordPage, record_pdf
from zonatome.core.strip.order import things
from zonatome.core.strip.record import FATES
from zonatome.web.jobs.models import Job, Photo, Workroom
from zonatome.web.strip.way_back import lacking, way_back_of
from zonatome.web.survey.verdicts import verdicts_of


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
            RecordLine(
                numbers[part.key],
                part.name,
                tuple(words),
                tuple(_read(p) for p in photos.get(part.pk, []) if p.path.exists()),
            )
        )
    survey = []
    for layer in verdicts_of(job).values():
        if layer.found:
            found = ", ".join(f.data.words.lower() for f in layer.found)
            survey.append(f"{layer.layer.capitalize()}: {layer.words} ({found}). {layer.note}".strip())
    bags = tuple(
        f"Bag {b.number}: {b.contents or '…'}{', ' + b.came_from if b.came_from else ''}" for b in job.bags.all()
    )
    back = tuple(
        f"{n}  {line['back'].name}: {', '.join(line['back'].held)} ({line['back'].words})"
        for n, line in enumerate(way_back_of(job), 1)
    )
    tag = f"{job.number} {job.name}, {job.client}"
    return RecordPage(
        tag,
        f"{timezone.localdate():%-d %B %Y}",
        tuple(survey),
        tuple(lines),
        tuple(c.words for c in lacking(job)),
        bags,
        back,
    )


def _read(photo: Photo) -> bytes:
    return photo.path.read_bytes()
