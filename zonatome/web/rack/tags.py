"""A tag hung up like another, taken down, hung up again, let go for good."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models.fields.files import FieldFile
from django.utils import timezone

from zonatome.core.formats.fastening_json import read_fastening, write_fastening
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.jobs.services import next_number
from zonatome.web.lay.models import JobCloth
from zonatome.web.lay.services import part_lays
from zonatome.web.strip.models import SpokenNote
from zonatome.web.trace.models import CoverPhoto

KEPT_DAYS = 30  # that a tag which was taken down can be hung up again


COPIED = (
    "title", "client", "kind_key", "count", "wish", "new_price", "trim_kind", "cord", "trim_way", "furniture",
    "variants", "restyled",
    "pull_way", "had_label", "underside_width", "underside_depth", "legs", "skirt",
)  # fmt: skip


COPIED_OF_A_PART = (
    "is_there", "shape", "shape_way", "shape_pad", "shape_wraps", "shape_has", "top_sure", "board_width", "board_depth",
    "board_thickness", "board_back",
    "wrap", "pad_measured", "stack", "pitch", "staple_order", "fixings_again",
)  # fmt: skip


COPIED_OF_A_CLOTH = ("cloth_id", "role", "gap", "squaring", "margin", "railroaded", "any_angle", "follow_on")


def hang_like(job: Job) -> Job:
    """Hang up a new tag like another: the same furniture, shapes, pads, cloths and trim; nothing of its record, its
    lays or its day.
    """

    with transaction.atomic():
        made: Job = Job.objects.create(number=next_number(), **{key: getattr(job, key) for key in COPIED})
        cloths = {
            old.pk: JobCloth.objects.create(job=made, **{key: getattr(old, key) for key in COPIED_OF_A_CLOTH})
            for old in JobCloth.objects.filter(job=job).order_by("id")
        }
        JobPart.every.bulk_create(
            JobPart(
                job=made,
                key=p.key,
                cloth=cloths.get(p.cloth_id or 0),
                fastening=_chosen_again(p),
                **{key: getattr(p, key) for key in COPIED_OF_A_PART},
            )
            for p in JobPart.every.filter(job=job).order_by("id")
        )
        for line in job.trim_lines.all():
            line.pk, line.job = None, made
            line.save()
        made.trim_cloth = cloths.get(job.trim_cloth_id or 0)
        made.save()
    return made


def _chosen_again(part: JobPart) -> dict[str, Any] | None:
    """What was chosen to put a panel on, without what has been done and found."""
    if part.fastening is None:
        return None
    chosen = read_fastening(part.fastening)
    return write_fastening(replace(chosen, ticks=(), done=(), found=(), sewn=0))


def take_down(job: Job) -> None:
    """Take a tag from the rail; it can be hung up again for thirty days.

    A lay that it shares is parted, its search ends.
    """

    with transaction.atomic():
        part_lays(job)
        Job.every.filter(pk=job.pk).update(taken_down_at=timezone.now())


def hang_again(number: int) -> Job | None:
    """Hang a tag up again as it was; return it, None where none of this number was taken down."""
    with transaction.atomic():
        Job.every.filter(number=number).exclude(taken_down_at=None).update(taken_down_at=None, standing_cache=None)
        again: Job | None = Job.objects.filter(number=number).first()
    return again


def taken_down() -> list[Job]:
    """Return the tags that were taken down, the last one first, each with the days that are left to it."""
    found = list(Job.every.exclude(taken_down_at=None).order_by("-taken_down_at"))
    for job in found:
        job.days_left = max(0, KEPT_DAYS - (timezone.now() - job.taken_down_at).days)  # type: ignore[attr-defined, operator]
    return found


def let_go_for_good() -> int:
    """Forget the tags that were taken down more than thirty days ago, photos and spoken notes included; return how
    many.
    """
    old = Job.every.filter(taken_down_at__lt=timezone.now() - timedelta(days=KEPT_DAYS))
    return sum(let_go(job) for job in list(old))


def let_go(job: Job) -> bool:
    """Forget a tag that was taken down, with its files, for good."""

    files: list[FieldFile] = [p.file for p in job.photos.all()]
    files += [c.file for c in CoverPhoto.objects.filter(part__job=job)]
    files += [n.file for n in SpokenNote.objects.filter(part__job=job)]
    with transaction.atomic():
        job.delete()
    for file in files:
        file.delete(save=False)
    return True
