"""Photos of old covers on the mat, laid flat, and the outlines traced from them."""

from __future__ import annotations

import uuid
from pathlib import Path

from django.db import models
from django.utils import timezone

from zonatome.web.jobs.models import FlatPhoto, Job, JobPart


def flat_place(photo: CoverPhoto, _: str) -> str:
    """Return where a flat photo is kept: outside static, under a new name."""
    return str(Path(str(photo.part.job_id)) / f"{uuid.uuid4().hex}.jpg")


class CoverPhoto(FlatPhoto):
    """The flat photo of one part's old cover, with the outline as traced and mended, in the mat's frame, in mm."""

    part = models.OneToOneField(JobPart, on_delete=models.CASCADE, related_name="cover_photo")
    file = models.ImageField(upload_to=flat_place)
    mat_width = models.FloatField()
    mat_height = models.FloatField()
    words = models.CharField(max_length=300, blank=True)
    outline = models.JSONField()
    taken_at = models.DateTimeField(default=timezone.now)


class ShapeChange(models.Model):
    """What the shapes of a job were before one change of them, so that it can be taken back."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="shape_changes")
    words = models.CharField(max_length=120)
    before = models.JSONField()  # part key: the fields that a shape is kept in
    with_furniture = models.BooleanField(default=False)  # the furniture was changed with it, and is taken back with it
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-id"]
