"""What stripping leaves: bags, timed spells, spoken notes, the others of a set, and what goes into the store."""

from __future__ import annotations

import uuid
from pathlib import Path

from django.db import models
from django.utils import timezone

from zonatome.core.strip.pulling import WAYS
from zonatome.web.jobs.models import Job, JobPart


class Bag(models.Model):
    """A numbered bag: what is in it and where that came from."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="bags")
    number = models.PositiveSmallIntegerField()
    part = models.ForeignKey(JobPart, null=True, blank=True, on_delete=models.SET_NULL, related_name="bags")
    contents = models.CharField(max_length=120, blank=True)
    came_from = models.CharField(max_length=120, blank=True)
    emptied = models.BooleanField(default=False)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="bag_once_a_job")]

    @property
    def words(self) -> str:
        """What is in it; else the part that it was numbered for; one that was numbered by hand may say nothing yet."""
        return self.contents or (self.part.name if self.part else "") or "nothing said"


class Spell(models.Model):
    """Time at pulling, kept on the server: it runs on while the page is closed. `staples` is what came out in it."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="spells")
    part = models.ForeignKey(JobPart, null=True, blank=True, on_delete=models.SET_NULL, related_name="spells")
    began = models.DateTimeField(default=timezone.now)
    ended = models.DateTimeField(null=True, blank=True)
    staples = models.PositiveIntegerField(default=0)
    way = models.CharField(max_length=8, default="all", choices=list(WAYS.items()))

    class Meta:
        ordering = ["id"]

    @property
    def minutes(self) -> float:
        """How long it has run, or ran."""
        return ((self.ended or timezone.now()) - self.began).total_seconds() / 60


class SetPiece(models.Model):
    """One of the others of a set, from the second on: whether its cover is off."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="set_pieces")
    number = models.PositiveSmallIntegerField()
    off_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="set_piece_once")]


class Difference(models.Model):
    """In what one of a set differs from the first: `chair 3: left rail patched`."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="differences")
    number = models.PositiveSmallIntegerField()
    part = models.ForeignKey(JobPart, null=True, blank=True, on_delete=models.SET_NULL, related_name="differences")
    words = models.CharField(max_length=200)

    class Meta:
        ordering = ["number", "id"]


def spoken_place(note: SpokenNote, name: str) -> str:
    """Return where a spoken note is kept: outside static, under a new name."""
    return str(Path(str(note.part.job_id)) / f"{uuid.uuid4().hex}{Path(name).suffix}")


class SpokenNote(models.Model):
    """A note that was spoken over a part, kept as it was recorded."""

    part = models.ForeignKey(JobPart, on_delete=models.CASCADE, related_name="spoken")
    file = models.FileField(upload_to=spoken_place)
    kind = models.CharField(max_length=20)
    taken_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]


class KeptThing(models.Model):
    """Something saved for another piece: a strip, cord, foam, cloth, a scrap, with its size in mm."""

    what = models.CharField(max_length=40)
    words = models.CharField(max_length=120, blank=True)
    length = models.FloatField(null=True, blank=True)
    width = models.FloatField(null=True, blank=True)
    count = models.PositiveSmallIntegerField(default=1)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL, related_name="kept_things")
    part = models.ForeignKey(JobPart, null=True, blank=True, on_delete=models.SET_NULL, related_name="kept_things")
    by_fate = models.BooleanField(default=False)  # it is the part itself, by its fate; goes when the fate changes
    came_from = models.CharField(max_length=160, blank=True)
    kept_at = models.DateTimeField(default=timezone.now)
    used_at = models.DateTimeField(null=True, blank=True)
    used_for = models.CharField(max_length=80, blank=True)
    reserved_for = models.ForeignKey(
        Job, null=True, blank=True, on_delete=models.SET_NULL, related_name="things_reserved"
    )

    class Meta:
        ordering = ["what", "-length", "id"]
