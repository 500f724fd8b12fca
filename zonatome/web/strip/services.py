"""One thing off, back on, or undone."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.strip.order import taken_off
from zonatome.web.jobs.models import Job, JobPart


def take_off(job: Job, key: str, *, fixing: str, note: str) -> JobPart:
    """Record that a part is off; hardware goes into the next numbered bag. Raises BadInput when it can't be yet."""
    off = taken_off(job.kind, job.off_keys, key)
    part = job.parts_by_key()[key]
    with transaction.atomic():
        part.off_number, part.off_at = len(off), timezone.now()
        part.fixing, part.note = fixing[:120], note[:300]
        if part.part.what == "hardware":
            part.bag = max((p.bag or 0 for p in job.parts.all()), default=0) + 1
        part.save()
    return part


def put_back(job: Job) -> JobPart:
    """Undo the last thing taken off."""
    off = job.off_keys
    if not off:
        raise BadInput("part", None, "something that is off")
    part = job.parts_by_key()[off[-1]]
    part.off_number, part.off_at, part.bag, part.bag_emptied, part.on_again = None, None, None, False, False
    part.save()
    return part
