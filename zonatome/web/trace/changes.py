"""Changing shapes so that nothing is lost: every change remembers what was there before, for the whole job."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.formats.piece_json import write_piece
from zonatome.core.trace.shape import Shape
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.survey.services import undo_change
from zonatome.web.trace.models import ShapeChange

FIELDS = ("shape", "shape_way", "shape_pad", "shape_wraps", "shape_has", "top_sure")
MOST_PAST = 60


def remember(job: Job, keys: Iterable[str], words: str, *, with_furniture: bool = False) -> None:
    """Keep what the shapes of these parts are, before a change that is told in words; the oldest of too many goes."""
    rows = JobPart.every.filter(job=job, key__in=list(keys)).values("key", *FIELDS)
    before = {row["key"]: {f: row[f] for f in FIELDS} for row in rows}
    ShapeChange.objects.create(job=job, words=words[:120], before=before, with_furniture=with_furniture)
    old = list(ShapeChange.objects.filter(job=job).values_list("pk", flat=True)[MOST_PAST:])
    ShapeChange.objects.filter(pk__in=old).delete()


def change_shapes(job: Job, shapes: Mapping[str, tuple[Shape, str]], words: str) -> None:
    """Store shapes with their parts, each with the way it was made; nothing is stored when one of the parts is not
    there.
    """
    with transaction.atomic():
        remember(job, shapes, words)
        rows = {row.key: row for row in JobPart.objects.filter(job=job, key__in=list(shapes))}
        for key, (shape, way) in shapes.items():
            if key not in rows:
                raise BadInput("part", key, "a part of this piece of furniture")
            put_shape(rows[key], shape, way)
    forget_parts(job)


def put_shape(row: JobPart, shape: Shape, way: str) -> None:
    """Store a shape with its part, and the pad that it is made for."""
    row.shape, row.shape_way = write_piece(shape), way
    row.shape_pad = row.shape_wraps = row.pad_measured
    row.save()


def undo_shapes(job: Job) -> str:
    """Take the last change of the job's shapes back; returns what it was. BadInput when there is none."""
    last = ShapeChange.objects.filter(job=job).first()
    if last is None:
        raise BadInput("change", None, "a change of a shape that can be taken back")
    past = [before["words"] for before in job.furniture_past]
    came_with_it = last.with_furniture and last.words in past  # else it has been taken back in the survey already
    if came_with_it and past[-1] != last.words:
        raise BadInput(
            "change", past[-1], "the panels as they were then: take the later change back in the survey first"
        )
    with transaction.atomic():
        if came_with_it:
            undo_change(job)
        for row in JobPart.every.filter(job=job, key__in=list(last.before)):
            for field, value in last.before[row.key].items():
                setattr(row, field, value)
            row.save()
        last.delete()
    forget_parts(job)
    return last.words


def forget_parts(job: Job) -> None:
    """Read the parts again when they are next asked for."""
    getattr(job, "_prefetched_objects_cache", {}).pop("parts", None)
